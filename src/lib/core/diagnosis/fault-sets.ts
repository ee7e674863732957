import { addAt, valueAt } from '../units/vector';
import { logSumExp } from '../statistics/log-sum-exp';

/** The faults of a device, as indices into the catalog's list: none, one, two or three. */
export type FaultSet = readonly number[];
/** Chances of no, one, two and three faults. */
export type Sizes = readonly [number, number, number, number];
type Totals = [number, number, number, number];

const upToTwo = new Map<number, readonly FaultSet[]>();
const upToThree = new Map<number, readonly FaultSet[]>();

function remembered(cache: Map<number, readonly FaultSet[]>, count: number, make: () => FaultSet[]) {
	const found = cache.get(count);
	if (found) return found;
	const made = make();
	cache.set(count, made);
	return made;
}

/** The same list each time for the same count, so that what is worked out over it can be remembered with it. */
export const setsOfUpToTwo = (count: number): readonly FaultSet[] =>
	remembered(upToTwo, count, () => enumerateSets(count));
export const setsOfUpToThree = (count: number): readonly FaultSet[] =>
	remembered(upToThree, count, () => [
		...enumerateSets(count),
		...enumerateTriples(Array.from({ length: count }, (_, fault) => fault))
	]);

/** All sets of up to two of `count` faults: the empty one, the singles, the pairs. */
export function enumerateSets(count: number): FaultSet[] {
	const sets: FaultSet[] = [[]];
	for (let fault = 0; fault < count; fault++) sets.push([fault]);
	for (let first = 0; first < count; first++) {
		for (let second = first + 1; second < count; second++) sets.push([first, second]);
	}
	return sets;
}

/** All sets of three of some faults. */
export function enumerateTriples(faults: readonly number[]): FaultSet[] {
	const sorted = [...faults].sort((a, b) => a - b);
	return sorted.flatMap((first, i) =>
		sorted.slice(i + 1).flatMap((second, j) => sorted.slice(i + j + 2).map((third) => [first, second, third]))
	);
}

/**
 * Sums of products of one, two and three different shares: what the weights of all sets of a size sum to, also of those
 * that are not looked at. Newton's identities for elementary symmetric polynomials.
 */
export function setWeightTotals(shares: readonly number[]): Totals {
	const power = (k: number) => shares.reduce((sum, share) => sum + share ** k, 0);
	const [p1, p2, p3] = [power(1), power(2), power(3)];
	const e2 = Math.max(0, (p1 * p1 - p2) / 2);
	return [1, p1, e2, Math.max(0, (p1 * p1 * p1 - 3 * p1 * p2 + 2 * p3) / 6)];
}

function pairTotal(shares: readonly number[], lifts: Float64Array): number {
	const n = shares.length;
	let total = 0;
	for (let a = 0; a < n; a++) {
		for (let b = a + 1; b < n; b++) {
			total += (shares[a] as number) * (shares[b] as number) * valueAt(lifts, a * n + b);
		}
	}
	return total;
}

/**
 * Log prior of each set: P(how many) times the share of the set among all those of its size, where a set's weight is the
 * product of its faults' shares (conditional Bernoulli). Sums to less than 1 where triples are left out.
 * @param shares how often each fault is met, any positive scale
 * @param sizes chances of no, one, two and three faults, summing to 1
 * @param lifts by pair (first · faults + second): how much more often than that they come together; all alike without
 */
export function logPriorOfSets(
	sets: readonly FaultSet[],
	shares: readonly number[],
	sizes: Sizes,
	lifts: Float64Array | null = null
): Float64Array {
	const totals = setWeightTotals(shares);
	const n = shares.length;
	if (lifts) totals[2] = pairTotal(shares, lifts);
	const possible = (size: number) => size <= shares.length && (totals[size] ?? 0) > 0;
	const usable = sizes.reduce<number>((sum, chance, size) => sum + (possible(size) ? chance : 0), 0);
	// chance of a set of a size by what its weight is
	const scale = sizes.map((chance, size) =>
		possible(size) ? chance / usable / (totals[size] as number) : 0
	);
	return Float64Array.from(sets, (set) => {
		const [first, second] = set;
		let weight = scale[set.length] ?? 0;
		if (lifts && set.length === 2) weight *= valueAt(lifts, (first as number) * n + (second as number));
		for (let i = 0; i < set.length; i++) weight *= shares[set[i] as number] ?? 0;
		return Math.log(weight);
	});
}

/** Bayes in log space: the normalised posterior of prior and summed log likelihoods. */
export function posteriorOfSets(
	logPrior: Float64Array,
	logLikelihoods: readonly Float64Array[]
): Float64Array {
	const joint = Float64Array.from(logPrior);
	for (const likelihood of logLikelihoods) {
		for (let i = 0; i < joint.length; i++) addAt(joint, i, valueAt(likelihood, i));
	}
	const total = logSumExp(joint);
	return joint.map((log) => Math.exp(log - total));
}

/** Chance that each fault is present: the sum over the sets that hold it. */
export function marginals(sets: readonly FaultSet[], posterior: Float64Array, count: number): number[] {
	const chances = new Array<number>(count).fill(0);
	sets.forEach((set, i) => {
		for (const fault of set) chances[fault] = (chances[fault] ?? 0) + valueAt(posterior, i);
	});
	return chances.map((chance) => Math.min(1, chance));
}

/**
 * Noisy-OR with leak: P(present) = 1 - (1 - leak) * product(1 - link).
 * Source: Pearl, Probabilistic Reasoning in Intelligent Systems (1988).
 * @param links by fault, 0 to 1
 * @param causes faults that are there
 */
export function noisyOr(leak: number, links: ArrayLike<number>, causes: FaultSet): number {
	let absent = 1 - leak;
	for (let i = 0; i < causes.length; i++) absent *= 1 - (links[causes[i] as number] as number);
	return 1 - absent;
}
