import { indexAt, valueAt } from '../units/vector';
/**
 * Changes of the mean of a series, by seeded binary segmentation with narrowest-over-threshold selection.
 * Source: Kovács, Li, Bühlmann & Munk, Biometrika 110 (2023); selection: Baranowski, Chen & Fryzlewicz, Journal of the
 * Royal Statistical Society B 81 (2019); both from memory. The seeded intervals have a total length of about
 * n · 3.4 · log2(n), so the cost is n log n whatever the series holds.
 */

const DECAY = Math.SQRT1_2;
/** Shortest interval that is searched: a change needs two values on either side. */
const SHORTEST = 4;

/**
 * @param values the series
 * @param sigma standard deviation of its noise
 * @param strength factor on the universal threshold sigma · sqrt(2 ln n); 1.3 keeps false changes rare
 * @returns sorted indices; each is the first value after a change
 */
export function changePoints(values: Float64Array, sigma: number, strength = 1.3): number[] {
	const n = values.length;
	if (n < SHORTEST) return [];
	const sums = new Float64Array(n + 1);
	for (let i = 0; i < n; i++) sums[i + 1] = valueAt(sums, i) + valueAt(values, i);
	const threshold = strength * sigma * Math.sqrt(2 * Math.log(n));
	const bound = threshold * threshold;
	const marks = new Uint8Array(n + 1);
	/** how many changes are marked before an index; rebuilt once a level */
	const lastChange = new Int32Array(n + 2);
	for (const length of lengths(n)) {
		for (let i = 0; i <= n; i++) lastChange[i + 1] = indexAt(lastChange, i) + (marks[i] as number);
		const found: { at: number; gain: number; from: number; to: number }[] = [];
		const count = Math.max(1, 2 * Math.ceil(n / length) - 1);
		const step = count === 1 ? 0 : (n - length) / (count - 1);
		for (let i = 0; i < count; i++) {
			const from = Math.floor(i * step);
			const to = Math.min(n, Math.ceil(i * step + length));
			// a change inside is found already, at a narrower look
			if (indexAt(lastChange, to) - indexAt(lastChange, from + 1) > 0) continue;
			const best = bestSplit(sums, from, to);
			if (best.gain > bound) found.push({ ...best, from, to });
		}
		found.sort((a, b) => b.gain - a.gain);
		for (const { at, from, to } of found) if (!anyMarked(marks, from, to)) marks[at] = 1;
	}
	const points: number[] = [];
	for (let i = 1; i < n; i++) if (marks[i]) points.push(i);
	return points;
}

function lengths(n: number): number[] {
	const all: number[] = [];
	for (let length = n; length >= SHORTEST; length *= DECAY) all.push(Math.round(length));
	return [...new Set(all)].reverse();
}

/** Split of [from, to) with the largest squared CUSUM statistic. */
function bestSplit(sums: Float64Array, from: number, to: number): { at: number; gain: number } {
	const start = valueAt(sums, from);
	const length = to - from;
	const mean = (valueAt(sums, to) - start) / length;
	let at = from + 1;
	let gain = 0;
	for (let k = 1; k < length; k++) {
		const deviation = valueAt(sums, from + k) - start - k * mean;
		const squared = (deviation * deviation * length) / (k * (length - k));
		if (squared > gain) {
			gain = squared;
			at = from + k;
		}
	}
	return { at, gain };
}

function anyMarked(marks: Uint8Array, from: number, to: number): boolean {
	for (let i = from + 1; i < to; i++) if (marks[i]) return true;
	return false;
}
