import type { FaultSet } from '../fault-sets';

/** An operation as the fault model sees it. */
export interface Remedy {
	code: string;
	/** indices of the faults that it fixes */
	fixes: ReadonlySet<number>;
	/** chance that it works where it addresses a fault; all it addresses at once */
	success: number;
}

/** A complaint can go by itself, and a sound repair can be misjudged: neither is impossible. */
const SLIP = 0.02;

export const withoutFixed = (set: FaultSet, remedy: Remedy): FaultSet =>
	set.filter((fault) => !remedy.fixes.has(fault));

/**
 * Likelihood of a sequence of attempts under a set of faults: each works on what it addresses with its
 * chance; the complaint is gone when nothing is left. Attempts after the first that resolved say
 * nothing more about what was wrong.
 * @returns for each attempt, the likelihood of the sequence up to it: as many values as attempts
 *
 * Forward over what may be left of the set, as bits: with k faults at most 2^k states, whatever the number of attempts n,
 * so n 2^k steps (k is three at most).
 */
export function attemptLikelihoods(
	set: FaultSet,
	attempts: readonly { remedy: Remedy; resolved: boolean }[]
): Float64Array {
	const likelihoods = new Float64Array(attempts.length);
	const states = 1 << set.length;
	/** weight of the courses that leave just these faults of the set */
	const weights = new Float64Array(states);
	weights[states - 1] = 1;
	/** of those in which nothing was left and the complaint was taken to stay all the same */
	let ended = 0;
	for (let i = 0; i < attempts.length; i++) {
		const { remedy, resolved } = attempts[i] as (typeof attempts)[number];
		const { success, fixes } = remedy;
		let keeps = 0;
		for (let k = 0; k < set.length; k++) if (!fixes.has(set[k] as number)) keeps |= 1 << k;
		if (resolved) {
			let gone = ended;
			for (let left = 0; left < states; left++) {
				const all = left !== 0 && (left & keeps) === 0;
				gone += (weights[left] as number) * (all ? success * (1 - SLIP) : SLIP);
			}
			return likelihoods.fill(gone, i);
		}
		// smaller sets first: what one leaves is a smaller set that this attempt does not address any more
		for (let left = 0; left < states; left++) {
			const weight = weights[left] as number;
			const after = left & keeps;
			if (after === left) {
				weights[left] = weight * (1 - SLIP);
				continue;
			}
			weights[left] = weight * (1 - success);
			if (after === 0) ended += weight * success * SLIP;
			else weights[after] = (weights[after] as number) + weight * success;
		}
		let total = ended;
		for (let left = 0; left < states; left++) total += weights[left] as number;
		likelihoods[i] = total;
	}
	return likelihoods;
}
