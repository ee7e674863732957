import { DAY_MS, type Instant } from '../units/instant';
import { alarmLimit, CHART } from './alarm-limit';
import { comebackEffects, type Effects } from './fair-ratio';
import { knownAt, RETURN_KINDS, type FollowedJob, type ReturnKind } from './followed-jobs';

/** Rows that are watched. */
export const WATCHED = ['operation', 'lot', 'technician'] as const satisfies readonly ReturnKind[];
export type Watched = (typeof WATCHED)[number];

export interface Alarm {
	/** when the comeback that made it ring was opened */
	at: Instant;
	/** that comeback's ticket */
	ticket: string;
}
export type Alarms = Readonly<Record<Watched, ReadonlyMap<string, Alarm>>>;

/** Nothing is watched before so many comebacks are known: what is usual is not known either. A choice. */
const FEWEST = 25;
/** What is usual is learnt anew once so many times the comebacks are known. A choice. */
const GROWN = 1.4;
/** In a shop in which nothing gets worse about so many alarms in so many tickets. */
const FALSE_ALARMS = { number: 0.8, tickets: 1500 } as const;
/** A job is watched for so long; later comebacks are few and count as they come. Days; a choice. */
const WATCHED_DAYS = 400;

interface Chart {
	/** comebacks that were to be expected, day by day from the first day on */
	expected: Map<number, number>;
	events: { at: Instant; ticket: string }[];
}

/**
 * Rows whose run of comebacks became too many to be chance and has not been taken back since. At every moment only what was known
 * then is used: what is usual is learnt of the comebacks before, again and again as they grow; a row is held against a typical one,
 * after what the other factors of its jobs explain.
 * @param jobs followed until `asOf`
 */
export function comebackAlarms(jobs: readonly FollowedJob[], asOf: Instant): Alarms {
	const charts = chartsOf(jobs, asOf);
	const comebacks = [...charts.values()].reduce((sum, { events }) => sum + events.length, 0);
	const alarms = Object.fromEntries(WATCHED.map((kind) => [kind, new Map()])) as unknown as Record<
		Watched,
		Map<string, Alarm>
	>;
	if (comebacks === 0) return alarms;
	const limit = alarmLimit(
		Math.max(2, (comebacks * FALSE_ALARMS.tickets) / (jobs.length * FALSE_ALARMS.number))
	);
	for (const [key, chart] of charts) {
		const [kind, ...name] = key.split(' ');
		const alarm = standing(chart, limit, asOf);
		if (alarm) alarms[kind as Watched].set(name.join(' '), alarm);
	}
	return alarms;
}

/** The alarm that stands at the end of a chart; null where none rang, or it has sunk to nothing since. */
function standing({ expected, events }: Chart, limit: number, asOf: Instant): Alarm | null {
	const days = [...expected.keys()].sort((a, b) => a - b);
	let [sum, next] = [0, 0];
	let alarm: Alarm | null = null;
	const sinkTo = (day: number) => {
		for (; next < days.length && (days[next] as number) < day; next++) {
			sum = Math.max(0, sum - CHART.drift * (expected.get(days[next] as number) ?? 0));
			if (sum === 0) alarm = null;
		}
	};
	for (const { at, ticket } of [...events].sort((a, b) => a.at - b.at)) {
		sinkTo(Math.floor(at / DAY_MS));
		sum += CHART.jump;
		if (sum >= limit) alarm ??= { at, ticket };
	}
	sinkTo(Math.floor(asOf / DAY_MS));
	return alarm;
}

/** Comebacks of every watched row with those that were to be expected, from the moment on from which what is usual is known. */
function chartsOf(jobs: readonly FollowedJob[], asOf: Instant): Map<string, Chart> {
	const charts = new Map<string, Chart>();
	const chartOf = (key: string) => {
		const known = charts.get(key) ?? { expected: new Map<number, number>(), events: [] };
		charts.set(key, known);
		return known;
	};
	for (const { from, to, effects } of periodsOf(jobs, asOf)) {
		for (const job of jobs) {
			if (job.closedAt >= to) continue;
			const risk = riskOf(job, effects);
			const byDay = expectedByDay(job, effects, from, to);
			const back = job.back && job.back.at >= from && job.back.at < to ? job.back : null;
			if (byDay.length === 0 && !back) continue;
			for (const kind of WATCHED) {
				for (const level of new Set(job.levels[kind])) {
					const chart = chartOf(`${kind} ${level}`);
					// against a typical row: without the row's own effect
					const own = Math.exp(effects.of[kind].get(level)?.effect ?? 0);
					for (const [day, hazard] of byDay) {
						chart.expected.set(day, (chart.expected.get(day) ?? 0) + (hazard * risk) / own);
					}
					if (back) chart.events.push({ at: back.at, ticket: back.number });
				}
			}
		}
	}
	return charts;
}

function riskOf(job: FollowedJob, { of }: Effects): number {
	let sum = 0;
	for (const kind of RETURN_KINDS) {
		for (const level of new Set(job.levels[kind])) sum += of[kind].get(level)?.effect ?? 0;
	}
	return Math.exp(sum);
}

/** Base hazard of a job within a period, by the day of the calendar on which it lies. */
function expectedByDay(
	job: FollowedJob,
	{ base }: Effects,
	from: Instant,
	to: Instant
): [day: number, hazard: number][] {
	const ends = Math.min(to, job.closedAt + Math.min(job.time, WATCHED_DAYS) * DAY_MS);
	const byDay: [number, number][] = [];
	let before = base(Math.max(0, (from - job.closedAt) / DAY_MS));
	for (let day = Math.floor(Math.max(from, job.closedAt) / DAY_MS); day * DAY_MS < ends; day++) {
		const after = base((Math.min((day + 1) * DAY_MS, ends) - job.closedAt) / DAY_MS);
		if (after > before) byDay.push([day, after - before]);
		before = after;
	}
	return byDay;
}

/** Stretches of time with what was known at their beginnings: the first begins once enough comebacks are known. */
function periodsOf(
	jobs: readonly FollowedJob[],
	asOf: Instant
): { from: Instant; to: Instant; effects: Effects }[] {
	const backs = jobs.flatMap(({ back }) => (back ? [back.at] : [])).sort((a, b) => a - b);
	const starts: Instant[] = [];
	for (let known = FEWEST; known <= backs.length; known = Math.ceil(known * GROWN)) {
		starts.push((backs[known - 1] as Instant) + 1);
	}
	return starts.map((from, i) => ({
		from,
		to: starts[i + 1] ?? asOf,
		effects: comebackEffects(knownAt(jobs, from))
	}));
}
