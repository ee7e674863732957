import { averageRunLength } from '../statistics/cusum';

/**
 * A chart that sums what speaks for a row that is so many times as bad as usual (CUSUM of the log likelihood ratio of a Poisson
 * process; Lucas, Technometrics 27, 1985): every comeback adds log(times), every comeback that was to be expected takes (times - 1).
 */
const TIMES_AS_BAD = 4;
const JUMP = Math.log(TIMES_AS_BAD);
const DRIFT = TIMES_AS_BAD - 1;

/** What one comeback adds, and what one that was to be expected takes. */
export const CHART = { jump: JUMP, drift: DRIFT } as const;

/**
 * Comebacks until the chart rings for nothing, on average, where all is normal. Just after a comeback the chart stands one jump above
 * a sum that starts at nothing and to which the wait for the next comeback, exponential, and its jump are added.
 * @param limit the chart rings at it, above nothing
 */
export function comebacksUntilFalseAlarm(limit: number): number {
	if (limit <= JUMP) return 1;
	const cdf = (step: number) => Math.exp(-Math.max(0, JUMP - step) / DRIFT);
	return 1 + averageRunLength({ limit: limit - JUMP, cdf });
}

/** Between limits so far apart the logarithm of the run is a line, nearly. */
const STEP = 0.1;
const MOST_STEPS = 200;
const runs: number[] = [];

/**
 * The limit with which a chart rings for nothing once in so many comebacks.
 * @param comebacks at least 2
 */
export function alarmLimit(comebacks: number): number {
	const runAt = (k: number) => (runs[k] ??= comebacksUntilFalseAlarm(JUMP + k * STEP));
	for (let k = 1; k < MOST_STEPS; k++) {
		if (runAt(k) < comebacks) continue;
		const [low, high] = [Math.log(runAt(k - 1)), Math.log(runAt(k))];
		return JUMP + (k - 1 + Math.max(0, Math.log(comebacks) - low) / (high - low)) * STEP;
	}
	return JUMP + MOST_STEPS * STEP;
}
