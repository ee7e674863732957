import { itemAt } from '../../units/vector';
import { seededRandom } from '../../units/random';
import { movedAtWait, swaps, type Found } from './critical';
import { Decoder, type Plan } from './decode';
import type { Problem, Task } from './problem';

export interface Improving {
	/** a plan that cannot be bettered */
	reached: (plan: Plan) => boolean;
	/** share of its time that is used up */
	used: () => number;
}

/** So many moves a change is not taken back, and up to so many more. Choices. */
const FORBIDDEN = 8;
const FORBIDDEN_MORE = 6;
/** After so many moves without a better plan it goes on from one of the last good ones, shaken by some changes. Choices. */
const PATIENCE = 1000;
const GOOD_ONES = 5;
const SHAKEN = 5;

interface Candidate extends Found {
	/** the change that would take it back */
	back: string;
}

/**
 * Goes on to the best neighbour even where it is worse, and takes no change back for a while (F. Glover, ORSA Journal on Computing 1,
 * 1989; neighbours of Nowicki & Smutnicki). For plans of which each task has its hands.
 */
export function* tabuSearch(
	problem: Problem,
	start: Found,
	{ reached, used }: Improving
): Generator<void, Plan> {
	const random = seededRandom(4711);
	const forbidden = new Map<string, number>();
	const good: Found[] = [start];
	let [state, best] = [start, start];
	const decoder = new Decoder(problem);
	let idle = 0;
	for (let move = 0; ; move++) {
		let next: Candidate | null = null;
		let oldest: Candidate | null = null;
		let oldestUntil = Infinity;
		const changes = swaps(random, problem, state.plan);
		for (const { order, earlier, later } of changes) {
			if (used() >= 1 || reached(best.plan)) return best.plan;
			yield;
			const coding = { order, doers: state.coding.doers };
			const plan = decoder.decode(coding);
			const candidate = { plan, coding, back: keyOf(later, earlier) };
			const until = forbidden.get(keyOf(earlier, later)) ?? -1;
			const free = until <= move || plan.cost < best.plan.cost - LITTLE;
			if (free && (!next || plan.cost < next.plan.cost)) next = candidate;
			if (!free && until < oldestUntil) [oldest, oldestUntil] = [candidate, until];
		}
		next ??= oldest;
		// nothing waits for anything else: no order is better
		if (!next) return best.plan;
		forbidden.set(next.back, move + FORBIDDEN + Math.floor(random() * FORBIDDEN_MORE));
		state = next;
		idle += 1;
		if (next.plan.cost < best.plan.cost - LITTLE) {
			[best, idle] = [next, 0];
			good.push(next);
			if (good.length > GOOD_ONES) good.shift();
		}
		if (idle > PATIENCE) {
			state = itemAt(good, Math.floor(random() * good.length));
			forbidden.clear();
			idle = 0;
			for (let k = 0; k < SHAKEN; k++) {
				const coding = movedAtWait(random, problem, state);
				if (coding) state = { coding, plan: decoder.decode(coding) };
			}
		}
	}
}
const LITTLE = 1e-9;

const keyOf = (first: Task, second: Task) => `${first.job} ${first.name} ${second.job} ${second.name}`;
