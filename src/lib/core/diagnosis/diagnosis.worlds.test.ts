import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import { DEMO_CATALOG } from '../simulation/demo-catalog';
import { simulateShop } from '../simulation/demo-shop';
import { engineOf } from './engine';
import { inferOdds } from './infer/odds';
import type { Features } from './learn/evidence';
import { addLesson, learn, lessonOf, type Lesson } from './learn/learn';

const catalog = buildCatalog(DEMO_CATALOG);
const { tickets } = simulateShop({ seed: 3, endsAt: Date.UTC(2026, 10, 24), count: 500 });
const lessons = tickets.flatMap((ticket) => lessonOf(ticket, catalog) ?? []);
const learned = learn(lessons);
const none: Features = { signs: [], answers: [], attempts: [] };

describe('learning from the demo shop', () => {
	it('does not depend on the order of the tickets', () => {
		const backwards = learn([...lessons].reverse());
		const [one, two] = [
			inferOdds(engineOf(catalog, learned), 'tern-6', none),
			inferOdds(engineOf(catalog, backwards), 'tern-6', none)
		];
		one.posterior.forEach((p, i) => expect(p).toBeCloseTo(two.posterior[i] as number, 12));
	});
	it('unlearns a ticket to where it was', () => {
		const before = inferOdds(engineOf(catalog, learned), 'tern-9', none).posterior;
		const copy = learn(lessons);
		const extra = lessons[7] as Lesson;
		addLesson(copy, extra);
		addLesson(copy, extra, -1);
		inferOdds(engineOf(catalog, copy), 'tern-9', none).posterior.forEach((p, i) =>
			expect(p).toBeCloseTo(before[i] as number, 12)
		);
	});
});
