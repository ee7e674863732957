import { codeEntry } from '../../units/code';
import { MINUTE_MS, type Instant } from '../../units/instant';
import type { Schedule, ScheduleRequest } from '../schedule/problem';
import { subtractSpans, type Span } from './free-time';
import { leftOfBegun, type WorkLeft, type WorkTask } from './work-left';

/** A task in its place in the day. */
export interface DayTask {
	number: string;
	code: string;
	label: string;
	technician: string;
	station: string | null;
	start: Instant;
	end: Instant;
	/** end of what must pass after it; the end itself where nothing must */
	waitEnd: Instant;
	/** it has begun, or somebody put it here: the plan leaves it */
	fixed: 'begun' | 'pinned' | null;
}

export interface DayJob {
	number: string;
	due: Instant | null;
	/** when its last task ends; null where it could not be planned */
	ends: Instant | null;
	/** minutes that the plan ends after the promise; 0 where it keeps it */
	late: number;
	/** why it is late, or why it is not planned, in words */
	why: string | null;
}

export interface DayPlan {
	now: Instant;
	tasks: DayTask[];
	jobs: DayJob[];
}

export interface Bench {
	technicians: readonly { code: string; name: string; free: readonly Span[] }[];
	stations: readonly { code: string; label: string; count: number }[];
}

/** The request that plans a day, and what stands in it already. */
export interface DayRequest {
	request: ScheduleRequest;
	fixed: DayTask[];
}

const minutesFrom = (at: Instant, now: Instant) => Math.max(0, (at - now) / MINUTE_MS);

/**
 * What is left to do as a request to the planner, minutes from now. What has begun and what was put in its place is taken out of it: its
 * hands and its place of the bench are taken for that time, and the rest of its job follows it.
 */
export function dayRequest(work: readonly WorkLeft[], bench: Bench, now: Instant): DayRequest {
	const fixed = work.flatMap((job) => fixedTask(job, bench, now) ?? []);
	const technicians = bench.technicians.map(({ code, free }) => {
		const busy = fixed
			.filter(({ technician }) => technician === code)
			.map(({ start, end }): Span => [start, end]);
		return {
			code,
			free: subtractSpans(free, busy).map(([from, to]): [number, number] => [
				minutesFrom(from, now),
				minutesFrom(to, now)
			])
		};
	});
	const stations = bench.stations.map(({ code, count }) => ({
		code,
		count,
		busy: fixed
			.filter(({ station }) => station === code)
			.map(({ start, end }): [number, number] => [minutesFrom(start, now), minutesFrom(end, now)])
	}));
	const jobs = work.map((left) => {
		const first = fixed.find(({ number }) => number === left.number);
		const tasks = first ? left.tasks.slice(1) : left.tasks;
		return {
			job: left.number,
			release: minutesFrom(first ? first.waitEnd : left.from, now),
			due: left.due === null ? null : (left.due - now) / MINUTE_MS,
			weight: left.weight,
			holder: first?.technician ?? left.holder,
			tasks: tasks.map(({ code, by: doers, station, wait }) => ({
				task: code,
				by: doers,
				...(station === null ? {} : { station }),
				wait
			}))
		};
	});
	return {
		request: { technicians, stations, jobs, objective: 'tardiness', handOver: HAND_OVER },
		fixed
	};
}
/** A hand-over weighs so many minutes of lateness: it decides between plans that are as late. A choice. */
const HAND_OVER = 0.5;

/** The first task of a job where it is not the plan's to move; null where it is, or where it cannot be done where it was put. */
function fixedTask(job: WorkLeft, bench: Bench, now: Instant): DayTask | null {
	const [task] = job.tasks;
	const doer = job.begun?.technician ?? job.pinned?.technician;
	if (!task || doer === undefined) return null;
	const minutes = codeEntry(task.by, doer) ?? Math.max(...Object.values(task.by));
	const start = job.begun ? now : Math.max(now, job.pinned?.startAt ?? now);
	const hands = job.begun ? leftOfBegun(minutes, job.begun.since, now) : minutes;
	const end = start + hands * MINUTE_MS;
	// somebody who is not there then, or a closed hour: the plan decides
	const free = bench.technicians.find(({ code }) => code === doer)?.free ?? [];
	if (!job.begun && !free.some(([from, to]) => start >= from && end <= to)) return null;
	return {
		...placeOf(job.number, task),
		technician: doer,
		start: job.begun?.since ?? start,
		end,
		waitEnd: end + task.wait * MINUTE_MS,
		fixed: job.begun ? 'begun' : 'pinned'
	};
}

const placeOf = (number: string, { code, label, station }: WorkTask) => ({ number, code, label, station });

/** A schedule as a plan of the day: moments for minutes, lateness against the promise, and why. */
export function dayPlan(
	work: readonly WorkLeft[],
	{ fixed }: Pick<DayRequest, 'fixed'>,
	schedule: Pick<Schedule, 'tasks' | 'impossible'>,
	bench: Bench,
	now: Instant
): DayPlan {
	const byNumber = new Map(work.map((job) => [job.number, job]));
	const planned = schedule.tasks.flatMap(({ job, task, technician, station, start, end }): DayTask[] => {
		const taskInfo = byNumber.get(job)?.tasks.find(({ code }) => code === task);
		if (!taskInfo) return [];
		const ends = now + end * MINUTE_MS;
		return [
			{
				...placeOf(job, taskInfo),
				station,
				technician,
				start: now + start * MINUTE_MS,
				end: ends,
				waitEnd: ends + taskInfo.wait * MINUTE_MS,
				fixed: null
			}
		];
	});
	const tasks = [...fixed, ...planned].sort((a, b) => a.start - b.start);
	const jobs = work.map((job) => dayJob(job, tasks, schedule.impossible, bench, now));
	return { now, tasks, jobs };
}

function dayJob(
	left: WorkLeft,
	tasks: readonly DayTask[],
	impossible: Schedule['impossible'],
	bench: Bench,
	now: Instant
): DayJob {
	const jobTasks = tasks.filter(({ number }) => number === left.number);
	const undone = impossible.find(({ job }) => job === left.number);
	const ends = undone || jobTasks.length === 0 ? null : Math.max(...jobTasks.map(({ end }) => end));
	const late = ends === null || left.due === null ? 0 : Math.max(0, (ends - left.due) / MINUTE_MS);
	const reason = undone ? undone.message : late > 0 ? whyLate(left, jobTasks, bench, now) : null;
	return { number: left.number, due: left.due, ends, late, why: reason };
}

/** A delay shorter than this is no reason, minutes. A choice. */
const NO_DELAY = 10;

/**
 * Why a job ends after its promise: the longest time that one of its tasks stood ready and was not begun, and what it stood for (a
 * skill, a place of the bench); or that it takes longer than the promise leaves. Times stand in the words as "{moment}".
 */
function whyLate(job: WorkLeft, jobTasks: readonly DayTask[], bench: Bench, now: Instant): string {
	let ready = Math.max(now, job.from);
	let worst: { task: DayTask; delay: number } | null = null;
	for (const task of jobTasks) {
		const delay = (task.start - ready) / MINUTE_MS;
		if (delay > (worst?.delay ?? NO_DELAY)) worst = { task, delay };
		ready = task.waitEnd;
	}
	if (!worst) {
		const hands = jobTasks.reduce((sum, { start, end }) => sum + (end - start) / MINUTE_MS, 0);
		return job.from > now + NO_DELAY * MINUTE_MS
			? `it waits until {${job.from}}`
			: `it still needs ${Math.round(hands)} min of bench time`;
	}
	const worstTask = job.tasks.find(({ code }) => code === worst.task.code);
	const station = bench.stations.find(({ code }) => code === worstTask?.station);
	const able = Object.keys(worstTask?.by ?? {});
	const reason =
		worstTask?.skill ??
		(able.length === 1
			? (bench.technicians.find(({ code }) => code === able[0])?.name ?? 'the bench')
			: (station?.label ?? 'the bench'));
	return `${reason} is busy until {${worst.task.start}}`;
}
