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

export interface Attempted {
	remedy: Remedy;
	resolved: boolean;
}

/** The courses that attempts may have taken on a set of faults, as weights by what they leave of it, in bits. */
interface Courses {
	left: Float64Array;
	/** nothing was left, and the complaint was taken to stay all the same */
	ended: number;
}

const allLeft = (set: FaultSet): Courses => {
	const left = new Float64Array(1 << set.length);
	left[left.length - 1] = 1;
	return { left, ended: 0 };
};

/** The faults of a set that a remedy does not fix, as bits. */
function keptBy(set: FaultSet, { fixes }: Remedy): number {
	let keeps = 0;
	for (let k = 0; k < set.length; k++) if (!fixes.has(set[k] as number)) keeps |= 1 << k;
	return keeps;
}

/** One more attempt after which the complaint stayed. */
function failOnce(courses: Courses, set: FaultSet, remedy: Remedy): void {
	const { left: weights } = courses;
	const keeps = keptBy(set, remedy);
	// smaller sets first: what one leaves is a smaller set that this attempt does not address any more
	for (let left = 0; left < weights.length; left++) {
		const weight = weights[left] as number;
		const after = left & keeps;
		if (after === left) {
			weights[left] = weight * (1 - SLIP);
			continue;
		}
		weights[left] = weight * (1 - remedy.success);
		if (after === 0) courses.ended += weight * remedy.success * SLIP;
		else weights[after] = (weights[after] as number) + weight * remedy.success;
	}
}

const totalOf = ({ left, ended }: Courses): number => left.reduce((sum, weight) => sum + weight, ended);

/**
 * Likelihood of a sequence of attempts under a set of faults: each works on what it addresses with its
 * chance; the complaint is gone when nothing is left. Attempts after the first that resolved say
 * nothing more about what was wrong.
 * @returns for each attempt, the likelihood of the sequence up to it: as many values as attempts
 *
 * Forward over what may be left of the set, as bits: with k faults at most 2^k states, whatever the number of attempts n,
 * so n 2^k steps (k is three at most).
 */
export function attemptLikelihoods(set: FaultSet, attempts: readonly Attempted[]): Float64Array {
	const likelihoods = new Float64Array(attempts.length);
	const courses = allLeft(set);
	for (let i = 0; i < attempts.length; i++) {
		const { remedy, resolved } = attempts[i] as Attempted;
		if (resolved) {
			const keeps = keptBy(set, remedy);
			const gone = courses.left.reduce((sum, weight, left) => {
				const all = left !== 0 && (left & keeps) === 0;
				return sum + weight * (all ? remedy.success * (1 - SLIP) : SLIP);
			}, courses.ended);
			return likelihoods.fill(gone, i);
		}
		failOnce(courses, set, remedy);
		likelihoods[i] = totalOf(courses);
	}
	return likelihoods;
}

/**
 * What attempts that failed leave of a set of faults: an attempt that addressed some of them, but not all, may have mended
 * those, and one that addressed all may have failed at it.
 * @param attempts in order; those from the first that resolved on are left out
 * @returns what may be left, with chances that sum to 1
 * @example leftAfter([0, 3], [{ remedy, resolved: false }]) // remedy fixes 0, works on 0.9: [3] 0.9, [0, 3] 0.1
 */
export function leftAfter(
	set: FaultSet,
	attempts: readonly Attempted[]
): { left: FaultSet; chance: number }[] {
	const courses = allLeft(set);
	for (const { remedy, resolved } of attempts) {
		if (resolved) break;
		failOnce(courses, set, remedy);
	}
	const total = totalOf(courses);
	return [...courses.left]
		.map((weight, bits) => ({
			left: set.filter((_, k) => bits & (1 << k)),
			chance: (weight + (bits === 0 ? courses.ended : 0)) / total
		}))
		.filter(({ chance }) => chance > 0);
}
