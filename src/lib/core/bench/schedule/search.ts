import { seededRandom, type Random } from '../../units/random';
import { boundOf } from './bound';
import { costOf } from './cost';
import { movedAtWait, type Found } from './critical';
import { decode, valueOf, type Coding, type Placed, type Plan } from './decode';
import { provenBest } from './exact';
import { tabuSearch, type Improving } from './tabu';
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
		best = yield* (handsAreFixed(problem) ? tabuSearch : annealed)(problem, first, {
			reached,
			used: () => clock.used() / (small ? FIRST_SHARE : 1)
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
function* bestOfRules(problem: Problem): Generator<void, Found> {
	const left = problem.jobs.map(({ tasks }) =>
		tasks.reduce((sum, { by, wait }) => sum + (by[0]?.minutes ?? 0) + wait, 0)
	);
	const rules: ((j: number) => number)[] = [
		(j) => -(left[j] as number),
		(j) => (problem.jobs[j]?.due ?? Infinity) - (left[j] as number),
		(j) => problem.jobs[j]?.due ?? Infinity,
		(j) => (left[j] as number) / Math.max(1e-6, problem.jobs[j]?.weight ?? 1),
		(j) => problem.jobs[j]?.release ?? 0,
		(j) => -(problem.jobs[j]?.weight ?? 1),
		...SOON.map((soon) => (j: number) => -pressing(problem, left, j, soon))
	];
	let best: Found | null = null;
	for (const urgency of rules) {
		for (const inRounds of [true, false]) {
			const coding = { order: orderBy(problem, urgency, inRounds), doers: anybody(problem) };
			const plan = decode(problem, coding);
			if (!best || costOf(problem, plan) < costOf(problem, best.plan)) best = { plan, coding };
			yield;
		}
	}
	return best as Found;
}

/** What is soon, as parts of the time that all hands together need. Choices. */
const SOON = [0.03, 0.1, 0.3];

/** Weight by the work that is left, less where the end is not near yet (apparent tardiness cost; A. P. J. Vepsalainen, T. E. Morton, Management Science 33, 1987). */
function pressing({ jobs, technicians }: Problem, left: readonly number[], j: number, soon: number): number {
	const { weight, due, release } = jobs[j] as Problem['jobs'][number];
	const work = Math.max(1e-6, left[j] as number);
	const all = left.reduce((sum, each) => sum + each, 0) / Math.max(1, technicians.length);
	const slack = Math.max(0, Math.min(1e9, due) - work - release);
	return (weight / work) * Math.exp(-(slack + release) / (soon * all));
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

/** What one move may make worse at first, as part of the whole; lateness of many jobs bears less of it. Choices. */
const MOST_OF_ALL = 0.05;
const WARM = { makespan: 1, tardiness: 0.05 } as const;
/** At the end of the time the temperature is this part of what it was. A choice. */
const COOLED = 0.01;
/** Share of the moves that change what is waited for; the others change anything. A choice. */
const AIMED = 0.3;

/** Simulated annealing over orders and hands (S. Kirkpatrick et al., Science 220, 1983), cooled once over its time. */
function* annealed(problem: Problem, start: Found, { reached, used }: Improving): Generator<void, Plan> {
	const random = seededRandom(4711);
	const flexible = problem.jobs.flatMap(({ tasks }, j) =>
		tasks.flatMap(({ by }, at) => (by.length > 1 ? [{ j, at, hands: by.length }] : []))
	);
	let [here, best] = [start, start];
	let hereCost = costOf(problem, here.plan);
	let bestCost = hereCost;
	// one move of many changes little of the whole
	const share = Math.min(MOST_OF_ALL, 0.5 / start.coding.order.length) * WARM[problem.objective];
	const warm = Math.max(1e-3, share * Math.min(hereCost, 1e9));
	if (here.coding.order.length < 2 && flexible.length === 0) return best.plan;
	for (;;) {
		const time = used();
		if (time >= 1 || reached(best.plan)) return best.plan;
		yield;
		const temperature = warm * COOLED ** time;
		const coding =
			(random() < AIMED ? movedAtWait(random, problem, here) : null) ?? moved(random, here.coding, flexible);
		const plan = decode(problem, coding);
		const cost = costOf(problem, plan);
		if (cost <= hereCost || random() < Math.exp((hereCost - cost) / temperature)) {
			here = { plan, coding };
			hereCost = cost;
		}
		if (cost < bestCost - 1e-12) {
			best = { plan, coding };
			bestCost = cost;
		}
	}
}
/** Makespan where nobody else could do a task: what is waited for is all that can be changed. */
const handsAreFixed = ({ objective, jobs }: Problem) =>
	objective === 'makespan' && jobs.every(({ tasks }) => tasks.every(({ by }) => by.length === 1));

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
