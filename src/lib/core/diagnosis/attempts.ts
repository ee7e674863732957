import type { FaultSet } from './fault-sets';

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
 */
export function attemptsLikelihood(
	set: FaultSet,
	attempts: readonly { remedy: Remedy; resolved: boolean }[]
): number {
	const [first, ...rest] = attempts;
	if (!first) return 1;
	const left = withoutFixed(set, first.remedy);
	const addressed = left.length < set.length;
	const { success } = first.remedy;
	const gone = addressed && left.length === 0 ? success * (1 - SLIP) : SLIP;
	if (first.resolved) return gone;
	if (!addressed) return (1 - SLIP) * attemptsLikelihood(set, rest);
	const stays = (1 - success) * attemptsLikelihood(set, rest);
	const partly = left.length > 0 ? success * attemptsLikelihood(left, rest) : success * SLIP;
	return stays + partly;
}
