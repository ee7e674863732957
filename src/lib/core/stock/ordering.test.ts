import { describe, expect, it } from 'vitest';
import { drawLeadDays, inventStockedPart, jobsOfPart, runShelf } from '$worlds/stocked-parts';
import { seededRandom } from '../units/random';
import { demandOf, jobsWithin, meanSize, piecesPerWeek, type Demand } from './demand';
import { harvestedCosts } from './harvest';
import { leadDaysDrawn, leadTimeOf } from './lead-time';
import { orderQuantity, yearlyCost } from './order-quantity';
import { askedWhileWaiting, reorderPoint, servedFrom } from './reorder-point';

/** When to order how much: against sums by hand, and against shelves that are run for thousands of jobs. */

const every = (weeks: number, from: number, to: number, quantity = 1) =>
	Array.from({ length: Math.floor((to - from) / weeks) }, (_, i) => ({
		week: from + (i + 0.5) * weeks,
		quantity
	}));
/** A rate that is known, of single pieces. */
const sure = (perWeek: number, sizes: readonly number[] = [1]): Demand => ({
	shape: perWeek * 1e6,
	rate: 1e6,
	sizes,
	fromWeeks: 1e6,
	jobs: 1e6
});

describe('what is asked for', () => {
	it('a steady rate is that of the whole record, with the doubt of its jobs', () => {
		const demand = demandOf(every(0.5, 0, 100), 0, 100);
		const { mean, low, high } = piecesPerWeek(demand);
		expect(Math.abs(mean - 2)).toBeLessThan(0.12);
		expect(demand.fromWeeks).toBeGreaterThan(70);
		// a gamma distribution of some 170 to 200 jobs: 9 to 10 % either way at 80 %
		expect((high - low) / mean).toBeGreaterThan(0.15);
		expect((high - low) / mean).toBeLessThan(0.26);
	});
	it('after a change that the record shows, what came before it counts no more', () => {
		const demand = demandOf([...every(2, 0, 74), ...every(0.4, 74, 100)], 0, 100);
		expect(Math.abs(piecesPerWeek(demand).mean - 2.5)).toBeLessThan(0.25);
		expect(Math.abs(demand.fromWeeks - 26)).toBeLessThan(2);
		const twice = demandOf([...every(2, 0, 60), ...every(0.25, 60, 85), ...every(1, 85, 110)], 0, 110);
		expect(Math.abs(piecesPerWeek(twice).mean - 1)).toBeLessThan(0.2);
	});
	it('never asked for: next to nothing, with a wide doubt; what lies ahead is not known', () => {
		const { mean, low, high } = piecesPerWeek(demandOf([], 0, 52));
		expect(mean).toBeLessThan(0.02);
		expect(low).toBeLessThan(high / 20);
		const ahead = [{ week: 60, quantity: 9 }];
		expect(demandOf(ahead, 0, 52)).toEqual(demandOf([], 0, 52));
		expect(piecesPerWeek(demandOf([], 0, 0)).mean).toBeCloseTo(0.03, 9);
	});
	it('a part that was used for the first time today is not asked for every hour', () => {
		const { mean, high } = piecesPerWeek(demandOf([{ week: 0, quantity: 1 }], 0, 0));
		expect(mean).toBeLessThan(1);
		expect(high).toBeLessThan(2);
		const { reorderAt } = reorderPoint(
			demandOf([{ week: 0, quantity: 1 }], 0, 0),
			leadTimeOf([], [], 12),
			5,
			0.95
		);
		expect(reorderAt).toBeLessThan(10);
	});
	it('sizes of jobs lean a little on single pieces', () => {
		const { sizes } = demandOf(every(1, 0, 10, 3), 0, 10);
		expect(sizes).toEqual([0.5 / 10.5, 0, 10 / 10.5]);
		expect(meanSize({ sizes })).toBeCloseTo((0.5 + 30) / 10.5, 12);
	});
	it('jobs within a span are negative binomial: mean and variance by hand', () => {
		const chances = jobsWithin({ shape: 2, rate: 1 }, 2.1, 200);
		const sum = (of: (k: number) => number) => chances.reduce((total, p, k) => total + p * of(k), 0);
		// references C21: mean 4.2, size 2, variance 13.02
		expect(sum(() => 1)).toBeCloseTo(1, 9);
		expect(sum((k) => k)).toBeCloseTo(4.2, 9);
		expect(sum((k) => (k - 4.2) ** 2)).toBeCloseTo(13.02, 6);
		let upTo = 0;
		const quantile = (q: number) => {
			upTo = 0;
			return chances.findIndex((p) => (upTo += p) >= q);
		};
		expect([0.5, 0.8, 0.9, 0.95, 0.99].map(quantile)).toEqual([3, 7, 9, 11, 16]);
		expect(jobsWithin({ shape: 2, rate: 1 }, 0, 3)).toEqual([1, 0, 0, 0]);
	});
});

describe('the way', () => {
	it('is as stated before anything came, and moves to what came', () => {
		expect(leadTimeOf([], [], 12)).toMatchObject({ mean: 12, from: 0 });
		expect(leadTimeOf([], [], undefined).mean).toBe(10);
		expect(leadTimeOf([20, 22, 18], [], 12).mean).toBeCloseTo((1.5 * 12 + 60) / 4.5, 12);
		const others = leadTimeOf([], [20, 20], 12);
		expect(others.mean).toBeCloseTo((1.5 * 12 + 0.35 * 40) / (1.5 + 0.7), 12);
		expect(others.from).toBe(0);
		// forty lots of other parts are worth four own ones at most
		expect(leadTimeOf([], Array<number>(40).fill(20), 12).mean).toBeCloseTo((18 + 80) / 5.5, 12);
	});
	it('its drawn times have its mean and nearly its spread', () => {
		const days = leadDaysDrawn({ mean: 9, sd: 3 });
		const mean = days.reduce((a, b) => a + b, 0) / days.length;
		const sd = Math.sqrt(days.reduce((sum, day) => sum + (day - mean) ** 2, 0) / days.length);
		expect(mean).toBeCloseTo(9, 1);
		expect(sd).toBeGreaterThan(2.7);
		expect(sd).toBeLessThan(3);
		expect(leadDaysDrawn({ mean: 5, sd: 0 })).toEqual([5]);
		expect(leadDaysDrawn({ mean: 0, sd: 1 })).toEqual([0]);
	});
});

describe('how many at a time', () => {
	it('agrees with the published square root (Nahmias, references C25)', () => {
		// 1,200 a year, 20 an order, 1.50 a year to hold: 178.8854 at 268.3282 a year
		const input = { perYear: 1200, orderMinor: 2000, holdingMinor: 150 };
		expect(orderQuantity({ ...input, pack: 1 })).toBe(179);
		expect(yearlyCost(178.8854, input) / 100).toBeCloseTo(268.3282, 3);
	});
	it('is the multiple of the pack that costs the least of all (every one looked at)', () => {
		for (const [perYear, orderMinor, holdingMinor, pack] of [
			[52, 700, 98, 10],
			[500, 400, 40, 25],
			[12, 900, 300, 1],
			[40, 750, 4, 50]
		] as const) {
			const input = { perYear, orderMinor, holdingMinor };
			const found = orderQuantity({ ...input, pack });
			expect(found % pack).toBe(0);
			const longest = Math.ceil((3 * perYear) / pack) * pack;
			for (let quantity = pack; quantity <= longest; quantity += pack)
				expect(yearlyCost(found, input)).toBeLessThanOrEqual(yearlyCost(quantity, input) + 1e-9);
			expect(found).toBeLessThanOrEqual(longest);
		}
	});
	it('is a pack where an order costs nothing or nothing is asked for', () => {
		expect(orderQuantity({ perYear: 50, orderMinor: 0, holdingMinor: 10, pack: 5 })).toBe(5);
		expect(orderQuantity({ perYear: 0, orderMinor: 500, holdingMinor: 10, pack: 5 })).toBe(5);
		// what costs nothing to hold is not bought for ever
		expect(orderQuantity({ perYear: 10, orderMinor: 500, holdingMinor: 0, pack: 1 })).toBe(30);
	});
});

describe('the point to order at', () => {
	it('by hand: single pieces at a known rate, one week of way, one at a time', () => {
		const lead = { mean: 7, sd: 0 };
		const asked = askedWhileWaiting(sure(1), lead);
		expect(asked[0]).toBeCloseTo(Math.exp(-1), 5);
		expect(asked[2]).toBeCloseTo(Math.exp(-1) / 2, 5);
		// ordered one by one the stock after ordering is the point and one: served while fewer than that were asked for
		const fill = (point: number) =>
			Array.from({ length: point + 1 }, (_, k) => asked[k]!).reduce((a, b) => a + b, 0);
		const found = reorderPoint(sure(1), lead, 1, 0.95);
		expect(found.reorderAt).toBe(3);
		expect(found.fill).toBeCloseTo(fill(3), 9);
		expect(fill(2)).toBeLessThan(0.95);
	});
	it('pieces of a job are served as far as they reach', () => {
		// always three at once: from one piece a third of it is served
		expect(servedFrom([1], [0, 0, 1], 4)).toEqual([0, 1 / 3, 2 / 3, 1, 1]);
	});
	it('rises with what is asked, with the way, its spread, the doubt and the service, and falls with the quantity', () => {
		const at = (demand: Demand, lead: { mean: number; sd: number }, quantity: number, service: number) =>
			reorderPoint(demand, lead, quantity, service).reorderAt;
		const base = at(sure(2), { mean: 10, sd: 2 }, 8, 0.95);
		expect(at(sure(4), { mean: 10, sd: 2 }, 8, 0.95)).toBeGreaterThan(base);
		expect(at(sure(2), { mean: 20, sd: 2 }, 8, 0.95)).toBeGreaterThan(base);
		expect(at(sure(2), { mean: 10, sd: 8 }, 8, 0.95)).toBeGreaterThan(base);
		expect(at({ ...sure(2), shape: 4, rate: 2 }, { mean: 10, sd: 2 }, 8, 0.95)).toBeGreaterThan(base);
		expect(at(sure(2), { mean: 10, sd: 2 }, 8, 0.995)).toBeGreaterThan(base);
		expect(at(sure(2), { mean: 10, sd: 2 }, 40, 0.95)).toBeLessThan(base);
		expect(at(sure(2, [0.5, 0, 0, 0.5]), { mean: 10, sd: 2 }, 8, 0.95)).toBeGreaterThan(base);
	});
	it('a shelf that is run by it serves what it says (40,000 jobs each)', () => {
		for (let seed = 1; seed <= 6; seed++) {
			const random = seededRandom(seed * 31 + 7);
			const part = inventStockedPart(random);
			const rule = { quantity: 6, ...reorderPoint(sure(part.jobsPerWeek, part.sizes), part.lead, 6, 0.93) };
			const { served } = runShelf(random, part, rule, 40_000 / part.jobsPerWeek);
			expect(Math.abs(served - rule.fill)).toBeLessThan(0.012);
		}
	});
});

it('from a record of two years: pieces served, stock and interval, over thirty invented parts', () => {
	const found = { off: 0, held: 0, own: 0, known: 0 };
	const parts = 30;
	for (let seed = 1; seed <= parts; seed++) {
		const random = seededRandom(seed * 31 + 7);
		const part = inventStockedPart(random);
		const demand = demandOf(jobsOfPart(random, part, 104), 0, 104);
		const ways = (count: number) => Array.from({ length: count }, () => drawLeadDays(random, part));
		const lead = leadTimeOf(ways(6), ways(10), Math.round(part.lead.mean));
		const perWeek = piecesPerWeek(demand);
		const quantity = 5;
		const jobs = 12_000 / part.jobsPerWeek;
		const own = reorderPoint(demand, lead, quantity, 0.95);
		const best = reorderPoint(sure(part.jobsPerWeek, part.sizes), part.lead, quantity, 0.95);
		const run = runShelf(random, part, { ...own, quantity }, jobs);
		const full = runShelf(random, part, { ...best, quantity }, jobs);
		const truth = part.jobsPerWeek * meanSize(part);
		found.off += Math.abs(run.served - 0.95) / parts;
		found.held += (truth >= perWeek.low && truth <= perWeek.high ? 1 : 0) / parts;
		found.own += run.onHand;
		found.known += full.onHand;
	}
	expect(found.off).toBeLessThan(0.03);
	expect(found.held).toBeGreaterThan(0.65);
	expect(found.own / found.known).toBeLessThan(1.12);
});

describe('what harvested pieces cost', () => {
	const even = [
		{ sku: 'port', quantity: 1 },
		{ sku: 'shell', quantity: 1 }
	];
	it.each<[string, Parameters<typeof harvestedCosts>, [string, number][]]>([
		[
			'all of it goes to what comes off alone',
			[6000, [{ sku: 'port', quantity: 1 }], [{ sku: 'port', quantity: 10 }]],
			[['port', 600]]
		],
		[
			'failures make the good ones dearer',
			[6000, [{ sku: 'port', quantity: 1 }], [{ sku: 'port', quantity: 8 }]],
			[['port', 750]]
		],
		[
			'evenly where no share is stated',
			[
				1000,
				even,
				[
					{ sku: 'port', quantity: 1 },
					{ sku: 'shell', quantity: 2 }
				]
			],
			[
				['port', 500],
				['shell', 250]
			]
		],
		[
			'by the shares that are, the rest to the others',
			[
				1000,
				[
					{ sku: 'port', quantity: 1, share: 0.8 },
					{ sku: 'shell', quantity: 1 }
				],
				[
					{ sku: 'port', quantity: 1 },
					{ sku: 'shell', quantity: 1 }
				]
			],
			[
				['port', 800],
				['shell', 200]
			]
		],
		[
			'what gave nothing leaves its share to the others',
			[
				1000,
				even,
				[
					{ sku: 'port', quantity: 2 },
					{ sku: 'shell', quantity: 0 }
				]
			],
			[['port', 500]]
		],
		['nothing came off: nothing', [1000, even, []], []]
	])('%s', (_, args, costs) => expect([...harvestedCosts(...args)]).toEqual(costs));
});
