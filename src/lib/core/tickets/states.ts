/** Where a ticket stands in its life: one of these at a time, drawn from what was entered and never stored. */
export const STATES = [
	'taken-in',
	'quoted',
	'declined',
	'accepted',
	'on-bench',
	'waiting',
	'repaired',
	'proved',
	'sealed',
	'ready',
	'told',
	'paid',
	'handed-over',
	'followed-up'
] as const;
export type State = (typeof STATES)[number];

/** The work that is still to be done on the bench. */
export const AT_WORK: readonly State[] = STATES.slice(0, STATES.indexOf('ready'));
/** Closed, and the device still here. */
export const TO_FETCH: readonly State[] = STATES.slice(AT_WORK.length, STATES.indexOf('handed-over'));

/** The states that a change moves a ticket from, and those that it can lead to from each. */
export interface Moves {
	from: readonly State[];
	to: readonly State[];
}
