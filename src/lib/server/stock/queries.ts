import { SHELF_KINDS, type CatalogRecordOf } from '$lib/core/catalog/kinds';
import type { ShelfFlow } from '$lib/core/stock/shelf-flow';
import { flowOf, shelfAt, stockValueAt, type PartUsed, type ShelfPart } from '$lib/core/stock/shelf';
import { kitOf, kitSkus, type KitPart } from '$lib/core/stock/kit';
import { catalogNow } from '../catalog/queries';
import type { Catalog } from '$lib/core/catalog/catalog';
import { HOUR_MS } from '$lib/core/units/instant';
import type { Database, Queryable } from '../database/connection';
import { byCounter } from '../database/by-counter';
import { readCounters } from '../database/counters';
import { inTurns } from '../database/in-turns';
import { asJson } from '../database/json';
import { reservedParts } from './reserved';
import { usesOf } from './uses';
import { usesNow } from './uses-memory';

/** Lots, movements and orders, in the order of entry. */
export interface ShelfStore {
	lots: CatalogRecordOf<'lot'>[];
	movements: CatalogRecordOf<'movement'>[];
	orders: CatalogRecordOf<'order'>[];
}

/** Read from the database whatever was read before: what a transaction wrote itself is not to be remembered. */
export async function readShelfStore(db: Queryable): Promise<ShelfStore> {
	const rows = await db('catalog').whereIn('kind', SHELF_KINDS).orderBy('id').select('record');
	const store: ShelfStore = { lots: [], movements: [], orders: [] };
	for (const row of rows) {
		const record = asJson(row.record);
		if (record.record === 'lot') store.lots.push(record);
		else if (record.record === 'movement') store.movements.push(record);
		else if (record.record === 'order') store.orders.push(record);
	}
	return store;
}

/** The same, read only where it has changed. */
export const shelfStore = byCounter('shelf', readShelfStore);

/**
 * The shelf as it is at a moment, with what it was worked out from.
 * @param asAt share of pieces that must be there at once; the shop's without
 */
export async function shelfWith(db: Database, asOf: number, asAt?: number, remembered?: Remembering) {
	const counters = await readCounters(db);
	const [catalog, store, uses] = await Promise.all([
		catalogNow(db, counters.catalog),
		shelfStore(db, counters.shelf),
		usesNow(db)
	]);
	const reserved = await reservedParts(db, catalog);
	const records = { parts: catalog.parts, suppliers: catalog.records.supplier, ...store, uses, reserved };
	const policy = { service: asAt ?? catalog.shop.service, holdingShare: catalog.shop.holdingShare };
	// with many parts it takes most of a second: others are heard between two of them
	const parts = await inTurns(shelfAt(records, asOf, policy, remembered?.({ catalog, store, uses })));
	return { parts, catalog, store };
}

type From = { catalog: Catalog; store: ShelfStore; uses: ReadonlyMap<string, readonly PartUsed[]> };
type Remembering = (from: From) => Parameters<typeof shelfAt>[3];

interface Worked {
	hour: number;
	catalog: Catalog;
	store: ShelfStore;
	uses: readonly PartUsed[] | undefined;
	part: ShelfPart;
}
const workedShelves = new WeakMap<Database, Map<string, Worked>>();

/**
 * The shelf at the end of this hour: what is worked out of a part is used again until the hour is over or something of it changes.
 */
export function shelfThisHour(db: Database, now: number) {
	const hour = Math.ceil(now / HOUR_MS);
	const cached = workedShelves.get(db) ?? new Map<string, Worked>();
	workedShelves.set(db, cached);
	return shelfWith(db, hour * HOUR_MS, undefined, ({ catalog, store, uses }) => (sku, work) => {
		const partUses = uses.get(sku);
		const last = cached.get(sku);
		const isSame =
			last?.hour === hour && last.catalog === catalog && last.store === store && last.uses === partUses;
		if (isSame) return last.part;
		const part = work();
		cached.set(sku, { hour, catalog, store, uses: partUses, part });
		return part;
	});
}

/** What the stock was worth at a moment. */
export async function stockValue(db: Database, asOf: number): Promise<number> {
	const [store, uses] = await Promise.all([shelfStore(db), usesNow(db)]);
	return stockValueAt({ ...store, uses }, asOf);
}

/** The kit of an operation on a model with what is there to take it from. */
export async function kitThere(
	db: Database,
	operation: string,
	model: string | undefined
): Promise<KitPart[]> {
	const counters = await readCounters(db);
	const [catalog, store] = await Promise.all([
		catalogNow(db, counters.catalog),
		shelfStore(db, counters.shelf)
	]);
	const skus = kitSkus(operation, model, catalog);
	if (skus.length === 0) return [];
	const there = await Promise.all(skus.map((sku) => piecesThere(db, store, sku)));
	const lots = skus.flatMap((sku, i) => {
		const onHand = there[i] as ShelfFlow['onHand'];
		return store.lots
			.filter((lot) => lot.sku === sku && (onHand.get(lot.code) ?? 0) > 0)
			.sort((a, b) => Date.parse(a.received_at) - Date.parse(b.received_at) || (a.code < b.code ? -1 : 1))
			.map(({ code, source }) => ({
				lot: code,
				sku,
				onHand: onHand.get(code) as number,
				source: source ?? catalog.parts.get(sku)?.source ?? null
			}));
	});
	return kitOf(operation, model, catalog, lots);
}

const flows = new WeakMap<readonly PartUsed[], { store: ShelfStore; flow: ShelfFlow }>();

/** Pieces of each lot of a part that are there, as far as is known in memory: worked out anew only where something of it changed. */
export async function piecesThere(
	db: Database,
	store: ShelfStore,
	sku: string
): Promise<ShelfFlow['onHand']> {
	const uses = (await usesNow(db)).get(sku);
	if (!uses) return flowOfPart(store, sku, []).onHand;
	const cached = flows.get(uses);
	if (cached?.store === store) return cached.flow.onHand;
	const flow = flowOfPart(store, sku, uses);
	flows.set(uses, { store, flow });
	return flow.onHand;
}

/** The part that a lot is of, by its code as typed or scanned; null where there is no such lot. */
export async function skuOfLot(db: Database, typed: string): Promise<{ lot: string; sku: string } | null> {
	const code = typed.trim().toLowerCase();
	const lot = (await shelfStore(db)).lots.find((one) => one.code.toLowerCase() === code);
	return lot ? { lot: lot.code, sku: lot.sku } : null;
}

export const shelfNow = async (db: Database, asOf: number, asked?: number): Promise<ShelfPart[]> =>
	(await shelfWith(db, asOf, asked)).parts;

/** The pieces of one part through time, with some uses. */
export function flowOfPart(
	{ lots, movements }: ShelfStore,
	sku: string,
	uses: readonly PartUsed[]
): ShelfFlow {
	const partLots = lots.filter((lot) => lot.sku === sku);
	const codes = new Set(partLots.map(({ code }) => code));
	return flowOf(
		partLots,
		movements.filter(({ lot }) => codes.has(lot)),
		uses
	);
}

/** The same with all its uses as they are stored. */
export const shelfOfPart = async (db: Queryable, store: ShelfStore, sku: string): Promise<ShelfFlow> =>
	flowOfPart(store, sku, (await usesOf(db, [sku])).get(sku) ?? []);
