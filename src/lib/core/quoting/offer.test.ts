import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import type { CatalogRecord } from '../catalog/kinds';
import { engineOf } from '../diagnosis/engine';
import { inferOdds } from '../diagnosis/infer/odds';
import { emptyLearned } from '../diagnosis/learn/learn';
import { offerDrafts } from './offer';
import { emptyPast } from './past';
import type { Proposal } from './price';
import { quoteJob, type QuoteInput } from './quote';

const operation = (code: string, more: object): CatalogRecord =>
	({ record: 'operation', code, label: code, minutes: 30, fixes: [], ...more }) as CatalogRecord;
const shop = { record: 'shop', name: 'S', currency: 'EUR', time_zone: 'UTC', locale: 'en-GB' } as const;
const records: CatalogRecord[] = [
	{ record: 'technician', code: 'ada', name: 'Ada', hourly_cost: 30 },
	{ record: 'fault', code: 'port', label: 'Port', prior: 0.5 },
	{ record: 'model', code: 'm', label: 'M', value: 400 },
	{ record: 'model', code: 'n', label: 'N', value: 400 },
	operation('new-port', {
		fixes: ['port'],
		success: 0.95,
		says: 'A new port',
		risks: 'Pads may tear.',
		trade_price: 55
	}),
	operation('reflow', { fixes: ['port'], success: 0.7, warranty_days: 30, minutes: 20 }),
	operation('cradle', { instead: 'device', minutes: 10, price: 25, models: ['m'] }),
	operation('save', { instead: 'data', minutes: 40, success: 0.8 })
];
const withShop = (more: object = {}) => buildCatalog([{ ...shop, ...more }, ...records]);
const quote = (catalog = withShop(), more: Partial<QuoteInput> = {}) => {
	const engine = engineOf(catalog, emptyLearned());
	return quoteJob({
		engine,
		past: emptyPast(),
		model: 'm',
		testsDone: [],
		faults: ['port'],
		inference: inferOdds(engine, 'm', { signs: [], answers: [], attempts: [] }),
		next: [],
		askedMinor: null,
		hourlyMinor: null,
		...more
	});
};

describe('what may be offered', () => {
	const catalog = withShop();
	const of = (model = 'm', matters?: string) => offerDrafts(quote(catalog), { catalog, model, matters });
	it('repairs in the customer’s words, then what stands beside them, then finding out first', () => {
		const drafts = of();
		expect(drafts.map(({ kind }) => kind)).toEqual(['repair', 'repair', 'instead', 'instead', 'find-out']);
		const port = drafts.find(({ operations }) => operations[0] === 'new-port');
		expect(port).toMatchObject({
			label: 'A new port',
			risks: 'Pads may tear.',
			warrantyDays: 90,
			chosen: true
		});
		expect(drafts.find(({ operations }) => operations[0] === 'reflow')).toMatchObject({
			label: 'reflow',
			risks: null,
			warrantyDays: 30
		});
	});
	it('what is for some models stays with them; the data is offered where it matters', () => {
		expect(of('n').map(({ label }) => label)).not.toContain('cradle');
		const data = (matters?: string) => of('m', matters).find(({ label }) => label === 'save');
		expect([data()?.chosen, data('data')?.chosen, data('both')?.chosen]).toEqual([false, true, true]);
		// no price of its own: twice 40 min at 30.00 an hour, in steps of 1.00
		expect(data()?.priceMinor).toBe(4000);
		expect(of().find(({ label }) => label === 'cradle')).toMatchObject({
			priceMinor: 2500,
			chanceFixed: null
		});
	});
	it('finding out first costs the fee, and comes to no more than the price without asking', () => {
		const fee = withShop({ diagnosis_fee: 15 });
		const price = quote(fee);
		expect(offerDrafts(price, { catalog: fee, model: 'm' }).at(-1)).toMatchObject({
			kind: 'find-out',
			priceMinor: 1500,
			capMinor: price.priceMinor,
			chosen: false
		});
		expect(
			offerDrafts({ ...price, verdict: 'diagnose-first' }, { catalog: fee, model: 'm' }).map(
				({ kind, chosen }) => [kind, chosen]
			)
		).toEqual([
			['repair', false],
			['repair', false],
			['instead', true],
			['instead', false],
			['find-out', true]
		]);
	});
	it('the two likeliest faults are mended at once, where the second is likely and nothing is known', () => {
		const two = buildCatalog([
			shop,
			...records,
			{ record: 'fault', code: 'chip', label: 'Chip', prior: 0.3 },
			operation('new-chip', { fixes: ['chip'], success: 0.9, says: 'A new chip' })
		]);
		const open = quote(two, { faults: null });
		expect(open.together?.operations).toEqual(['reflow', 'new-chip']);
		expect(open.together?.price.floorMinor).toBeGreaterThan(open.floorMinor ?? NaN);
		const drafts = offerDrafts(open, { catalog: two, model: 'm' });
		expect(drafts.slice(0, 3).map(({ label, chosen }) => [label, chosen])).toContainEqual([
			'reflow + A new chip',
			true
		]);
		expect(quote(two).together).toBeNull();
		// many that are rare: none of them is as likely as one in seven
		const others = ['b', 'c', 'd', 'e', 'f', 'g', 'h', 'i'].map((code): CatalogRecord => ({
			record: 'fault',
			code,
			label: code,
			prior: 0.01
		}));
		const rare = buildCatalog([
			shop,
			...records,
			...others,
			operation('mend-b', { fixes: ['b'], success: 0.9 })
		]);
		expect(quote(rare, { faults: null }).together).toBeNull();
	});
	it('what mends nothing is in no plan', () => {
		const { options } = quote(catalog);
		const codes = options.flatMap((option) => (option.kind === 'repair' ? option.operations : []));
		expect(codes).not.toContain('cradle');
		expect(codes).not.toContain('save');
	});
});

describe('tax', () => {
	it('is in every price and not the shop’s: floor and usual price are so much higher, profit is without it', () => {
		const without = quote();
		const taxed = quote(withShop({ tax: { label: 'VAT', percent: 20 } }));
		expect(taxed.floorMinor).toBeCloseTo(1.2 * (without.floorMinor ?? NaN), -1);
		expect(taxed.usualPriceMinor).toBe(Math.ceil((1.2 * 2 * without.job.costMinor.mean) / 100) * 100);
		const asked = { askedMinor: 12_000 };
		const net = quote(withShop(), { askedMinor: 10_000 });
		const gross = quote(withShop({ tax: { label: 'VAT', percent: 20 } }), asked);
		expect(gross.expectedProfitMinor).toBe(net.expectedProfitMinor);
		expect(gross.chanceOfLoss).toBe(net.chanceOfLoss);
		expect(gross.ceilingMinor).toBe(net.ceilingMinor);
	});
	it('a fee where nothing is repaired is with it too', () => {
		const fee = { diagnosis_fee: 12 };
		const of = (more: object) => quote(withShop({ ...fee, ...more }), { askedMinor: 6000 });
		const difference =
			of({}).expectedProfitMinor - of({ tax: { label: 'VAT', percent: 20 } }).expectedProfitMinor;
		const { chanceFixed } = of({}).job;
		expect(difference).toBeCloseTo(chanceFixed * 1000 + (1 - chanceFixed) * 200, -1);
	});
});

describe('the list for trade customers', () => {
	it('is their price where it holds all that is done, whoever else asks', () => {
		const trade = quote(withShop(), { customerKind: 'trade' });
		const only = (option: (typeof trade.options)[number]) =>
			option.kind === 'repair' && option.operations[0] === 'new-port';
		expect(trade.options.find(only)).toMatchObject({ price: { priceMinor: 5500 } });
		expect(quote(withShop(), { customerKind: 'private' }).options.find(only)).not.toMatchObject({
			price: { priceMinor: 5500 }
		});
		const reflow = trade.options.find(
			(option) => option.kind === 'repair' && option.operations[0] === 'reflow'
		);
		expect(reflow).not.toMatchObject({ price: { priceMinor: 5500 } });
	});
	it('a price of one’s own goes before it', () =>
		expect(quote(withShop(), { customerKind: 'trade', askedMinor: 7000 }).priceMinor).toBe(7000));
});

describe('this very device', () => {
	it('its own worth is the ceiling, where it is known', () =>
		expect([
			quote(withShop(), { valueMinor: 5000 }).ceilingMinor,
			quote(withShop(), { valueMinor: null }).ceilingMinor
		]).toEqual([5000, 40_000]));
});

describe('of what is offered', () => {
	it('finding out never comes to more than its fee where the repair is cheaper', () => {
		const dear = withShop({ diagnosis_fee: 500 });
		const cheap = { ...quote(dear), proposal: null as Proposal | null, priceMinor: 4000 };
		const capOf = (of: typeof cheap) =>
			offerDrafts(of, { catalog: dear, model: 'm' }).find(({ kind }) => kind === 'find-out');
		expect(capOf(cheap)).toMatchObject({ priceMinor: 50_000, capMinor: 50_000 });
		expect(capOf({ ...cheap, priceMinor: 60_000 })).toMatchObject({ capMinor: 60_000 });
		// what the screen proposes is what it may come to
		const proposal = { priceMinor: 70_000, expectedProfitMinor: 0, step: null };
		expect(capOf({ ...cheap, priceMinor: 60_000, proposal })).toMatchObject({ capMinor: 70_000 });
		expect(
			capOf({ ...quote(dear), proposal: null, priceMinor: null } as unknown as typeof cheap)?.capMinor
		).toBe(50_000);
	});
	it('several repairs at once are under warranty for as long as the shortest of them', () => {
		const base = quote();
		const [first] = base.options;
		if (first?.kind !== 'repair') throw new Error('no repair');
		const both = { ...first, operations: ['new-port', 'reflow'] };
		const drafts = offerDrafts({ ...base, options: [both] }, { catalog: withShop(), model: 'm' });
		// the shop's 90 days, and the 30 of the reflow
		expect(drafts[0]).toMatchObject({ operations: ['new-port', 'reflow'], warrantyDays: 30 });
	});
});
