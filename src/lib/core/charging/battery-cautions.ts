import type { CellState } from '../units/seen-codes';

export type BatteryCaution = 'do-not-charge' | 'supervise';

/** Which state of a battery asks for which caution, whatever current is drawn. Common practice, no source. */
const CAUTIONS: Partial<Record<CellState, BatteryCaution>> = {
	discard: 'do-not-charge',
	over: 'do-not-charge',
	reversed: 'do-not-charge',
	watch: 'supervise',
	'cut-off': 'supervise'
};

export const batteryCaution = (state: CellState): BatteryCaution | null => CAUTIONS[state] ?? null;

export const CAUTION_WORDS: Record<BatteryCaution, string> = {
	'do-not-charge':
		'Do not charge it. Isolate the battery, take it to a collection point. The cell maker’s limits and local codes come first.',
	supervise:
		'Charge it only watched, with a limited current, on a fireproof surface and within the cell maker’s limits; stop if it warms or swells.'
};
