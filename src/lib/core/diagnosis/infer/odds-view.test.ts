import { describe, expect, it } from 'vitest';
import { catalog } from '$worlds/fuse-and-port';
import type { FaultOdds, Odds } from './odds';
import { oddsView } from './odds-view';

const fault = (code: string, reasons: FaultOdds['reasons']): FaultOdds => ({
	code,
	label: code,
	probability: 0.4,
	low: 0.2,
	high: 0.6,
	from: 12,
	usual: 0.1,
	reasons
});
const reasons = [4, 3, 2, 0.5, 0.25].map((factor, i) => ({ evidence: `sign-${i}=yes`, factor }));
const odds = (more: Partial<Odds> = {}): Odds => ({
	learnedFrom: 40,
	fromModel: 7,
	faults: [fault('a', reasons), fault('b', reasons.slice(0, 1)), fault('c', [])],
	sets: [],
	none: 0.1,
	ofNow: false,
	unseen: 0,
	...more
});

describe('the panel of odds', () => {
	it('has every reason of every fault where all are asked for', () => {
		const { faults } = oddsView(odds(), catalog);
		expect(faults.map(({ reasons, more }) => [reasons.length, more])).toEqual([
			[5, null],
			[1, null],
			[0, null]
		]);
	});
	it('comes with three reasons of the first fault, and says of the others how many they are and what they come to', () => {
		const { faults } = oddsView(odds(), catalog, false);
		expect(faults.map(({ reasons }) => reasons.map(({ factor }) => factor))).toEqual([[4, 3, 2], [], []]);
		expect(faults.map(({ more }) => more)).toEqual([
			{ count: 2, factor: 0.125 },
			{ count: 1, factor: 4 },
			null
		]);
	});
	it('shows six faults at most', () => {
		const many = Array.from({ length: 9 }, (_, i) => fault(`f${i}`, []));
		expect(oddsView(odds({ faults: many }), catalog).faults.map(({ code }) => code)).toEqual(
			many.slice(0, 6).map(({ code }) => code)
		);
	});
	it('names the two likeliest pairs of at least two in a hundred, by their labels', () => {
		const sets = [
			{ faults: ['a'], probability: 0.5 },
			{ faults: ['port-worn', 'gone'], probability: 0.02 },
			{ faults: ['a', 'b'], probability: 0.019 },
			{ faults: ['a', 'c'], probability: 0.3 },
			{ faults: ['b', 'c'], probability: 0.2 }
		];
		const pairs = oddsView(odds({ sets }), catalog).pairs;
		expect(pairs.map(({ probability }) => probability)).toEqual([0.02, 0.3]);
		const [first] = [...catalog.faults.values()];
		const named = [{ faults: [first!.code, 'gone'], probability: 0.4 }];
		expect(oddsView(odds({ sets: named }), catalog).pairs[0]?.labels).toEqual([first!.label, 'gone']);
	});
});
