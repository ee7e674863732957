import type { Free, Problem, Task } from './problem';

/** A plan as it is built: what each technician and each station is taken by, in the order of time. */
export interface Timetable {
	technicians: Interval[][];
	stations: Interval[][];
}
export interface Interval {
	from: number;
	to: number;
}

export const emptyTimetable = ({ technicians, stations }: Problem): Timetable => ({
	technicians: technicians.map(() => []),
	stations: stations.map(() => [])
});

/** Times closer than this are the same: sums of fractions. */
export const CLOSE = 1e-9;

/**
 * The earliest start of a task by one technician, not before a moment: within one free stretch, nothing else of theirs at the
 * time, a place at its station. Infinity where there is none.
 */
export function earliestStart(
	problem: Problem,
	table: Timetable,
	{ station }: Pick<Task, 'station'>,
	{ technician, minutes }: { technician: number; minutes: number },
	from: number
): number {
	const { free } = problem.technicians[technician] as { free: readonly Free[] };
	const taken = table.technicians[technician] as Interval[];
	let start = from;
	for (;;) {
		start = startOf(free, taken, minutes, start);
		if (start === Infinity || station === null) return start;
		const { count } = problem.stations[station] as { count: number };
		const frees = placeFrees(table.stations[station] as Interval[], count, start, start + minutes);
		if (frees === null) return start;
		start = frees;
	}
}

/** The earliest start within a stretch and between what is taken already. */
function startOf(free: readonly Free[], taken: readonly Interval[], minutes: number, from: number): number {
	for (const [opens, closes] of free) {
		if (closes - minutes < from - CLOSE) continue;
		let start = Math.max(opens, from);
		for (let i = firstEndingAfter(taken, start); i < taken.length; i++) {
			const { from: busy, to } = taken[i] as Interval;
			if (busy >= start + minutes - CLOSE) break;
			start = Math.max(start, to);
		}
		if (start + minutes <= closes + CLOSE) return start;
	}
	return Infinity;
}

/** The first interval that ends after a moment; intervals of one technician do not overlap. */
function firstEndingAfter(taken: readonly Interval[], at: number): number {
	let [low, high] = [0, taken.length];
	while (low < high) {
		const middle = (low + high) >> 1;
		if ((taken[middle] as Interval).to <= at + CLOSE) low = middle + 1;
		else high = middle;
	}
	return low;
}

/** When the next place is left, where all are taken at some time between two moments; null where one is free all the while. */
function placeFrees(taken: readonly Interval[], count: number, from: number, to: number): number | null {
	const within = taken.filter((each) => each.from < to - CLOSE && each.to > from + CLOSE);
	if (within.length < count) return null;
	for (const at of [from, ...within.map((each) => each.from)]) {
		if (at < from - CLOSE || at >= to - CLOSE) continue;
		const there = within.filter((each) => each.from <= at + CLOSE && each.to > at + CLOSE);
		// those that begin at the moment are counted by the last of them
		if (there.length >= count) return Math.min(...there.map((each) => each.to));
	}
	return null;
}

/** Takes a technician and a place from a start on. */
export function take(
	table: Timetable,
	{ station }: Pick<Task, 'station'>,
	{ technician, minutes }: { technician: number; minutes: number },
	start: number
): void {
	const interval = { from: start, to: start + minutes };
	insert(table.technicians[technician] as Interval[], interval);
	if (station !== null) insert(table.stations[station] as Interval[], interval);
}

function insert(taken: Interval[], interval: Interval): void {
	let at = taken.length;
	while (at > 0 && (taken[at - 1] as Interval).from > interval.from) at--;
	taken.splice(at, 0, interval);
}
