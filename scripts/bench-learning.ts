// How quickly closed tickets are learnt, and what one more costs, on the demo shop's tickets: part of npm run bench.
import { engineOf } from '$lib/core/diagnosis/engine';
import { buildCatalog } from '../src/lib/core/catalog/catalog';
import type { CatalogRecord } from '../src/lib/core/catalog/kinds';
import { fit } from '../src/lib/core/diagnosis/learn/fit';
import { addLesson, emptyLearned, lessonOf, type Lesson } from '../src/lib/core/diagnosis/learn/learn';
import { inferOdds } from '../src/lib/core/diagnosis/infer/odds';
import { DEMO_CATALOG } from '../src/lib/core/simulation/demo-catalog';
import { simulateShop } from '../src/lib/core/simulation/demo-shop';

const MANY = 100_000;
const catalog = buildCatalog(DEMO_CATALOG);
const { tickets, records } = simulateShop({ seed: 3, endsAt: Date.UTC(2026, 10, 24), count: 1400 });
const texts = records.map((record) => JSON.stringify(record)).filter((text) => text.includes('"ticket"'));

function seconds(work: () => void): number {
	const since = performance.now();
	work();
	return (performance.now() - since) / 1000;
}

/** `once` over and over until it has met so many */
function over<Item>(items: readonly Item[], many: number, once: (item: Item, i: number) => void): void {
	for (let i = 0; i < many; i++) once(items[i % items.length] as Item, i);
}

const lessons: Lesson[] = [];
const read = seconds(() =>
	over(tickets, MANY, (ticket, i) => {
		const lesson = lessonOf(ticket, catalog);
		if (lesson && i < tickets.length) lessons.push(lesson);
	})
);
const learned = emptyLearned();
const learnt = seconds(() => over(lessons, MANY, (lesson) => addLesson(learned, lesson)));
const parsed = seconds(() => over(texts, MANY, (text) => void JSON.parse(text)));
console.log(
	`learning ${MANY.toLocaleString('en')} closed tickets: evidence read ${read.toFixed(1)} s, counted ${learnt.toFixed(1)} s; ` +
		`${((read + learnt) / parsed).toFixed(1)} times JSON.parse alone (${parsed.toFixed(1)} s)`
);
const again: number[] = [];
for (const lesson of lessons.slice(0, 15)) {
	again.push(
		1000 *
			seconds(() => {
				addLesson(learned, lesson);
				fit(catalog, learned);
			})
	);
}
again.sort((a, b) => a - b);
console.log(`one more ticket after them, counted and fitted: median ${(again[7] as number).toFixed(0)} ms`);

/** a catalog of sixty faults with as many signs, and tickets of it */
const sixty = Array.from({ length: 60 }, (_, i) => i);
const large = buildCatalog([
	...sixty.map((i): CatalogRecord => ({ record: 'fault', code: `f${i}`, label: `F${i}` })),
	...sixty.map((i): CatalogRecord => ({ record: 'sign', code: `s${i}`, label: `S${i}`, kind: 'symptom' }))
]);
const counts = emptyLearned();
const signsOf = (i: number) => sixty.slice(0, 16).map((s) => [`s${s}`, (s * 7 + i) % 5 === 0] as const);
over(sixty, 3000, (i, n) =>
	addLesson(
		counts,
		{
			model: 'm',
			closedAt: 0,
			faults: [`f${i}`],
			features: { signs: signsOf(i + n), answers: [], attempts: [] },
			tried: []
		},
		large
	)
);
fit(large, counts);
const asked = sixty.map(
	(i) =>
		1000 *
		seconds(
			() => void inferOdds(engineOf(large, counts), 'm', { signs: signsOf(i), answers: [], attempts: [] })
		)
);
asked.sort((a, b) => a - b);
console.log(
	`odds in a catalog of 60 faults, 16 signs: median ${(asked[30] as number).toFixed(1)} ms, p95 ${(asked[57] as number).toFixed(1)} ms`
);
