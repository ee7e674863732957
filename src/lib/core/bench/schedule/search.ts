import { seededRandom, type Random } from '../../units/random';
import { boundOf } from './bound';
import { decode, valueOf, type Coding, type Placed, type Plan } from './decode';
import { provenBest } from './exact';
import { problemOf, type Problem, type Schedule, type ScheduleRequest } from './problem';

/** Where the search may stop. */
export interface Clock {
	/** share of the time that is used up, 0 to 1; 1 and more: stop */
	used(): number;
}

/** Plans with more tasks than this are not searched through to the end. A choice. */
const MOST_PROVEN = 60;
/** Share of the time for improving before anything is proven; what is large is improved to the end. A choice. */
const FIRST_SHARE = 0.3;

/**
 * Plans a bench: rules of thumb first, then better by moves (simulated annealing), then, where it is small, searched through to the
 * end. The same request with the same time gives a plan of the same sort, not the same plan.
 * @yields now and then, so that others may be heard
 */
export function* planBench(request: ScheduleRequest, clock: Clock): Generator<void, Schedule> {
	const problem = problemOf(request);
	const tasks = problem.jobs.reduce((sum, job) => sum + job.tasks.length, 0);
	// the exact search knows nothing of places that are taken, nor of hands that change
	const plain = problem.handOver === 0 && problem.stations.every(({ busy = [] }) => busy.length === 0);
	const small = tasks <= MOST_PROVEN && plain;
	let bound = boundOf(problem);
	const reached = (plan: Plan) =>
		problem.handOver === 0 && plan.droppedWeight === 0 && valueOf(problem, plan) <= bound + CLOSE;
	const first = yield* bestOfRules(problem);
	let best: Plan = first.plan;
	if (!reached(best)) {
		best = yield* improved(problem, first, {
			reached,
			timeLeft: () => clock.used() < (small ? FIRST_SHARE : 1)
		});
	}
	if (small && !reached(best) && best.droppedWeight === 0 && tasks > 0) {
		const { placed, complete } = yield* provenBest(problem, valueOf(problem, best), () => clock.used() < 1);
		if (placed) best = planOf(problem, placed);
		if (complete) bound = valueOf(problem, best);
	}
	// which jobs are dropped is a choice of its own: nothing is proven of the others
	if (best.droppedWeight > 0) bound = 0;
	return scheduleOf(problem, best, bound);
}
const CLOSE = 1e-6;

/** Jobs by what is urgent of them: some rules of thumb, the best plan that they give. */
function* bestOfRules(problem: Problem): Generator<void, { plan: Plan; coding: Coding }> {
	const left = problem.jobs.map(({ tasks }) =>
		tasks.reduce((sum, { by, wait }) => sum + (by[0]?.minutes ?? 0) + wait, 0)
	);
	const rules: ((j: number) => number)[] = [
		(j) => -(left[j] as number),
		(j) => (problem.jobs[j]?.due ?? Infinity) - (left[j] as number),
		(j) => problem.jobs[j]?.due ?? Infinity,
		(j) => (left[j] as number) / Math.max(1e-6, problem.jobs[j]?.weight ?? 1),
		(j) => problem.jobs[j]?.release ?? 0,
		(j) => -(problem.jobs[j]?.weight ?? 1)
	];
	let best: { plan: Plan; coding: Coding } | null = null;
	for (const urgency of rules) {
		for (const inRounds of [true, false]) {
			const coding = { order: orderBy(problem, urgency, inRounds), doers: anybody(problem) };
			const plan = decode(problem, coding);
			if (!best || costOf(problem, plan) < costOf(problem, best.plan)) best = { plan, coding };
			yield;
		}
	}
	return best as { plan: Plan; coding: Coding };
}

const anybody = ({ jobs }: Problem) => jobs.map(({ tasks }) => tasks.map(() => -1));

/** Jobs in the order of a rule: the first tasks of all, then the second, or one job after another. */
function orderBy({ jobs }: Problem, urgency: (j: number) => number, inRounds: boolean): number[] {
	const sorted = [...jobs.keys()].sort((a, b) => urgency(a) - urgency(b) || a - b);
	if (!inRounds) return sorted.flatMap((j) => (jobs[j]?.tasks ?? []).map(() => j));
	const most = Math.max(0, ...jobs.map(({ tasks }) => tasks.length));
	return Array.from({ length: most }, (_, round) =>
		sorted.filter((j) => (jobs[j]?.tasks.length ?? 0) > round)
	).flat();
}

/** One number of a plan: dropped jobs before all, then what is asked for, then how early all ends. */
function costOf(problem: Problem, plan: Plan): number {
	const ends = plan.placed.reduce((sum, { end }) => sum + end, 0) / Math.max(1, plan.placed.length);
	const changes = problem.handOver > 0 ? problem.handOver * changesOfHands(problem, plan) : 0;
	return plan.droppedWeight * 1e9 + valueOf(problem, plan) + changes + 1e-4 * ends + 1e-5 * plan.makespan;
}

/** How often a job goes to other hands, from who has it now on. */
export function changesOfHands({ jobs }: Pick<Problem, 'jobs'>, { placed }: Pick<Plan, 'placed'>): number {
	const hands = jobs.map(({ holder }) => holder);
	let changes = 0;
	// a job's tasks are placed in their order
	for (const { task, technician } of placed) {
		const before = hands[task.job] as number;
		if (before >= 0 && before !== technician) changes += 1;
		hands[task.job] = technician;
	}
	return changes;
}

interface Improving {
	reached: (plan: Plan) => boolean;
	timeLeft: () => boolean;
}

/** So many tries at one temperature, and how far it falls after them. Choices. */
const TRIES = 40;
const COOLING = 0.985;
/** Warm again after so many tries without anything better. A choice. */
const PATIENCE = 1500;

/** Simulated annealing over orders and hands (S. Kirkpatrick et al., Science 220, 1983). */
function* improved(
	problem: Problem,
	start: { plan: Plan; coding: Coding },
	{ reached, timeLeft }: Improving
): Generator<void, Plan> {
	const random = seededRandom(4711);
	const flexible = problem.jobs.flatMap(({ tasks }, j) =>
		tasks.flatMap(({ by }, at) => (by.length > 1 ? [{ j, at, hands: by.length }] : []))
	);
	let [here, best] = [start, start];
	let hereCost = costOf(problem, here.plan);
	let bestCost = hereCost;
	// one move of many changes little of the whole
	const warm = Math.max(1e-3, Math.min(0.05, 0.5 / start.coding.order.length) * Math.min(hereCost, 1e9));
	let temperature = warm;
	let idle = 0;
	if (here.coding.order.length < 2 && flexible.length === 0) return best.plan;
	for (let tries = 1; ; tries++) {
		if (!timeLeft() || reached(best.plan)) return best.plan;
		yield;
		const coding = moved(random, here.coding, flexible);
		const plan = decode(problem, coding);
		const cost = costOf(problem, plan);
		if (cost <= hereCost || random() < Math.exp((hereCost - cost) / temperature)) {
			here = { plan, coding };
			hereCost = cost;
		}
		idle += 1;
		if (cost < bestCost - 1e-12) {
			best = { plan, coding };
			bestCost = cost;
			idle = 0;
		}
		if (tries % TRIES === 0) temperature *= COOLING;
		if (idle > PATIENCE) {
			[here, hereCost, idle] = [best, bestCost, 0];
			temperature = warm * (0.1 + 0.9 * random());
		}
	}
}

/** A neighbour: a job's turn earlier or later, two turns changed, or other hands for a task. */
function moved(
	random: Random,
	{ order, doers }: Coding,
	flexible: readonly { j: number; at: number; hands: number }[]
): Coding {
	const pick = (below: number) => Math.floor(random() * below);
	if (flexible.length > 0 && (order.length < 2 || random() < 0.3)) {
		const { j, at, hands } = flexible[pick(flexible.length)] as { j: number; at: number; hands: number };
		const changed = doers.map((own, i) =>
			i === j ? own.map((doer, k) => (k === at ? pick(hands + 1) - 1 : doer)) : own
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

/** The plan that was built by an exact search, judged as others are. */
function planOf(problem: Problem, placed: readonly Placed[]): Plan {
	const order = [...placed].sort((a, b) => a.start - b.start || a.end - b.end).map(({ task }) => task.job);
	const doers = problem.jobs.map(({ tasks }) =>
		tasks.map((task) =>
			task.by.findIndex(
				({ technician }) => technician === placed.find((each) => each.task === task)?.technician
			)
		)
	);
	return decode(problem, { order, doers });
}

function scheduleOf(problem: Problem, plan: Plan, bound: number): Schedule {
	const value = valueOf(problem, plan);
	const impossible = [...problem.impossible];
	for (const [j, at] of plan.dropped) {
		const job = problem.jobs[j];
		(job?.tasks ?? []).slice(at).forEach((task, i) =>
			impossible.push({
				job: job?.name ?? '',
				task: task.name,
				message:
					i === 0 ? 'there is too little free time left for it' : 'comes after a task that cannot be done'
			})
		);
	}
	return {
		makespan: plan.makespan,
		tardiness: plan.tardiness,
		bound: Math.min(bound, value),
		optimal: plan.droppedWeight === 0 && value - bound <= CLOSE,
		tasks: [...plan.placed]
			.sort((a, b) => a.start - b.start || a.task.job - b.task.job)
			.map(({ task, technician, start, end }) => ({
				job: problem.jobs[task.job]?.name ?? '',
				task: task.name,
				technician: problem.technicians[technician]?.code ?? '',
				station: task.station === null ? null : (problem.stations[task.station]?.code ?? null),
				start,
				end
			})),
		impossible
	};
}
