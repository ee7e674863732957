import { logSumExp } from '../statistics/log-sum-exp';

/** The faults of a device, as indices into the catalog's list: none, one or two. */
export type FaultSet = readonly number[];

/** All sets of up to two of `count` faults: the empty one, the singles, the pairs. */
export function enumerateSets(count: number): FaultSet[] {
	const sets: FaultSet[] = [[]];
	for (let fault = 0; fault < count; fault++) sets.push([fault]);
	for (let first = 0; first < count; first++) {
		for (let second = first + 1; second < count; second++) sets.push([first, second]);
	}
	return sets;
}

/**
 * Log prior of each set: P(how many) times the share of the set among those of its size, where a set's
 * weight is the product of its faults' shares (conditional Bernoulli).
 * @param shares how often each fault is met, any positive scale
 * @param sizes chances of no, one and two faults, summing to 1
 */
export function logPriorOfSets(
	sets: readonly FaultSet[],
	shares: readonly number[],
	sizes: readonly [number, number, number]
): Float64Array {
	const weight = (set: FaultSet) => set.reduce((product, fault) => product * (shares[fault] ?? 0), 1);
	const totals = [0, 0, 0];
	for (const set of sets) totals[set.length] = (totals[set.length] ?? 0) + weight(set);
	const usable = sizes.reduce((sum, size, count) => sum + ((totals[count] ?? 0) > 0 ? size : 0), 0);
	return Float64Array.from(sets, (set) => {
		const total = totals[set.length] ?? 0;
		if (total === 0) return -Infinity;
		return Math.log(((sizes[set.length] ?? 0) / usable) * (weight(set) / total));
	});
}

/** Bayes in log space: the normalised posterior of prior and summed log likelihoods. */
export function posteriorOfSets(
	logPrior: Float64Array,
	logLikelihoods: readonly Float64Array[]
): Float64Array {
	const joint = Float64Array.from(logPrior);
	for (const likelihood of logLikelihoods) {
		for (let i = 0; i < joint.length; i++) joint[i] = (joint[i] as number) + (likelihood[i] as number);
	}
	const total = logSumExp(joint);
	return joint.map((log) => Math.exp(log - total));
}

/** Chance that each fault is present: the sum over the sets that hold it. */
export function marginals(sets: readonly FaultSet[], posterior: Float64Array, count: number): number[] {
	const chances = new Array<number>(count).fill(0);
	sets.forEach((set, i) => {
		for (const fault of set) chances[fault] = (chances[fault] ?? 0) + (posterior[i] as number);
	});
	return chances.map((chance) => Math.min(1, chance));
}

/**
 * Noisy-OR with leak: P(present) = 1 - (1 - leak) * product(1 - link).
 * Source: Pearl, Probabilistic Reasoning in Intelligent Systems (1988).
 */
export function noisyOr(leak: number, links: readonly number[]): number {
	return 1 - links.reduce((absent, link) => absent * (1 - link), 1 - leak);
}
