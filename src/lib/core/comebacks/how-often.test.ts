import { describe, expect, it } from 'vitest';
import { drawIndex, seededRandom } from '../units/random';
import { comebackChances, type ComebackCounts } from './how-often';

const counts = (more: Partial<ComebackCounts> = {}): ComebackCounts => ({
	fixed: new Map(),
	comebacks: new Map(),
	fixedBy: new Map(),
	backAfter: new Map(),
	...more
});
/** By hand: (comebacks + 0.05 · 20) / (jobs + 20). */
const shop = (back: number, fixed: number) => (back + 1) / (fixed + 20);
type Group = [back: number, fixed: number];
const SHAPES = [1, 2, 4, 8, 16, 32, 64, 128, 256, 512];
/** Γ(n + shape) / Γ(shape) as the product that it is for whole n. */
const rising = (shape: number, n: number) =>
	Array.from({ length: n }, (_, i) => shape + i).reduce((a, b) => a * b, 1);
/** Chance of all counts, were the ratios drawn from a gamma distribution of mean 1: negative binomials multiplied. */
const likelihood = (groups: Group[], rate: number, shape: number) =>
	groups.reduce((product, [back, fixed]) => {
		const p = shape / (shape + fixed * rate);
		return product * rising(shape, back) * p ** shape * ((1 - p) / (fixed * rate)) ** back;
	}, 1);
const ratio = ([back, fixed]: Group, groups: Group[], rate: number) => {
	const weights = SHAPES.map((shape) => likelihood(groups, rate, shape));
	const all = weights.reduce((a, b) => a + b, 0);
	return SHAPES.reduce(
		(sum, shape, i) => sum + (weights[i]! / all) * ((back + shape) / (fixed * rate + shape)),
		0
	);
};

describe('the chance that a job comes back', () => {
	it('is one in twenty before anything was fixed', () => {
		expect(comebackChances(counts(), 'm')([])).toBeCloseTo(0.05, 12);
		expect(comebackChances(counts(), 'm')(['port'])).toBeCloseTo(0.05, 12);
	});
	it('leans on the shop, and on what the model shows over it', () => {
		const [m, n]: Group[] = [
			[6, 30],
			[1, 50]
		];
		const past = counts({
			fixed: new Map([
				['m', 30],
				['n', 50]
			]),
			comebacks: new Map([
				['m', 6],
				['n', 1]
			])
		});
		const all = shop(7, 80);
		expect(comebackChances(past, 'm')([])).toBeCloseTo(all * ratio(m!, [m!, n!], all), 10);
		expect(comebackChances(past, 'n')([])).toBeCloseTo(all * ratio(n!, [m!, n!], all), 10);
		expect(comebackChances(past, 'unknown')([])).toBeCloseTo(all, 10);
		// nothing is known of operations: what the model shows stands
		expect(comebackChances(past, 'm')(['port'])).toBeCloseTo(all * ratio(m!, [m!, n!], all), 10);
	});
	it('of several operations each may be the cause', () => {
		const past = counts({
			fixed: new Map([['m', 40]]),
			comebacks: new Map([['m', 4]]),
			fixedBy: new Map([
				['port', 25],
				['clean', 20]
			]),
			backAfter: new Map([
				['port', 4],
				['clean', 1]
			])
		});
		const model = ratio([4, 40], [[4, 40]], shop(4, 40));
		const work = shop(5, 45);
		const groups: Group[] = [
			[4, 25],
			[1, 20]
		];
		const port = work * ratio([4, 25], groups, work) * model;
		const clean = work * ratio([1, 20], groups, work) * model;
		const chance = comebackChances(past, 'm');
		expect(chance(['port'])).toBeCloseTo(port, 10);
		expect(chance(['port', 'clean'])).toBeCloseTo(1 - (1 - port) * (1 - clean), 10);
		expect(chance(['glue'])).toBeCloseTo(work * model, 10);
	});
	it('is never more than 95 in a hundred for one cause, and counts no more comebacks than jobs', () => {
		const bad = counts({ fixed: new Map([['m', 3]]), comebacks: new Map([['m', 500]]) });
		expect(comebackChances(bad, 'm')([])).toBe(0.95);
		// three of three, not 500 of three
		expect(comebackChances(bad, 'n')([])).toBeCloseTo(shop(3, 3), 12);
		const by = { fixedBy: new Map([['port', 2]]), backAfter: new Map([['port', 900]]) };
		expect(comebackChances(counts(by), 'm')(['port'])).toBeCloseTo(0.95, 12);
		expect(comebackChances(counts(by), 'm')(['port', 'port'])).toBeCloseTo(1 - 0.05 ** 2, 12);
	});

	/** Mean distance from the truth over drawn shops of ten operations and fifteen models. */
	function meanError(tickets: number, rateOf: (operation: number) => number) {
		let [error, asked] = [0, 0];
		const often = (most: number) => Array.from({ length: most }, (_, i) => 1 + i);
		const bump = (map: Map<string, number>, key: string) => map.set(key, (map.get(key) ?? 0) + 1);
		for (let seed = 1; seed <= 30; seed++) {
			const random = seededRandom(seed);
			const past = { fixed: new Map(), comebacks: new Map(), fixedBy: new Map(), backAfter: new Map() };
			for (let i = 0; i < tickets; i++) {
				const [operation, model] = [drawIndex(random, often(10)), drawIndex(random, often(15))];
				bump(past.fixed, `m${model}`);
				bump(past.fixedBy, `o${operation}`);
				if (random() >= rateOf(operation)) continue;
				bump(past.comebacks, `m${model}`);
				bump(past.backAfter, `o${operation}`);
			}
			for (let i = 0; i < 50; i++) {
				const [operation, model] = [drawIndex(random, often(10)), drawIndex(random, often(15))];
				error += Math.abs(comebackChances(past, `m${model}`)([`o${operation}`]) - rateOf(operation));
				asked += 1;
			}
		}
		return error / asked;
	}
	it('is within .03 with 300 jobs where all come back alike, and where operations differ it follows them', () => {
		expect(meanError(300, () => 0.08)).toBeLessThan(0.02);
		expect(meanError(300, () => 0.2)).toBeLessThan(0.03);
		const unlike = (operation: number) => (operation % 2 === 0 ? 0.05 : 0.25);
		// to say .15 of all would be off by .1
		expect(meanError(300, unlike)).toBeLessThan(0.05);
		expect(meanError(6000, unlike)).toBeLessThan(0.02);
	});
});
