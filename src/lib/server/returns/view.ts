import type { Catalog } from '$lib/core/catalog/catalog';
import { WATCHED, type Alarm, type Watched } from '$lib/core/returns/comeback-alarms';
import { comebackCauses } from '$lib/core/returns/comeback-causes';
import { comebackCurve, type CurvePoint } from '$lib/core/returns/comeback-curve';
import {
	addComebackCost,
	comebackCostMinor,
	meanComebackCostMinor,
	noComebackCosts,
	type ComebackCosts
} from '$lib/core/comebacks/what-one-costs';
import { isComeback, type Causes } from '$lib/core/comebacks/what-counts';
import { comebackRate, type ComebackRate } from '$lib/core/comebacks/comeback-rate';
import type { FollowedJob, RateKind } from '$lib/core/returns/followed-jobs';
import { warrantyAdvice, type WarrantyLength } from '$lib/core/returns/warranty-advice';
import { funnelLimit } from '$lib/core/statistics/funnel';
import { logRank } from '$lib/core/statistics/log-rank';
import type { Instant } from '$lib/core/units/instant';
import type { Database } from '../database/connection';
import { MONEY_COLUMNS, moneyOf, type MoneyColumns } from '../database/money-columns';
import { NEVER, type Stop } from '../database/in-turns';
import { piecesThere } from '../stock/queries';
import { rowLabel, rowsBy, type ComebackRow } from './comebacks';
import { fullHour, judgedAt, type Judged } from './judged';

export interface ReturnsAsked {
	by: RateKind;
	/** the row that is looked at closer; the shop without */
	row: string | null;
	days: number;
	now: Instant;
	/** whose numbers beside the shop's a technician may see; null: all */
	only: string | null;
}

export interface StandingAlarm extends Alarm {
	of: Watched;
	key: string;
	label: string;
	/** pieces of the lot that are on the shelf; null where it is no lot */
	onShelf: number | null;
	/** of a lot, its part */
	sku: string | null;
}

export interface ReturnsView {
	asOf: Instant;
	by: RateKind;
	days: number;
	shop: ComebackRate;
	rows: ComebackRow[];
	chosen: {
		key: string | null;
		label: string;
		rate: ComebackRate;
		curve: CurvePoint[];
		causes: { label: string; cause: string | null; comebacks: number; share: number }[];
		/** of a row: whether its jobs come back sooner than others of the same operations; null where there are too few */
		beside: { p: number; observed: number; expected: number; jobs: number } | null;
	};
	funnel: { jobs: number; low: number; high: number; lowest: number; highest: number }[];
	/** the newest */
	alarms: StandingAlarm[];
	/** of the older ones, how many of each kind */
	olderAlarms: { of: Watched; count: number }[];
	/** null for who sees no money */
	advice: { lengths: WarrantyLength[]; meanMinor: number; from: number } | null;
}

/** Returns as a screen shows them: rates by row, one row closer, early warnings, what a warranty costs. */
export async function returnsView(
	db: Database,
	asked: ReturnsAsked,
	stop: Stop = NEVER
): Promise<ReturnsView> {
	const judged = await judgedAt(db, fullHour(asked.now), stop);
	const { only } = asked;
	return {
		...figuresKept(judged, asked),
		...(await standingAlarms(db, judged, only)),
		advice: only === null ? await adviceOf(db, judged) : null
	};
}

type Figures = Omit<ReturnsView, 'alarms' | 'olderAlarms' | 'advice'>;
/** What was shown last of each moment that is kept: the same question is asked again and again. */
const shown = new WeakMap<Judged, Map<string, Figures>>();
const MOST_SHOWN = 200;

function figuresKept(judged: Judged, asked: ReturnsAsked): Figures {
	const { by, row, days, only } = asked;
	const key = JSON.stringify([by, row, days, only]);
	const known = shown.get(judged) ?? new Map<string, Figures>();
	shown.set(judged, known);
	const figures = known.get(key) ?? figuresOf(judged, asked);
	known.set(key, figures);
	for (const oldest of known.keys()) if (known.size > MOST_SHOWN) known.delete(oldest);
	return figures;
}

function figuresOf(judged: Judged, { by, days, only, row: wanted }: ReturnsAsked): Figures {
	const { jobs, catalog } = judged;
	const mine = (key: string) => by !== 'technician' || only === null || key === only;
	const rows = rowsBy(judged, by, days).filter(({ key }) => mine(key));
	const row = wanted !== null && rows.some(({ key }) => key === wanted) ? wanted : null;
	const own = row === null ? jobs : jobs.filter(({ levels }) => levels[by].includes(row));
	const shop = comebackRate(jobs, days);
	return {
		asOf: judged.asOf,
		by,
		days,
		shop,
		rows,
		chosen: {
			key: row,
			label: row === null ? catalog.shop.name : rowLabel(catalog, by, row),
			rate: comebackRate(own, days),
			curve: comebackCurve(own, CURVE_DAYS),
			causes: comebackCauses(own, days).map(({ cause, ...share }) => ({
				...share,
				cause,
				label: cause === null ? 'Not said yet' : (catalog.records.cause.get(cause)?.label ?? cause)
			})),
			beside: row === null ? null : besideAlike(jobs, own)
		},
		funnel: funnelOf(shop.rate, rows)
	};
}

const CURVE_DAYS = 180;

/** Like jobs only: others that share an operation with the row's, of the same stretch of time. */
function besideAlike(jobs: readonly FollowedJob[], own: readonly FollowedJob[]) {
	const operations = new Set(own.flatMap(({ levels }) => levels.operation));
	const [first, last] = [own[0]?.closedAt ?? 0, own.at(-1)?.closedAt ?? 0];
	const members = new Set(own.map(({ number }) => number));
	const alike = jobs.filter(
		({ number, closedAt, levels }) =>
			!members.has(number) &&
			closedAt >= first &&
			closedAt <= last &&
			levels.operation.some((operation) => operations.has(operation))
	);
	if (own.length < FEWEST_BESIDE || alike.length < FEWEST_BESIDE) return null;
	const { p, observed, expected } = logRank(own, alike);
	return { p, observed, expected, jobs: alike.length };
}
const FEWEST_BESIDE = 10;

/** Limits within which 95 and 99.8 of 100 rows lie that are as the shop is. */
function funnelOf(usual: number, rows: readonly ComebackRow[]): ReturnsView['funnel'] {
	const most = Math.max(20, ...rows.map(({ jobs }) => jobs));
	if (usual <= 0 || usual >= 1) return [];
	const sizes = new Set(
		Array.from({ length: POINTS }, (_, i) => Math.max(1, Math.round(most * ((i + 1) / POINTS) ** 2)))
	);
	return [...sizes].map((jobs) => ({
		jobs,
		low: funnelLimit(usual, jobs, 0.025),
		high: funnelLimit(usual, jobs, 0.975),
		lowest: funnelLimit(usual, jobs, 0.001),
		highest: funnelLimit(usual, jobs, 0.999)
	}));
}
const POINTS = 28;

async function standingAlarms(
	db: Database,
	{ alarms, catalog, store, asOf }: Judged,
	only: string | null
): Promise<Pick<ReturnsView, 'alarms' | 'olderAlarms'>> {
	const all = WATCHED.flatMap((of) =>
		[...alarms[of]].map(([key, alarm]) => ({ of, key, label: rowLabel(catalog, of, key), ...alarm }))
	).filter(({ of, key }) => of !== 'technician' || only === null || key === only);
	const { newest, olderAlarms } = newestOf(all.filter(({ of, key }) => !putAway(catalog, of, key, asOf)));
	const shown = newest.map(async (alarm): Promise<StandingAlarm> => {
		const lot = alarm.of === 'lot' ? store.lots.find(({ code }) => code === alarm.key) : undefined;
		if (!lot) return { ...alarm, onShelf: null, sku: null };
		const part = catalog.parts.get(lot.sku)?.label ?? lot.sku;
		const onHand = await piecesThere(db, store, lot.sku);
		return { ...alarm, label: `${alarm.key}, ${part}`, onShelf: onHand.get(lot.code) ?? 0, sku: lot.sku };
	});
	return { alarms: await Promise.all(shown), olderAlarms };
}
/** More at a time are not looked into by anybody. A choice. */
const MOST_ALARMS = 6;

/** The alarms that rang last, and how many of each kind rang before them. */
export function newestOf<Rang extends { of: Watched; at: Instant }>(
	standing: readonly Rang[]
): { newest: Rang[]; olderAlarms: ReturnsView['olderAlarms'] } {
	const sorted = [...standing].sort((a, b) => b.at - a.at);
	const older = sorted.slice(MOST_ALARMS);
	const counts = WATCHED.map((of) => ({ of, count: older.filter((each) => each.of === of).length }));
	return { newest: sorted.slice(0, MOST_ALARMS), olderAlarms: counts.filter(({ count }) => count > 0) };
}

/** Somebody put it away since the moment that was judged. */
const putAway = (catalog: Catalog, of: Watched, key: string, asOf: Instant) =>
	[...catalog.records['cleared-alarm'].values()].some(
		(each) => each.of === of && each.row === key && Date.parse(each.at) >= asOf
	);

/** What was worked out last of each moment, at what a comeback costs. */
const advised = new WeakMap<Judged, { meanMinor: number; lengths: WarrantyLength[] }>();

async function adviceOf(db: Database, judged: Judged): Promise<NonNullable<ReturnsView['advice']>> {
	const costs = await comebackCosts(db, judged.catalog.records.cause);
	const [meanMinor, from] = [meanComebackCostMinor(costs), costs.from];
	const known = advised.get(judged);
	const lengths =
		from === 0 ? [] : known?.meanMinor === meanMinor ? known.lengths : warrantyAdvice(judged.jobs, meanMinor);
	advised.set(judged, { meanMinor, lengths });
	return { lengths, meanMinor, from };
}

interface ClosedComeback extends MoneyColumns {
	opened_at: Date;
	cause: string | null;
	outcome: string | null;
	closed_at: Date | null;
}

/** What comebacks that are closed and count cost the shop. */
async function comebackCosts(db: Database, causes: Causes): Promise<ComebackCosts> {
	const rows = (await db('tickets as back')
		.join('tickets as first', 'first.number', 'back.comeback_of')
		.whereNotNull('back.closed_at')
		.select(
			'back.opened_at',
			'back.cause',
			'first.outcome',
			'first.closed_at',
			...MONEY_COLUMNS.map((column) => `back.${column}`)
		)) as ClosedComeback[];
	const costs = noComebackCosts();
	for (const row of rows) {
		const visit = { openedAt: row.opened_at.getTime(), cause: row.cause };
		const first = { outcome: row.outcome, closedAt: row.closed_at?.getTime() ?? null };
		if (!isComeback(visit, first, causes)) continue;
		const { paidMinor, taxMinor, ...work } = moneyOf(row);
		addComebackCost(costs, comebackCostMinor({ ...work, paidMinor: paidMinor - taxMinor }));
	}
	return costs;
}
