import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { nothingBooked, shareOut, type BookLine } from './book-lines';
import { meanProfit, profitPerHour, quotedAgainst } from './book-figures';
import {
	DIMENSIONS,
	emptyBooks,
	latestLines,
	putLines,
	sumOfAll,
	sumsBy,
	sumsByModel,
	sumsByMonth,
	type Books
} from './books';
import { profitByTicket } from './ticket-profit';

const ALL = { month: '', model: '' };
const line = (id: number, more: Partial<BookLine> = {}): BookLine => ({
	id,
	number: `K${id}`,
	model: 'm',
	openedAt: 0,
	closedAt: id,
	month: '2026-03',
	outcome: 'fixed',
	comebackOf: null,
	cause: null,
	quotedMinor: 10_000,
	customer: 'Somebody',
	customerKind: 'private',
	paidMinor: 10_000,
	taxMinor: 0,
	partsMinor: 1000,
	labourMinor: 2000,
	minutes: 40,
	operation: 'fit',
	hands: [{ technician: 'a', minutes: 40 }],
	...more
});
const booksOf = (...lines: BookLine[]): Books => {
	const books = emptyBooks();
	putLines(books, lines);
	return books;
};

describe('books', () => {
	it('a comeback’s work is charged to the first ticket, in the first ticket’s month', () => {
		const books = booksOf(
			line(1),
			line(2, { comebackOf: 'K1', paidMinor: 0, quotedMinor: null, month: '2026-04' })
		);
		expect(
			latestLines(books, ALL, 9).map(({ id, profitMinor, bears, borne }) => [id, profitMinor, bears, borne])
		).toEqual([
			[2, 0, 0, true],
			[1, 10_000 - 3000 - 3000, 1, false]
		]);
		expect(
			sumsByMonth(books).map(({ key, tickets, jobs, profitMinor }) => [key, tickets, jobs, profitMinor])
		).toEqual([
			['2026-03', 1, 1, 4000],
			['2026-04', 1, 0, 0]
		]);
	});
	it('tax is not the shop’s', () =>
		expect(sumOfAll(booksOf(line(1, { taxMinor: 1667 })), ALL)).toMatchObject({
			paidMinor: 10_000,
			profitMinor: 10_000 - 1667 - 3000
		}));
	it('a quote is held against what its job cost with its comebacks, without tax', () => {
		const books = booksOf(
			line(1, { quotedMinor: 5000, paidMinor: 5000, taxMinor: 500 }),
			line(2, { comebackOf: 'K1', paidMinor: 0, quotedMinor: 700 })
		);
		expect(sumOfAll(books, ALL).quoted).toEqual({
			jobs: 1,
			quotedMinor: 5000,
			costMinor: 6000,
			paidMinor: 5000,
			overran: 1
		});
	});
	it('profit is shared out by minutes, and to nobody where none are noted', () => {
		const books = booksOf(
			line(1, {
				hands: [
					{ technician: 'a', minutes: 30 },
					{ technician: 'b', minutes: 10 }
				]
			}),
			line(2, { hands: [] })
		);
		const brought = sumsBy(books, 'technician', ALL).map(({ key, profitMinor }) => [key, profitMinor]);
		expect(Object.fromEntries(brought)).toEqual({ a: 5250, b: 1750, '': 7000 });
	});
	it('narrowed by month, by model, by both', () => {
		const books = booksOf(line(1), line(2, { model: 'n' }), line(3, { month: '2026-04' }));
		expect(sumOfAll(books, { month: '2026-03', model: '' }).tickets).toBe(2);
		expect(sumOfAll(books, { month: '', model: 'n' }).tickets).toBe(1);
		expect(sumOfAll(books, { month: '2026-04', model: 'n' }).tickets).toBe(0);
		expect(sumsByModel(books, '2026-04').map(({ key }) => key)).toEqual(['m']);
		expect(sumsByMonth(books, 'm').map(({ key }) => key)).toEqual(['2026-03', '2026-04']);
		expect(latestLines(books, { month: '2026-03', model: '' }, 1).map(({ id }) => id)).toEqual([2]);
		expect(sumsBy(books, 'customer', { month: '2026-04', model: '' })[0]?.tickets).toBe(1);
		expect(sumsBy(books, 'customer', ALL)[0]?.tickets).toBe(3);
	});

	interface Step {
		id: number;
		back: number | null;
		closedAt: number;
		model: string;
		paid: number;
		labour: number;
		customer: string | null;
		hands: { technician: string; minutes: number }[];
		open: boolean;
	}
	const some: fc.Arbitrary<Step> = fc.record({
		id: fc.integer({ min: 1, max: 12 }),
		back: fc.option(fc.integer({ min: 1, max: 12 })),
		closedAt: fc.integer({ min: 0, max: 5 }),
		model: fc.constantFrom('m', 'n'),
		paid: fc.nat(9999),
		labour: fc.nat(9999),
		customer: fc.constantFrom(null, 'A', 'B'),
		hands: fc.array(fc.record({ technician: fc.constantFrom('a', 'b'), minutes: fc.nat(50) }), {
			maxLength: 2
		}),
		open: fc.boolean()
	});
	const lineOf = ({ id, back, paid, labour, hands, customer, closedAt, model }: Step) =>
		line(id, {
			comebackOf: back === null ? null : `K${back}`,
			closedAt,
			model,
			month: closedAt < 3 ? '2026-03' : '2026-04',
			paidMinor: paid,
			labourMinor: labour,
			customer,
			hands: [...new Map(hands.map((hand) => [hand.technician, hand])).values()]
		});
	it('kept up line by line they are what reading all at once gives, and no money is gained or lost', () => {
		fc.assert(
			fc.property(fc.array(some, { maxLength: 25 }), (steps) => {
				const kept = emptyBooks();
				const now = new Map<number, BookLine>();
				for (const step of steps) {
					if (step.open) now.delete(step.id);
					else now.set(step.id, lineOf(step));
					putLines(kept, step.open ? [] : [lineOf(step)], step.open ? [step.id] : []);
				}
				const anew = booksOf(...now.values());
				const sorted = (books: Books) =>
					DIMENSIONS.map((dimension) =>
						sumsBy(books, dimension, ALL)
							.filter(({ tickets }) => tickets > 0)
							.sort((a, b) => (a.key < b.key ? -1 : 1))
					);
				expect(sorted(kept)).toEqual(sorted(anew));
				expect(sumsByMonth(kept)).toEqual(sumsByMonth(anew));
				expect(kept.order.map(({ id }) => id)).toEqual(anew.order.map(({ id }) => id));
				const lines = [...now.values()];
				const own = lines.reduce((sum, each) => sum + each.paidMinor - each.labourMinor - each.partsMinor, 0);
				expect(sumOfAll(kept, ALL).profitMinor).toBe(own);
				for (const dimension of ['outcome', 'kind', 'operation', 'technician'] as const) {
					expect(sumsBy(kept, dimension, ALL).reduce((sum, { profitMinor }) => sum + profitMinor, 0)).toBe(
						own
					);
				}
				const alone = profitByTicket(lines);
				for (const { number, profitMinor } of latestLines(kept, ALL, 99)) {
					expect(profitMinor).toBe(alone.get(number));
				}
			})
		);
	});
	it('many at once are sorted in as one by one', () => {
		const many = Array.from({ length: 700 }, (_, i) => line(i + 1, { closedAt: (i * 37) % 50 }));
		const books = booksOf(...many.slice(0, 3));
		putLines(books, many);
		const one = emptyBooks();
		for (const each of many) putLines(one, [each]);
		expect(books.order.map(({ id }) => id)).toEqual(one.order.map(({ id }) => id));
		expect(sumOfAll(books, ALL)).toEqual(sumOfAll(one, ALL));
	});
});

describe('shared out', () => {
	it('adds up to the whole, whatever its sign', () => {
		expect(shareOut(100, [1, 1, 1])).toEqual([34, 33, 33]);
		expect(shareOut(100, [0, 0])).toEqual([0, 0]);
		fc.assert(
			fc.property(
				fc.integer({ min: -9999, max: 9999 }),
				fc.array(fc.nat(50), { minLength: 1, maxLength: 6 }),
				(amount, weights) => {
					fc.pre(weights.some((weight) => weight > 0));
					const shares = shareOut(amount, weights);
					const total = weights.reduce((sum, weight) => sum + weight, 0);
					expect(shares.reduce((sum, share) => sum + share, 0)).toBe(amount);
					shares.forEach((share, i) =>
						expect(Math.abs(share - (amount * (weights[i] as number)) / total)).toBeLessThan(1)
					);
				}
			)
		);
	});
});

describe('figures of sums', () => {
	it('mean profit a job with the t interval: 10, 20, 60 give 30 ± 1.8856 · 26.457 / √3, by hand', () => {
		const { mean, low, high, from } = meanProfit({
			jobs: 3,
			profitMinor: 90,
			profitSquares: 100 + 400 + 3600
		});
		// t quantile .9 with 2 degrees of freedom: 1.885618 (any table)
		const half = (1.885618 * Math.sqrt(700)) / Math.sqrt(3);
		expect([mean, from]).toEqual([30, 3]);
		expect(low).toBeCloseTo(30 - half, 4);
		expect(high).toBeCloseTo(30 + half, 4);
	});
	it('one job has no interval, none no mean', () => {
		expect(meanProfit({ jobs: 1, profitMinor: 5, profitSquares: 25 })).toEqual({
			mean: 5,
			low: null,
			high: null,
			from: 1
		});
		expect(meanProfit({ jobs: 0, profitMinor: 0, profitSquares: 0 }).mean).toBe(0);
	});
	it('profit an hour', () => {
		expect(profitPerHour({ profitMinor: 100, minutes: 30 })).toBe(200);
		expect(profitPerHour({ profitMinor: 100, minutes: 0 })).toBeNull();
	});
	it('jobs pay from their mean cost over the share of the quoted money that came in', () => {
		expect(
			quotedAgainst({ jobs: 2, quotedMinor: 20_000, costMinor: 12_000, paidMinor: 10_000, overran: 1 })
		).toEqual({ jobs: 2, quotedMinor: 10_000, costMinor: 6000, overran: 1, breakEvenMinor: 12_000 });
		expect(quotedAgainst(nothingBooked().quoted)).toMatchObject({
			jobs: 0,
			quotedMinor: 0,
			breakEvenMinor: null
		});
		expect(
			quotedAgainst({ jobs: 1, quotedMinor: 100, costMinor: 50, paidMinor: 0, overran: 0 }).breakEvenMinor
		).toBeNull();
	});
});
