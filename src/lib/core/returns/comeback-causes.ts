import { cumulativeIncidence } from '../statistics/cumulative-incidence';
import type { FollowedJob } from './followed-jobs';

export interface CauseShare {
	/** null: nobody said */
	cause: string | null;
	comebacks: number;
	/** share of the jobs that had come back for it within the days, while others came back for another */
	share: number;
}

/** Why jobs came back within some days, the most frequent first; the shares and what did not come back are 1. */
export function comebackCauses(jobs: readonly FollowedJob[], days: number): CauseShare[] {
	const steps = cumulativeIncidence(
		jobs.map(({ time, back }) => ({ time, cause: back === null ? null : (back.cause ?? UNSAID) }))
	);
	const last = steps.findLast(({ time }) => time <= days);
	const counts = new Map<string, number>();
	for (const { time, back } of jobs) {
		if (back === null || time > days) continue;
		const cause = back.cause ?? UNSAID;
		counts.set(cause, (counts.get(cause) ?? 0) + 1);
	}
	return [...counts]
		.map(([cause, comebacks]) => ({
			cause: cause === UNSAID ? null : cause,
			comebacks,
			share: last?.incidence.get(cause) ?? 0
		}))
		.sort((a, b) => b.comebacks - a.comebacks || ((a.cause ?? '') < (b.cause ?? '') ? -1 : 1));
}
/** No code of a cause holds a blank. */
const UNSAID = ' ';
