import { engineOf } from '../engine';
import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../../catalog/catalog';
import type { CatalogRecord } from '../../catalog/kinds';
import { DAY_MS } from '../../units/instant';
import { logPriorOfSets, setsOfUpToThree } from '../fault-sets';
import { learn, type Lesson } from './learn';
import { inferOdds } from '../infer/odds';

describe('faults that come together', () => {
	it('leave a prior that sums to one, and lift their pair by what they say', () => {
		const shares = [0.4, 0.3, 0.2, 0.1];
		const sizes = [0.05, 0.8, 0.14, 0.01] as const;
		const lifts = new Float64Array(16).fill(1);
		lifts[1] = 5;
		const sets = setsOfUpToThree(4);
		const [lifted, plain] = [lifts, null].map((each) =>
			logPriorOfSets(sets, shares, sizes, each).map(Math.exp)
		);
		const total = (chances: Float64Array | undefined) => [...(chances ?? [])].reduce((sum, p) => sum + p, 0);
		expect(total(lifted)).toBeCloseTo(1, 12);
		const at = (fault: number, other: number) => sets.findIndex((set) => set.join() === `${fault},${other}`);
		const ratio = (chances: Float64Array | undefined) =>
			(chances?.[at(0, 1)] as number) / (chances?.[at(2, 3)] as number);
		expect(ratio(lifted) / ratio(plain)).toBeCloseTo(5, 9);
	});
});

describe('forgetting', () => {
	it('follows the days of closing, not the order in which tickets come in', () => {
		const catalog = buildCatalog([
			...['a', 'b', 'c'].map((code): CatalogRecord => ({ record: 'fault', code, label: code })),
			{ record: 'model', code: 'm', label: 'M' }
		]);
		const features = { signs: [], answers: [], attempts: [] };
		const lessons = Array.from({ length: 400 }, (_, i): Lesson => ({
			model: 'm',
			closedAt: i * 2 * DAY_MS,
			faults: [i < 300 ? 'a' : 'b'],
			features,
			tried: []
		}));
		const chances = [lessons, [...lessons].reverse()].map(
			(some) => inferOdds(engineOf(catalog, learn(some)), 'm', features).odds
		);
		expect(chances[0]?.faults[0]?.code).toBe('b');
		expect(chances[1]).toEqual(chances[0]);
	});
});
