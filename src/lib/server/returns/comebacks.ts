import { comebackRate } from '$lib/core/comebacks/comeback-rate';
import { comebackRows, type ComebackRow, type ComebacksBy } from '$lib/core/returns/comeback-rows';
import { MINUTE_MS, type Instant } from '$lib/core/units/instant';
import type { Database } from '../database/connection';
import { NEVER, type Stop } from '../database/in-turns';
import { returnTickets, type UsingTicket } from './followed';
import { judgedAt } from './judged';

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
	{ by: kind, days, asOf: moment }: { by: ComebacksBy; days: number; asOf: Instant | null },
	stop: Stop = NEVER
): Promise<Comebacks> {
	const asOf = moment ?? momentMeant((await returnTickets(db)).tickets, Date.now());
	const judged = await judgedAt(db, asOf, stop);
	const all = comebackRate(judged.jobs, days);
	return {
		by: kind,
		days,
		asOf,
		jobs: all.jobs,
		comebacks: all.comebacks,
		rows: comebackRows(judged, kind, days)
	};
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
