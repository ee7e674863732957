import type { Catalog } from '$lib/core/catalog/catalog';
import { WATCHED, type Alarm, type Watched } from '$lib/core/returns/comeback-alarms';
import { comebackRate, type ComebackRate } from '$lib/core/comebacks/comeback-rate';
import { fairRatio, type FairRatio } from '$lib/core/returns/fair-ratio';
import {
	RETURN_KINDS,
	type FollowedJob,
	type RateKind,
	type ReturnKind
} from '$lib/core/returns/followed-jobs';
import { MINUTE_MS, type Instant } from '$lib/core/units/instant';
import type { Database } from '../database/connection';
import { NEVER, type Stop } from '../database/in-turns';
import { returnTickets, type UsingTicket } from './followed';
import { judgedAt, type Judged } from './judged';

export type ComebacksBy = RateKind | 'shop';

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

/** Comebacks by row, at a moment: rates within some days, what is fair over the whole follow-up, alarms that stand. */
export async function comebacksBy(
	db: Database,
	{ by, days, asOf: asked }: { by: ComebacksBy; days: number; asOf: Instant | null },
	stop: Stop = NEVER
): Promise<Comebacks> {
	const asOf = asked ?? momentMeant((await returnTickets(db)).tickets, Date.now());
	const judged = await judgedAt(db, asOf, stop);
	const all = comebackRate(judged.jobs, days);
	return { by, days, asOf, jobs: all.jobs, comebacks: all.comebacks, rows: rowsBy(judged, by, days) };
}

/**
 * Now, as who names no moment means it: the full minute, so that one call after the other is about the same moment, or just after what
 * happened since.
 */
export function momentMeant(
	tickets: readonly Pick<UsingTicket, 'openedAt' | 'closedAt'>[],
	now: Instant
): Instant {
	let last = Math.floor(now / MINUTE_MS) * MINUTE_MS;
	for (const { openedAt, closedAt } of tickets) {
		for (const at of [openedAt, closedAt ?? 0]) if (at < now) last = Math.max(last, at + 1);
	}
	return last;
}

/** Jobs by the rows of a kind, in the order of their keys. */
function jobsBy(jobs: readonly FollowedJob[], by: RateKind): [key: string, jobs: FollowedJob[]][] {
	const rows = new Map<string, FollowedJob[]>();
	for (const job of jobs) {
		for (const level of new Set(job.levels[by])) {
			const row = rows.get(level);
			if (row) row.push(job);
			else rows.set(level, [job]);
		}
	}
	return [...rows].sort(([a], [b]) => (a < b ? -1 : 1));
}

const among = <Kind extends string>(kinds: readonly Kind[], by: string): by is Kind =>
	(kinds as readonly string[]).includes(by);

export function rowsBy(
	{ jobs, effects, alarms, catalog }: Pick<Judged, 'jobs' | 'effects' | 'alarms' | 'catalog'>,
	by: ComebacksBy,
	days: number
): ComebackRow[] {
	if (by === 'shop') {
		if (jobs.length === 0) return [];
		return [{ key: 'shop', label: catalog.shop.name, ...comebackRate(jobs, days), fair: ALIKE, alarm: null }];
	}
	return jobsBy(jobs, by).map(([key, own]) => ({
		key,
		label: rowLabel(catalog, by, key),
		...comebackRate(own, days),
		fair: among<ReturnKind>(RETURN_KINDS, by) ? fairRatio(effects, by, key) : null,
		alarm: among<Watched>(WATCHED, by) ? (alarms[by].get(key) ?? null) : null
	}));
}

/** The shop against itself. */
const ALIKE: FairRatio = { ratio: 1, low: 1, high: 1, chance_worse: 0.5 };

export function rowLabel(catalog: Catalog, by: RateKind, key: string): string {
	const { operations, parts, technicians, models, procedures, records } = catalog;
	switch (by) {
		case 'operation':
			return operations.get(key)?.label ?? key;
		case 'part':
			return parts.get(key)?.label ?? key;
		case 'technician':
			return technicians.get(key)?.name ?? key;
		case 'model':
			return models.get(key)?.label ?? key;
		case 'method':
			return procedures.get(key)?.label ?? key;
		case 'supplier':
			return records.supplier.get(key)?.label ?? key;
		default:
			return key;
	}
}
