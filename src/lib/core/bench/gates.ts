import { isCarried } from '../units/carried';

export interface GateState {
	code: string;
	label: string;
	when: 'before-sealing' | 'after-sealing';
	/** of hands */
	minutes: number;
	/** null: not checked since the last attempt */
	passed: boolean | null;
	/** why it has nothing to say of this device; it stands in nobody's way then */
	notApplicable: string | null;
	/** measurements that answer it; null where none do */
	shownBy: 'current' | 'continuity' | 'soak' | null;
	/** what it is answered for apart, with how each stands; empty where it is answered as a whole */
	parts: readonly { word: string; passed: boolean | null }[];
	/** moment of the last work that may have undone it; 0 where there was none */
	undoneAt: number;
}

/** What a gate takes where its record does not say, minutes. A choice. */
const USUAL_MINUTES = 4;

/** What a piece of work was, as far as gates go. */
interface Work {
	operation: string;
	part?: boolean | undefined;
	at?: number | undefined;
}

/**
 * The gates of a ticket, in the catalog's order. A gate that was passed before a piece of work that may have undone what it
 * showed is open again: those that the operation names; where it names none, a whole attempt undoes all of them and a step of
 * a longer repair none. Gates of other models, and of operations that were not done, are left out.
 */
export function gateStates(
	ticket: {
		model?: string;
		gates: readonly {
			gate: string;
			passed: boolean;
			of?: string | undefined;
			not_applicable?: string | undefined;
			at?: number | undefined;
		}[];
		attempts: readonly Work[];
	},
	catalog: {
		operations?: ReadonlyMap<string, { undoes?: readonly string[] | undefined }>;
		gates: ReadonlyMap<
			string,
			Pick<GateState, 'code' | 'label' | 'when'> & {
				minutes?: number | undefined;
				shown_by?: GateState['shownBy'] | undefined;
				operations?: readonly string[] | undefined;
				models?: readonly string[] | undefined;
				carries?: readonly string[] | undefined;
				each?: boolean | undefined;
				/** what it is answered for apart, where that is known without the model */
				words?: readonly string[] | undefined;
			}
		>;
		models?: ReadonlyMap<string, { carries?: readonly string[] | undefined }>;
	}
): GateState[] {
	const undoes = (gate: string) => (work: Work) =>
		catalog.operations?.get(work.operation)?.undoes?.includes(gate) ?? !work.part;
	const carried = catalog.models?.get(ticket.model ?? '')?.carries;
	const concerns = ({
		operations,
		models,
		carries
	}: {
		operations?: readonly string[] | undefined;
		models?: readonly string[] | undefined;
		carries?: readonly string[] | undefined;
	}) =>
		isCarried(carries, carried) &&
		(!models || ticket.model === undefined || models.includes(ticket.model)) &&
		(!operations || ticket.attempts.some(({ operation }) => operations.includes(operation)));
	return [...catalog.gates.values()]
		.filter(concerns)
		.map(({ code, label, when: phase, minutes = USUAL_MINUTES, shown_by, each, words: given }) => {
			const undone = Math.max(0, ...ticket.attempts.filter(undoes(code)).map(({ at }) => at ?? 0));
			const standing = ticket.gates.filter(
				({ gate, at }) => gate === code && (at === undefined || at >= undone)
			);
			const words = given ?? (each ? (carried ?? []) : []);
			// an answer for all of them counts for each, until one is answered apart
			const parts = words.map((word) => ({
				word,
				passed: standing.findLast((one) => one.of === undefined || one.of === word)?.passed ?? null
			}));
			const whole = standing.findLast((one) => words.length === 0 || one.of === undefined);
			const passed = parts.length > 0 ? allPassed(parts) : (whole?.passed ?? null);
			const notApplicable = (passed && whole?.not_applicable) || null;
			return {
				code,
				label,
				when: phase,
				minutes,
				passed,
				notApplicable,
				shownBy: shown_by ?? null,
				parts,
				undoneAt: undone
			};
		});
}

/** One that failed fails all; all of them must have passed. */
function allPassed(parts: GateState['parts']): boolean | null {
	if (parts.some(({ passed }) => passed === false)) return false;
	return parts.every(({ passed }) => passed === true) ? true : null;
}

/** Gates that stand between a repaired device and its closing as fixed. */
export const gatesInTheWay = (states: readonly GateState[]) => states.filter(({ passed }) => passed !== true);
