import { inOneGo } from '../units/in-steps';
import { describe, expect, it } from 'vitest';
import { buildCatalog, fittingPart, operationPartsMinor } from '../catalog/catalog';
import type { CatalogRecord, CatalogRecordOf } from '../catalog/kinds';
import { DAY_MS, formatInstant } from '../units/instant';
import { proposeOrders } from './proposals';
import { reservedOf } from './reserved';
import { learntYields } from './harvest';
import { kitOf, kitSkus } from './kit';
import {
	isSlow,
	openOrders,
	shelfAt,
	stockIsLow,
	stockValueAt,
	type PartUsed,
	type ShelfPart,
	type ShelfRecords
} from './shelf';

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
	inOneGo(
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
		)
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
	const ordering = {
		suppliers: catalog.records.supplier,
		unitMinor: (sku: string) => catalog.parts.get(sku)?.unitCostMinor ?? 0,
		holdingShare: 0.25
	};
	it('what has fallen to its point, with reservations and orders counted', () => {
		expect(stockIsLow(part({ onHand: 4 }))).toBe(true);
		expect(stockIsLow(part({ onHand: 5 }))).toBe(false);
		expect(stockIsLow(part({ onHand: 5, reserved: 1 }))).toBe(true);
		expect(stockIsLow(part({ onHand: 0, onOrder: 5 }))).toBe(false);
		expect(stockIsLow(part({ reorderAt: null }))).toBe(false);
	});
	it('so many times the quantity as lift it over the point, by supplier, with what lacks to the least order', () => {
		const parts = [
			part({ onHand: 0, reserved: 3 }),
			part({ sku: 'fuse', label: 'Fuse', onHand: 4 }),
			part({ sku: 'odd', label: 'Odd', supplier: null }),
			part({ sku: 'full', onHand: 50, perWeek: { mean: 0, low: 0, high: 0, fromWeeks: 9 } })
		];
		const [quay, nobody] = proposeOrders(parts, ordering);
		// 4 + 1 - (0 - 3) = 8 missing: twice five
		expect(quay?.lines.map(({ sku, quantity }) => [sku, quantity])).toEqual([
			['port', 10],
			['fuse', 5]
		]);
		expect(quay).toMatchObject({ supplier: 'quay', totalMinor: 4250, underMinimumMinor: null });
		expect(nobody).toMatchObject({ supplier: null, underMinimumMinor: null });
		expect(proposeOrders(parts.slice(1, 2), ordering)[0]).toMatchObject({
			totalMinor: 250,
			underMinimumMinor: 2750
		});
		expect(proposeOrders([part({ onHand: 50 })], ordering)).toEqual([]);
	});
	const week = (mean: number) => ({ mean, low: mean, high: mean, fromWeeks: 50 });
	it('what is due soon goes along where holding it costs less than the order that it saves', () => {
		// five ports at 4.00 held for (9 - 4) / .5 = 10 weeks: 20 · .25 · 10 / 52 = .96, less than the 4.00 of an order
		const soon = part({ onHand: 9, perWeek: week(0.5) });
		const low = part({ sku: 'fuse', label: 'Fuse', onHand: 0, orderQuantity: 100 });
		const lines = (dear: ShelfPart) =>
			proposeOrders([low, dear], ordering)[0]?.lines.map(({ sku, earlyWeeks }) => [sku, earlyWeeks]);
		expect(lines(soon)).toEqual([
			['fuse', 0],
			['port', 10]
		]);
		// 100 weeks: 9.62; the fuses alone reach the minimum of 30.00
		expect(lines({ ...soon, perWeek: week(0.05) })).toEqual([['fuse', 0]]);
		// nothing has fallen to its point: no order for what is due soon alone
		expect(proposeOrders([soon], ordering)).toEqual([]);
	});
	it('under the least order what costs least to hold fills it up, and no more than that', () => {
		const low = part({ sku: 'fuse', label: 'Fuse', onHand: 0, orderQuantity: 10 });
		const near = part({ onHand: 9, perWeek: week(0.05) });
		const far = part({ label: 'Far', onHand: 99, perWeek: week(0.05) });
		const [order] = proposeOrders([low, far, near], ordering);
		// 5.00 of fuses, 20.00 of the near ports, 20.00 of the far ones
		expect(order?.lines.map(({ label }) => label)).toEqual(['Fuse', 'Port', 'Far']);
		expect(order).toMatchObject({ totalMinor: 4500, underMinimumMinor: null });
		expect(proposeOrders([low, near], ordering)[0]).toMatchObject({
			totalMinor: 2500,
			underMinimumMinor: 500
		});
	});
});

describe('slow stock', () => {
	const lots = [lot('a', -300, 4)];
	it('received and last used more than six months ago', () => {
		expect(isSlow(port({ lots }), NOW)).toBe(true);
		expect(isSlow(port({ lots: [lot('a', -181, 4)] }), NOW)).toBe(false);
		expect(isSlow(port({ lots, uses: new Map([['port', [used(1, -181)]]]) }), NOW)).toBe(false);
		expect(isSlow(port({ lots, uses: new Map([['port', [used(1, -183)]]]) }), NOW)).toBe(true);
		expect(isSlow(port({ lots, uses: new Map([['port', [used(1, -290, 4)]]]) }), NOW)).toBe(false);
	});
});

describe('the value at any day', () => {
	it('is that of the shelf, part by part', () => {
		const given = {
			lots: [
				lot('b', -10, 5, { unit_cost: 5 }),
				lot('a', -40, 4),
				lot('x', -30, 3, { sku: 'fuse', unit_cost: 0.5 })
			],
			movements: [
				{
					record: 'movement' as const,
					lot: 'b',
					at: formatInstant(day(-5)),
					quantity: -1,
					why: 'scrap' as const
				}
			],
			uses: new Map([['port', [used(1, -20, 3), used(2, -4, 2, 'b')]]])
		};
		for (const at of [day(-50), day(-25), day(-7), NOW]) {
			const whole = shelf(given, at).reduce((sum, { valueMinor }) => sum + valueMinor, 0);
			expect(stockValueAt(given, at)).toBe(whole);
		}
		expect(stockValueAt(given, NOW)).toBe(400 + 2 * 500 + 150);
	});
});

describe('what is charged and not counted', () => {
	const wire = { record: 'part', sku: 'wire', label: 'Wire', unit_cost: 0.2, consumable: true } as const;
	const known = buildCatalog([
		...records,
		wire,
		{
			record: 'operation',
			code: 'wire-up',
			label: 'Wire',
			minutes: 5,
			fixes: [],
			parts: [{ sku: 'wire', quantity: 3 }]
		}
	]);
	it('is on no shelf, in no reservation and never short', () => {
		const there = shelf({ parts: known.parts, uses: new Map([['wire', [used(1, -2, 3)]]]) });
		expect(there.map(({ sku }) => sku)).not.toContain('wire');
		expect(reservedOf([{ operations: ['wire-up'], faults: [], parts: [] }], known).size).toBe(0);
		expect(kitOf('wire-up', 'm', known, [])).toEqual([
			{
				sku: 'wire',
				label: 'Wire',
				quantity: 3,
				choices: [{ sku: 'wire', label: 'Wire', lot: null, source: null, onHand: null }]
			}
		]);
	});
});

describe('a kit', () => {
	const known = buildCatalog([
		...records,
		{
			record: 'part',
			sku: 'port-tall',
			label: 'Tall port',
			unit_cost: 6,
			source: 'aftermarket',
			stands_for: ['port']
		}
	]);
	const there = [
		{ lot: 'a', sku: 'port', onHand: 2, source: 'new' },
		{ lot: 'b', sku: 'port', onHand: 3, source: 'donor' },
		{ lot: 'c', sku: 'port', onHand: 1, source: 'new' },
		{ lot: 'd', sku: 'port-tall', onHand: 9, source: 'aftermarket' }
	];
	it('is taken from the oldest lot, from the oldest of another source, or from another part', () => {
		const [part] = kitOf('fit-port', 'm', known, there);
		expect(part).toMatchObject({ sku: 'port', quantity: 2 });
		expect(part?.choices.map(({ sku, lot: from, source, onHand }) => [sku, from, source, onHand])).toEqual([
			['port', null, 'new', 6],
			['port', 'b', 'donor', 3],
			['port-tall', null, 'aftermarket', 9]
		]);
		expect(kitOf('fit-port', 'm', known, [])[0]?.choices[0]?.onHand).toBe(0);
		expect(kitOf('gone', 'm', known, there)).toEqual([]);
		expect(kitSkus('fit-port', 'm', known)).toEqual(['port', 'port-tall']);
	});
	it('another part fitted in its place needs no reservation any more', () => {
		const job = { operations: ['fit-port'], faults: [], parts: [{ sku: 'port-tall', quantity: 2 }] };
		expect(reservedOf([job], known).size).toBe(0);
		expect([...reservedOf([{ ...job, parts: [{ sku: 'odd', quantity: 2 }] }], known)]).toEqual([['port', 2]]);
	});
});

describe('what donors give', () => {
	const yields = [{ sku: 'port', quantity: 1 }];
	it('leans on what is stated, and on those that were taken apart the more there were', () => {
		const harvest = (from: string, quantity: number) => ({ lot: from, quantity: -quantity, why: 'harvest' });
		const lots = [
			lot('d', -9, 50, { sku: 'cable' }),
			lot('e', -8, 50, { sku: 'other' }),
			lot('p', -7, 30, { harvested_from: 'd' }),
			lot('q', -7, 9, { harvested_from: 'e' })
		];
		const of = (movements: ReturnType<typeof harvest>[]) =>
			learntYields({ sku: 'cable', yields }, lots, movements)[0];
		expect(of([harvest('d', 40), harvest('e', 10), { lot: 'd', quantity: -3, why: 'scrap' }])).toEqual({
			sku: 'port',
			donors: 40,
			good: 30,
			perDonor: (30 + 5) / 45
		});
		expect(learntYields({ sku: 'cable', yields }, [], [])[0]).toMatchObject({ donors: 0, perDonor: 1 });
	});
});

describe('parts that are made for a model', () => {
	const part = (sku: string, unit_cost: number, more: object = {}): CatalogRecord => ({
		record: 'part',
		sku,
		label: sku,
		unit_cost,
		...more
	});
	const known = (...more: CatalogRecord[]) =>
		buildCatalog([
			...records.filter((record) => record.record !== 'part' || record.sku !== 'port'),
			part('port', 4),
			...more
		]);
	const shop = known(
		part('port-any', 5, { kind: 'port' }),
		part('port-m', 9, { kind: 'port', fits: ['m', 'n'] }),
		part('port-o', 7, { kind: 'port', fits: ['o'] })
	);
	it.each([
		['m', 'port-m'],
		['n', 'port-m'],
		['o', 'port-o'],
		['other', 'port']
	])('on %s: %s', (model, sku) => {
		expect(fittingPart(shop.parts, 'port', model)).toBe(sku);
		expect(kitOf('fit-port', model, shop, [])[0]).toMatchObject({ sku, quantity: 2 });
		expect(kitSkus('fit-port', model, shop)[0]).toBe(sku);
		const agreed = { operations: ['fit-port'], model, faults: [], parts: [] };
		expect([...reservedOf([agreed], shop)]).toEqual([[sku, 2]]);
	});
	it('what is named is left alone where it is made for others, or nobody says which model', () => {
		const only = buildCatalog([part('port', 4, { fits: ['o'] }), part('port-any', 5, { kind: 'port' })]);
		expect(fittingPart(only.parts, 'port', 'm')).toBe('port-any');
		expect(fittingPart(only.parts, 'port', 'o')).toBe('port');
		expect(fittingPart(shop.parts, 'port', undefined)).toBe('port');
		expect(fittingPart(shop.parts, 'gone', 'm')).toBe('gone');
	});
	it('costs what the part costs that is taken', () => {
		expect(operationPartsMinor(shop, 'fit-port', 'm')).toBe(1800);
		expect(operationPartsMinor(shop, 'fit-port', 'other')).toBe(800);
	});
});
