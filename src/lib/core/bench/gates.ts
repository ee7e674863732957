export interface GateState {
	code: string;
	label: string;
	when: 'before-sealing' | 'after-sealing';
	/** of hands */
	minutes: number;
	/** null: not checked since the last attempt */
	passed: boolean | null;
}

/** What a gate takes where its record does not say, minutes. A choice. */
const USUAL_MINUTES = 4;

/**
 * The gates of a ticket, in the catalog's order. A gate that was passed before the last repair attempt
 * is open again: that attempt may have undone what it showed.
 */
export function gateStates(
	ticket: {
		gates: readonly { gate: string; passed: boolean; at?: number | undefined }[];
		attempts: readonly { at?: number | undefined }[];
	},
	catalog: {
		gates: ReadonlyMap<string, Pick<GateState, 'code' | 'label' | 'when'> & { minutes?: number | undefined }>;
	}
): GateState[] {
	const lastAttempt = Math.max(0, ...ticket.attempts.map(({ at }) => at ?? 0));
	return [...catalog.gates.values()].map(({ code, label, when, minutes = USUAL_MINUTES }) => {
		const last = ticket.gates.filter(({ gate }) => gate === code).at(-1);
		const stands = last && (last.at === undefined || last.at >= lastAttempt);
		return { code, label, when, minutes, passed: stands ? last.passed : null };
	});
}

/** Gates that stand between a repaired device and its closing as fixed. */
export const gatesInTheWay = (states: readonly GateState[]) => states.filter(({ passed }) => passed !== true);
