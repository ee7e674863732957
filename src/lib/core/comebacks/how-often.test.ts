import { describe, expect, it } from 'vitest';
import { comebackChance, type ComebackCounts } from './how-often';

const counts = (more: Partial<ComebackCounts> = {}): ComebackCounts => ({
	fixed: new Map(),
	comebacks: new Map(),
	fixedBy: new Map(),
	backAfter: new Map(),
	...more
});
/** By hand: (comebacks + 0.05 · 20) / (jobs + 20), and (back + 3) / (jobs · rate + 3). */
const shop = (back: number, fixed: number) => (back + 1) / (fixed + 20);
const ratio = (back: number, fixed: number, rate: number) => (back + 3) / (fixed * rate + 3);

describe('the chance that a job comes back', () => {
	it('is one in twenty before anything was fixed', () => {
		expect(comebackChance(counts(), 'm', [])).toBeCloseTo(0.05, 12);
		expect(comebackChance(counts(), 'm', ['port'])).toBeCloseTo(0.05, 12);
	});
	it('leans on the shop, and on what the model shows over it', () => {
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
		expect(comebackChance(past, 'm', [])).toBeCloseTo(all * ratio(6, 30, all), 12);
		expect(comebackChance(past, 'n', [])).toBeCloseTo(all * ratio(1, 50, all), 12);
		expect(comebackChance(past, 'unknown', [])).toBeCloseTo(all, 12);
		// nothing is known of operations: what the model shows stands
		expect(comebackChance(past, 'm', ['port'])).toBeCloseTo(all * ratio(6, 30, all), 12);
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
		const model = ratio(4, 40, shop(4, 40));
		const work = shop(5, 45);
		const port = work * ratio(4, 25, work) * model;
		const clean = work * ratio(1, 20, work) * model;
		expect(comebackChance(past, 'm', ['port'])).toBeCloseTo(port, 12);
		expect(comebackChance(past, 'm', ['port', 'clean'])).toBeCloseTo(1 - (1 - port) * (1 - clean), 12);
		expect(comebackChance(past, 'm', ['glue'])).toBeCloseTo(work * model, 12);
	});
	it('is never more than 95 in a hundred for one cause, and counts no more comebacks than jobs', () => {
		const bad = counts({ fixed: new Map([['m', 3]]), comebacks: new Map([['m', 500]]) });
		expect(comebackChance(bad, 'm', [])).toBe(0.95);
		// three of three, not 500 of three
		expect(comebackChance(bad, 'n', [])).toBeCloseTo(shop(3, 3), 12);
		const by = { fixedBy: new Map([['port', 2]]), backAfter: new Map([['port', 900]]) };
		expect(comebackChance(counts(by), 'm', ['port'])).toBeCloseTo(0.95, 12);
		expect(comebackChance(counts(by), 'm', ['port', 'port'])).toBeCloseTo(1 - 0.05 ** 2, 12);
	});
});
