import type { Knex } from 'knex';
import { z } from 'zod';
import { MOVES, type Move } from '$lib/core/catalog/kinds-of-stock';
import { CATALOG_KINDS, type CatalogRecord, type CatalogRecordOf } from '$lib/core/catalog/kinds';
import { harvestedCosts } from '$lib/core/stock/harvest';
import { refuse, type Refusal } from '$lib/core/tickets/refusal';
import { codeSchema } from '$lib/core/units/code';
import { DAY_MS, formatInstant, parseInstant } from '$lib/core/units/instant';
import { fromMinor, toMinor, unreadAmount, type Minor } from '$lib/core/units/money';
import { recordAudit } from '../audit/commands';
import { putCatalogRecords } from '../catalog/commands';
import { catalogNow } from '../catalog/queries';
import { inTransaction, type Database } from '../database/connection';
import { holdCounter, readCounters } from '../database/counters';
import { shelfStore, shelfOfPart, type ShelfStore } from './queries';

export type ShelfAnswer = { ok: true; done: string } | { ok: false; refusal: Refusal };

/** Who does something on the shelf, and when. */
export interface ShelfActor {
	name: string;
	by: string;
	now: number;
}

const count = z.number({ error: unreadAmount }).max(1_000_000);
const pieces = count.positive();

export const receiveBody = z.strictObject({
	sku: codeSchema,
	quantity: pieces,
	/** hundredths a piece; without, what was agreed in the order, else what the part usually costs */
	unitMinor: z.int({ error: unreadAmount }).min(0).max(9_999_999_900).optional(),
	supplier: codeSchema.optional(),
	source: CATALOG_KINDS.lot.schema.shape.source,
	/** the order that it comes from, and its line */
	order: codeSchema.optional(),
	line: z.int().min(0).max(199).optional()
});

export const moveBody = z.strictObject({
	lot: codeSchema,
	/** pieces that lie there by counting; else pieces that leave */
	quantity: count.min(0),
	why: z.enum(MOVES).exclude(['harvest']),
	note: z.string().trim().max(500).optional()
});

export const harvestBody = z.strictObject({
	/** the donors' lot, and how many of them were taken apart */
	lot: codeSchema,
	donors: pieces,
	gave: z.array(z.strictObject({ sku: codeSchema, quantity: count.min(0) })).max(50)
});

export const orderBody = z.strictObject({
	supplier: codeSchema,
	lines: z
		.array(z.strictObject({ sku: codeSchema, quantity: pieces }))
		.min(1)
		.max(200)
});

interface Shelf {
	trx: Knex.Transaction;
	store: ShelfStore;
	catalog: Awaited<ReturnType<typeof catalogNow>>;
}

/** One command of the shelf: those of several people take turns; what it makes is written and noted, or nothing is. */
async function onShelf(
	db: Database,
	actor: ShelfActor,
	verb: string,
	key: string,
	work: (
		shelf: Shelf
	) =>
		| Promise<{ records: CatalogRecord[]; done: string } | Refusal>
		| { records: CatalogRecord[]; done: string }
		| Refusal
): Promise<ShelfAnswer> {
	return inTransaction(db, async (trx): Promise<ShelfAnswer> => {
		await holdCounter(trx, 'shelf');
		const counters = await readCounters(trx);
		const store = await shelfStore(trx, counters.shelf);
		const catalog = await catalogNow(trx, counters.catalog);
		const made = await work({ trx, store, catalog });
		if ('field' in made) return { ok: false, refusal: made };
		await putCatalogRecords(trx, made.records);
		await recordAudit(trx, {
			at: actor.now,
			actor: actor.name,
			subject: 'shelf',
			key,
			verb,
			detail: { records: made.records }
		});
		return { ok: true, done: made.done };
	});
}

const OWN_LOT = /^l-(\d{1,9})$/;
const OWN_ORDER = /^o-(\d{1,9})$/;
const following = (codes: readonly string[], pattern: RegExp, letter: string): ((n: number) => string) => {
	const highest = codes.reduce((maximum, code) => Math.max(maximum, Number(pattern.exec(code)?.[1] ?? 0)), 0);
	return (n) => `${letter}-${String(highest + n).padStart(4, '0')}`;
};
const lotCodes = ({ lots }: ShelfStore) =>
	following(
		lots.map(({ code }) => code),
		OWN_LOT,
		'l'
	);

/** Pieces come in: a lot of them, on the order that they were asked for with. */
/** @param alongside what happens with it, in the same transaction; what it says is added to what was done */
export const receiveLot = (
	db: Database,
	actor: ShelfActor,
	body: z.output<typeof receiveBody>,
	alongside: (trx: Knex.Transaction) => Promise<string> = () => Promise.resolve('')
) =>
	onShelf(db, actor, 'receive', body.sku, async ({ trx, store, catalog }) => {
		const { sku, quantity, unitMinor, supplier, source, order, line } = body;
		const part = catalog.parts.get(sku);
		if (!part) return refuse('sku', `is ${sku}, which the catalog does not hold; add the part first`);
		if (supplier !== undefined && !catalog.records.supplier.has(supplier))
			return refuse('supplier', `is ${supplier}, which the catalog does not hold; add it under Settings`);
		const from = order === undefined ? null : (store.orders.find(({ code }) => code === order) ?? null);
		if (order !== undefined && (!from || from.lines[line ?? -1]?.sku !== sku || from.closed))
			return refuse('order', `is ${order}; it does not wait for ${sku}. Reload to see how it stands`);
		const agreed = from?.lines[line ?? -1]?.unit_cost;
		const usualMinor = agreed === undefined ? part.unitCostMinor : toMinor(agreed);
		const supplierCode = supplier ?? from?.supplier ?? part.supplier;
		const lot: CatalogRecordOf<'lot'> = {
			record: 'lot',
			code: lotCodes(store)(1),
			sku,
			received_at: formatInstant(actor.now),
			quantity,
			unit_cost: fromMinor(unitMinor ?? usualMinor),
			...(source ? { source } : {}),
			...(supplierCode ? { supplier: supplierCode } : {}),
			...(from ? { ordered_at: from.placed_at } : {})
		};
		const records: CatalogRecord[] = [lot, ...(from ? [withReceived(from, line as number, quantity)] : [])];
		const extra = await alongside(trx);
		return { records, done: `${lot.code}: ${quantity} × ${part.label}${extra && `; ${extra}`}` };
	});

/** An order after pieces of a line came in; closed when all of it did. */
function withReceived(
	order: CatalogRecordOf<'order'>,
	line: number,
	quantity: number
): CatalogRecordOf<'order'> {
	const lines = order.lines.map((each, i) =>
		i === line ? { ...each, received: (each.received ?? 0) + quantity } : each
	);
	const all = lines.every(({ quantity: ordered, received = 0 }) => received >= ordered);
	return { ...order, lines, ...(all ? { closed: true } : {}) };
}

/** A lot is counted, or pieces of it leave otherwise than by use. */
export const moveLot = (db: Database, actor: ShelfActor, body: z.output<typeof moveBody>) =>
	onShelf(db, actor, body.why, body.lot, async ({ trx, store, catalog }) => {
		const found = await lotOnHand(trx, store, body.lot);
		if ('field' in found) return found;
		const { lot, onHand } = found;
		const label = catalog.parts.get(lot.sku)?.label ?? lot.sku;
		const change = signedChange(body.why, body.quantity, onHand);
		if (change === 0) return refuse('quantity', `is ${body.quantity}; that changes nothing on ${lot.code}`);
		if (onHand + change < 0)
			return refuse('quantity', `is ${body.quantity}; ${lot.code} holds ${onHand}. Count it first`);
		const movement: CatalogRecordOf<'movement'> = {
			record: 'movement',
			lot: lot.code,
			at: formatInstant(freeMoment(store, lot.code, body.why, actor.now)),
			quantity: change,
			why: body.why,
			...(body.note ? { note: body.note } : {}),
			by: actor.by
		};
		return { records: [movement], done: `${label}: ${onHand + change} in ${lot.code}` };
	});

const signedChange = (reason: Move, quantity: number, onHand: number) =>
	Number((reason === 'count' ? quantity - onHand : -quantity).toFixed(6));

/** A movement is known by its lot, moment and reason: two of one instant are told apart by a millisecond. */
function freeMoment({ movements }: ShelfStore, lot: string, reason: Move, now: number): number {
	const usedSkus = new Set(
		movements.flatMap((one) => (one.lot === lot && one.why === reason ? [parseInstant(one.at)] : []))
	);
	let at = now;
	while (usedSkus.has(at)) at++;
	return at;
}

async function lotOnHand(
	trx: Knex.Transaction,
	store: ShelfStore,
	code: string
): Promise<{ lot: CatalogRecordOf<'lot'>; onHand: number } | Refusal> {
	const lot = store.lots.find((one) => one.code === code);
	if (!lot) return refuse('lot', `is ${code}; there is no such lot. Scan its label again`);
	return { lot, onHand: (await shelfOfPart(trx, store, lot.sku)).onHand.get(code) ?? 0 };
}

/** Donors are taken apart: they leave, and a lot of what each gave comes in with its share of their cost. */
export const harvestLot = (db: Database, actor: ShelfActor, body: z.output<typeof harvestBody>) =>
	onShelf(db, actor, 'harvest', body.lot, async ({ trx, store, catalog }) => {
		const found = await lotOnHand(trx, store, body.lot);
		if ('field' in found) return found;
		const { lot, onHand } = found;
		const donor = catalog.parts.get(lot.sku);
		const yields = donor?.yields ?? [];
		if (yields.length === 0)
			return refuse(
				'lot',
				`is ${lot.code} of ${lot.sku}, which gives nothing; say under Settings what it yields`
			);
		if (body.donors > onHand)
			return refuse('donors', `is ${body.donors}; ${lot.code} holds ${onHand}. Count it first`);
		const strange = body.gave.find(({ sku }) => !yields.some((one) => one.sku === sku));
		if (strange) return refuse('gave', `names ${strange.sku}, which ${lot.sku} does not give`);
		const costs = harvestedCosts(Math.round(toMinor(lot.unit_cost) * body.donors), yields, body.gave);
		const codeOf = lotCodes(store);
		const harvested = body.gave.filter(({ quantity }) => quantity > 0);
		const records: CatalogRecord[] = [
			{
				record: 'movement',
				lot: lot.code,
				at: formatInstant(freeMoment(store, lot.code, 'harvest', actor.now)),
				quantity: -body.donors,
				why: 'harvest',
				by: actor.by
			},
			...harvested.map(({ sku, quantity }, i): CatalogRecordOf<'lot'> => ({
				record: 'lot',
				code: codeOf(i + 1),
				sku,
				received_at: formatInstant(actor.now),
				quantity,
				unit_cost: fromMinor(costs.get(sku) as Minor),
				source: 'donor',
				harvested_from: lot.code
			}))
		];
		const words = harvested.map(
			({ sku, quantity }) => `${quantity} × ${catalog.parts.get(sku)?.label ?? sku}`
		);
		return {
			records,
			done: `${body.donors} × ${donor?.label ?? lot.sku} gave ${words.length > 0 ? words.join(', ') : 'nothing'}`
		};
	});

/** Parts are asked for. */
export const placeOrder = (db: Database, actor: ShelfActor, body: z.output<typeof orderBody>) =>
	onShelf(db, actor, 'order', body.supplier, ({ store, catalog }) => {
		const supplier = catalog.records.supplier.get(body.supplier);
		if (!supplier) return refuse('supplier', `is ${body.supplier}, which the catalog does not hold`);
		const unknown = body.lines.find(({ sku }) => !catalog.parts.has(sku));
		if (unknown) return refuse('lines', `name ${unknown.sku}, which the catalog does not hold`);
		const codeOf = following(
			store.orders.map(({ code }) => code),
			OWN_ORDER,
			'o'
		);
		const order: CatalogRecordOf<'order'> = {
			record: 'order',
			code: codeOf(1),
			supplier: supplier.code,
			placed_at: formatInstant(actor.now),
			...(supplier.lead_days === undefined
				? {}
				: { expected_at: formatInstant(actor.now + Math.round(supplier.lead_days * DAY_MS)) }),
			lines: body.lines.map(({ sku, quantity }) => ({
				sku,
				quantity,
				unit_cost: fromMinor(catalog.parts.get(sku)?.unitCostMinor ?? 0)
			}))
		};
		return { records: [order], done: `${order.code} to ${supplier.label}` };
	});

/** What has not come of an order is waited for no longer. */
export const closeOrder = (db: Database, actor: ShelfActor, code: string) =>
	onShelf(db, actor, 'close order', code, ({ store }) => {
		const order = store.orders.find((one) => one.code === code);
		if (!order || order.closed)
			return refuse('order', `is ${code}; it is not open. Reload to see how it stands`);
		return { records: [{ ...order, closed: true }], done: `${code} is closed` };
	});
