import type { Foretold } from './proper-scores';

/** Forecasts of like chance: what was foretold on average, and how often it came. */
export interface CalibrationBin {
	foretold: number;
	came: number;
	count: number;
	/** how many of them came */
	hits: number;
}

function binOf(pairs: readonly Foretold[]): CalibrationBin {
	const hits = pairs.filter(([, occurred]) => occurred).length;
	const sum = pairs.reduce((total, [chance]) => total + chance, 0);
	return { foretold: sum / pairs.length, came: hits / pairs.length, count: pairs.length, hits };
}

/** Bins of equal width, closed on the left: [0, 1/n), …, [1 − 1/n, 1]. Empty ones are left out. */
export function binsOfEqualWidth(pairs: readonly Foretold[], count: number): CalibrationBin[] {
	const groups = Array.from({ length: count }, (): Foretold[] => []);
	for (const pair of pairs) {
		// the smallest step lifts chances such as 0.6 = 2.9999999999999996 fifths onto their edge
		const at = Math.min(count - 1, Math.max(0, Math.floor(pair[0] * count + 1e-9)));
		groups[at]?.push(pair);
	}
	return groups.filter((group) => group.length > 0).map(binOf);
}

/** Bins that hold equally many forecasts, in the order of their chance. */
export function binsOfEqualMass(pairs: readonly Foretold[], count: number): CalibrationBin[] {
	const sorted = [...pairs].sort((a, b) => a[0] - b[0]);
	const edge = (bin: number) => Math.floor((bin * sorted.length) / count);
	return Array.from({ length: count }, (_, bin) => sorted.slice(edge(bin), edge(bin + 1)))
		.filter((group) => group.length > 0)
		.map(binOf);
}

/** Expected calibration error: mean distance of foretold and met, by forecasts. Naeini et al., AAAI 2015. */
export function calibrationError(bins: readonly CalibrationBin[]): number {
	const total = bins.reduce((sum, { count }) => sum + count, 0);
	return (
		bins.reduce(
			(sum, { foretold, came: observed, count }) => sum + count * Math.abs(foretold - observed),
			0
		) / total
	);
}

export const largestGap = (bins: readonly CalibrationBin[]): number =>
	Math.max(...bins.map(({ foretold, came: observed }) => Math.abs(foretold - observed)));
