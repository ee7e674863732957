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

/** A cell is charged between these, degrees Celsius. Common practice, no source; the cell maker's data come first. */
export const CHARGED_BETWEEN = { low: 0, high: 45 };

export const isTooColdOrHot = (celsius: number | undefined): boolean =>
	celsius !== undefined && (celsius < CHARGED_BETWEEN.low || celsius > CHARGED_BETWEEN.high);

const batteryCaution = (state: CellState): BatteryCaution | null => CAUTIONS[state] ?? null;

/** All that is to be heeded of a battery, the gravest first. */
export function batteryCautions(
	state: CellState,
	celsius?: number
): { code: BatteryCaution; text: string }[] {
	const code = batteryCaution(state);
	const words = code ? [{ code, text: CAUTION_WORDS[code] }] : [];
	if (!isTooColdOrHot(celsius)) return words;
	const text = `A cell at ${celsius} °C is not charged: only between ${CHARGED_BETWEEN.low} and ${CHARGED_BETWEEN.high} °C. Let it come to room temperature first; hot by itself, isolate it.`;
	return [{ code: 'do-not-charge' as const, text }, ...words];
}

export const CAUTION_WORDS: Record<BatteryCaution, string> = {
	'do-not-charge':
		'Do not charge it. Isolate the battery, take it to a collection point. The cell maker’s limits and local codes come first.',
	supervise:
		'Charge it only watched, with a limited current, on a fireproof surface and within the cell maker’s limits; stop if it warms or swells.'
};
