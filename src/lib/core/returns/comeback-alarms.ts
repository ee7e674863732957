import { addAt, valueAt } from '../units/vector';
import { DAY_MS, type Instant } from '../units/instant';
import { WATCHED_KINDS } from '../catalog/kinds-of-returns';
import { alarmLimit, CHART } from './alarm-limit';
import type { Effects } from './fair-ratio';
import { RETURN_KINDS, type FollowedJob } from './followed-jobs';
import { usualPeriods, type UsualPeriod } from './usual-periods';

/** Rows that are watched. */
export const WATCHED = WATCHED_KINDS;
export type Watched = (typeof WATCHED)[number];

export interface Alarm {
	/** when the comeback that made it ring was opened */
	at: Instant;
	/** that comeback's ticket */
	ticket: string;
	/** comebacks since the chart last stood at nothing, and those that were to be expected of a typical row */
	comebacks: number;
	expected: number;
}
/** Somebody looked into an alarm and put it away. */
export interface Cleared {
	of: Watched;
	row: string;
	at: Instant;
}
export type Alarms = Readonly<Record<Watched, ReadonlyMap<string, Alarm>>>;

/**
 * In a shop in which nothing gets worse so many alarms in so many tickets: most for lots, which are soon used up, few for people, who are
 * not to be accused wrongly. Choices, together .72; the head of lots’ charts comes on top: some .8 to .95 were seen on invented shops.
 */
const FALSE_ALARMS: Readonly<Record<Watched, number>> = {
	lot: 0.32,
	operation: 0.15,
	technician: 0.15,
	method: 0.1
};
const TICKETS = 1500;
/** A job is watched for so long; later comebacks are few and count as they come. Days; a choice. */
const WATCHED_DAYS = 400;

/**
 * A lot is as it is from its first use on: its chart begins so far up to the limit (Lucas & Crosier, Technometrics 24, 1982); a choice. Of
 * lots of 90 uses with 6 comebacks in 100 it then rings for nothing by a tenth more often, and finds one four times as bad by a tenth sooner.
 */
const HEAD_START: Readonly<Record<Watched, number>> = { lot: 0.25, operation: 0, technician: 0, method: 0 };

interface Chart {
	/** comebacks that were to be expected on each day, counted from the first closing */
	expected: Float64Array;
	events: { at: Instant; ticket: string }[];
}

/** The same in steps. */
export function* comebackAlarmsInSteps(
	jobs: readonly FollowedJob[],
	asOf: Instant,
	cleared: readonly Cleared[] = []
): Generator<void, Alarms> {
	const alarms = Object.fromEntries(WATCHED.map((kind) => [kind, new Map()])) as unknown as Record<
		Watched,
		Map<string, Alarm>
	>;
	const days = daysOf(jobs, asOf);
	const followed = { periods: yield* usualPeriods(jobs, asOf), asOf, days };
	const rows = watchedRows(jobs, followed.periods[0]?.from ?? Infinity, days);
	yield;
	yield* addExpected(rows, jobs, followed, () => 1);
	const limits = limitsOf(rows, jobs.length);
	const updateAlarm = (each: WatchedRow) => {
		const { of: kind, row, chart } = each;
		const clearedAt = cleared.filter((one) => one.of === kind && one.row === row && one.at < asOf);
		const start = { limit: limits[kind], head: HEAD_START[kind] * limits[kind] };
		each.alarm = cusumAlarm(chart, { ...start, days, clearedAt: clearedAt.map(({ at }) => at) });
	};
	for (const row of rows.values()) {
		updateAlarm(row);
		yield;
	}
	const blamed: Blamed[] = [];
	// what is surely the worst first; what the others' comebacks owe to it speaks no more against them
	for (let found = worst(rows, alarms); found; found = worst(rows, alarms)) {
		const { of: kind, row, alarm } = found;
		alarms[kind].set(row, alarm);
		if (blamed.length >= MOST_BLAMED) continue;
		const earlierBlamed = [...blamed];
		blamed.push({ of: kind, row, times: Math.max(1, alarm.comebacks / Math.max(1e-9, alarm.expected)) });
		const touched = yield* addExpected(
			rows,
			found.jobs,
			followed,
			(job, effects, level) =>
				explainedBy(job, blamed, level, effects) - explainedBy(job, earlierBlamed, level, effects)
		);
		for (const row of touched) updateAlarm(row);
	}
	return alarms;
}

/** A row that is watched, with its jobs and how its chart stands. */
interface WatchedRow {
	of: Watched;
	row: string;
	jobs: FollowedJob[];
	chart: Chart;
	alarm: Alarm | null;
}
type WatchedRows = ReadonlyMap<string, WatchedRow>;

/** Every row with its jobs, and those of its comebacks that came from a moment on. */
function watchedRows(jobs: readonly FollowedJob[], from: Instant, { count }: Days): WatchedRows {
	const rows = new Map<string, WatchedRow>();
	for (const job of jobs) {
		for (const kind of WATCHED) {
			for (const row of new Set(job.levels[kind])) {
				const key = `${kind} ${row}`;
				let rowsOfKind = rows.get(key);
				if (!rowsOfKind) {
					const chart = { expected: new Float64Array(count), events: [] };
					rowsOfKind = { of: kind, row, jobs: [], chart, alarm: null };
					rows.set(key, rowsOfKind);
				}
				rowsOfKind.jobs.push(job);
				if (job.back && job.back.at >= from) {
					rowsOfKind.chart.events.push({ at: job.back.at, ticket: job.back.number });
				}
			}
		}
	}
	return rows;
}

/** A row is told apart from a narrower one that holds so many of its comebacks and is so nearly as bad. A choice. */
const AS_BAD = 0.6;

/**
 * Of the rows that ring, the one that is surely the worst; or a narrower one, with fewer jobs, that holds most of the same run and is
 * nearly as bad: the lot of a part, rather than the work that it is used in.
 */
function worst(rows: WatchedRows, alarms: Alarms): (WatchedRow & { alarm: Alarm }) | undefined {
	const ringing = [...rows.values()].flatMap((each) =>
		each.alarm && !alarms[each.of].has(each.row) ? [{ ...each, alarm: each.alarm }] : []
	);
	const [worst] = [...ringing].sort((a, b) => atLeast(b.alarm) - atLeast(a.alarm));
	if (!worst) return undefined;
	return ringing
		.filter(
			({ alarm }) =>
				alarm.comebacks >= AS_BAD * worst.alarm.comebacks && atLeast(alarm) >= AS_BAD * atLeast(worst.alarm)
		)
		.sort((a, b) => a.jobs.length - b.jobs.length || (a.row < b.row ? -1 : 1))[0];
}

/** A row that is known to be bad, and how many times as bad as a typical one. */
interface Blamed {
	of: Watched;
	row: string;
	times: number;
}
/** Beyond so many alarms the others stand as they ring. A choice. */
const MOST_BLAMED = 12;

/**
 * How many times as bad as a typical row it is at least, as far as its run says: of several that ring for the same comebacks the one that
 * holds them all and little else (the 5 % end of the normal interval of a count).
 */
const atLeast = ({ comebacks, expected }: Alarm): number =>
	(comebacks - 1.645 * Math.sqrt(comebacks)) / Math.max(1e-9, expected);

interface Days {
	first: number;
	count: number;
}
function daysOf(jobs: readonly FollowedJob[], asOf: Instant): Days {
	const first = Math.floor((jobs[0]?.closedAt ?? asOf) / DAY_MS);
	return { first, count: Math.max(0, Math.floor(asOf / DAY_MS) - first + 1) };
}

/** The alarm that stands at the end of a chart; null where none rang, it has sunk to nothing since, or was put away. */
function cusumAlarm(
	{ expected, events }: Chart,
	{ limit, head, days, clearedAt }: { limit: number; head: number; days: Days; clearedAt: readonly Instant[] }
): Alarm | null {
	let [sum, next] = [head, 0];
	let since = { comebacks: 0, expected: 0 };
	let alarm: Pick<Alarm, 'at' | 'ticket'> | null = null;
	const reset = () => {
		[sum, alarm] = [0, null];
		since = { comebacks: 0, expected: 0 };
	};
	const driftTo = (day: number) => {
		for (; next < Math.min(day, days.count); next++) {
			const today = valueAt(expected, next);
			since.expected += today;
			sum -= CHART.drift * today;
			if (sum <= 0) reset();
		}
	};
	const moments = [
		...events.map(({ at, ticket }) => ({ at, ticket })),
		...clearedAt.map((at) => ({ at, ticket: null }))
	].sort((a, b) => a.at - b.at);
	for (const { at, ticket } of moments) {
		driftTo(Math.floor(at / DAY_MS) - days.first);
		if (ticket === null) {
			reset();
			continue;
		}
		sum += CHART.jump;
		since.comebacks += 1;
		if (sum >= limit) alarm ??= { at, ticket };
	}
	driftTo(days.count);
	return alarm && { ...(alarm as Pick<Alarm, 'at' | 'ticket'>), ...since };
}

/** Jobs of one row, summed by the day of their closing; those that came back with the day on which they did. */
interface RowJobs {
	closed: Map<number, number>;
	back: { closed: number; back: number; weight: number }[];
}

/** Of each kind the limit at which its rows ring for nothing as seldom as is meant. */
function limitsOf(rows: WatchedRows, jobs: number): Record<Watched, number> {
	const comebacks = { operation: 0, technician: 0, lot: 0, method: 0 };
	for (const { of: kind, chart } of rows.values()) comebacks[kind] += chart.events.length;
	return Object.fromEntries(
		WATCHED.map((kind) => [
			kind,
			alarmLimit(Math.max(2, (comebacks[kind] * TICKETS) / (jobs * FALSE_ALARMS[kind])))
		])
	) as Record<Watched, number>;
}

interface FollowedBy {
	periods: readonly UsualPeriod[];
	asOf: Instant;
	days: Days;
}
interface OfRow {
	kind: Watched;
	level: string;
}

/**
 * Adds what was to be expected of some jobs to the charts of their rows, from the moment on from which what is usual is known.
 * @param timesOf how many times what the job would have in a typical row, after what its other factors explain
 * @returns rows to which something was added
 */
function* addExpected(
	watched: WatchedRows,
	jobs: readonly FollowedJob[],
	{ periods, asOf, days }: FollowedBy,
	timesOf: (job: FollowedJob, effects: Effects, row: OfRow) => number
): Generator<void, Set<WatchedRow>> {
	const touched = new Set<WatchedRow>();
	const dayOf = (at: Instant) => Math.floor(at / DAY_MS) - days.first;
	for (const { from, to, effects, grants } of periods) {
		const rows = new Map<string, RowJobs>();
		for (const job of jobs) {
			if (job.closedAt >= to) continue;
			const back = job.back && job.back.at < to ? job.back : null;
			// what came back before the period has nothing to expect in it
			if (back && back.at < from) continue;
			const closed = dayOf(job.closedAt);
			const risk = riskOf(job, effects);
			for (const kind of WATCHED) {
				for (const level of new Set(job.levels[kind])) {
					const key = `${kind} ${level}`;
					// against a typical row the row itself is left out, but for what is granted
					const grantedEffect = Math.exp(effects.of[kind].get(level)?.effect ?? 0) / (grants.get(key) ?? 1);
					const weight = timesOf(job, effects, { kind, level }) * (risk / grantedEffect);
					if (weight === 0) continue;
					const row = rows.get(key) ?? { closed: new Map<number, number>(), back: [] };
					rows.set(key, row);
					row.closed.set(closed, (row.closed.get(closed) ?? 0) + weight);
					if (back) row.back.push({ closed, back: dayOf(back.at), weight });
				}
			}
		}
		const hazard = hazardByDay(effects);
		const stretch = { from: Math.max(0, dayOf(from)), to: to === asOf ? days.count : dayOf(to) };
		for (const [key, row] of rows) {
			const watchedRow = watched.get(key) as WatchedRow;
			addHazard(watchedRow.chart.expected, row, hazard, stretch);
			touched.add(watchedRow);
		}
		yield;
	}
	return touched;
}

/** How much of a job's hazard other rows take upon them that are known to be bad, beyond what was known of them then. */
function explainedBy(
	{ levels }: FollowedJob,
	blamed: readonly Blamed[],
	{ kind, level }: OfRow,
	{ of: levelEffects }: Effects
): number {
	let maxRisk = 1;
	for (const code of blamed) {
		if ((code.of === kind && code.row === level) || !levels[code.of].includes(code.row)) continue;
		maxRisk = Math.max(maxRisk, code.times / Math.exp(levelEffects[code.of].get(code.row)?.effect ?? 0));
	}
	return maxRisk;
}

/** Base hazard on each day after the closing, the day itself first; a job is closed in the middle of its day. */
const hazardByDay = ({ base }: Effects): Float64Array =>
	Float64Array.from({ length: WATCHED_DAYS + 1 }, (_, k) => base(k + 0.5) - (k === 0 ? 0 : base(k - 0.5)));

/** Adds what was to be expected of a row's jobs on the days of a stretch. */
function addHazard(
	expected: Float64Array,
	{ closed, back }: RowJobs,
	hazard: Float64Array,
	{ from, to }: { from: number; to: number }
): void {
	const add = (weight: number, closed: number, first: number) => {
		const last = Math.min(to - 1, closed + WATCHED_DAYS);
		for (let day = Math.max(from, first); day <= last; day++) {
			addAt(expected, day, weight * valueAt(hazard, day - closed));
		}
	};
	for (const [day, weight] of closed) add(weight, day, day);
	for (const job of back) add(-job.weight, job.closed, job.back + 1);
}

function riskOf(job: FollowedJob, { of: levelEffects }: Effects): number {
	let sum = 0;
	for (const kind of RETURN_KINDS) {
		for (const level of new Set(job.levels[kind])) sum += levelEffects[kind].get(level)?.effect ?? 0;
	}
	return Math.exp(sum);
}
