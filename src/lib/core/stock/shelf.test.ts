import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import type { CatalogRecord, CatalogRecordOf } from '../catalog/kinds';
import { DAY_MS, formatInstant } from '../units/instant';
import { proposeOrders } from './proposals';
import { reservedOf } from './reserved';
import { openOrders, shelfAt, stockIsLow, type PartUsed, type ShelfPart, type ShelfRecords } from './shelf';

/** The shelf as it is shown: sums by hand over a small invented one. */

const NOW = Date.UTC(2026, 5, 1);
const day = (days: number) => NOW + days * DAY_MS;
const records: CatalogRecord[] = [
	{ record: 'supplier', code: 'quay', label: 'Quay', lead_days: 6, order_cost: 4, minimum: 30 },
	{ record: 'part', sku: 'port', label: 'Port', unit_cost: 4, supplier: 'quay', pack: 5 },
	{ record: 'part', sku: 'fuse', label: 'Fuse', unit_cost: 0.5, supplier: 'quay' },
	{ record: 'part', sku: 'odd', label: 'Odd', unit_cost: 1 },
	{ record: 'fault', code: 'port', label: 'Port' },
	{ record: 'fault', code: 'fuse', label: 'Fuse' },
	{
		record: 'operation',
		code: 'fit-port',
		label: 'Fit a port',
		minutes: 30,
		fixes: ['port'],
		parts: [{ sku: 'port', quantity: 2 }]
	},
	{
		record: 'operation',
		code: 'swap',
		label: 'Swap',
		minutes: 30,
		fixes: ['port', 'fuse'],
		parts: [{ sku: 'fuse', quantity: 1 }]
	}
];
const catalog = buildCatalog(records);
const lot = (
	code: string,
	days: number,
	quantity: number,
	more: Partial<CatalogRecordOf<'lot'>> = {}
): CatalogRecordOf<'lot'> => ({
	record: 'lot',
	code,
	sku: 'port',
	received_at: formatInstant(day(days)),
	quantity,
	unit_cost: 4,
	...more
});
const used = (ticket: number, days: number, quantity = 1, from: string | null = null): PartUsed => ({
	key: `${ticket}`,
	ticket,
	at: day(days),
	quantity,
	lot: from
});
const shelf = (more: Partial<ShelfRecords> = {}, at = NOW) =>
	shelfAt(
		{
			parts: catalog.parts,
			suppliers: catalog.records.supplier,
			lots: [],
			movements: [],
			orders: [],
			uses: new Map(),
			reserved: new Map(),
			...more
		},
		at,
		{ service: 0.95, holdingShare: 0.25 }
	);
const port = (more: Partial<ShelfRecords> = {}, at = NOW) =>
	shelf(more, at).find(({ sku }) => sku === 'port') as ShelfPart;

describe('a part on the shelf', () => {
	const lots = [lot('b', -10, 5, { unit_cost: 5 }), lot('a', -40, 4)];
	it('holds what came in, less what was used and moved, at what each lot cost', () => {
		const found = port({
			lots,
			movements: [{ record: 'movement', lot: 'b', at: formatInstant(day(-5)), quantity: -1, why: 'scrap' }],
			uses: new Map([['port', [used(1, -20, 3), used(2, -4, 2, 'b')]]])
		});
		expect(found).toMatchObject({ onHand: 3, short: 0, valueMinor: 400 + 2 * 500 });
		expect(found.lots.map((each) => [each.lot, each.onHand, each.unitMinor])).toEqual([
			['a', 1, 400],
			['b', 2, 500]
		]);
	});
	it('of an earlier day: what came later is not there yet', () => {
		const uses = new Map([['port', [used(1, -20, 3), used(2, -1, 1)]]]);
		expect(port({ lots, uses }, day(-15))).toMatchObject({ onHand: 1, valueMinor: 400 });
		expect(port({ lots, uses }, day(-50))).toMatchObject({ onHand: 0, reorderAt: null });
	});
	it('never used has no point; every part of the catalog and of the shelf is listed', () => {
		expect(port({ lots })).toMatchObject({ reorderAt: null, fill: null });
		const strange = lot('x', -3, 1, { sku: 'gone' });
		expect(shelf({ lots: [strange] }).map(({ sku, label }) => [sku, label])).toEqual([
			['fuse', 'Fuse'],
			['gone', 'gone'],
			['odd', 'Odd'],
			['port', 'Port']
		]);
	});
	it('uses of one ticket are one job', () => {
		const apart = new Map([['port', Array.from({ length: 20 }, (_, i) => used(i, -140 + 7 * i))]]);
		const together = new Map([
			[
				'port',
				Array.from({ length: 20 }, (_, i) => ({
					...used(Math.floor(i / 2), -140 + 14 * Math.floor(i / 2)),
					key: `${i}`
				}))
			]
		]);
		const [one, two] = [port({ uses: apart }), port({ uses: together })];
		expect(one.perWeek.mean).toBeGreaterThan(0.8);
		expect(Math.abs(two.perWeek.mean / one.perWeek.mean - 1)).toBeLessThan(0.25);
		// pairs need more on the shelf
		expect(two.perWeek.high - two.perWeek.low).toBeGreaterThan(one.perWeek.high - one.perWeek.low);
	});
	it('its way leans on its own lots and on others of its supplier', () => {
		const ordered = (code: string, sku: string, took: number) =>
			lot(code, -10, 1, { sku, supplier: 'quay', ordered_at: formatInstant(day(-10 - took)) });
		expect(port().lead).toMatchObject({ mean: 6, from: 0 });
		expect(port({ lots: [ordered('a', 'port', 12)] }).lead).toMatchObject({
			mean: (1.5 * 6 + 12) / 2.5,
			from: 1
		});
		expect(port({ lots: [ordered('a', 'fuse', 12)] }).lead.mean).toBeCloseTo((9 + 0.35 * 12) / 1.85, 12);
		// a part without a supplier leans on nobody's
		expect(shelf({ lots: [ordered('a', 'fuse', 12)] }).find(({ sku }) => sku === 'odd')?.lead.mean).toBe(10);
	});
	it('what is on order is what open orders still bring', () => {
		const order = (code: string, more: object): CatalogRecordOf<'order'> => ({
			record: 'order',
			code,
			supplier: 'quay',
			placed_at: formatInstant(day(-3)),
			lines: [{ sku: 'port', quantity: 10, received: 4 }],
			...more
		});
		const over = { lines: [{ sku: 'port', quantity: 2, received: 3 }] };
		const orders = [order('a', {}), order('b', { closed: true }), order('c', over)];
		expect([...openOrders(orders)]).toEqual([['port', 6]]);
		expect(port({ orders })).toMatchObject({ onOrder: 6 });
	});
});

describe('what accepted jobs still need', () => {
	const job = (more: object = {}) => ({ operations: [], faults: [], parts: [], ...more });
	it.each<[string, object, [string, number][]]>([
		['the agreed operations', { operations: ['fit-port'] }, [['port', 2]]],
		[
			'less what was used',
			{ operations: ['fit-port'], parts: [{ sku: 'port', quantity: 1 }] },
			[['port', 1]]
		],
		['more than that is no debt', { operations: ['fit-port'], parts: [{ sku: 'port', quantity: 5 }] }, []],
		[
			'of confirmed faults the first operation that mends each',
			{ faults: ['port', 'fuse'] },
			[
				['port', 2],
				['fuse', 1]
			]
		],
		['one operation for both once', { operations: ['swap'], faults: ['port', 'fuse'] }, [['fuse', 1]]],
		['nothing known: nothing', {}, []]
	])('%s', (_, more, needs) => expect([...reservedOf([job(more)], catalog)]).toEqual(needs));
	it('adds up over jobs', () =>
		expect(
			reservedOf([job({ operations: ['fit-port'] }), job({ operations: ['fit-port'] })], catalog).get('port')
		).toBe(4));
});

describe('what to order', () => {
	const part = (more: Partial<ShelfPart>): ShelfPart => ({
		...port(),
		onHand: 2,
		reserved: 0,
		onOrder: 0,
		reorderAt: 4,
		orderQuantity: 5,
		...more
	});
	it('what has fallen to its point, with reservations and orders counted', () => {
		expect(stockIsLow(part({ onHand: 4 }))).toBe(true);
		expect(stockIsLow(part({ onHand: 5 }))).toBe(false);
		expect(stockIsLow(part({ onHand: 5, reserved: 1 }))).toBe(true);
		expect(stockIsLow(part({ onHand: 0, onOrder: 5 }))).toBe(false);
		expect(stockIsLow(part({ reorderAt: null }))).toBe(false);
	});
	it('so many times the quantity as lift it over the point, by supplier, with what lacks to the least order', () => {
		const unit = (sku: string) => catalog.parts.get(sku)?.unitCostMinor ?? 0;
		const parts = [
			part({ onHand: 0, reserved: 3 }),
			part({ sku: 'fuse', label: 'Fuse', onHand: 4 }),
			part({ sku: 'odd', label: 'Odd', supplier: null }),
			part({ sku: 'full', onHand: 50 })
		];
		const [quay, nobody] = proposeOrders(parts, catalog.records.supplier, unit);
		// 4 + 1 - (0 - 3) = 8 missing: twice five
		expect(quay?.lines.map(({ sku, quantity }) => [sku, quantity])).toEqual([
			['port', 10],
			['fuse', 5]
		]);
		expect(quay).toMatchObject({ supplier: 'quay', totalMinor: 4250, underMinimumMinor: null });
		expect(nobody).toMatchObject({ supplier: null, underMinimumMinor: null });
		expect(proposeOrders(parts.slice(1, 2), catalog.records.supplier, unit)[0]).toMatchObject({
			totalMinor: 250,
			underMinimumMinor: 2750
		});
		expect(proposeOrders([part({ onHand: 50 })], catalog.records.supplier, unit)).toEqual([]);
	});
});
