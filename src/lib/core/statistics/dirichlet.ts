import { logGamma } from './gamma';

const sum = (values: readonly number[]) => values.reduce((total, value) => total + value, 0);

/**
 * log chance of counts over some outcomes (one ordering of them) when the outcomes' chances are themselves drawn from a
 * Dirichlet distribution of the given weights: the Dirichlet-multinomial. Counts may be fractions. Textbook.
 */
export function dirichletMultinomialLog(counts: readonly number[], weights: readonly number[]): number {
	const [n, w] = [sum(counts), sum(weights)];
	if (n <= 0) return 0;
	return counts.reduce(
		(log, count, i) => {
			const weight = weights[i] as number;
			return count > 0 ? log + logGamma(weight + count) - logGamma(weight) : log;
		},
		logGamma(w) - logGamma(w + n)
	);
}

/** Posterior means of the outcomes' chances: (n + weight) / (N + W). */
export function dirichletMean(counts: readonly number[], weights: readonly number[]): number[] {
	const total = sum(counts) + sum(weights);
	return counts.map((count, i) => (count + (weights[i] as number)) / total);
}

/**
 * The total weight of a Dirichlet prior about some means under which several groups' counts are likeliest: empirical
 * Bayes by marginal likelihood over a grid of factors of about 1.6.
 */
export function likeliestWeight(
	groups: readonly { counts: readonly number[]; means: readonly number[] }[],
	least = 2,
	most = 1500
): number {
	let best = { weight: least, log: -Infinity };
	for (let weight = least; weight <= most; weight *= 1.6) {
		const log = groups.reduce(
			(total, { counts, means }) =>
				total +
				dirichletMultinomialLog(
					counts,
					means.map((mean) => Math.max(1e-6, mean * weight))
				),
			0
		);
		if (log > best.log) best = { weight, log };
	}
	return best.weight;
}
