import { SHELF_KINDS, type CatalogRecord, type CatalogRecordOf } from '$lib/core/catalog/kinds';
import { followShelf, type ShelfFlow } from '$lib/core/stock/shelf-flow';
import { shelfAt, type PartUsed, type ShelfPart } from '$lib/core/stock/shelf';
import { parseInstant } from '$lib/core/units/instant';
import { catalogNow } from '../catalog/queries';
import type { Database, Queryable } from '../database/connection';
import { readCounters } from '../database/counters';
import { asJson } from '../database/json';
import { reservedParts } from './reserved';

/** Lots, movements and orders, in the order of entry. */
export interface ShelfStore {
	lots: CatalogRecordOf<'lot'>[];
	movements: CatalogRecordOf<'movement'>[];
	orders: CatalogRecordOf<'order'>[];
}

/** What lies on the shelf as it was last read, by the counter that it was read at. A copy that saves reading. */
const last = new Map<string, { version: number; store: ShelfStore }>();

export async function shelfStore(db: Queryable, version?: number): Promise<ShelfStore> {
	const { host, port, database } = db.client.config.connection as Record<string, string>;
	const shop = `${host}:${port}/${database}`;
	const now = version ?? (await readCounters(db)).shelf;
	const known = last.get(shop);
	if (known?.version === now) return known.store;
	const store = await readShelfStore(db);
	last.set(shop, { version: now, store });
	return store;
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

type UseRow = [ticket: number, n: number, sku: string, quantity: number, lot: string | null, at: Date];

/** Uses by part, of some parts or of all. */
export async function usesOf(db: Queryable, skus?: readonly string[]): Promise<Map<string, PartUsed[]>> {
	const query = db('part_uses').select('ticket_id', 'n', 'sku', 'quantity', 'lot', 'used_at');
	if (skus) query.whereIn('sku', skus);
	// half the time of rows as objects
	const rows = (await query.options({ rowsAsArray: true })) as unknown as UseRow[];
	const uses = new Map<string, PartUsed[]>();
	for (const [ticket, n, sku, quantity, lot, at] of rows) {
		const used = { key: useKey(ticket, n), ticket, at: at.getTime(), quantity, lot };
		const of = uses.get(sku);
		if (of) of.push(used);
		else uses.set(sku, [used]);
	}
	return uses;
}

/** Tells uses apart, in the order of entry. */
export const useKey = (ticket: number, n: number) =>
	`${String(ticket).padStart(12, '0')} ${String(n).padStart(5, '0')}`;

/**
 * The shelf as it is at a moment.
 * @param asked share of pieces that must be there at once; the shop's without
 */
export async function shelfNow(db: Database, asOf: number, asked?: number): Promise<ShelfPart[]> {
	const counters = await readCounters(db);
	const [catalog, store, uses] = await Promise.all([
		catalogNow(db, counters.catalog),
		shelfStore(db, counters.shelf),
		usesOf(db)
	]);
	const reserved = await reservedParts(db, catalog);
	return shelfAt(
		{ parts: catalog.parts, suppliers: catalog.records.supplier, ...store, uses, reserved },
		asOf,
		{ service: asked ?? catalog.shop.service, holdingShare: catalog.shop.holdingShare }
	);
}

/** The pieces of one part through time, with some uses. */
export function flowOf({ lots, movements }: ShelfStore, sku: string, uses: readonly PartUsed[]): ShelfFlow {
	const own = lots.filter((lot) => lot.sku === sku);
	const codes = new Set(own.map(({ code }) => code));
	return followShelf(
		own.map(({ code, received_at, quantity }) => ({
			lot: code,
			receivedAt: parseInstant(received_at),
			quantity
		})),
		movements
			.filter(({ lot }) => codes.has(lot))
			.map(({ lot, at, quantity }) => ({ lot, at: parseInstant(at), quantity })),
		uses
	);
}

/** The same with all its uses as they are stored. */
export const shelfOfPart = async (db: Queryable, store: ShelfStore, sku: string): Promise<ShelfFlow> =>
	flowOf(store, sku, (await usesOf(db, [sku])).get(sku) ?? []);
