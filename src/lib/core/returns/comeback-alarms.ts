import { DAY_MS, type Instant } from '../units/instant';
import { alarmLimit, CHART } from './alarm-limit';
import { comebackEffects, type Effects } from './fair-ratio';
import { knownAt, RETURN_KINDS, type FollowedJob } from './followed-jobs';
import { WATCHED_KINDS } from '../catalog/kinds-of-returns';

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

/** Nothing is watched before so many comebacks are known: what is usual is not known either. A choice. */
const FEWEST = 25;
/** What is usual is learnt anew once so many times the comebacks are known. A choice. */
const GROWN = 1.4;
/** What is usual need not be known closer: logarithms of a hazard. A choice. */
const NEAR = 0.003;
/** In a shop in which nothing gets worse about so many alarms in so many tickets. */
const FALSE_ALARMS = { number: 0.8, tickets: 1500 } as const;
/** A job is watched for so long; later comebacks are few and count as they come. Days; a choice. */
const WATCHED_DAYS = 400;

interface Chart {
	/** comebacks that were to be expected on each day, counted from the first closing */
	expected: Float64Array;
	events: { at: Instant; ticket: string }[];
}

/**
 * Rows whose run of comebacks became too many to be chance and has not been taken back since, nor put away by somebody. At every moment
 * only what was known then is used: what is usual is learnt of the comebacks before, again and again as they grow; a row is held against
 * a typical one, after what the other factors of its jobs explain.
 * @param jobs followed until `asOf`, in the order of their closing
 */
export function comebackAlarms(
	jobs: readonly FollowedJob[],
	asOf: Instant,
	cleared: readonly Cleared[] = []
): Alarms {
	const alarms = Object.fromEntries(WATCHED.map((kind) => [kind, new Map()])) as unknown as Record<
		Watched,
		Map<string, Alarm>
	>;
	const days = daysOf(jobs, asOf);
	const followed = { periods: periodsOf(jobs, asOf), asOf, days };
	const charts: Charts = new Map();
	sumInto(charts, jobs, followed, (_, __, { risk, own }) => risk / own);
	for (const [key, events] of eventsBy(jobs, followed.periods[0]?.from ?? Infinity)) {
		chartOf(charts, key, days).events.push(...events);
	}
	const comebacks = [...charts.values()].reduce((sum, { events }) => sum + events.length, 0);
	if (comebacks === 0) return alarms;
	const limit = alarmLimit(
		Math.max(2, (comebacks * FALSE_ALARMS.tickets) / (jobs.length * FALSE_ALARMS.number))
	);
	const blamed: Blamed[] = [];
	const standingNow = () =>
		[...charts].flatMap(([key, chart]) => {
			const [kind, ...name] = key.split(' ');
			const [of, row] = [kind as Watched, name.join(' ')];
			if (alarms[of].has(row)) return [];
			const away = cleared.filter((each) => each.of === of && each.row === row && each.at < asOf);
			const alarm = standing(chart, { limit, days, away: away.map(({ at }) => at) });
			return alarm ? [{ of, row, alarm }] : [];
		});
	// what is surely the worst first; what the others' comebacks owe to it speaks no more against them
	for (let found = worst(standingNow(), jobs); found; found = worst(standingNow(), jobs)) {
		const { of, row, alarm } = found;
		alarms[of].set(row, alarm);
		if (blamed.length >= MOST_BLAMED) continue;
		const before = [...blamed];
		blamed.push({ of, row, times: Math.max(1, alarm.comebacks / Math.max(1e-9, alarm.expected)) });
		const its = jobs.filter(({ levels }) => levels[of].includes(row));
		sumInto(charts, its, followed, (job, effects, { kind, level, risk, own }) => {
			const more =
				blameOf(job, blamed, { kind, level }, effects) - blameOf(job, before, { kind, level }, effects);
			return (more * risk) / own;
		});
	}
	return alarms;
}

interface Ringing {
	of: Watched;
	row: string;
	alarm: Alarm;
}
/** A row is told apart from a narrower one that holds so many of its comebacks and is so nearly as bad. A choice. */
const AS_BAD = 0.6;

/**
 * Of the rows that ring, the one that is surely the worst; or a narrower one, with fewer jobs, that holds most of the same run and is
 * nearly as bad: the lot of a part, rather than the work that it is used in.
 */
function worst(ringing: readonly Ringing[], jobs: readonly FollowedJob[]): Ringing | undefined {
	const [most] = [...ringing].sort((a, b) => atLeast(b.alarm) - atLeast(a.alarm));
	if (!most) return undefined;
	const size = ({ of, row }: Ringing) => jobs.filter(({ levels }) => levels[of].includes(row)).length;
	return ringing
		.filter(
			({ alarm }) =>
				alarm.comebacks >= AS_BAD * most.alarm.comebacks && atLeast(alarm) >= AS_BAD * atLeast(most.alarm)
		)
		.map((each) => ({ each, jobs: size(each) }))
		.sort((a, b) => a.jobs - b.jobs || (a.each.row < b.each.row ? -1 : 1))[0]?.each;
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
function standing(
	{ expected, events }: Chart,
	{ limit, days, away }: { limit: number; days: Days; away: readonly Instant[] }
): Alarm | null {
	let [sum, next] = [0, 0];
	let since = { comebacks: 0, expected: 0 };
	let rang: Pick<Alarm, 'at' | 'ticket'> | null = null;
	const atNothing = () => {
		[sum, rang] = [0, null];
		since = { comebacks: 0, expected: 0 };
	};
	const sinkTo = (day: number) => {
		for (; next < Math.min(day, days.count); next++) {
			const today = expected[next] as number;
			since.expected += today;
			sum -= CHART.drift * today;
			if (sum <= 0) atNothing();
		}
	};
	const moments = [
		...events.map(({ at, ticket }) => ({ at, ticket })),
		...away.map((at) => ({ at, ticket: null }))
	].sort((a, b) => a.at - b.at);
	for (const { at, ticket } of moments) {
		sinkTo(Math.floor(at / DAY_MS) - days.first);
		if (ticket === null) {
			atNothing();
			continue;
		}
		sum += CHART.jump;
		since.comebacks += 1;
		if (sum >= limit) rang ??= { at, ticket };
	}
	sinkTo(days.count);
	return rang && { ...(rang as Pick<Alarm, 'at' | 'ticket'>), ...since };
}

/** Jobs of one row, summed by the day of their closing; those that came back with the day on which they did. */
interface RowJobs {
	closed: Map<number, number>;
	back: { closed: number; back: number; weight: number }[];
}

type Charts = Map<string, Chart>;
function chartOf(charts: Charts, key: string, { count }: Days): Chart {
	const chart = charts.get(key) ?? { expected: new Float64Array(count), events: [] };
	charts.set(key, chart);
	return chart;
}

/** Comebacks of every watched row from a moment on. */
function eventsBy(jobs: readonly FollowedJob[], from: Instant): Map<string, Chart['events']> {
	const events = new Map<string, Chart['events']>();
	for (const { back, levels } of jobs) {
		if (!back || back.at < from) continue;
		for (const kind of WATCHED) {
			for (const level of new Set(levels[kind])) {
				const key = `${kind} ${level}`;
				const known = events.get(key) ?? [];
				events.set(key, known);
				known.push({ at: back.at, ticket: back.number });
			}
		}
	}
	return events;
}

interface FollowedBy {
	periods: readonly Period[];
	asOf: Instant;
	days: Days;
}
interface OfRow {
	kind: Watched;
	level: string;
	/** factor of the row itself: against a typical row it is left out */
	own: number;
	/** of the job, after what all its factors explain */
	risk: number;
}

/** Adds what was to be expected of some jobs to the charts of their rows, from the moment on from which what is usual is known. */
function sumInto(
	charts: Charts,
	jobs: readonly FollowedJob[],
	{ periods, asOf, days }: FollowedBy,
	weightOf: (job: FollowedJob, effects: Effects, row: OfRow) => number
): void {
	const dayOf = (at: Instant) => Math.floor(at / DAY_MS) - days.first;
	for (const { from, to, effects } of periods) {
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
					const own = Math.exp(effects.of[kind].get(level)?.effect ?? 0);
					const weight = weightOf(job, effects, { kind, level, own, risk });
					if (weight === 0) continue;
					const key = `${kind} ${level}`;
					const row = rows.get(key) ?? { closed: new Map<number, number>(), back: [] };
					rows.set(key, row);
					row.closed.set(closed, (row.closed.get(closed) ?? 0) + weight);
					if (back) row.back.push({ closed, back: dayOf(back.at), weight });
				}
			}
		}
		const hazard = hazardByDay(effects);
		const stretch = { from: Math.max(0, dayOf(from)), to: to === asOf ? days.count : dayOf(to) };
		for (const [key, row] of rows) expect(chartOf(charts, key, days).expected, row, hazard, stretch);
	}
}

/** How much of a job's hazard other rows take upon them that are known to be bad, beyond what was known of them then. */
function blameOf(
	{ levels }: FollowedJob,
	blamed: readonly Blamed[],
	{ kind, level }: Pick<OfRow, 'kind' | 'level'>,
	{ of }: Effects
): number {
	let most = 1;
	for (const each of blamed) {
		if ((each.of === kind && each.row === level) || !levels[each.of].includes(each.row)) continue;
		most = Math.max(most, each.times / Math.exp(of[each.of].get(each.row)?.effect ?? 0));
	}
	return most;
}

/** Base hazard on each day after the closing, the day itself first; a job is closed in the middle of its day. */
const hazardByDay = ({ base }: Effects): Float64Array =>
	Float64Array.from({ length: WATCHED_DAYS + 1 }, (_, k) => base(k + 0.5) - (k === 0 ? 0 : base(k - 0.5)));

/** Adds what was to be expected of a row's jobs on the days of a stretch. */
function expect(
	expected: Float64Array,
	{ closed, back }: RowJobs,
	hazard: Float64Array,
	{ from, to }: { from: number; to: number }
): void {
	const add = (weight: number, closed: number, first: number) => {
		const last = Math.min(to - 1, closed + WATCHED_DAYS);
		for (let day = Math.max(from, first); day <= last; day++) {
			expected[day] = (expected[day] as number) + weight * (hazard[day - closed] as number);
		}
	};
	for (const [day, weight] of closed) add(weight, day, day);
	for (const job of back) add(-job.weight, job.closed, job.back + 1);
}

function riskOf(job: FollowedJob, { of }: Effects): number {
	let sum = 0;
	for (const kind of RETURN_KINDS) {
		for (const level of new Set(job.levels[kind])) sum += of[kind].get(level)?.effect ?? 0;
	}
	return Math.exp(sum);
}

interface Period {
	from: Instant;
	to: Instant;
	effects: Effects;
}

/** Stretches of time with what was known at their beginnings: the first begins once enough comebacks are known. */
function periodsOf(jobs: readonly FollowedJob[], asOf: Instant): Period[] {
	const backs = jobs.flatMap(({ back }) => (back ? [back.at] : [])).sort((a, b) => a - b);
	const starts: Instant[] = [];
	for (let known = FEWEST; known <= backs.length; known = Math.ceil(known * GROWN)) {
		starts.push((backs[known - 1] as Instant) + 1);
	}
	let effects: Effects | undefined;
	return starts.map((from, i) => {
		effects = comebackEffects(knownAt(jobs, from), { start: effects, close: NEAR });
		return { from, to: starts[i + 1] ?? asOf, effects };
	});
}
