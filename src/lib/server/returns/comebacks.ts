import type { Catalog } from '$lib/core/catalog/catalog';
import {
	comebackAlarms,
	WATCHED,
	type Alarm,
	type Alarms,
	type Watched
} from '$lib/core/returns/comeback-alarms';
import { comebackRate, type ComebackRate } from '$lib/core/returns/comeback-rate';
import { comebackEffects, fairRatio, type Effects, type FairRatio } from '$lib/core/returns/fair-ratio';
import { followedJobs, type FollowedJob, type ReturnKind } from '$lib/core/returns/followed-jobs';
import type { Instant } from '$lib/core/units/instant';
import { catalogNow } from '../catalog/queries';
import type { Database } from '../database/connection';
import { readCounters } from '../database/counters';
import { shelfStore, type ShelfStore } from '../stock/queries';
import { returnTickets, type UsingTicket } from './followed';

export type ComebacksBy = ReturnKind | 'shop';

export interface ComebackRow extends ComebackRate {
	key: string;
	label: string;
	fair: FairRatio | null;
	alarm: Alarm | null;
}

export interface Comebacks {
	by: ComebacksBy;
	days: number;
	asOf: Instant;
	jobs: number;
	comebacks: number;
	rows: ComebackRow[];
}

interface Judged {
	key: string;
	jobs: FollowedJob[];
	effects: Effects;
	alarms: Alarms;
}

/** What was judged last, per pool and moment: the same moment is asked about by many rows and screens. */
const kept = new WeakMap<Database, Map<string, Judged>>();
const MOST_KEPT = 8;

/** Comebacks by row, at a moment: rates within some days, what is fair over the whole follow-up, alarms that stand. */
export async function comebacksBy(
	db: Database,
	{ by, days, asOf }: { by: ComebacksBy; days: number; asOf: Instant }
): Promise<Comebacks> {
	const counters = await readCounters(db);
	const [catalog, store, { key: state, tickets }] = await Promise.all([
		catalogNow(db, counters.catalog),
		shelfStore(db, counters.shelf),
		returnTickets(db)
	]);
	const key = [state, counters.catalog, counters.shelf, asOf].join(' ');
	const judged = judgedAt(db, key, () => judge(tickets, catalog, store, asOf));
	const all = comebackRate(judged.jobs, days);
	return {
		by,
		days,
		asOf,
		jobs: all.jobs,
		comebacks: all.comebacks,
		rows: rowsBy(judged, by, days, catalog)
	};
}

function judgedAt(db: Database, key: string, judgeNow: () => Omit<Judged, 'key'>): Judged {
	const known = kept.get(db) ?? new Map<string, Judged>();
	kept.set(db, known);
	const before = known.get(key);
	if (before) return before;
	const judged = { key, ...judgeNow() };
	known.set(key, judged);
	for (const oldest of known.keys()) if (known.size > MOST_KEPT) known.delete(oldest);
	return judged;
}

function judge(
	tickets: readonly UsingTicket[],
	catalog: Catalog,
	store: ShelfStore,
	asOf: Instant
): Omit<Judged, 'key'> {
	const lotSource = new Map(store.lots.map(({ code, source }) => [code, source]));
	const withSources = tickets.map((ticket) => {
		const { used } = ticket;
		// of the lot, else of the part
		const sources = used.flatMap(
			({ sku, lot }) =>
				(lot === null ? undefined : lotSource.get(lot)) ?? catalog.parts.get(sku)?.source ?? []
		);
		return { ...ticket, sources: [...new Set(sources)] };
	});
	const counts = (cause: string) => catalog.records.cause.get(cause)?.counts ?? true;
	const jobs = followedJobs(withSources, asOf, counts);
	return { jobs, effects: comebackEffects(jobs), alarms: comebackAlarms(jobs, asOf) };
}

function rowsBy(
	{ jobs, effects, alarms }: Judged,
	by: ComebacksBy,
	days: number,
	catalog: Catalog
): ComebackRow[] {
	if (by === 'shop') {
		if (jobs.length === 0) return [];
		return [{ key: 'shop', label: catalog.shop.name, ...comebackRate(jobs, days), fair: ALIKE, alarm: null }];
	}
	const rows = new Map<string, FollowedJob[]>();
	for (const job of jobs) {
		for (const level of new Set(job.levels[by])) {
			const row = rows.get(level);
			if (row) row.push(job);
			else rows.set(level, [job]);
		}
	}
	const watched = (WATCHED as readonly string[]).includes(by);
	return [...rows]
		.sort(([a], [b]) => (a < b ? -1 : 1))
		.map(([key, own]) => ({
			key,
			label: labelOf(catalog, by, key),
			...comebackRate(own, days),
			fair: fairRatio(effects, by, key),
			alarm: watched ? (alarms[by as Watched].get(key) ?? null) : null
		}));
}

/** The shop against itself. */
const ALIKE: FairRatio = { ratio: 1, low: 1, high: 1, chance_worse: 0.5 };

function labelOf(catalog: Catalog, by: ReturnKind, key: string): string {
	switch (by) {
		case 'operation':
			return catalog.operations.get(key)?.label ?? key;
		case 'part':
			return catalog.parts.get(key)?.label ?? key;
		case 'technician':
			return catalog.technicians.get(key)?.name ?? key;
		case 'model':
			return catalog.models.get(key)?.label ?? key;
		default:
			return key;
	}
}
