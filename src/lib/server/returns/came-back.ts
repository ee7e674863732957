import type { Catalog } from '$lib/core/catalog/catalog';
import { recordOfKind, type CatalogRecordOf } from '$lib/core/catalog/kinds';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { DAY_MS, parseInstant } from '$lib/core/units/instant';
import { toMinor } from '$lib/core/units/money';
import { catalogNow } from '../catalog/queries';
import type { Database } from '../database/connection';
import { asJson, type StoredJson } from '../database/json';
import type { Row } from '../database/tables';

/** A device that came back, for the list. */
export interface CameBack {
	number: string;
	first: string;
	model: string;
	openedAt: number;
	closed: boolean;
	/** since it was closed the first time; null where that is not known */
	daysAfter: number | null;
	cause: string | null;
	pays: NonNullable<Ticket['cameFrom']>['pays'] | null;
	/** part that its supplier is still to be asked for */
	toClaim: { sku: string; label: string; costMinor: number } | null;
}

const SHOWN = 60;
/** A cause is asked for so long first. A choice. */
const ASKED_DAYS = 120;

type BackRow = Pick<Row<'tickets'>, 'number' | 'model' | 'opened_at' | 'closed_at' | 'cause'> & {
	comeback_of: string;
	first_closed: Date | null;
	came_from: StoredJson<NonNullable<Ticket['cameFrom']>> | null;
};

/** The last devices that came back, those whose cause nobody said first. */
export async function cameBack(db: Database, now: number): Promise<CameBack[]> {
	const catalog = await catalogNow(db);
	// found first, without their records, then read
	const last = await db('tickets')
		.whereNotNull('comeback_of')
		.orderBy('opened_at', 'desc')
		.limit(SHOWN)
		.pluck('id');
	const rows = await db('tickets')
		.leftJoin('tickets as first', 'first.number', 'tickets.comeback_of')
		.whereIn('tickets.id', last)
		.orderBy('tickets.opened_at', 'desc')
		.select<BackRow[]>(
			'tickets.number',
			'tickets.comeback_of',
			'tickets.model',
			'tickets.opened_at',
			'tickets.closed_at',
			'tickets.cause',
			'first.closed_at as first_closed',
			db.raw("JSON_EXTRACT(tickets.record, '$.came_from') AS came_from")
		);
	const all = rows.map((row): CameBack => {
		const from = asJson(row.came_from);
		const closedAt = row.first_closed?.getTime() ?? null;
		return {
			number: row.number,
			first: row.comeback_of,
			model: catalog.models.get(row.model)?.label ?? row.model,
			openedAt: row.opened_at.getTime(),
			closed: row.closed_at !== null,
			daysAfter: closedAt === null ? null : (row.opened_at.getTime() - closedAt) / DAY_MS,
			cause: row.cause === null ? null : (catalog.records.cause.get(row.cause)?.label ?? row.cause),
			pays: from?.pays ?? null,
			toClaim: toClaim(row.number, from, catalog)
		};
	});
	// what came back long ago is not asked for any more
	const needsCause = ({ cause, openedAt }: CameBack) =>
		cause === null && openedAt >= now - ASKED_DAYS * DAY_MS;
	return [...all.filter(needsCause), ...all.filter((visit) => !needsCause(visit))];
}

function toClaim(number: string, from: Ticket['cameFrom'] | null, catalog: Catalog): CameBack['toClaim'] {
	if (from?.pays !== 'supplier' || !from.sku || catalog.records.claim.has(`${number} ${from.sku}`))
		return null;
	const part = catalog.parts.get(from.sku);
	return { sku: from.sku, label: part?.label ?? from.sku, costMinor: part?.unitCostMinor ?? 0 };
}

export interface ClaimRow extends Omit<
	CatalogRecordOf<'claim'>,
	'record' | 'amount' | 'granted' | 'at' | 'settled_at'
> {
	label: string;
	supplierLabel: string | null;
	amountMinor: number;
	grantedMinor: number | null;
	at: number;
	version: number;
}

/** Supplier claims, the open ones first, and what they come to. */
export async function claims(
	db: Database
): Promise<{ rows: ClaimRow[]; openMinor: number; grantedMinor: number; refusedMinor: number }> {
	const catalog = await catalogNow(db);
	const stored = await db('catalog')
		.where({ kind: 'claim' })
		.orderBy('id', 'desc')
		.limit(MOST_CLAIMS)
		.select('record', 'version');
	const rows = stored.map(({ record, version }): ClaimRow => {
		const {
			record: _,
			amount,
			granted,
			at,
			settled_at: __,
			...claim
		} = recordOfKind('claim', asJson(record));
		return {
			...claim,
			label: catalog.parts.get(claim.sku)?.label ?? claim.sku,
			supplierLabel: catalog.records.supplier.get(claim.supplier ?? '')?.label ?? claim.supplier ?? null,
			amountMinor: toMinor(amount),
			grantedMinor: granted === undefined ? null : toMinor(granted),
			at: parseInstant(at),
			version
		};
	});
	const sum = (state: ClaimRow['state'], valueOf: (row: ClaimRow) => number) =>
		rows.filter((row) => row.state === state).reduce((all, row) => all + valueOf(row), 0);
	return {
		rows: [...rows.filter(({ state }) => state === 'open'), ...rows.filter(({ state }) => state !== 'open')],
		openMinor: sum('open', ({ amountMinor }) => amountMinor),
		grantedMinor: sum('granted', ({ grantedMinor }) => grantedMinor ?? 0),
		refusedMinor: sum('refused', ({ amountMinor }) => amountMinor)
	};
}
const MOST_CLAIMS = 500;

/** Damage that a repair made and that was found before the device was handed over, in the last days. */
export async function foundTheSameDay(
	db: Database,
	since: number
): Promise<{ number: string; faults: string[] }[]> {
	const catalog = await catalogNow(db);
	const rows = await db('tickets')
		.where('harmed', true)
		.andWhere('closed_at', '>=', new Date(since))
		.orderBy('closed_at', 'desc')
		.limit(20)
		.select<(Pick<Row<'tickets'>, 'number'> & { own_faults: StoredJson<string[]> })[]>(
			'number',
			db.raw("JSON_EXTRACT(record, '$.own_faults') AS own_faults")
		);
	return rows.map(({ number, own_faults }) => ({
		number,
		faults: asJson(own_faults).map((fault) => catalog.faults.get(fault)?.label ?? fault)
	}));
}
