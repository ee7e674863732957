/**
 * A chart that sums what speaks for a row that is so many times as bad as usual (CUSUM of the log likelihood ratio of a Poisson
 * process; Lucas, Technometrics 27, 1985): every comeback adds log(times), every comeback that was to be expected takes (times - 1).
 */
export const TIMES_AS_BAD = 4;
const JUMP = Math.log(TIMES_AS_BAD);
const DRIFT = TIMES_AS_BAD - 1;

/** States of the chart between nothing and its limit that are told apart. */
const STATES = 160;

/**
 * Comebacks until the chart rings for nothing, on average, where all is as usual: the integral equation of the chart after each
 * comeback, solved on a grid (Brook & Evans, Biometrika 59, 1972; here the waiting time between comebacks is exponential).
 * @param limit the chart rings at it, above log(4)
 */
export function comebacksUntilFalseAlarm(limit: number): number {
	if (limit <= JUMP) return 1;
	const width = (limit - JUMP) / STATES;
	const at = (i: number) => JUMP + (i + 0.5) * width;
	// rows: after a comeback the chart stands in a state; columns: where it stands after the next one
	const matrix = Array.from({ length: STATES }, (_, i) => {
		const s = at(i);
		const row = new Float64Array(STATES + 1).fill(0);
		row[i] = 1;
		// it has sunk to nothing meanwhile, and the next comeback lifts it by one jump
		row[0] = (row[0] as number) - Math.exp(-s / DRIFT);
		for (let j = 0; j < STATES; j++) {
			const [from, to] = [j * width, Math.min((j + 1) * width, s)];
			if (from >= s) break;
			row[j] = (row[j] as number) - (Math.exp(-(s - to) / DRIFT) - Math.exp(-(s - from) / DRIFT));
		}
		row[STATES] = 1;
		return row;
	});
	return 1 + solveFirst(matrix);
}

/** Gaussian elimination with partial pivots; the first unknown of n equations whose right sides stand last. */
function solveFirst(matrix: Float64Array[]): number {
	const n = matrix.length;
	for (let c = n - 1; c >= 0; c--) {
		let pivot = c;
		for (let r = c; r >= 0; r--) {
			if (Math.abs(matrix[r]?.[c] ?? 0) > Math.abs(matrix[pivot]?.[c] ?? 0)) pivot = r;
		}
		[matrix[c], matrix[pivot]] = [matrix[pivot] as Float64Array, matrix[c] as Float64Array];
		const own = matrix[c] as Float64Array;
		for (let r = 0; r < c; r++) {
			const row = matrix[r] as Float64Array;
			const factor = (row[c] as number) / (own[c] as number);
			if (factor === 0) continue;
			for (let k = 0; k <= c; k++) row[k] = (row[k] as number) - factor * (own[k] as number);
			row[n] = (row[n] as number) - factor * (own[n] as number);
		}
	}
	const first = matrix[0] as Float64Array;
	return (first[n] as number) / (first[0] as number);
}

/**
 * The lowest limit with which a chart rings for nothing no more often than once in so many comebacks.
 * @param comebacks at least 2
 */
export function alarmLimit(comebacks: number): number {
	let [low, high] = [JUMP, JUMP + 1];
	while (comebacksUntilFalseAlarm(high) < comebacks && high < 40) high += 1;
	for (let step = 0; step < 20; step++) {
		const middle = (low + high) / 2;
		if (comebacksUntilFalseAlarm(middle) < comebacks) low = middle;
		else high = middle;
	}
	return high;
}

/** What one comeback adds, and what one that was to be expected takes. */
export const CHART = { jump: JUMP, drift: DRIFT } as const;
