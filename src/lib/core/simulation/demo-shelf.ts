import type { Catalog } from '../catalog/catalog';
import type { CatalogRecord, CatalogRecordOf } from '../catalog/kinds';
import { flowOf } from '../stock/shelf';
import type { Ticket } from '../tickets/ticket-record';
import { DAY_MS, formatInstant, type Instant } from '../units/instant';
import { fromMinor, toMinor } from '../units/money';
import { drawNormal, type Random } from '../units/random';
import { groupBy } from '../units/group-by';
import { sortedMap } from '../units/sorted-map';

/** How the demo shop keeps a part: ordered at so few, so many at a time, in so many days. */
interface Keeping {
	at: number;
	quantity: number;
	days: number;
}
const KEPT: Record<string, Keeping> = {
	'port-smd': { at: 22, quantity: 15, days: 12 },
	'port-controller-ic': { at: 5, quantity: 6, days: 12 },
	'charge-controller-ic': { at: 6, quantity: 6, days: 12 },
	'fuse-smd': { at: 4, quantity: 40, days: 4 },
	'capacitor-smd': { at: 4, quantity: 50, days: 4 },
	'filter-smd': { at: 5, quantity: 12, days: 12 },
	'battery-pack': { at: 10, quantity: 10, days: 12 }
};
/** The donor, and what it gives. */
const DONOR = { sku: 'donor-cable', gives: 'port-smd', bought: 10, unit: 5.8 };
/** Every so many lots of what the donor gives were harvested. */
const HARVESTED_EVERY = 4;

interface Use {
	ticket: Ticket;
	index: number;
	at: Instant;
}

/**
 * The demo shop's shelf: lots as they were ordered and came in while its tickets used them, donors taken apart, a count that found
 * something missing, and what is on its way at the end. Each use then stands on its ticket with its lot, at what that cost.
 */
export function stockShelf(
	random: Random,
	catalog: Catalog,
	tickets: readonly Ticket[],
	endsAt: Instant,
	large?: { sku: string; quantity: number; boughtBefore: number }
): CatalogRecord[] {
	const records: CatalogRecord[] = [];
	let [lots, orders] = [0, 0];
	const codeOf = { lot: () => number('l', ++lots), order: () => number('o', ++orders) };
	for (const [sku, uses] of usesBySku(tickets)) {
		const keeping = KEPT[sku];
		const first = uses[0];
		if (!keeping || !first) continue;
		const bargain = large?.sku === sku ? large : undefined;
		const buying = { sku, keeping, uses, endsAt, from: first.at - 20 * DAY_MS, bargain };
		const purchases = buyFor(random, buying, catalog, codeOf);
		records.push(...purchases);
		assign(purchases, uses);
	}
	return records;
}

const number = (letter: string, n: number) => `${letter}-${String(n).padStart(4, '0')}`;

function usesBySku(tickets: readonly Ticket[]): Map<string, Use[]> {
	const uses = tickets.flatMap((ticket) =>
		ticket.parts.map(({ sku, at }, index) => ({
			sku,
			use: { ticket, index, at: at ?? ticket.closedAt ?? ticket.openedAt }
		}))
	);
	uses.sort((a, b) => a.use.at - b.use.at);
	const bySku = groupBy(uses, ({ sku }) => sku);
	return sortedMap(new Map([...bySku].map(([sku, entries]) => [sku, entries.map(({ use }) => use)])));
}

interface Buying {
	sku: string;
	keeping: Keeping;
	uses: readonly Use[];
	from: Instant;
	endsAt: Instant;
	/** one lot larger than usual, the first that is bought in its last days */
	bargain?: { quantity: number; boughtBefore: number } | undefined;
}

/** Lots of one part as its uses ask for them, and the order that is open at the end. */
function buyFor(
	random: Random,
	{ sku, keeping, uses, from, endsAt, bargain }: Buying,
	catalog: Catalog,
	codeOf: { lot(): string; order(): string }
): CatalogRecord[] {
	const part = catalog.parts.get(sku);
	const supplier = part?.supplier;
	const records: CatalogRecord[] = [];
	let [position, bought, large] = [0, 0, 0];
	const buy = (at: Instant) => {
		bought += 1;
		const first = large === 0 && bargain !== undefined && at >= endsAt - bargain.boughtBefore * DAY_MS;
		const quantity = first ? bargain.quantity : keeping.quantity;
		if (first) large = bought;
		position += quantity;
		const arrivedAt = at + keeping.days * DAY_MS * Math.max(0.4, 1 + 0.25 * drawNormal(random));
		const unit = fromMinor(Math.round((part?.unitCostMinor ?? 0) * (1 + 0.06 * drawNormal(random))));
		const lot = {
			record: 'lot' as const,
			received_at: formatInstant(Math.round(arrivedAt)),
			unit_cost: unit
		};
		if (arrivedAt > endsAt) {
			const lines = [{ sku, quantity: keeping.quantity, unit_cost: unit }];
			const expected = formatInstant(at + keeping.days * DAY_MS);
			records.push({
				record: 'order',
				code: codeOf.order(),
				supplier: supplier ?? '',
				placed_at: formatInstant(at),
				expected_at: expected,
				lines
			});
		} else if (sku === DONOR.gives && bought % HARVESTED_EVERY === 0 && bought !== large) {
			records.push(...harvest(random, Math.round(arrivedAt), keeping.quantity, codeOf));
		} else
			records.push({
				...lot,
				code: codeOf.lot(),
				sku,
				quantity,
				...(part?.source ? { source: part.source } : {}),
				...(supplier ? { supplier } : {}),
				...(bought > 1 ? { ordered_at: formatInstant(at) } : {})
			});
	};
	buy(from);
	for (const { at } of uses) {
		position -= 1;
		if (position <= keeping.at) buy(at);
	}
	return records;
}

/** Donors in the place of new pieces: bought, taken apart, one or two of them in vain. */
function harvest(random: Random, at: Instant, pieces: number, codeOf: { lot(): string }): CatalogRecord[] {
	const donors = Math.max(pieces, DONOR.bought);
	const whole = Math.max(1, donors - 1 - Math.round(random()));
	const lot = codeOf.lot();
	const cost = toMinor(DONOR.unit) * donors;
	return [
		{
			record: 'lot',
			code: lot,
			sku: DONOR.sku,
			received_at: formatInstant(at - 2 * DAY_MS),
			quantity: donors + 3,
			unit_cost: DONOR.unit,
			source: 'donor',
			supplier: 'north-quay'
		},
		{ record: 'movement', lot, at: formatInstant(at), quantity: -donors, why: 'harvest', by: 'bram' },
		{
			record: 'lot',
			code: codeOf.lot(),
			sku: DONOR.gives,
			received_at: formatInstant(at),
			quantity: whole,
			unit_cost: fromMinor(Math.round(cost / whole)),
			source: 'donor',
			harvested_from: lot
		}
	];
}

/** Each use takes from the oldest lot, at what that cost. */
function assign(records: readonly CatalogRecord[], uses: readonly Use[]): void {
	const lots = records.flatMap((record) =>
		record.record === 'lot' && record.sku !== DONOR.sku ? [record] : []
	);
	const byCode = new Map<string, CatalogRecordOf<'lot'>>(lots.map((lot) => [lot.code, lot]));
	const keyOf = (i: number) => String(i).padStart(6, '0');
	const { taken: pieces } = flowOf(
		lots,
		[],
		uses.map(({ at, ticket, index }, i) => ({
			key: keyOf(i),
			at,
			quantity: ticket.parts[index]?.quantity ?? 1,
			lot: null
		}))
	);
	uses.forEach(({ ticket, index }, i) => {
		const lot = byCode.get(pieces.get(keyOf(i))?.[0]?.lot ?? '');
		const use = ticket.parts[index];
		if (use && lot) ticket.parts[index] = { ...use, lot: lot.code, unitCostMinor: toMinor(lot.unit_cost) };
	});
}
