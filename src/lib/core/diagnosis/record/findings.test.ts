import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../../catalog/catalog';
import type { CatalogRecord } from '../../catalog/kinds';
import { lesson, none, records, times } from '$worlds/fuse-and-port';
import { engineOf, type Engine } from '../engine';
import { answersOf } from '../learn/evidence';
import { evidenceWords } from '../learn/evidence-words';
import { fit, type Fitted } from '../learn/fit';
import { learn, type Lesson } from '../learn/learn';
import type { OwnAnswers } from '../learn/model-deviations';
import { findingsOf } from './findings';

/** What is worth a line: bounds of each list, and its order. What was fitted is put in by hand. */

const catalog = buildCatalog([
	...records,
	...['x', 'y', 'z'].map((code): CatalogRecord => ({ record: 'fault', code, label: code }))
]);
const codes = [...catalog.faults.keys()];
const engine = (
	lessons: Lesson[],
	more: Partial<{ shares: Partial<Fitted['shares']>; byModel: Partial<Fitted['byModel']> }> = {}
): Engine => {
	const learned = learn(lessons);
	const real = fit(catalog, learned);
	return {
		catalog,
		learned,
		fitted: {
			...real,
			shares: { ...real.shares, ...more.shares },
			byModel: { ...real.byModel, ...more.byModel }
		}
	};
};
const lifts = (...pairs: [string, string, number][]) => {
	const matrix = new Float64Array(codes.length ** 2).fill(1);
	for (const [a, b, lift] of pairs) {
		const [i, j] = [codes.indexOf(a), codes.indexOf(b)];
		matrix[i * codes.length + j] = lift;
		matrix[j * codes.length + i] = lift;
	}
	return matrix;
};

describe('findings of a record', () => {
	it('of a shop that shows nothing are empty', () => {
		expect(findingsOf(engineOf(catalog, learn([])))).toEqual({
			fading: [],
			together: [],
			sources: [],
			ownAnswers: []
		});
	});
	it('models whose past fades, and by how much', () => {
		expect(findingsOf(engine([], { shares: { fading: new Map([['m', 0.8]]) } })).fading).toEqual([
			{ model: 'm', keep: 0.8 }
		]);
	});
	it('pairs of faults: once each, from one and a half times on, the five that stand out most', () => {
		const together = (...pairs: [string, string, number][]) =>
			findingsOf(engine([], { shares: { lifts: lifts(...pairs) } })).together;
		expect(together(['fuse', 'port', 1.5], ['port', 'x', 1.49])).toEqual([
			{ faults: ['fuse', 'port'], lift: 1.5 }
		]);
		const six: [string, string, number][] = [
			['fuse', 'port', 2],
			['fuse', 'x', 7],
			['fuse', 'y', 3],
			['fuse', 'z', 6],
			['port', 'x', 4],
			['port', 'y', 5]
		];
		expect(together(...six).map(({ lift }) => lift)).toEqual([7, 6, 5, 4, 3]);
	});
	it('sources: who was heard at all, most often first, ten at most', () => {
		const said = (source: string, fault = 'fuse') =>
			lesson({ features: { ...none, opinions: [{ source, fault }] } });
		const { sources } = findingsOf(
			engine([...times(6, said('technician:ada')), ...times(2, said('customer:', 'port'))])
		);
		expect(sources.map(({ source, from }) => [source, from])).toEqual([
			['technician:ada', 6],
			['customer:', 2]
		]);
		expect(sources[0]?.chance).toBeGreaterThan(sources[1]?.chance as number);
		const many = Array.from({ length: 11 }, (_, i) => times(i + 1, said(`technician:t${i}`))).flat();
		expect(findingsOf(engine(many)).sources.map(({ from }) => from)).toEqual([
			11, 10, 9, 8, 7, 6, 5, 4, 3, 2
		]);
	});
});

describe('answers of a model’s own', () => {
	const beliefs = (chances: number[]) => ({ chances, weight: 10, doubts: chances.map(() => 0) });
	const of = (perFault: number[][]) => ({
		background: [0.5, 0.5],
		none: { chances: [0.5, 0.5], weight: 1 },
		perFault: perFault.map(beliefs)
	});
	const even = codes.map(() => [0.5, 0.5]);
	const own = (
		question: string,
		sure: number,
		counts: number[],
		chances = [0.9, 0.1],
		fault = 1
	): OwnAnswers => ({
		model: 'm',
		question,
		rows: [{ fault, counts, predicted: [1, 1] }],
		biased: 0,
		deviates: new Map([[fault, sure]]),
		answers: () => of(even.map((usual, f) => (f === fault ? chances : usual)))
	});
	const found = (answers: OwnAnswers[], signs: OwnAnswers[] = []) =>
		findingsOf(
			engine([], {
				byModel: {
					answers: { usual: () => of(even), deviating: answers },
					signs: { usual: () => of(even), deviating: signs }
				}
			})
		).ownAnswers;
	it('say the answer that is furthest from usual, of how many tickets, and how sure', () => {
		expect(found([own('probe', 0.8, [7, 2])])).toEqual([
			{
				model: 'm',
				fault: 'port',
				words: 'Probe the fuse: open',
				here: 0.9,
				usual: 0.5,
				from: 9,
				sure: 0.8
			}
		]);
		// answers that several faults share are counted in parts: tickets are whole
		expect(found([own('probe', 0.8, [18.999128, 2])])[0]?.from).toBe(21);
		expect(found([], [own('dead', 0.9, [1, 4], [0.25, 0.75])])[0]).toMatchObject({
			words: 'dead',
			here: 0.25,
			from: 5
		});
		// of several answers the one that moved furthest, up or down
		const draws = answersOf(catalog, 'meter:draw');
		const usual = draws.map((_, k) => (k === 1 ? 0.5 : 0.5 / (draws.length - 1)));
		const less = draws.map((_, k) => (k === 1 ? 0.125 : 0.875 / (draws.length - 1)));
		const rare = { ...own('meter:draw', 0.9, [1, 4]), answers: () => of(codes.map(() => less)) };
		const seldom = engine([], {
			byModel: { answers: { usual: () => of(codes.map(() => usual)), deviating: [rare] } }
		});
		expect(findingsOf(seldom).ownAnswers[0]).toMatchObject({
			words: evidenceWords(catalog, `meter:draw=${draws[1] as string}`),
			here: 0.125,
			usual: 0.5
		});
	});
	it('are left out below four fifths; surest first, then of most tickets, six at most', () => {
		expect(found([own('probe', 0.79, [7, 2])])).toEqual([]);
		const many = [0.81, 0.99, 0.9, 0.9, 0.85, 0.95, 0.82].map((sure, i) => own('probe', sure, [i, 1]));
		expect(found(many).map(({ sure, from }) => [sure, from])).toEqual([
			[0.99, 2],
			[0.95, 6],
			[0.9, 4],
			[0.9, 3],
			[0.85, 5],
			[0.82, 7]
		]);
	});
});
