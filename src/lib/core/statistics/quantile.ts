/**
 * Sample quantile, type 7 (linear between order statistics; the default of R).
 * Source: Hyndman & Fan, The American Statistician 50 (1996). Input sorted upwards, not empty.
 */
export function quantileSorted(sorted: ArrayLike<number>, probability: number): number {
	if (sorted.length === 0) throw new RangeError('quantileSorted: no values');
	const position = (sorted.length - 1) * Math.min(1, Math.max(0, probability));
	const below = Math.floor(position);
	const low = sorted[below] as number;
	const high = sorted[Math.min(below + 1, sorted.length - 1)] as number;
	return low + (position - below) * (high - low);
}

export const medianSorted = (sorted: ArrayLike<number>) => quantileSorted(sorted, 0.5);

export const sortUp = (values: readonly number[]) => [...values].sort((a, b) => a - b);

/** Median absolute deviation from the median, unscaled. Empty input is an error. */
export function medianAbsoluteDeviation(values: readonly number[]): number {
	const centre = medianSorted(sortUp(values));
	return medianSorted(sortUp(values.map((value) => Math.abs(value - centre))));
}
