/**
 * A chance or a share as people say it: whole per cent. What is possible is never written as nothing, what is not certain never as all.
 * @param chance 0 to 1
 * @example percent(0.274) // '27 %'
 * @example percent(0.002) // '<1 %'
 * @example percent(0.998) // '>99 %'
 */
export function percent(chance: number | null): string {
	if (chance === null || !Number.isFinite(chance)) return '–';
	if (chance > 0 && chance < 0.005) return '<1 %';
	if (chance < 1 && chance >= 0.995) return '>99 %';
	return `${Math.round(100 * chance)} %`;
}

/**
 * An interval of a chance.
 * @example percentRange(0.961, 0.993) // '96–99 %'
 */
export const percentRange = (low: number, high: number): string =>
	`${percent(low).replace(' %', '')}–${percent(high)}`;
