import { profitByTicket } from '$lib/core/ledger/ticket-profit';
import type { Queryable } from '../database/connection';

export interface BookLine {
	number: string;
	model: string;
	openedAt: number;
	closedAt: number;
	outcome: string;
	comebackOf: string | null;
	/** tickets whose work this one bears: its comebacks */
	bears: number;
	paidMinor: number;
	partsMinor: number;
	labourMinor: number;
	minutes: number;
	profitMinor: number;
}

interface BookRow {
	number: string;
	model: string;
	opened_at: Date;
	closed_at: Date;
	outcome: string;
	comeback_of: string | null;
	paid_minor: number | string | null;
	parts_minor: number | string;
	labour_minor: number | string;
	minutes: string;
}

/** Sums below 2^53 hundredths are exact as numbers; anything larger is a mistake worth stopping for. */
function exact(column: number | string | null): number {
	const value = Number(column ?? 0);
	if (!Number.isSafeInteger(value)) throw new Error(`money out of range: ${String(column)}`);
	return value;
}

/** All closed tickets with their profit, comeback work charged to the first ticket; newest first. */
export async function bookLines(db: Queryable): Promise<BookLine[]> {
	const rows = (await db('tickets')
		.whereNotNull('closed_at')
		.orderBy('closed_at', 'desc')
		.orderBy('id', 'desc')
		.select(
			'number',
			'model',
			'opened_at',
			'closed_at',
			'outcome',
			'comeback_of',
			'paid_minor',
			'parts_minor',
			'labour_minor',
			'minutes'
		)) as BookRow[];
	const booked = rows.map((row) => ({
		number: row.number,
		comebackOf: row.comeback_of,
		paidMinor: exact(row.paid_minor),
		partsMinor: exact(row.parts_minor),
		labourMinor: exact(row.labour_minor)
	}));
	const profits = profitByTicket(booked);
	const bears = new Map<string, number>();
	for (const { comebackOf } of booked) {
		if (comebackOf) bears.set(comebackOf, (bears.get(comebackOf) ?? 0) + 1);
	}
	return rows.map((row, i) => ({
		...(booked[i] as (typeof booked)[number]),
		model: row.model,
		openedAt: row.opened_at.getTime(),
		closedAt: row.closed_at.getTime(),
		outcome: row.outcome,
		bears: bears.get(row.number) ?? 0,
		minutes: Number(row.minutes),
		profitMinor: profits.get(row.number) ?? 0
	}));
}
