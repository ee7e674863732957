import { describe, expect, it } from 'vitest';
import {
	addComebackCost,
	comebackCostMinor,
	expectedComebackCostMinor,
	meanComebackCostMinor,
	noComebackCosts
} from './what-one-costs';
import { causeCounts, firstComebacks, isComeback, type ReturnVisit } from './what-counts';

const causes = new Map([
	['misuse', { counts: false }],
	['joint', { counts: true }],
	['other', {}]
]);

describe('what counts as a comeback', () => {
	it.each([
		[null, true],
		['misuse', false],
		['joint', true],
		['other', true],
		['a cause that the catalog lost', true]
	])('of cause %j: %s', (cause, counts) => expect(causeCounts(cause, causes)).toBe(counts));

	const first = { outcome: 'fixed', closedAt: 10 };
	it.each<[string, { openedAt: number; cause: string | null }, Parameters<typeof isComeback>[1], boolean]>([
		['on the moment of its closing', { openedAt: 10, cause: null }, first, true],
		['before it', { openedAt: 9.999, cause: null }, first, false],
		['for a cause that does not speak against the work', { openedAt: 11, cause: 'misuse' }, first, false],
		['of a job that is open again', { openedAt: 11, cause: null }, { ...first, closedAt: null }, false],
		['of one that was not fixed', { openedAt: 11, cause: null }, { ...first, outcome: 'not-fixed' }, false],
		['of none that is known', { openedAt: 11, cause: null }, null, false]
	])('%s', (_, visit, of, counts) => expect(isComeback(visit, of, causes)).toBe(counts));

	it('of several the first that counts, whichever way they stand; of those at one moment the lowest number', () => {
		const visit = (number: string, openedAt: number, more: Partial<ReturnVisit> = {}): ReturnVisit => ({
			number,
			comebackOf: 'K1',
			openedAt,
			cause: null,
			...more
		});
		const visits = [
			visit('K9', 20),
			visit('K3', 12, { cause: 'misuse' }),
			visit('K5', 15),
			visit('K4', 15),
			visit('K2', 5),
			visit('K6', 13, { comebackOf: 'K0' }),
			visit('K7', 11, { comebackOf: null })
		];
		const fixed = new Map([['K1', 10]]);
		const found = { number: 'K4', at: 15, cause: null };
		for (const order of [visits, [...visits].reverse()]) {
			expect([...firstComebacks(order, fixed, 30, causes)]).toEqual([['K1', found]]);
		}
		expect(firstComebacks(visits, fixed, 15, causes).size).toBe(0);
	});
});

describe('what one costs', () => {
	it('is its parts and work less what was paid, never below nothing', () => {
		expect(comebackCostMinor({ partsMinor: 400, labourMinor: 2000, paidMinor: 900 })).toBe(1500);
		expect(comebackCostMinor({ partsMinor: 400, labourMinor: 2000, paidMinor: 9000 })).toBe(0);
	});
	it('on average, and goes out again without a trace', () => {
		const costs = noComebackCosts();
		expect(meanComebackCostMinor(costs)).toBe(0);
		addComebackCost(costs, 1000);
		addComebackCost(costs, 4000);
		expect(costs).toEqual({ sumMinor: 5000, squares: 17_000_000, from: 2 });
		expect(meanComebackCostMinor(costs)).toBe(2500);
		addComebackCost(costs, 4000, -1);
		addComebackCost(costs, 1000, -1);
		expect(costs).toEqual(noComebackCosts());
	});
	it('leans on what the job costs while few are known', () => {
		expect(expectedComebackCostMinor(noComebackCosts(), 3000)).toBe(3000);
		expect(expectedComebackCostMinor({ sumMinor: 5000, squares: 0, from: 5 }, 3000)).toBe(2000);
	});
});
