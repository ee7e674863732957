import { describe, expect, it } from 'vitest';
import type { WorldKind } from '$worlds/engine-world';
import { inventedShop } from '$worlds/invented-shop';
import { scoreWorld } from '$worlds/world-scores';
import { fit } from './fit';
import { learn } from './learn';

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
});
