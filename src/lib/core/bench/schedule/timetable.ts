import type { Free, Problem, Task } from './problem';

/** A plan as it is built: what each technician is taken by, in the order of time, and how many places of each station are taken. */
export interface Timetable {
	technicians: Interval[][];
	stations: Places[];
}
/** Places that are taken from each of some moments on, until the next of them. */
interface Places {
	at: number[];
	taken: number[];
}
export interface Interval {
	from: number;
	to: number;
}

/** Nothing planned yet; places that are taken by what the plan does not move are taken. */
export const emptyTimetable = ({ technicians, stations }: Problem): Timetable => ({
	technicians: technicians.map(() => []),
	stations: stations.map(({ busy = [] }) => {
		const places = { at: [-Infinity], taken: [0] };
		for (const [from, to] of busy) takePlace(places, from, to);
		return places;
	})
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
		const there = placeFrom(table.stations[station] as Places, count, minutes, start);
		if (there <= start + CLOSE) return start;
		start = there;
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

/** The earliest moment, not before one, from which a place is free for some minutes. */
function placeFrom({ at, taken }: Places, count: number, minutes: number, from: number): number {
	let start = from;
	for (let i = lastUpTo(at, from + CLOSE); i < at.length; i++) {
		const ends = at[i + 1] ?? Infinity;
		if ((taken[i] as number) >= count) start = Math.max(start, ends);
		else if (ends >= start + minutes - CLOSE) return start;
	}
	return start;
}

/** The last of some moments that does not lie after one. */
function lastUpTo(at: readonly number[], moment: number): number {
	let [low, high] = [0, at.length];
	while (low < high) {
		const middle = (low + high) >> 1;
		if ((at[middle] as number) <= moment) low = middle + 1;
		else high = middle;
	}
	return Math.max(0, low - 1);
}

/** A moment at which what is taken may change: found, or put in. */
function momentOf({ at, taken }: Places, moment: number): number {
	const before = lastUpTo(at, moment + CLOSE);
	if (Math.abs((at[before] as number) - moment) <= CLOSE) return before;
	at.splice(before + 1, 0, moment);
	taken.splice(before + 1, 0, taken[before] as number);
	return before + 1;
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
	if (station === null) return;
	takePlace(table.stations[station] as Places, interval.from, interval.to);
}

function takePlace(places: Places, from: number, to: number): void {
	const first = momentOf(places, from);
	const end = momentOf(places, to);
	for (let i = first; i < end; i++) places.taken[i] = (places.taken[i] as number) + 1;
}

function insert(taken: Interval[], interval: Interval): void {
	let at = taken.length;
	while (at > 0 && (taken[at - 1] as Interval).from > interval.from) at--;
	taken.splice(at, 0, interval);
}
