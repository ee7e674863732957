/**
 * Posterior mean of a rate with a Beta prior of mean `priorMean` worth `priorWeight` trials:
 * (x + w·m) / (n + w). Textbook conjugate result (beta-binomial).
 */
export function shrunkRate(events: number, trials: number, priorMean: number, priorWeight: number): number {
	if (trials + priorWeight <= 0) return priorMean;
	return (events + priorWeight * priorMean) / (trials + priorWeight);
}
