import { itemAt } from '../../units/vector';
import { endAlone, type Free, type Job, type Problem, type Task } from './problem';

/** Proven lower bounds of a plan's objective: what no order and no choice of hands can undercut. */

/** Earliest end of a task from a moment on, by whoever ends first. */
const earliestEnd = ({ technicians }: Problem, { by: doers }: Task, from: number): number =>
	Math.min(
		...doers.map(({ technician, minutes }) => endAlone(itemAt(technicians, technician).free, minutes, from))
	);

/** Earliest ends of a job's tasks from one of them on, as if it were alone. */
export function endsAlone(problem: Problem, { tasks, release }: Job, first = 0, ready = release): number[] {
	const ends: number[] = [];
	let from = ready;
	for (const task of tasks.slice(first)) {
		const end = earliestEnd(problem, task, from);
		ends.push(end);
		from = end + task.wait;
	}
	return ends;
}

export const leastMinutes = ({ by: doers }: Task) => itemAt(doers, 0).minutes;

/** Minutes after a task until its job can end at the earliest. */
export function tailsOf({ tasks }: Job): number[] {
	const tails = tasks.map(() => 0);
	for (let i = tasks.length - 2; i >= 0; i--) {
		const successor = itemAt(tasks, i + 1);
		tails[i] = itemAt(tasks, i).wait + leastMinutes(successor) + (tails[i + 1] as number);
	}
	return tails;
}

export interface OnMachine {
	/** not before */
	head: number;
	minutes: number;
	/** at least so long until the job ends */
	tail: number;
}

/**
 * Least makespan of tasks on one machine that may be interrupted: at every moment the one with the longest tail. A lower bound for
 * those that may not be. Source: J. R. Jackson, Management Science Research Project 43 (1955); J. Carlier, European Journal of
 * Operational Research 11 (1982).
 */
export function oneMachineBound(tasks: readonly OnMachine[]): number {
	// what can never begin has no least end; the sweep below would never come to it
	if (tasks.some(({ head, tail }) => head === Infinity || tail === Infinity)) return Infinity;
	const waiting = [...tasks].sort((a, b) => a.head - b.head);
	const open: { remaining: number; tail: number }[] = [];
	let [now, bound, next] = [0, 0, 0];
	while (next < waiting.length || open.length > 0) {
		if (open.length === 0) now = Math.max(now, itemAt(waiting, next).head);
		for (; next < waiting.length && itemAt(waiting, next).head <= now; next++) {
			const { minutes, tail } = itemAt(waiting, next);
			open.push({ remaining: minutes, tail });
		}
		open.sort((a, b) => a.tail - b.tail);
		const top = open.at(-1) as { remaining: number; tail: number };
		const until = next < waiting.length ? itemAt(waiting, next).head : Infinity;
		const run = Math.min(top.remaining, until - now);
		now += run;
		top.remaining -= run;
		if (top.remaining <= 1e-12) {
			open.pop();
			bound = Math.max(bound, now + top.tail);
		}
	}
	return bound;
}

/** The objective's bound before anything is placed. */
export function boundOf(problem: Problem): number {
	return problem.objective === 'makespan' ? makespanBound(problem) : tardinessBound(problem);
}

const tardinessBound = (problem: Problem): number =>
	problem.jobs.reduce((sum, job) => {
		if (job.cut || job.tasks.length === 0 || job.due === Infinity) return sum;
		return sum + job.weight * Math.max(0, (endsAlone(problem, job).at(-1) as number) - job.due);
	}, 0);

/** A task with what must pass before and after it. */
interface Framed {
	task: Task;
	/** it may begin then at the earliest */
	head: number;
	tail: number;
}

/** Every task with its earliest beginning, as if its job were alone, and its tail. */
function framedTasks(problem: Problem): Framed[] {
	return problem.jobs.flatMap((job) => {
		const tails = tailsOf(job);
		const ends = endsAlone(problem, job);
		return job.tasks.map((task, i): Framed => {
			const predecessor = job.tasks[i - 1];
			const ready = predecessor ? (ends[i - 1] as number) + predecessor.wait : job.release;
			// the only one who can do it may not be free at once
			const head = task.by.length === 1 ? (ends[i] as number) - leastMinutes(task) : ready;
			return { task, head: Math.max(0, head), tail: tails[i] as number };
		});
	});
}

function makespanBound(problem: Problem): number {
	const framed = framedTasks(problem);
	let bound = Math.max(0, ...framed.map(({ task, head, tail }) => head + leastMinutes(task) + tail));
	const machines = new Map<string, OnMachine[]>();
	for (const { task, head, tail } of framed) {
		for (const machine of machinesOf(problem, task)) {
			const framed = machines.get(machine) ?? [];
			machines.set(machine, [...framed, { head, minutes: leastMinutes(task), tail }]);
		}
	}
	for (const tasks of machines.values()) bound = Math.max(bound, oneMachineBound(tasks));
	const groups = new Map(
		framed.map(({ task }) => [keyOf(task), new Set(task.by.map(({ technician }) => technician))])
	);
	for (const hands of groups.values()) {
		const machineTasks = framed.filter(({ task }) =>
			task.by.every(({ technician }) => hands.has(technician))
		);
		bound = Math.max(bound, loadBound(problem, machineTasks, hands));
	}
	return Math.max(bound, loadBound(problem, framed, new Set(problem.technicians.keys())));
}

const keyOf = ({ by: doers }: Task) =>
	doers
		.map(({ technician }) => technician)
		.sort((a, b) => a - b)
		.join(' ');

/** The free time of some technicians from the first beginning on must hold the least minutes of the tasks that only they can do. */
function loadBound({ technicians }: Problem, tasks: readonly Framed[], hands: ReadonlySet<number>): number {
	if (tasks.length === 0) return 0;
	const work = tasks.reduce((sum, { task }) => sum + leastMinutes(task), 0);
	const tail = Math.min(...tasks.map((item) => item.tail));
	const people = technicians.filter((_, i) => hands.has(i));
	const edges = people.flatMap(({ free }) => free.flatMap(([from, to]) => [from, to]));
	let at = Math.min(...tasks.map(({ head }) => head));
	let elapsed = 0;
	for (const next of [...new Set(edges)]
		.filter((edge) => edge > at && edge < Infinity)
		.sort((a, b) => a - b)) {
		const freeTime = freeAt(people, at);
		if (elapsed + freeTime * (next - at) >= work) return at + (work - elapsed) / freeTime + tail;
		elapsed += freeTime * (next - at);
		at = next;
	}
	const there = freeAt(people, at);
	return there > 0 ? at + (work - elapsed) / there + tail : 0;
}

const freeAt = (people: readonly { free: readonly Free[] }[], at: number) =>
	people.filter(({ free }) => free.some(([from, to]) => from <= at && to > at)).length;

/** Machines that a task is sure to be on: its only technician, its station of one place. */
export function machinesOf({ stations }: Problem, { by: doers, station }: Task): string[] {
	const soleDoer = doers.length === 1 ? [`t${itemAt(doers, 0).technician}`] : [];
	const place = station !== null && stations[station]?.count === 1 ? [`s${station}`] : [];
	return [...soleDoer, ...place];
}
