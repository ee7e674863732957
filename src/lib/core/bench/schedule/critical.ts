import { itemAt } from '../../units/vector';
import type { Random } from '../../units/random';
import type { Coding, Placed, Plan } from './decode';
import type { Problem, Task } from './problem';
import { CLOSE } from './timetable';

/** A plan with what builds it. */
export interface Found {
	plan: Plan;
	coding: Coding;
}

/** Tasks in the order of their starts; the order of turns that builds the same plan again. */
const inTime = (placed: readonly Placed[]): Placed[] =>
	placed
		.map((entry, turn) => ({ each: entry, turn }))
		.sort((a, b) => a.each.start - b.each.start || a.turn - b.turn)
		.map(({ each: entry }) => entry);

/**
 * Pairs of tasks of different jobs of which the later waits for the earlier's hands or place, on one way back from what counts:
 * what ends last, or a late job, the heavier and later the likelier. Only a change of such a pair can make a plan with fixed hands
 * better (P. J. M. van Laarhoven, E. H. L. Aarts, J. K. Lenstra, Operations Research 40, 1992).
 * @param placed in the order of their starts
 * @returns places of both in `placed`
 */
function waitingPairs(
	random: Random,
	{ jobs, objective }: Pick<Problem, 'jobs' | 'objective'>,
	placed: readonly Placed[]
): [earlier: number, later: number][] {
	const pairs: [number, number][] = [];
	let at = objective === 'makespan' ? lastOf(placed) : lateOf(random, jobs, placed);
	while (at >= 0) {
		const { task, technician, start } = itemAt(placed, at);
		let [previous, sameJob] = [-1, false];
		let tight = 0;
		for (let k = at - 1; k >= 0; k--) {
			const candidate = itemAt(placed, k);
			const ofSameJob = candidate.task.job === task.job;
			if (ofSameJob && candidate.end + candidate.task.wait < start - CLOSE) continue;
			const isCritical =
				ofSameJob ||
				((candidate.technician === technician ||
					(task.station !== null && candidate.task.station === task.station)) &&
					Math.abs(candidate.end - start) <= CLOSE);
			if (!isCritical) continue;
			tight += 1;
			if (random() * tight < 1) [previous, sameJob] = [k, ofSameJob];
		}
		if (previous < 0) previous = lastBefore(placed, at);
		if (previous >= 0 && !sameJob && placed[previous]?.task.job !== task.job) pairs.push([previous, at]);
		at = previous;
	}
	return pairs;
}

/** What the same hands did last before, over a break. */
function lastBefore(placed: readonly Placed[], at: number): number {
	const { technician } = itemAt(placed, at);
	for (let k = at - 1; k >= 0; k--) if (placed[k]?.technician === technician) return k;
	return -1;
}

function lastOf(placed: readonly Placed[]): number {
	let last = -1;
	placed.forEach(({ end }, k) => {
		if (last < 0 || end > itemAt(placed, last).end) last = k;
	});
	return last;
}

/** A late job, the heavier and later the likelier; -1: none is late. */
export function lateJob(random: Random, jobs: Problem['jobs'], placed: readonly Placed[]): number {
	const at = lateOf(random, jobs, placed);
	return at < 0 ? -1 : itemAt(placed, at).task.job;
}

/** The last task of a late job, by its place among those that were placed; -1: none is late. */
function lateOf(random: Random, jobs: Problem['jobs'], placed: readonly Placed[]): number {
	const last = new Map<number, number>();
	placed.forEach(({ task }, k) => last.set(task.job, k));
	let [chosen, sum] = [-1, 0];
	for (const [j, k] of last) {
		const { weight, due, cut } = itemAt(jobs, j);
		const late = cut ? 0 : weight * Math.max(0, itemAt(placed, k).end - due);
		if (late <= 0) continue;
		sum += late;
		if (random() * sum < late) chosen = k;
	}
	return chosen;
}

/** Turns that build a plan in the order of its starts; of jobs that were dropped the rest comes last. */
function turnsOf(
	{ jobs }: Pick<Problem, 'jobs'>,
	{ dropped }: Pick<Plan, 'dropped'>,
	placed: readonly Placed[]
): number[] {
	const turns = placed.map(({ task }) => task.job);
	for (const [j, at] of dropped) for (let k = at; k < (jobs[j]?.tasks.length ?? 0); k++) turns.push(j);
	return turns;
}

/** A change of turns after which what was waited for comes after what waited. */
export interface Swap {
	order: number[];
	earlier: Task;
	later: Task;
}

/**
 * Changes of one way back from what counts that can make a plan with fixed hands better: of tasks that wait for one another in a row
 * the first two and the last two (E. Nowicki, C. Smutnicki, Management Science 42, 1996).
 */
export function swaps(random: Random, problem: Problem, plan: Plan): Swap[] {
	const placed = inTime(plan.placed);
	const turns = turnsOf(problem, plan, placed);
	const pairs = waitingPairs(random, problem, placed);
	return pairs
		.filter(([earlier, later], i) => pairs[i - 1]?.[0] !== later || pairs[i + 1]?.[1] !== earlier)
		.map(([earlier, later]) => ({
			order: swapped(turns, earlier, later),
			earlier: itemAt(placed, earlier).task,
			later: itemAt(placed, later).task
		}));
}

function swapped(turns: readonly number[], earlier: number, later: number): number[] {
	const order = [...turns];
	const [turn] = order.splice(earlier, 1);
	order.splice(later, 0, turn as number);
	return order;
}

/** A neighbour in which one pair that waits has changed places; null where nothing waits. */
export function movedAtWait(random: Random, problem: Problem, { plan, coding }: Found): Coding | null {
	const placed = inTime(plan.placed);
	const pairs = waitingPairs(random, problem, placed);
	const pair = pairs[Math.floor(random() * pairs.length)];
	if (!pair) return null;
	return { order: swapped(turnsOf(problem, plan, placed), ...pair), doers: coding.doers };
}
