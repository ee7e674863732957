import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import { monthKeys } from './months';
import { jobBooks, firstsOfChains, profitByTicket, type BookedTicket } from './ticket-profit';

const catalog = buildCatalog([
	{ record: 'part', sku: 'port', label: 'Port', unit_cost: 3.9 },
	{ record: 'technician', code: 'ines', name: 'Ines', hourly_cost: 31 },
	{ record: 'technician', code: 'guest', name: 'Guest' }
]);

describe('books of a job', () => {
	it('89.00 paid, one port at 3.90, 41 minutes at 31.00 an hour: 63.92 by hand', () => {
		const books = jobBooks(
			{
				attempts: [{ technician: 'ines', minutes: 41 }],
				parts: [{ sku: 'port', quantity: 1, unitCostMinor: 390 }],
				paidMinor: 8900
			},
			catalog
		);
		expect(books).toEqual({ paidMinor: 8900, partsMinor: 390, labourMinor: 2118, minutes: 41, uncosted: 0 });
		expect(books.paidMinor - books.partsMinor - books.labourMinor).toBe(6392);
	});
	it('uses the cost of the day where it stands with the attempt or the part, else today’s', () => {
		const books = jobBooks(
			{
				attempts: [{ technician: 'ines', minutes: 60, hourlyCostMinor: 2000 }],
				parts: [{ sku: 'port', quantity: 2 }],
				paidMinor: null
			},
			catalog
		);
		expect(books).toMatchObject({ paidMinor: 0, labourMinor: 2000, partsMinor: 780 });
	});
	it('says where labour has no cost', () =>
		expect(
			jobBooks({ attempts: [{ technician: 'guest', minutes: 30 }], parts: [], paidMinor: 0 }, catalog)
		).toMatchObject({ labourMinor: 0, uncosted: 1 }));
});

const ticket = (
	number: string,
	paidMinor: number,
	cost: number,
	comebackOf: string | null = null
): BookedTicket => ({
	number,
	comebackOf,
	paidMinor,
	taxMinor: 0,
	partsMinor: 0,
	labourMinor: cost
});

describe('profit with comebacks', () => {
	it('charges a chain of comebacks to the first ticket', () => {
		const profits = profitByTicket([
			ticket('A', 8900, 2500),
			ticket('B', 0, 1500, 'A'),
			ticket('C', 500, 700, 'B')
		]);
		expect(Object.fromEntries(profits)).toEqual({ A: 8900 - 2500 - 1500 + 500 - 700, B: 0, C: 0 });
	});
	it('lets a comeback of an unknown ticket bear its own', () =>
		expect(profitByTicket([ticket('B', 0, 1500, 'gone')]).get('B')).toBe(-1500));
	it('does not hang on a circle', () => {
		const profits = profitByTicket([ticket('A', 100, 0, 'B'), ticket('B', 200, 0, 'A')]);
		expect((profits.get('A') ?? 0) + (profits.get('B') ?? 0)).toBe(300);
	});
	it('never gains or loses money by the way it is charged', () => {
		const some = fc.array(
			fc.record({ paid: fc.nat(9999), cost: fc.nat(9999), back: fc.option(fc.nat(20)) }),
			{ maxLength: 20 }
		);
		fc.assert(
			fc.property(some, (list) => {
				const tickets = list.map(({ paid, cost, back }, i) =>
					ticket(`K${i}`, paid, cost, back === null ? null : `K${back}`)
				);
				const charged = [...profitByTicket(tickets).values()].reduce((a, b) => a + b, 0);
				expect(charged).toBe(tickets.reduce((sum, t) => sum + t.paidMinor - t.labourMinor, 0));
			})
		);
	});
});

describe('months', () => {
	it('a month is the month of the shop’s zone', () => {
		const at = Date.UTC(2026, 2, 31, 23, 30);
		expect(monthKeys('UTC')(at)).toBe('2026-03');
		expect(monthKeys('Europe/Berlin')(at)).toBe('2026-04');
	});
});

describe('chains of comebacks', () => {
	const job = (number: string, comebackOf: string | null) => ({
		number,
		comebackOf,
		paidMinor: 1,
		taxMinor: 0,
		partsMinor: 0,
		labourMinor: 0
	});
	it('any chains, closed ones too, agree with following each ticket by itself', () => {
		const numbers = ['a', 'b', 'c', 'd', 'e', 'f'];
		const arc = fc.constantFrom(null, 'elsewhere', ...numbers);
		fc.assert(
			fc.property(fc.tuple(...numbers.map(() => arc)), (arcs) => {
				const jobs = numbers.map((number, i) => job(number, arcs[i] ?? null));
				const byNumber = new Map(jobs.map((item) => [item.number, item]));
				const alone = (number: string) => {
					const seen = new Set([number]);
					let first = number;
					for (;;) {
						const next = byNumber.get(first)?.comebackOf;
						if (next == null || !byNumber.has(next)) return first;
						if (seen.has(next)) return number;
						seen.add(next);
						first = next;
					}
				};
				const first = firstsOfChains(jobs);
				expect(jobs.map((item) => first(item).number)).toEqual(numbers.map(alone));
			})
		);
	});
	it('a hundred thousand links are walked over once', () => {
		const jobs = Array.from({ length: 100_000 }, (_, i) => job(`K-${i}`, i === 0 ? null : `K-${i - 1}`));
		expect(profitByTicket([...jobs].reverse()).get('K-0')).toBe(100_000);
	});
});
