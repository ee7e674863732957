import { logGamma } from './gamma';
import { sumOf } from './sum';

/**
 * log chance of counts over some outcomes (one ordering of them) when the outcomes' chances are themselves drawn from a
 * Dirichlet distribution of the given weights: the Dirichlet-multinomial. Counts may be fractions. Textbook.
 * @param scale multiplies all weights
 */
export function dirichletMultinomialLog(
	counts: readonly number[],
	weights: readonly number[],
	scale = 1
): number {
	let [n, w, log] = [0, 0, 0];
	for (let i = 0; i < counts.length; i++) {
		const [count, weight] = [counts[i] as number, scale * (weights[i] as number)];
		n += count;
		w += weight;
		if (count > 0) log += logRising(weight, count);
	}
	return n > 0 ? log - logRising(w, n) : 0;
}

const FEW = 12;

/** log(Γ(x + n) / Γ(x)): of a few whole steps as a product, which is many times quicker. */
function logRising(x: number, n: number): number {
	if (n > FEW || !Number.isInteger(n)) return logGamma(x + n) - logGamma(x);
	let product = 1;
	for (let i = 0; i < n; i++) product *= x + i;
	return Math.log(product);
}

/** Posterior means of the outcomes' chances: (n + weight) / (N + W). */
export function dirichletMean(counts: readonly number[], weights: readonly number[]): number[] {
	const total = sumOf(counts) + sumOf(weights);
	return counts.map((count, i) => (count + (weights[i] as number)) / total);
}

const LEAST_WEIGHT = 2;
const MOST_WEIGHT = 1500;
const GRID_STEP = 1.35;

/** What is usual of a weight before anything is seen: lognormal about `weight`, `spread` its standard deviation in logs. */
export interface UsualWeight {
	weight: number;
	spread: number;
}

/**
 * The total weight of a Dirichlet prior about some means under which several groups' counts are likeliest: empirical
 * Bayes by marginal likelihood over a grid. With `usual`, the most probable weight: a few groups of few counts say
 * little of how alike they are.
 */
export function likeliestWeight(
	groups: readonly { counts: readonly number[]; means: readonly number[] }[],
	usual?: UsualWeight
): number {
	let best = { weight: LEAST_WEIGHT, log: -Infinity };
	for (let weight = LEAST_WEIGHT; weight <= MOST_WEIGHT; weight *= GRID_STEP) {
		const away = usual ? Math.log(weight / usual.weight) / usual.spread : 0;
		const log = groups.reduce(
			(total, { counts, means }) =>
				total +
				dirichletMultinomialLog(
					counts,
					means.map((mean) => Math.max(1e-6, mean * weight))
				),
			-0.5 * away * away
		);
		if (log > best.log) best = { weight, log };
	}
	return best.weight;
}
