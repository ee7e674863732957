import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../../catalog/catalog';
import type { CatalogRecord } from '../../catalog/kinds';
import { catalog, lesson, none, records, times } from '$worlds/fuse-and-port';
import {
	answersByFault,
	likeliestHyperparameters,
	likeliestTrust,
	type QuestionCounts
} from './answer-model';
import { fit } from './fit';
import { addLesson, learn, type Lesson } from './learn';

const probed = (faults: string[], answer: string, count: number): Lesson[] =>
	times(count, lesson({ faults, features: { ...none, answers: [{ question: 'probe', answer }] } }));
const signed = (faults: string[], present: boolean, count: number): Lesson[] =>
	times(count, lesson({ faults, features: { ...none, signs: [['dead', present]] } }));
const close = (found: readonly number[] | undefined, wanted: readonly number[]) =>
	wanted.forEach((value, k) => expect(found?.[k]).toBeCloseTo(value, 9));

describe('what is told of a question', () => {
	const some = [
		...probed(['fuse'], 'open', 9),
		...probed(['fuse'], 'through', 1),
		...probed(['port'], 'through', 60),
		...probed([], 'through', 30)
	];
	/** counts by hand, and the catalog's beliefs of both faults: 0.95 to 0.05 and the reverse, forty tickets each */
	const counted = (more: Partial<QuestionCounts> = {}): QuestionCounts => ({
		perFault: [
			[9, 1],
			[0, 60]
		],
		none: [0, 30],
		usual: [1, 1],
		beliefs: [
			{ chances: [0.95, 0.05], weight: 40 },
			{ chances: [0.05, 0.95], weight: 40 }
		],
		...more
	});
	const byHand = (question: QuestionCounts) => {
		const hyperparameters = likeliestHyperparameters([question]);
		return answersByFault(question, hyperparameters, likeliestTrust([question], hyperparameters));
	};
	it('are the answers by fault of its counts, with the catalog’s beliefs and their weights', () => {
		const told = fit(catalog, learn(some)).answers('probe', 'new');
		const wanted = byHand(counted());
		expect(told.answers).toEqual(['open', 'through']);
		wanted.perFault.forEach(({ chances, weight }, f) => {
			close(told.perFault[f]?.chances, chances);
			expect(told.perFault[f]?.weight).toBeCloseTo(weight, 9);
		});
		close(told.none.chances, wanted.none.chances);
	});
	it('a belief without a weight is worth four tickets, an answer that it leaves out nothing', () => {
		const stated = buildCatalog([
			...records.filter(({ record }) => record !== 'expectation'),
			{ record: 'expectation', given: 'fuse', test: 'probe', outcomes: { open: 1 } } as CatalogRecord
		]);
		const told = fit(stated, learn(some)).answers('probe', 'new');
		const wanted = byHand(counted({ beliefs: [{ chances: [1, 0], weight: 4 }, null] }));
		close(told.perFault[0]?.chances, wanted.perFault[0]?.chances as number[]);
		close(told.perFault[1]?.chances, wanted.perFault[1]?.chances as number[]);
	});
	it('what the catalog states to be usual holds for every fault of which it states nothing else', () => {
		const said = (...more: object[]) =>
			fit(
				buildCatalog([
					...records.filter(({ record }) => record !== 'expectation'),
					...(more as CatalogRecord[])
				]),
				learn([...some])
			).answers('probe', 'new');
		const usual = { record: 'expectation', test: 'probe', outcomes: { open: 0.1, through: 0.9 }, weight: 8 };
		const own = { record: 'expectation', given: 'fuse', test: 'probe', outcomes: { open: 1 } };
		const wanted = byHand(
			counted({
				usual: [0.81, 7.21],
				usualStated: true,
				beliefs: [
					{ chances: [1, 0], weight: 4 },
					{ chances: [0.1, 0.9], weight: 8 }
				]
			})
		);
		for (const told of [said(usual, own), said(own, usual)]) {
			close(told.perFault[0]?.chances, wanted.perFault[0]?.chances as number[]);
			close(told.perFault[1]?.chances, wanted.perFault[1]?.chances as number[]);
			close(told.none.chances, wanted.none.chances);
		}
		// before any ticket what is usual is what is stated, and a fault's own statement does not shift it
		const empty = fit(
			buildCatalog([
				...records.filter(({ record }) => record !== 'expectation'),
				usual,
				own
			] as CatalogRecord[]),
			learn([])
		).answers('probe', 'new');
		close(empty.none.chances, [0.81 / 8.02, 7.21 / 8.02]);
	});
	it('a sign too', () => {
		const some = [
			...records.filter(({ record }) => record !== 'expectation'),
			{ record: 'expectation', sign: 'dead', chance: 0.05, weight: 30 }
		] as CatalogRecord[];
		const { perFault, background } = fit(buildCatalog(some), learn([])).sign('dead', 'new');
		expect(background).toBeCloseTo((30 * 0.05 + 0.01) / 30.02, 9);
		for (const { chance } of perFault) expect(chance).toBeLessThan(0.08);
	});
	it('answers under two faults belong to the one whose answers depart most from what is usual', () => {
		const both = fit(catalog, learn([...some, ...probed(['fuse', 'port'], 'open', 7)])).answers(
			'probe',
			'new'
		);
		// hyperparameters and trust are judged on tickets with one fault alone
		const hyperparameters = likeliestHyperparameters([counted()]);
		const trust = likeliestTrust([counted()], hyperparameters);
		const shared = [
			[16, 1],
			[0, 60]
		];
		const wanted = answersByFault(counted({ perFault: shared }), hyperparameters, trust);
		wanted.perFault.forEach(({ chances, weight }, f) => {
			close(both.perFault[f]?.chances, chances);
			expect(both.perFault[f]?.weight).toBeCloseTo(weight, 9);
		});
	});
	it('a fault that the catalog no longer knows is left out, and so is its half of two', () => {
		const gone = fit(
			catalog,
			learn([...some, ...probed(['gone'], 'open', 50), ...probed(['gone', 'port'], 'through', 4)])
		);
		const plain = fit(catalog, learn([...some, ...probed(['port'], 'through', 4)]));
		close(
			gone.answers('probe', 'new').perFault[1]?.chances,
			plain.answers('probe', 'new').perFault[1]?.chances ?? []
		);
	});
	it('is worked out once for counts that have not changed, and again for those that have', () => {
		const learned = learn(some);
		const first = fit(catalog, learned);
		expect(fit(catalog, learned)).toBe(first);
		addLesson(learned, some[0] as Lesson);
		expect(fit(catalog, learned)).not.toBe(first);
		expect(fit(buildCatalog(records), learned)).not.toBe(fit(catalog, learned));
	});
});

describe('what is told of a sign', () => {
	const plain = buildCatalog(records.filter(({ record }) => record !== 'expectation'));
	const alone = [
		...signed(['fuse'], true, 12),
		...signed(['fuse'], false, 3),
		...signed(['port'], true, 1),
		...signed(['port'], false, 14),
		...signed([], false, 5)
	];
	const beliefs = (lessons: Lesson[]) => fit(plain, learn(lessons)).sign('dead', 'new');
	it('present and absent add up to one, under every fault and none', () => {
		const { perFault, absent, none: without, background } = beliefs(alone);
		perFault.forEach(({ chance }, f) => expect(chance + (absent[f]?.chance as number)).toBeCloseTo(1, 12));
		expect(perFault[0]?.chance).toBeGreaterThan(0.5);
		expect(perFault[1]?.chance).toBeLessThan(0.3);
		expect(without.chance).toBeLessThan(0.3);
		expect(background).toBeLessThan(0.3);
	});
	it('present under two faults it is made by each with its part of the chance (noisy or), absent it is so for each', () => {
		const counts = (fuse: [number, number], port: [number, number]): QuestionCounts => ({
			perFault: [fuse, port],
			none: [0, 5],
			usual: [0.3, 1.7],
			beliefs: [null, null]
		});
		// what is likeliest of the hyperparameters is judged on tickets with one fault alone
		const hyperparameters = likeliestHyperparameters([counts([12, 3], [1, 14])]);
		let fitted = answersByFault(counts([12, 3], [1, 14]), hyperparameters, 0.7);
		for (let round = 0; round < 3; round++) {
			const leak = fitted.background[0] as number;
			const [p, q] = fitted.perFault.map(({ chances }) => chances[0] as number) as [number, number];
			const silent = (1 - leak) * Math.min(1, (1 - p) / (1 - leak)) * Math.min(1, (1 - q) / (1 - leak));
			const [a, b] = [Math.min(1, p / (1 - silent)), Math.min(1, q / (1 - silent))];
			fitted = answersByFault(
				counts([12 + 6 * a, 5 + 6 * (1 - a)], [1 + 6 * b, 16 + 6 * (1 - b)]),
				hyperparameters,
				0.7
			);
		}
		const both = beliefs([
			...alone,
			...signed(['fuse', 'port'], true, 6),
			...signed(['fuse', 'port'], false, 2)
		]);
		fitted.perFault.forEach(({ chances, weight }, f) => {
			expect(both.perFault[f]?.chance).toBeCloseTo(chances[0] as number, 9);
			expect(both.perFault[f]?.weight).toBeCloseTo(weight, 9);
		});
		expect(both.background).toBeCloseTo(fitted.background[0] as number, 9);
	});
	it('a sign that the catalog states is believed as stated while nothing is known', () => {
		const stated = (chance: number, weight?: number) =>
			fit(
				buildCatalog([
					...records,
					{
						record: 'expectation',
						given: 'port',
						sign: 'dead',
						chance,
						...(weight ? { weight } : {})
					} as CatalogRecord
				]),
				learn([...signed([], false, 1)])
			).sign('dead', 'new').perFault[1];
		expect(stated(0.9, 40)?.chance).toBeGreaterThan(0.8);
		expect(stated(0.9)?.chance).toBeLessThan(stated(0.9, 40)?.chance as number);
		expect(stated(0.9)?.chance).toBeGreaterThan(stated(0.3)?.chance as number);
	});
});
