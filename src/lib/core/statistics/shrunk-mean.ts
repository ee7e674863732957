/**
 * A group's mean shrunk to that of its like: normal with known errors, between-group spread `tau`.
 * Posterior mean (x/se^2 + m/tau^2) / (1/se^2 + 1/tau^2) and variance. Textbook (normal-normal).
 */
export function shrunkMean(value: number, error: number, tau: number, mean: number) {
	const precision = 1 / (error * error);
	const shared = Number.isFinite(tau) ? 1 / (tau * tau) : 0;
	return {
		mean: (value * precision + mean * shared) / (precision + shared),
		variance: 1 / (precision + shared)
	};
}

/**
 * Spread between groups by moments: variance of the groups' values less the mean of their squared errors,
 * not below `least`. Infinite with fewer than two groups: nothing can be said of how alike they are.
 */
export function betweenGroups(
	groups: readonly { value: number; error: number }[],
	minWeight: number
): { mean: number; tau: number } {
	const n = groups.length;
	const mean = groups.reduce((sum, { value }) => sum + value, 0) / Math.max(1, n);
	if (n < 2) return { mean, tau: Infinity };
	const variance = groups.reduce((sum, { value }) => sum + (value - mean) ** 2, 0) / (n - 1);
	const noise = groups.reduce((sum, { error }) => sum + error * error, 0) / n;
	return { mean, tau: Math.max(minWeight, Math.sqrt(Math.max(0, variance - noise))) };
}
