import { engineOf } from '../engine';
import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../../catalog/catalog';
import type { CatalogRecord } from '../../catalog/kinds';
import type { WorldKind } from '../../simulation/engine-world';
import { inventedShop } from '../../simulation/invented-shop';
import { scoreWorld } from '../../simulation/world-scores';
import { DAY_MS } from '../../units/instant';
import { logPriorOfSets, setsOfUpToThree } from '../fault-sets';
import { fit } from './fit';
import { learn, type Lesson } from './learn';
import { inferOdds } from '../infer/odds';

const setUp = (kind: WorldKind, size: number) => inventedShop(kind, size, 77);

describe('faults that come together', () => {
	it('are found where the data shows it, and only there', () => {
		const { catalog, lessons } = setUp('coupled', 1500);
		const { lifts } = fit(catalog, learn(lessons)).shares;
		// the world couples f0 with f1, f2 with f3, …, eight times as often
		const coupled = [0, 2, 4, 6, 8, 10].map((a) => lifts?.[a * 12 + a + 1] as number);
		const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
		expect(mean(coupled)).toBeGreaterThan(2);
		const others = [...(lifts ?? [])].filter((_, at) => {
			const [a, b] = [Math.floor(at / 12), at % 12];
			return a < b && !(a % 2 === 0 && b === a + 1);
		});
		expect(mean(others)).toBeLessThan(1.1);
		const plain = setUp('plain', 1500);
		expect(fit(plain.catalog, learn(plain.lessons)).shares.lifts).toBeNull();
	});
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
	it('is chosen where it would have foretold better, and not where nothing changed', () => {
		const drifting = setUp('drifting', 3000);
		expect(fit(drifting.catalog, learn(drifting.lessons)).shares.fading.size).toBeGreaterThan(0);
		const still = setUp('plain', 1500);
		expect(fit(still.catalog, learn(still.lessons)).shares.fading.size).toBe(0);
	});
	it('makes the odds better after a bad batch', () => {
		const { world, catalog, lessons, held } = setUp('drifting', 3000);
		const undated = lessons.map((lesson) => ({ ...lesson, closedAt: 0 }));
		const [dated, blind] = [lessons, undated].map(
			(some) => scoreWorld(world, catalog, learn(some), held).regret
		);
		expect(dated).toBeLessThan(blind as number);
	});
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
