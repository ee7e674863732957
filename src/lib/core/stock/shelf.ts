import type { CatalogRecordOf } from '../catalog/kinds';
import type { Part } from '../catalog/catalog';
import { DAY_MS, parseInstant, type Instant } from '../units/instant';
import { toMinor, type Minor } from '../units/money';
import { demandOf, piecesPerWeek, type Asked } from './demand';
import { leadTimeOf, type LeadTime } from './lead-time';
import { orderQuantity } from './order-quantity';
import { reorderPoint } from './reorder-point';
import { followShelf, type ShelfFlow, type Used } from './shelf-flow';
import { groupBy } from '../units/group-by';
import { mapInSteps } from '../units/in-steps';

/** What lies on the shelf, as it was recorded. */
export interface ShelfRecords {
	parts: ReadonlyMap<string, Part>;
	suppliers: ReadonlyMap<string, CatalogRecordOf<'supplier'>>;
	lots: readonly CatalogRecordOf<'lot'>[];
	movements: readonly CatalogRecordOf<'movement'>[];
	orders: readonly CatalogRecordOf<'order'>[];
	/** uses by part; of one ticket they are one job */
	uses: ReadonlyMap<string, readonly PartUsed[]>;
	/** pieces that accepted jobs still need, by part */
	reserved: ReadonlyMap<string, number>;
}

/** Pieces that a ticket used at a moment. */
export interface PartUsed extends Used {
	ticket: number;
}

interface LotOnHand {
	lot: string;
	onHand: number;
	unitMinor: Minor;
	receivedAt: Instant;
	source: string | null;
	supplier: string | null;
}

/** One part of the shelf: what is there, what is asked for, and when to order how much. */
export interface ShelfPart {
	sku: string;
	label: string;
	source: string | null;
	supplier: string | null;
	onHand: number;
	reserved: number;
	onOrder: number;
	/** used without being on the shelf, and when that happened last */
	short: number;
	shortAt: Instant | null;
	valueMinor: number;
	perWeek: { mean: number; low: number; high: number; fromWeeks: number };
	lead: LeadTime;
	/** null where it was never used */
	reorderAt: number | null;
	orderQuantity: number;
	fill: number | null;
	/** when it was asked for last; null where it never was */
	lastUsedAt: Instant | null;
	lots: LotOnHand[];
}

/** Stock that nobody asked for in so long ties up money. Half a year; a choice. */
const SLOW_MS = 182 * DAY_MS;

/** Whether what lies there has come in and was not asked for since long. */
export const isSlow = ({ valueMinor, lastUsedAt, lots }: ShelfPart, now: Instant): boolean =>
	valueMinor > 0 &&
	Math.max(lastUsedAt ?? -Infinity, ...lots.map(({ receivedAt }) => receivedAt)) < now - SLOW_MS;

/** Something was used that no lot held, not long ago: the shelf is not as it was written down. Three weeks; a choice. */
const LATELY_MS = 21 * DAY_MS;
export const ranShortLately = ({ shortAt }: Pick<ShelfPart, 'shortAt'>, now: Instant): boolean =>
	shortAt !== null && now - shortAt < LATELY_MS;

/** What all pieces are worth, and what of it nobody asks for, hundredths. */
export const shelfValue = (parts: readonly ShelfPart[], now: Instant) => ({
	valueMinor: parts.reduce((sum, { valueMinor }) => sum + valueMinor, 0),
	slowMinor: parts.reduce((sum, part) => sum + (isSlow(part, now) ? part.valueMinor : 0), 0)
});

export const stockIsLow = ({ onHand, reserved, onOrder, reorderAt }: ShelfPart): boolean =>
	reorderAt !== null && onHand - reserved + onOrder <= reorderAt;

const WEEK_MS = 7 * DAY_MS;

/**
 * The shelf at a moment, part by part: what came later is not there yet; orders and reservations are as they stand now.
 * @param service share of pieces that must be there at once
 * @param remembered what was worked out of a part before, where it may be used again; reservations and orders are as they stand now
 */
export function* shelfAt(
	records: ShelfRecords,
	asOf: Instant,
	{ service, holdingShare }: { service: number; holdingShare: number },
	remembered: (sku: string, work: () => ShelfPart) => ShelfPart = (_, work) => work()
): Generator<void, ShelfPart[]> {
	const { lots, moves } = recordedBy(records, asOf);
	const onOrder = openOrders(records.orders);
	const waits = leadDays(records.lots, asOf);
	const skus = new Set([...records.parts.keys(), ...lots.keys(), ...records.uses.keys()]);
	const counted = [...skus].filter((sku) => !records.parts.get(sku)?.consumable);
	const work = (sku: string): ShelfPart => {
		const part = records.parts.get(sku);
		const uses = (records.uses.get(sku) ?? []).filter(({ at }) => at <= asOf);
		const partLots = lots.get(sku) ?? [];
		const moved = partLots.flatMap(({ code }) => moves.get(code) ?? []);
		const { onHand, short, shortAt } = flowOf(partLots, moved, uses);
		const there = partLots
			.map((lot): LotOnHand => ({
				lot: lot.code,
				onHand: onHand.get(lot.code) ?? 0,
				unitMinor: toMinor(lot.unit_cost),
				receivedAt: parseInstant(lot.received_at),
				source: lot.source ?? part?.source ?? null,
				supplier: lot.supplier ?? null
			}))
			.filter((lot) => lot.onHand > 0)
			.sort((a, b) => a.receivedAt - b.receivedAt || (a.lot < b.lot ? -1 : 1));
		const supplier = records.suppliers.get(part?.supplier ?? '') ?? null;
		return {
			sku,
			label: part?.label ?? sku,
			source: part?.source ?? null,
			supplier: supplier?.code ?? null,
			onHand: tidy(there.reduce((sum, lot) => sum + lot.onHand, 0)),
			reserved: records.reserved.get(sku) ?? 0,
			onOrder: tidy(onOrder.get(sku) ?? 0),
			short,
			shortAt,
			valueMinor: Math.round(there.reduce((sum, lot) => sum + lot.onHand * lot.unitMinor, 0)),
			lastUsedAt: uses.length > 0 ? uses.reduce((last, { at }) => Math.max(last, at), -Infinity) : null,
			...ordering({ uses, own: partLots, part, supplier, waits, holdingShare }, asOf, service),
			lots: there
		};
	};
	return yield* mapInSteps(counted.sort(), (sku) => ({
		...remembered(sku, () => work(sku)),
		reserved: records.reserved.get(sku) ?? 0,
		onOrder: tidy(onOrder.get(sku) ?? 0)
	}));
}

/** Lots by part that had come in by a moment, and what had changed them by then. */
const recordedBy = ({ lots, movements }: Pick<ShelfRecords, 'lots' | 'movements'>, asOf: Instant) => ({
	lots: groupBy(
		lots.filter(({ received_at }) => parseInstant(received_at) <= asOf),
		({ sku }) => sku
	),
	moves: groupBy(
		movements.filter(({ at }) => parseInstant(at) <= asOf),
		({ lot }) => lot
	)
});

/**
 * What the pieces on the shelf cost, at a moment: each lot at its own cost, the oldest used first.
 * @returns hundredths, rounded once a part
 */
export function stockValueAt(
	{ lots, movements, uses }: Pick<ShelfRecords, 'lots' | 'movements' | 'uses'>,
	asOf: Instant
): number {
	const { lots: bySku, moves } = recordedBy({ lots, movements }, asOf);
	let value = 0;
	for (const [sku, partUses] of bySku) {
		const moved = partUses.flatMap(({ code }) => moves.get(code) ?? []);
		const { onHand } = flowOf(
			partUses,
			moved,
			(uses.get(sku) ?? []).filter(({ at }) => at <= asOf)
		);
		value += Math.round(
			partUses.reduce((sum, { code, unit_cost }) => sum + (onHand.get(code) ?? 0) * toMinor(unit_cost), 0)
		);
	}
	return value;
}

/** The pieces of one part through time, by what was recorded of its lots. */
export const flowOf = (
	lots: readonly CatalogRecordOf<'lot'>[],
	movements: readonly CatalogRecordOf<'movement'>[],
	uses: readonly Used[]
): ShelfFlow =>
	followShelf(
		lots.map(({ code, received_at, quantity }) => ({
			lot: code,
			receivedAt: parseInstant(received_at),
			quantity
		})),
		movements.map(({ lot, at, quantity }) => ({ lot, at: parseInstant(at), quantity })),
		uses
	);

/** Sums of pieces to the six digits that the record keeps. */
const tidy = (quantity: number) => Number(quantity.toFixed(6));

interface Asking {
	uses: readonly PartUsed[];
	own: readonly CatalogRecordOf<'lot'>[];
	part: Part | undefined;
	supplier: CatalogRecordOf<'supplier'> | null;
	waits: readonly { sku: string; supplier: string | null; days: number }[];
	/** a year's cost of holding a piece over what it cost */
	holdingShare: number;
}

/** Demand, way, quantity and point of one part. */
function ordering(
	{ uses, own: partUses, part, supplier, waits, holdingShare }: Asking,
	asOf: Instant,
	service: number
) {
	const sku = part?.sku;
	const moments = [
		...uses.map(({ at }) => at),
		...partUses.map(({ received_at }) => parseInstant(received_at))
	];
	const since = moments.reduce((first, at) => Math.min(first, at), asOf);
	const demand = demandOf(jobsOf(uses, since), 0, (asOf - since) / WEEK_MS);
	const perWeek = { ...piecesPerWeek(demand), fromWeeks: demand.fromWeeks };
	const lead = leadTimeOf(
		waits.filter((wait) => wait.sku === sku).map(({ days }) => days),
		waits
			.filter((wait) => supplier !== null && wait.supplier === supplier.code && wait.sku !== sku)
			.map(({ days }) => days),
		supplier?.lead_days
	);
	const quantity = orderQuantity({
		perYear: perWeek.mean * 52,
		orderMinor: toMinor(supplier?.order_cost ?? 0),
		holdingMinor: holdingShare * (part?.unitCostMinor ?? 0),
		pack: part?.pack ?? 1
	});
	const point = uses.length === 0 ? null : reorderPoint(demand, lead, quantity, service);
	return {
		perWeek,
		lead,
		orderQuantity: quantity,
		reorderAt: point?.reorderAt ?? null,
		fill: point?.fill ?? null
	};
}

/** Uses of one ticket are one job, at the first of their moments. */
function jobsOf(uses: readonly PartUsed[], since: Instant): Asked[] {
	const jobs = new Map<number, Asked>();
	for (const { ticket, at, quantity } of uses) {
		const week = (at - since) / WEEK_MS;
		const job = jobs.get(ticket);
		if (!job) jobs.set(ticket, { week, quantity });
		else jobs.set(ticket, { week: Math.min(job.week, week), quantity: job.quantity + quantity });
	}
	return [...jobs.values()];
}

/** How long lots took that say when they were ordered. */
function leadDays(lots: readonly CatalogRecordOf<'lot'>[], asOf: Instant): Asking['waits'] {
	return lots.flatMap(({ sku, supplier, ordered_at, received_at }) => {
		const received = parseInstant(received_at);
		if (ordered_at === undefined || received > asOf) return [];
		const days = (received - parseInstant(ordered_at)) / DAY_MS;
		return days < 0 ? [] : [{ sku, supplier: supplier ?? null, days }];
	});
}

/** Pieces that are still to come, by part. */
export function openOrders(orders: readonly CatalogRecordOf<'order'>[]): Map<string, number> {
	const open = new Map<string, number>();
	for (const { closed, lines } of orders) {
		if (closed) continue;
		for (const { sku, quantity, received = 0 } of lines)
			open.set(sku, (open.get(sku) ?? 0) + Math.max(0, quantity - received));
	}
	return open;
}
