import type { FaultSet } from '$lib/core/diagnosis/fault-sets';
import { Courses, type Left, type Remedy } from '$lib/core/diagnosis/infer/attempts';

export interface Attempted {
	remedy: Remedy;
	resolved: boolean;
}

/**
 * Likelihood of a sequence of attempts under a set of faults: each works on what it addresses with its
 * chance; the fault is fixed when nothing is left. Attempts after the first that resolved say
 * nothing more about what was wrong.
 * @returns for each attempt, the likelihood of the sequence up to it: as many values as attempts
 */
export function attemptLikelihoods(set: FaultSet, attempts: readonly Attempted[]): Float64Array {
	const likelihoods = new Float64Array(attempts.length);
	const courses = new Courses(set);
	for (let i = 0; i < attempts.length; i++) {
		const { remedy, resolved } = attempts[i] as Attempted;
		if (resolved) return likelihoods.fill(courses.workedBy(remedy), i);
		courses.fail(remedy);
		likelihoods[i] = courses.total;
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
export function leftAfter(set: FaultSet, attempts: readonly Attempted[]): Left[] {
	const courses = new Courses(set);
	for (const { remedy, resolved } of attempts) {
		if (resolved) break;
		courses.fail(remedy);
	}
	return courses.now();
}
