import { addAt, itemAt, valueAt } from '../units/vector';
/**
 * A one-sided cumulative sum chart S' = max(0, S + X), started at nothing, that rings once S reaches its limit: how many steps it takes
 * to ring, on average, by a Markov chain over bands of S (Brook & Evans, Biometrika 59, 1972).
 */
export interface CusumChart {
	/** above 0 */
	limit: number;
	/** chance that one step adds so much at most */
	cdf: (step: number) => number;
	/** bands between nothing and the limit: the error shrinks with their square; a lattice of whole steps is exact with limit - 1/2 of them */
	bands?: number;
}

/** The first band reaches as far below nothing as above it, all are equally wide. */
export function averageRunLength({ limit, cdf, bands = 100 }: CusumChart): number {
	const width = (2 * limit) / (2 * bands - 1);
	// chance of each difference between bands, and of all that lie below
	const upTo = Float64Array.from({ length: 2 * bands }, (_, k) => cdf((k - bands + 0.5) * width));
	const below = (difference: number) => valueAt(upTo, difference + bands);
	const rows = Array.from({ length: bands }, (_, i) => {
		const row = new Float64Array(bands + 1);
		row[0] = -below(-i);
		for (let j = 1; j < bands; j++) row[j] = below(j - i - 1) - below(j - i);
		addAt(row, i, 1);
		row[bands] = 1;
		return row;
	});
	return solveFirst(rows);
}

/**
 * The first unknown of n equations whose right sides stand last, by elimination from the last; the diagonal outweighs the rest of each
 * row, as in every chain that ends, so that no pivot is looked for.
 */
function solveFirst(rows: readonly Float64Array[]): number {
	const n = rows.length;
	for (let c = n - 1; c > 0; c--) {
		const pivotRow = itemAt(rows, c);
		for (let r = 0; r < c; r++) {
			const row = itemAt(rows, r);
			const factor = valueAt(row, c) / valueAt(pivotRow, c);
			if (factor === 0) continue;
			for (let k = 0; k < c; k++) addAt(row, k, -factor * valueAt(pivotRow, k));
			addAt(row, n, -factor * valueAt(pivotRow, n));
		}
	}
	const first = itemAt(rows, 0);
	return valueAt(first, n) / valueAt(first, 0);
}
