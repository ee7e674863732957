import { droppingCost, type Placed } from './decode';
import { provenBest } from './exact';
import type { Problem } from './problem';

/**
 * Where there is too little free time for all: the lightest jobs to leave out, and of those that weigh the same the ones without which
 * the objective is best, by trying sets of jobs in the order of their weight.
 * @param bound weight of what a plan that is known leaves out
 * @returns the best plan of the others; null where the known one leaves out as little, or the time was over before one was found
 * @yields now and then, so that others may be heard
 */
export function* fewestDropped(
	problem: Problem,
	bound: number,
	timeLeft: () => boolean
): Generator<void, FewestDropped | null> {
	let found: FewestDropped | null = null;
	let [lowest, value] = [bound, Infinity];
	for (const { jobs, weight } of setsByWeight(problem.jobs.map(droppingCost))) {
		if (weight > lowest + SAME || !timeLeft()) return found;
		const dropped = new Set(jobs);
		const reduced: Problem = {
			...problem,
			jobs: problem.jobs.map((job, j) => (dropped.has(j) ? { ...job, tasks: [] } : job))
		};
		const proof = yield* provenBest(reduced, value, timeLeft);
		if (!proof.placed) continue;
		found = { placed: proof.placed, dropped, complete: proof.complete };
		[lowest, value] = [weight, proof.value];
	}
	return found;
}
const SAME = 1e-9;

export interface FewestDropped {
	placed: Placed[];
	dropped: ReadonlySet<number>;
	/** no plan without these jobs is better */
	complete: boolean;
}

interface WeighedSet {
	jobs: number[];
	weight: number;
}

/** Every set of jobs, the lightest first: the empty one, in case nothing has to be left out after all. */
export function* setsByWeight(weights: readonly number[]): Generator<WeighedSet> {
	const sorted = [...weights.keys()].sort((a, b) => (weights[a] as number) - (weights[b] as number));
	const weightOf = (at: number) => weights[sorted[at] as number] as number;
	yield { jobs: [], weight: 0 };
	// each set by the places of its jobs in `sorted`; from each the one with the next job, and the one with the next in the last's place
	const waiting = sorted.length === 0 ? [] : [{ places: [0], weight: weightOf(0) }];
	for (let first = waiting.shift(); first; first = waiting.shift()) {
		const { places, weight } = first;
		yield { jobs: places.map((at) => sorted[at] as number), weight };
		const last = places.at(-1) as number;
		if (last + 1 >= sorted.length) continue;
		for (const next of [
			{ places: [...places, last + 1], weight: weight + weightOf(last + 1) },
			{ places: [...places.slice(0, -1), last + 1], weight: weight - weightOf(last) + weightOf(last + 1) }
		]) {
			const at = waiting.findIndex((job) => job.weight > next.weight);
			waiting.splice(at < 0 ? waiting.length : at, 0, next);
		}
	}
}
