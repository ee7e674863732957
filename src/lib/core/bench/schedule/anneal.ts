import { itemAt } from '../../units/vector';
import { seededRandom, type Random } from '../../units/random';
import { lateJob, movedAtWait, type Found } from './critical';
import { Decoder, valueOf, type Coding, type Plan } from './decode';
import type { Problem } from './problem';
import type { Improving } from './tabu';

/** Of the time for lateness so much goes to the order of whole jobs, the rest to that of their tasks. A choice, by invented days. */
const JOBS_SHARE = 0.8;
/** Temperatures at first, in weighted minutes of a mean task: orders of jobs, then of tasks. Choices, by invented days. */
const HOT = { jobs: 10, tasks: 0.3 } as const;
/** What one move may make a makespan worse at first, as part of the whole. A choice. */
const MOST_OF_ALL = 0.05;
/** At the end of its time a temperature is this part of what it was. A choice. */
const COOLED = 0.01;
/** So many temperatures of tardiness may be made good after a changed stretch of an order. A choice. */
const HOPE = 3;
/** Shares of the moves of tasks: what is waited for, a late job's turn earlier, a whole job; the others change anything. Choices. */
const AIMED = 0.3;
const PULLED = 0.2;
const WHOLE = 0.1;

/**
 * Simulated annealing over orders and technicians (S. Kirkpatrick et al., Science 220, 1983), each stage cooled once over its time.
 * Where lateness counts, whole jobs change places first: with more work than time it is mostly decided by who comes before whom.
 */
export function* annealed(
	problem: Problem,
	start: Found,
	{ reached, used }: Improving
): Generator<void, Plan> {
	const random = seededRandom(4711);
	const decoder = new Decoder(problem);
	const flexible = flexibleTasks(problem);
	if (start.coding.order.length < 2 && flexible.length === 0) return start.plan;
	if (problem.objective === 'makespan') {
		const share = Math.min(MOST_OF_ALL, 0.5 / start.coding.order.length);
		const hot = Math.max(1e-3, share * Math.min(valueOf(problem, start.plan), 1e9));
		const found = yield* cooled(decoder, start, { random, hot, reached, used, hope: Infinity }, (state) =>
			random() < AIMED ? movedAtWait(random, problem, state) : moved(random, state.coding, flexible)
		);
		return found.plan;
	}
	const minute = meanWeightedMinutes(problem);
	const stage = (hot: number) => ({ random, hot: hot * minute, reached, hope: HOPE * hot * minute });
	const byJobs = yield* cooled(
		decoder,
		inBlocks(decoder, problem, start.coding),
		{ ...stage(HOT.jobs), used: () => used() / JOBS_SHARE },
		({ coding }) => blockMoved(random, coding)
	);
	const found = byJobs.plan.cost < start.plan.cost ? byJobs : start;
	const byTasks = yield* cooled(
		decoder,
		found,
		{ ...stage(HOT.tasks), used: () => (used() - JOBS_SHARE) / (1 - JOBS_SHARE) },
		(state) => {
			const kind = random();
			if (kind < AIMED) return movedAtWait(random, problem, state);
			if (kind < AIMED + PULLED) return pulled(random, problem, state);
			if (kind < AIMED + PULLED + WHOLE) return blockMoved(random, state.coding);
			return moved(random, state.coding, flexible);
		}
	);
	return byTasks.plan;
}

interface Stage extends Improving {
	random: Random;
	hot: number;
	hope: number;
}

/** One cooling from a temperature to a hundredth of it; the best plan that it met. */
function* cooled(
	decoder: Decoder,
	start: Found,
	{ random, hot, hope, reached, used }: Stage,
	neighbour: (state: Found) => Coding | null
): Generator<void, Found> {
	let [state, best] = [start, start];
	decoder.decode(state.coding);
	for (;;) {
		const time = used();
		if (time >= 1 || reached(best.plan)) return best;
		yield;
		const coding = neighbour(state);
		if (!coding) continue;
		// what the rule of Metropolis would accept with the number that is drawn
		const limit = state.plan.cost - hot * COOLED ** time * Math.log(1 - random());
		const cost = decoder.cost(coding, limit, hope);
		if (cost > limit || cost === state.plan.cost) continue;
		state = { plan: decoder.decode(coding), coding };
		if (state.plan.cost < best.plan.cost - 1e-12) best = state;
	}
}

/** Tasks that more than one technician can do. */
const flexibleTasks = ({ jobs }: Problem) =>
	jobs.flatMap(({ tasks }, j) =>
		tasks.flatMap(({ by: doers }, at) => (doers.length > 1 ? [{ j, at, able: doers.length }] : []))
	);

function meanWeightedMinutes({ jobs }: Problem): number {
	const minutesLists = jobs.flatMap(({ tasks, weight }) =>
		tasks.map(({ by: doers }) => weight * (doers[0]?.minutes ?? 0))
	);
	return Math.max(
		1e-3,
		minutesLists.reduce((sum, minutes) => sum + minutes, 0) / Math.max(1, minutesLists.length)
	);
}

/** Each job's turns in a row, in the order of their first ones; whoever ends first does what. */
function inBlocks(decoder: Decoder, { jobs }: Problem, { order }: Coding): Found {
	const doers = jobs.map(({ tasks }) => tasks.map(() => -1));
	const coding = { order: blocksOf([...new Set(order)], doers), doers };
	return { coding, plan: decoder.decode(coding) };
}

function blocksOf(jobs: readonly number[], doers: Coding['doers']): number[] {
	const order: number[] = [];
	for (const j of jobs) for (let k = doers[j]?.length ?? 0; k > 0; k--) order.push(j);
	return order;
}

/** A neighbour in which a job comes before or after others, or two have changed places; near ones more often than far ones. */
function blockMoved(random: Random, { order, doers }: Coding): Coding {
	const jobs = [...new Set(order)];
	const from = Math.floor(random() * jobs.length);
	const reach = 1 + Math.floor(jobs.length * random() ** 2);
	const to = Math.min(jobs.length - 1, Math.max(0, from + (random() < 0.5 ? -reach : reach)));
	if (random() < 0.4) [jobs[from], jobs[to]] = [jobs[to] as number, jobs[from] as number];
	else jobs.splice(to, 0, ...jobs.splice(from, 1));
	return { order: blocksOf(jobs, doers), doers };
}

/** A neighbour in which a turn of a late job comes earlier; null where none is late. */
function pulled(random: Random, problem: Problem, { plan, coding }: Found): Coding | null {
	const j = lateJob(random, problem.jobs, plan.placed);
	if (j < 0) return null;
	const turns = coding.order.flatMap((turn, i) => (turn === j ? [i] : []));
	const from = turns[Math.floor(random() * turns.length)] as number;
	const order = [...coding.order];
	order.splice(from, 1);
	order.splice(Math.floor(from * (1 - random() ** 2)), 0, j);
	return { order, doers: coding.doers };
}

/** A neighbour: a job's turn earlier or later, two turns changed, or another technician for a task. */
function moved(
	random: Random,
	{ order, doers }: Coding,
	flexible: readonly { j: number; at: number; able: number }[]
): Coding {
	const pick = (below: number) => Math.floor(random() * below);
	if (flexible.length > 0 && (order.length < 2 || random() < 0.3)) {
		const { j, at, able } = itemAt(flexible, pick(flexible.length));
		const changed = doers.map((jobDoers, i) =>
			i === j ? jobDoers.map((doer, k) => (k === at ? pick(able + 1) - 1 : doer)) : jobDoers
		);
		return { order, doers: changed };
	}
	const copy = [...order];
	const from = pick(copy.length);
	const reach = random() < 0.5 ? 6 : copy.length;
	const to = Math.min(copy.length - 1, Math.max(0, from + pick(2 * reach + 1) - reach));
	if (random() < 0.5) {
		[copy[from], copy[to]] = [copy[to] as number, copy[from] as number];
	} else {
		const [turn] = copy.splice(from, 1);
		copy.splice(to, 0, turn as number);
	}
	return { order: copy, doers };
}
