/** Kullback-Leibler divergence of one distribution from another over the same outcomes, in nats. Textbook. */
export function divergence(from: readonly number[], to: readonly number[]): number {
	return from.reduce((sum, p, i) => sum + (p > 0 ? p * Math.log(p / (to[i] as number)) : 0), 0);
}
