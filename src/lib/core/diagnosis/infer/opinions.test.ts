import { engineOf } from '../engine';
import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../../catalog/catalog';
import type { CatalogRecord } from '../../catalog/kinds';
import type { Evidence } from '../learn/evidence';
import { evidenceWords } from '../learn/evidence-words';
import { emptyLearned, learn, type Learned, type Lesson } from '../learn/learn';
import { inferOdds } from '../infer/odds';
import { opinionsOf, type Opinion } from '../learn/opinions';
import { reliability } from './opinion-likelihood';

const catalog = buildCatalog([
	...['a', 'b', 'c', 'd'].map((code): CatalogRecord => ({
		record: 'fault',
		code,
		label: code.toUpperCase()
	})),
	{ record: 'technician', code: 'ada', name: 'Ada' }
]);
const none = { signs: [], answers: [], attempts: [] };
const lesson = (faults: string[], source: string, fault: string): Lesson => ({
	model: 'm',
	faults,
	features: { ...none, opinions: [{ source, fault }] },
	tried: []
});
const times = (n: number, make: () => Lesson) => Array.from({ length: n }, make);
const evenly = ['a', 'b', 'c', 'd'];
/** one source always right, one that says "a" whatever it is */
const learned = learn(
	evenly.flatMap((fault) => [
		...times(10, () => lesson([fault], 'technician:ada', fault)),
		...times(10, () => lesson([fault], 'customer:Quay', 'a'))
	])
);
const chanceOf = (learned: Learned, opinions: Opinion[], fault: string) =>
	inferOdds(engineOf(catalog, learned), 'm', { ...none, opinions }).odds.faults.find(
		({ code }) => code === fault
	)?.probability as number;

describe('opinions', () => {
	it('weigh as much as their source was right', () => {
		const base = chanceOf(learned, [], 'a');
		const guess = chanceOf(learned, [{ source: 'technician:ada', fault: 'a' }], 'a');
		const claim = chanceOf(learned, [{ source: 'customer:Quay', fault: 'a' }], 'a');
		expect(guess).toBeGreaterThan(base + 0.3);
		// said of every device alike, it says nothing
		expect(Math.abs(claim - base)).toBeLessThan(0.12);
	});
	it('of an unknown source lean on its kind, of an unknown kind on every other time', () => {
		expect(reliability(learned, 'technician:ada')).toMatchObject({ from: 40 });
		expect(reliability(learned, 'technician:ada').chance).toBeGreaterThan(0.95);
		expect(reliability(learned, 'technician:new').chance).toBeGreaterThan(0.85);
		expect(reliability(learned, 'customer:new').chance).toBeLessThan(0.35);
		expect(reliability(emptyLearned(), 'customer:new')).toEqual({ chance: 0.5, from: 0 });
	});
	it('leave odds that are whole, and come out of the counts as they went in', () => {
		const { odds, posterior } = inferOdds(engineOf(catalog, learned), 'm', {
			...none,
			opinions: [
				{ source: 'technician:ada', fault: 'b' },
				{ source: 'customer:Quay', fault: 'c' }
			]
		});
		expect(posterior.reduce((sum, chance) => sum + chance, 0)).toBeCloseTo(1, 9);
		expect(odds.faults[0]?.code).toBe('b');
		expect(odds.faults[0]?.reasons[0]?.evidence).toBe('technician:ada=b');
	});
	it('only the first of each source counts, by name for trade customers, together for all others', () => {
		const seen = (customer: Evidence['customer']) =>
			opinionsOf(
				{
					customer,
					opinions: [
						{ from: 'customer', fault: 'a' },
						{ from: 'technician', fault: 'b', by: 'ada' },
						{ from: 'technician', fault: 'c', by: 'ada' },
						{ from: 'technician', fault: 'gone-from-the-catalog', by: 'bo' }
					]
				} as unknown as Evidence,
				catalog
			);
		expect(seen({ name: 'Quay', kind: 'trade' })).toEqual([
			{ source: 'customer:Quay', fault: 'a' },
			{ source: 'technician:ada', fault: 'b' }
		]);
		expect(seen({ name: 'Somebody', kind: 'private' })[0]?.source).toBe('customer:');
	});
	it.each([
		['technician:ada=b', 'first guess by Ada: B'],
		['customer:Quay & Sons=c', 'Quay & Sons claims: C'],
		['customer:=a', 'the customer claims: A']
	])('%s reads as "%s"', (key, words) => expect(evidenceWords(catalog, key)).toBe(words));
});
