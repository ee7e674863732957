import type { Problem, Task } from './problem';
import { earliestStart, emptyTimetable, take } from './timetable';

/** Where and when a task is done. */
export interface Placed {
	task: Task;
	technician: number;
	start: number;
	end: number;
}

export interface Plan {
	placed: Placed[];
	/** jobs whose rest fits into no free time any more, with how many of their tasks stand */
	dropped: Map<number, number>;
	makespan: number;
	tardiness: number;
	/** weight of the jobs that were dropped */
	droppedWeight: number;
}

/** A solution as the search changes it: jobs in the order in which their next task is placed, and who does which task. */
export interface Coding {
	/** a job's number as often as it has tasks */
	order: readonly number[];
	/** by job and task: the technician's place among those who can do it; -1: whoever ends first */
	doers: readonly (readonly number[])[];
}

/**
 * Builds the plan of a coding: task by task in its order, each at the earliest start that is left, gaps included (a serial schedule
 * generation scheme). Some order gives the best plan of all, since each plan whose tasks cannot be moved forward is built by the order
 * of its starts.
 */
export function decode(problem: Problem, { order, doers }: Coding): Plan {
	const table = emptyTimetable(problem);
	const next = problem.jobs.map(() => 0);
	const ready = problem.jobs.map(({ release }) => release);
	const dropped = new Map<number, number>();
	const placed: Placed[] = [];
	const hands = problem.jobs.map(({ holder }) => holder);
	for (const j of order) {
		if (dropped.has(j)) continue;
		const at = next[j] as number;
		const task = problem.jobs[j]?.tasks[at] as Task;
		const chosen = placeOf(problem, table, task, {
			wanted: doers[j]?.[at] ?? -1,
			from: ready[j] as number,
			before: hands[j] as number
		});
		if (chosen === null) {
			dropped.set(j, at);
			continue;
		}
		take(table, task, chosen.doer, chosen.start);
		const end = chosen.start + chosen.doer.minutes;
		placed.push({ task, technician: chosen.doer.technician, start: chosen.start, end });
		ready[j] = end + task.wait;
		hands[j] = chosen.doer.technician;
		next[j] = at + 1;
	}
	return { placed, dropped, ...judged(problem, placed, dropped) };
}

interface Wanted {
	/** place among those who can do it; -1: whoever ends first */
	wanted: number;
	/** not before */
	from: number;
	/** who did the task before, or has the job; -1: nobody */
	before: number;
}

/** The same hands go on, where a change of hands counts, even if they end so many minutes later than others. A choice. */
const KEEP_HANDS = 10;

function placeOf(
	problem: Problem,
	table: ReturnType<typeof emptyTimetable>,
	task: Task,
	{ wanted, from, before }: Wanted
): { doer: Task['by'][number]; start: number } | null {
	let best: { doer: Task['by'][number]; start: number; counts: number } | null = null;
	const only = task.by[wanted];
	for (const doer of only ? [only] : task.by) {
		const start = earliestStart(problem, table, task, doer, from);
		if (start === Infinity) continue;
		const other = problem.handOver > 0 && before >= 0 && doer.technician !== before;
		const counts = start + doer.minutes + (other ? KEEP_HANDS : 0);
		if (!best || counts < best.counts) best = { doer, start, counts };
	}
	// who was wanted has no time left: whoever has
	return best ?? (only ? placeOf(problem, table, task, { wanted: -1, from, before }) : null);
}

function judged(problem: Problem, placed: readonly Placed[], dropped: ReadonlyMap<number, number>) {
	const ends = problem.jobs.map(() => -Infinity);
	let makespan = 0;
	for (const { task, end } of placed) {
		makespan = Math.max(makespan, end);
		ends[task.job] = Math.max(ends[task.job] as number, end);
	}
	let [tardiness, droppedWeight] = [0, 0];
	problem.jobs.forEach(({ due, weight, cut, tasks }, j) => {
		if (dropped.has(j)) droppedWeight += weight + DROPPED;
		else if (!cut && tasks.length > 0) tardiness += weight * Math.max(0, (ends[j] as number) - due);
	});
	return { makespan, tardiness, droppedWeight };
}

/** A job without weight is not dropped for nothing either. */
const DROPPED = 1e-6;

/** What is asked for, as one number of a plan. */
export const valueOf = ({ objective }: Problem, { makespan, tardiness }: Plan): number =>
	objective === 'makespan' ? makespan : tardiness;
