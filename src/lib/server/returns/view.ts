import type { Catalog } from '$lib/core/catalog/catalog';
import { WATCHED, type Alarm, type Watched } from '$lib/core/returns/comeback-alarms';
import {
	addComebackCost,
	comebackCostMinor,
	meanComebackCostMinor,
	noComebackCosts,
	type ComebackCosts
} from '$lib/core/comebacks/what-one-costs';
import { isComeback, type Causes } from '$lib/core/comebacks/what-counts';
import { rowLabel } from '$lib/core/returns/comeback-rows';
import { newestAlarms } from '$lib/core/returns/newest-alarms';
import { returnsFigures, type FiguresAsked, type ReturnsFigures } from '$lib/core/returns/returns-figures';
import { warrantyAdvice, type WarrantyLength } from '$lib/core/returns/warranty-advice';
import type { Instant } from '$lib/core/units/instant';
import type { Database } from '../database/connection';
import type { Row } from '../database/tables';
import { MONEY_COLUMNS, moneyOf, type MoneyColumns } from '../database/money-columns';
import { NEVER, type Stop } from '../database/in-turns';
import { piecesThere } from '../stock/queries';
import { fullHour, judgedAt, type Judged } from './judged';

export interface ReturnsAsked extends FiguresAsked {
	now: Instant;
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

export interface ReturnsView extends ReturnsFigures {
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
	request: ReturnsAsked,
	stop: Stop = NEVER
): Promise<ReturnsView> {
	const judged = await judgedAt(db, fullHour(request.now), stop);
	const { only: onlyTechnician } = request;
	return {
		...figuresKept(judged, request),
		...(await standingAlarms(db, judged, onlyTechnician)),
		advice: onlyTechnician === null ? await adviceOf(db, judged) : null
	};
}

/** What was shown last of each moment that is kept: the same question is asked again and again. */
const shown = new WeakMap<Judged, Map<string, ReturnsFigures>>();
const MOST_SHOWN = 200;

function figuresKept(judged: Judged, request: ReturnsAsked): ReturnsFigures {
	const { by: kind, row, days, only: onlyTechnician } = request;
	const key = JSON.stringify([kind, row, days, onlyTechnician]);
	const cached = shown.get(judged) ?? new Map<string, ReturnsFigures>();
	shown.set(judged, cached);
	const figures = cached.get(key) ?? returnsFigures(judged, request);
	cached.set(key, figures);
	for (const oldest of cached.keys()) if (cached.size > MOST_SHOWN) cached.delete(oldest);
	return figures;
}

async function standingAlarms(
	db: Database,
	{ alarms, catalog, store, asOf }: Judged,
	onlyTechnician: string | null
): Promise<Pick<ReturnsView, 'alarms' | 'olderAlarms'>> {
	const all = WATCHED.flatMap((kind) =>
		[...alarms[kind]].map(([key, alarm]) => ({
			of: kind,
			key,
			label: rowLabel(catalog, kind, key),
			...alarm
		}))
	).filter(({ of: kind, key }) => kind !== 'technician' || onlyTechnician === null || key === onlyTechnician);
	const { newest, olderAlarms } = newestAlarms(
		all.filter(({ of: kind, key }) => !putAway(catalog, kind, key, asOf))
	);
	const shown = newest.map(async (alarm): Promise<StandingAlarm> => {
		const lot = alarm.of === 'lot' ? store.lots.find(({ code }) => code === alarm.key) : undefined;
		if (!lot) return { ...alarm, onShelf: null, sku: null };
		const part = catalog.parts.get(lot.sku)?.label ?? lot.sku;
		const onHand = await piecesThere(db, store, lot.sku);
		return { ...alarm, label: `${alarm.key}, ${part}`, onShelf: onHand.get(lot.code) ?? 0, sku: lot.sku };
	});
	return { alarms: await Promise.all(shown), olderAlarms };
}
/** Somebody put it away since the moment that was judged. */
const putAway = (catalog: Catalog, kind: Watched, key: string, asOf: Instant) =>
	[...catalog.records['cleared-alarm'].values()].some(
		(alarm) => alarm.of === kind && alarm.row === key && Date.parse(alarm.at) >= asOf
	);

/** What was worked out of each state that was judged: what its comebacks cost changes with no look at it. */
const advised = new WeakMap<Judged, Promise<NonNullable<ReturnsView['advice']>>>();

function adviceOf(db: Database, judged: Judged): Promise<NonNullable<ReturnsView['advice']>> {
	const kept = advised.get(judged);
	if (kept) return kept;
	const advice = adviseWarranty(db, judged);
	advised.set(judged, advice);
	advice.catch(() => advised.delete(judged));
	return advice;
}

async function adviseWarranty(db: Database, judged: Judged): Promise<NonNullable<ReturnsView['advice']>> {
	const costs = await comebackCosts(db, judged.catalog.records.cause);
	const [meanMinor, from] = [meanComebackCostMinor(costs), costs.from];
	return { lengths: from === 0 ? [] : warrantyAdvice(judged.jobs, meanMinor), meanMinor, from };
}

type ClosedComeback = Pick<Row<'tickets'>, 'opened_at' | 'cause' | 'outcome' | 'closed_at'> & MoneyColumns;

/** What comebacks that are closed and count cost the shop. */
async function comebackCosts(db: Database, causes: Causes): Promise<ComebackCosts> {
	const rows = await db('tickets as back')
		.join('tickets as first', 'first.number', 'back.comeback_of')
		.whereNotNull('back.closed_at')
		.select<ClosedComeback[]>(
			'back.opened_at',
			'back.cause',
			'first.outcome',
			'first.closed_at',
			...MONEY_COLUMNS.map((column) => `back.${column}`)
		);
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
