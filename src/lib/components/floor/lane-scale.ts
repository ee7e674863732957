import type { DayTask } from '$lib/core/bench/day/plan-day';
import { momentOn, type LocalDay } from '$lib/core/units/calendar';
import { HOUR_MS, MINUTE_MS, type Instant } from '$lib/core/units/instant';

/** One day of the lanes: from when to when it is drawn, and where a moment stands in it. */
export interface LaneScale {
	from: Instant;
	to: Instant;
	/** whole hours, for the marks */
	hours: Instant[];
	/** share of the width, 0 to 1, cut off at the edges */
	at(moment: Instant): number;
}

const USUAL_OPEN = 9 * 60;
const USUAL_CLOSE = 18 * 60;

/** The scale of a day: whole hours round everything that is open or planned in it; nine to six where nothing is. */
export function laneScale(
	day: LocalDay,
	timeZone: string,
	spans: readonly (readonly [Instant, Instant])[],
	tasks: readonly Pick<DayTask, 'start' | 'end'>[]
): LaneScale {
	const begins = momentOn(day, 0, timeZone);
	const ends = momentOn(day, 1440, timeZone);
	const visible = [...spans, ...tasks.map(({ start, end }) => [start, end] as const)].filter(
		([from, to]) => to > begins && from < ends
	);
	const first = Math.min(momentOn(day, USUAL_OPEN, timeZone), ...visible.map(([from]) => from));
	const last = Math.max(momentOn(day, USUAL_CLOSE, timeZone), ...visible.map(([, to]) => to));
	const from = Math.max(begins, begins + Math.floor((first - begins) / HOUR_MS) * HOUR_MS);
	const to = Math.min(ends, begins + Math.ceil((last - begins) / HOUR_MS) * HOUR_MS);
	const hours = Array.from({ length: Math.round((to - from) / HOUR_MS) + 1 }, (_, i) => from + i * HOUR_MS);
	return { from, to, hours, at: (moment) => Math.min(1, Math.max(0, (moment - from) / (to - from))) };
}

const STEP_MS = 15 * MINUTE_MS;
/** A moment that a hand chose, at the nearest quarter of an hour. */
export const quarterOf = (moment: Instant): Instant => Math.round(moment / STEP_MS) * STEP_MS;
/** The quarter of an hour before or after. */
export const quarterBeside = (moment: Instant, direction: -1 | 1): Instant =>
	quarterOf(moment) + direction * STEP_MS;

/** Tasks of one ticket that one pair of hands does without a break: one strip of paper. */
export interface Strip {
	/** the first of them */
	task: DayTask;
	tasks: DayTask[];
	start: Instant;
	end: Instant;
	waitEnd: Instant;
}

/** @param tasks of one technician, in the order of time */
export function stripsOf(tasks: readonly DayTask[]): Strip[] {
	const strips: Strip[] = [];
	for (const task of tasks) {
		const last = strips.at(-1);
		const follows =
			last &&
			last.task.number === task.number &&
			task.start - last.end < MINUTE_MS &&
			last.waitEnd === last.end;
		if (follows) {
			last.tasks.push(task);
			last.end = task.end;
			last.waitEnd = task.waitEnd;
		} else strips.push({ task, tasks: [task], start: task.start, end: task.end, waitEnd: task.waitEnd });
	}
	return strips;
}
