import { betaQuantile } from './beta';
import type { Interval } from './rate-interval';

/**
 * Posterior mean of a rate with a Beta prior of mean `priorMean` worth `priorWeight` trials:
 * (x + w·m) / (n + w). Textbook conjugate result (beta-binomial).
 */
export function shrunkRate(events: number, trials: number, priorMean: number, priorWeight: number): number {
	if (trials + priorWeight <= 0) return priorMean;
	return (events + priorWeight * priorMean) / (trials + priorWeight);
}

/** Equal-tailed interval of that posterior. */
export function shrunkRateInterval(
	events: number,
	trials: number,
	priorMean: number,
	priorWeight: number,
	level = 0.95
): Interval {
	const a = events + priorWeight * priorMean;
	const b = trials - events + priorWeight * (1 - priorMean);
	if (a <= 0 || b <= 0) return { low: 0, high: 1 };
	const tail = (1 - level) / 2;
	return { low: betaQuantile(tail, a, b), high: betaQuantile(1 - tail, a, b) };
}
