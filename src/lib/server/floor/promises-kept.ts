import { zoneOffset } from '$lib/core/units/calendar';
import { clopperPearsonInterval } from '$lib/core/statistics/rate-interval';
import { DAY_MS, MINUTE_MS, type Instant } from '$lib/core/units/instant';
import type { Queryable } from '../database/connection';
import type { Sum } from '../database/tables';

/** Promises of one month that were kept: jobs that were closed up to the moment that was promised. */
export interface PromiseScore {
	/** "2026-11", by the shop's clock */
	month: string;
	promised: number;
	kept: number;
	/** 80 % interval of the share that is kept */
	low: number;
	high: number;
	/** mean chance that was foretold, over those promises that said one; null where none did */
	foretold: number | null;
}

const MONTHS = 6;

/** The last months, the latest first. Declined jobs are left out: they were ready when they were declined. */
export async function promisesKept(db: Queryable, now: Instant, timeZone: string): Promise<PromiseScore[]> {
	const offset = Math.round(zoneOffset(now, timeZone) / MINUTE_MS);
	const rows = await db('tickets')
		.whereNotNull('promised_at')
		.andWhere('closed_at', '>', new Date(now - MONTHS * 31 * DAY_MS))
		.andWhereNot('outcome', 'declined')
		.groupByRaw('month')
		.orderByRaw('month DESC')
		.limit(MONTHS)
		.select<{ month: string; promised: Sum; kept: Sum; foretold: number | null }[]>(
			db.raw("DATE_FORMAT(DATE_ADD(closed_at, INTERVAL ? MINUTE), '%Y-%m') AS month", [offset]),
			db.raw('COUNT(*) AS promised'),
			db.raw('SUM(closed_at <= promised_at) AS kept'),
			db.raw('AVG(promised_chance) AS foretold')
		);
	return rows.map(({ month, promised, kept, foretold }) => {
		const interval = clopperPearsonInterval(Number(kept), Number(promised), 0.8);
		return { month, promised: Number(promised), kept: Number(kept), ...interval, foretold };
	});
}
