export interface GateState {
	code: string;
	label: string;
	when: 'before-sealing' | 'after-sealing';
	/** null: not checked since the last attempt */
	passed: boolean | null;
}

/**
 * The gates of a ticket, in the catalog's order. A gate that was passed before the last repair attempt
 * is open again: that attempt may have undone what it showed.
 */
export function gateStates(
	ticket: {
		gates: readonly { gate: string; passed: boolean; at?: number | undefined }[];
		attempts: readonly { at?: number | undefined }[];
	},
	catalog: { gates: ReadonlyMap<string, Pick<GateState, 'code' | 'label' | 'when'>> }
): GateState[] {
	const lastAttempt = Math.max(0, ...ticket.attempts.map(({ at }) => at ?? 0));
	return [...catalog.gates.values()].map(({ code, label, when }) => {
		const last = ticket.gates.filter(({ gate }) => gate === code).at(-1);
		const stands = last && (last.at === undefined || last.at >= lastAttempt);
		return { code, label, when, passed: stands ? last.passed : null };
	});
}

/** Gates that stand between a repaired device and its closing as fixed. */
export const gatesInTheWay = (states: readonly GateState[]) => states.filter(({ passed }) => passed !== true);
