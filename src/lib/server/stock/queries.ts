import { SHELF_KINDS, type CatalogRecord, type CatalogRecordOf } from '$lib/core/catalog/kinds';
import type { ShelfFlow } from '$lib/core/stock/shelf-flow';
import { flowOf, shelfAt, stockValueAt, type PartUsed, type ShelfPart } from '$lib/core/stock/shelf';
import { groupBy } from '$lib/core/units/group-by';
import { catalogNow } from '../catalog/queries';
import type { Database, Queryable } from '../database/connection';
import { byCounter } from '../database/by-counter';
import { readCounters } from '../database/counters';
import { asJson } from '../database/json';
import { reservedParts } from './reserved';

/** Lots, movements and orders, in the order of entry. */
export interface ShelfStore {
	lots: CatalogRecordOf<'lot'>[];
	movements: CatalogRecordOf<'movement'>[];
	orders: CatalogRecordOf<'order'>[];
}

/** Read from the database whatever was read before: what a transaction wrote itself is not to be remembered. */
export async function readShelfStore(db: Queryable): Promise<ShelfStore> {
	const rows = (await db('catalog').whereIn('kind', SHELF_KINDS).orderBy('id').select('record')) as {
		record: unknown;
	}[];
	const store: ShelfStore = { lots: [], movements: [], orders: [] };
	for (const row of rows) {
		const record = asJson(row.record) as CatalogRecord;
		if (record.record === 'lot') store.lots.push(record);
		else if (record.record === 'movement') store.movements.push(record);
		else if (record.record === 'order') store.orders.push(record);
	}
	return store;
}

/** The same, read only where it has changed. */
export const shelfStore = byCounter('shelf', readShelfStore);

type UseRow = [ticket: number, n: number, sku: string, quantity: number, lot: string | null, at: Date];

/** Uses by part, of some parts or of all. */
export async function usesOf(db: Queryable, skus?: readonly string[]): Promise<Map<string, PartUsed[]>> {
	const query = db('part_uses').select('ticket_id', 'n', 'sku', 'quantity', 'lot', 'used_at');
	if (skus) query.whereIn('sku', skus);
	// half the time of rows as objects
	const rows = (await query.options({ rowsAsArray: true })) as unknown as UseRow[];
	const uses = rows.map(([ticket, n, sku, quantity, lot, at]) => ({
		sku,
		used: { key: useKey(ticket, n), ticket, at: at.getTime(), quantity, lot }
	}));
	const bySku = groupBy(uses, ({ sku }) => sku);
	return new Map([...bySku].map(([sku, of]) => [sku, of.map(({ used }) => used)]));
}

/** Tells uses apart, in the order of entry. */
export const useKey = (ticket: number, n: number) =>
	`${String(ticket).padStart(12, '0')} ${String(n).padStart(5, '0')}`;

/**
 * The shelf as it is at a moment, with what it was worked out from.
 * @param asked share of pieces that must be there at once; the shop's without
 */
export async function shelfWith(db: Database, asOf: number, asked?: number) {
	const counters = await readCounters(db);
	const [catalog, store, uses] = await Promise.all([
		catalogNow(db, counters.catalog),
		shelfStore(db, counters.shelf),
		usesOf(db)
	]);
	const reserved = await reservedParts(db, catalog);
	const parts = shelfAt(
		{ parts: catalog.parts, suppliers: catalog.records.supplier, ...store, uses, reserved },
		asOf,
		{ service: asked ?? catalog.shop.service, holdingShare: catalog.shop.holdingShare }
	);
	return { parts, catalog, store };
}

/** What the stock was worth at a moment. */
export async function stockValue(db: Database, asOf: number): Promise<number> {
	const [store, uses] = await Promise.all([shelfStore(db), usesOf(db)]);
	return stockValueAt({ ...store, uses }, asOf);
}

export const shelfNow = async (db: Database, asOf: number, asked?: number): Promise<ShelfPart[]> =>
	(await shelfWith(db, asOf, asked)).parts;

/** The pieces of one part through time, with some uses. */
export function flowOfPart(
	{ lots, movements }: ShelfStore,
	sku: string,
	uses: readonly PartUsed[]
): ShelfFlow {
	const own = lots.filter((lot) => lot.sku === sku);
	const codes = new Set(own.map(({ code }) => code));
	return flowOf(
		own,
		movements.filter(({ lot }) => codes.has(lot)),
		uses
	);
}

/** The same with all its uses as they are stored. */
export const shelfOfPart = async (db: Queryable, store: ShelfStore, sku: string): Promise<ShelfFlow> =>
	flowOfPart(store, sku, (await usesOf(db, [sku])).get(sku) ?? []);
