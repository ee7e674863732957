import { itemAt } from '../units/vector';
/** One that was followed until something happened to it, or until nothing more was seen of it. */
export interface FollowedTo<Cause> {
	time: number;
	/** what happened; null where nothing did */
	cause: Cause | null;
}

/** After each time at which something happened: the share to which each cause has happened, and to which nothing has. */
export interface IncidenceStep<Cause> {
	time: number;
	incidence: ReadonlyMap<Cause, number>;
	free: number;
}

/**
 * Share to which each of several causes happens first, while the others may: sums over causes and what is left are 1 at any time. Not one
 * minus Kaplan and Meier's estimate of one cause, which takes the others for ends of observation. Source: O. O. Aalen, S. Johansen,
 * Scandinavian Journal of Statistics 5:141-150 (1978).
 * @returns steps in the order of time
 */
export function cumulativeIncidence<Cause>(followed: readonly FollowedTo<Cause>[]): IncidenceStep<Cause>[] {
	const sorted = [...followed].sort((a, b) => a.time - b.time);
	const steps: IncidenceStep<Cause>[] = [];
	let [free, at] = [1, 0];
	let previous: ReadonlyMap<Cause, number> = new Map();
	while (at < sorted.length) {
		const { time } = itemAt(sorted, at);
		const atRisk = sorted.length - at;
		const happened = new Map<Cause, number>();
		for (; at < sorted.length && sorted[at]?.time === time; at++) {
			const cause = sorted[at]?.cause ?? null;
			if (cause !== null) happened.set(cause, (happened.get(cause) ?? 0) + 1);
		}
		if (happened.size === 0) continue;
		const incidence = new Map(previous);
		let all = 0;
		for (const [cause, events] of happened) {
			incidence.set(cause, (incidence.get(cause) ?? 0) + (free * events) / atRisk);
			all += events;
		}
		free *= 1 - all / atRisk;
		steps.push({ time, incidence, free });
		previous = incidence;
	}
	return steps;
}
