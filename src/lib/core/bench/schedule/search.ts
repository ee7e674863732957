import { itemAt } from '../../units/vector';
import { annealed } from './anneal';
import { boundOf } from './bound';
import type { Found } from './critical';
import { fewestDropped } from './fewest-dropped';
import { decode, Decoder, valueOf, type Placed, type Plan } from './decode';
import { provenBest } from './exact';
import { tabuSearch } from './tabu';
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
	if (small && best.droppedWeight > 0) {
		const lighter = yield* fewestDropped(problem, best.droppedWeight, () => clock.used() < 1);
		if (lighter) best = cheaper(best, planOf(problem, lighter.placed, lighter.dropped));
		if (lighter?.complete && best.droppedWeight === 0) bound = valueOf(problem, best);
	}
	// which jobs are dropped is a choice of its own: nothing is proven of the others
	if (best.droppedWeight > 0) bound = 0;
	return scheduleOf(problem, best, bound);
}
const CLOSE = 1e-6;

/** Jobs by what is urgent of them: some rules of thumb, the best plan that they give. */
function* bestOfRules(problem: Problem): Generator<void, Found> {
	const workload = problem.jobs.map(({ tasks }) =>
		tasks.reduce((sum, { by: doers, wait }) => sum + (doers[0]?.minutes ?? 0) + wait, 0)
	);
	const rules: ((j: number) => number)[] = [
		(j) => -(workload[j] as number),
		(j) => (problem.jobs[j]?.due ?? Infinity) - (workload[j] as number),
		(j) => problem.jobs[j]?.due ?? Infinity,
		(j) => (workload[j] as number) / Math.max(1e-6, problem.jobs[j]?.weight ?? 1),
		(j) => problem.jobs[j]?.release ?? 0,
		(j) => -(problem.jobs[j]?.weight ?? 1),
		...SOON.map((soon) => (j: number) => -pressing(problem, workload, j, soon))
	];
	const decoder = new Decoder(problem);
	let best: Found | null = null;
	for (const urgency of rules) {
		for (const inRounds of [true, false]) {
			const coding = { order: orderBy(problem, urgency, inRounds), doers: anybody(problem) };
			const plan = decoder.decode(coding);
			if (!best || plan.cost < best.plan.cost) best = { plan, coding };
			yield;
		}
	}
	return best as Found;
}

/** What is soon, as parts of the time that all hands together need. Choices. */
const SOON = [0.03, 0.1, 0.3];

/** Weight by the work that is left, less where the end is not near yet (apparent tardiness cost; A. P. J. Vepsalainen, T. E. Morton, Management Science 33, 1987). */
function pressing(
	{ jobs, technicians }: Problem,
	workload: readonly number[],
	j: number,
	soon: number
): number {
	const { weight, due, release } = itemAt(jobs, j);
	const work = Math.max(1e-6, workload[j] as number);
	const all = workload.reduce((sum, minutes) => sum + minutes, 0) / Math.max(1, technicians.length);
	const slack = Math.max(0, Math.min(1e9, due) - work - release);
	return (weight / work) * Math.exp(-(slack + release) / (soon * all));
}

const anybody = ({ jobs }: Problem) => jobs.map(({ tasks }) => tasks.map(() => -1));

/** Jobs in the order of a rule: the first tasks of all, then the second, or one job after another. */
function orderBy({ jobs }: Problem, urgency: (j: number) => number, inRounds: boolean): number[] {
	const sorted = [...jobs.keys()].sort((a, b) => urgency(a) - urgency(b) || a - b);
	if (!inRounds) return sorted.flatMap((j) => (jobs[j]?.tasks ?? []).map(() => j));
	const maxTasks = Math.max(0, ...jobs.map(({ tasks }) => tasks.length));
	return Array.from({ length: maxTasks }, (_, round) =>
		sorted.filter((j) => (jobs[j]?.tasks.length ?? 0) > round)
	).flat();
}

/** Makespan where nobody else could do a task: what is waited for is all that can be changed. */
const handsAreFixed = ({ objective, jobs }: Problem) =>
	objective === 'makespan' && jobs.every(({ tasks }) => tasks.every(({ by: doers }) => doers.length === 1));

const cheaper = (one: Plan, second: Plan) => (second.cost < one.cost ? second : one);

/** The plan that was built by an exact search, judged as others are. */
function planOf(problem: Problem, placed: readonly Placed[], dropped: ReadonlySet<number> = new Set()): Plan {
	const order = [...placed].sort((a, b) => a.start - b.start || a.end - b.end).map(({ task }) => task.job);
	// as much as is still possible of those that were left out
	for (const j of dropped) for (const { job } of problem.jobs[j]?.tasks ?? []) order.push(job);
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
