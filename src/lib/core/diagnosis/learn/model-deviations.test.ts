import { engineOf } from '../engine';
import { describe, expect, it } from 'vitest';
import { inventedShop } from '../../simulation/invented-shop';
import { addLesson, learn, type Lesson } from './learn';
import { inferOdds } from '../infer/odds';
import { withDeviations, likeliestDeviation, deviationChances, type ModelQuestion } from './model-deviations';

describe('models with answers of their own', () => {
	it('come out of the counts again with the tickets that showed them', () => {
		const { catalog, lessons } = inventedShop('deviating', 400, 22);
		const [half, rest] = [lessons.slice(0, 200), lessons.slice(200)];
		const learned = learn(lessons);
		for (const lesson of rest) addLesson(learned, lesson, -1);
		const fresh = learn(half);
		const evidence = half[0] as Lesson;
		const [left, never] = [learned, fresh].map(
			(counts) => inferOdds(engineOf(catalog, counts), evidence.model, evidence.features).odds.faults
		);
		left?.forEach(({ code, probability }) =>
			expect(probability).toBeCloseTo(never?.find((fault) => fault.code === code)?.probability as number, 9)
		);
	});
});

describe('deviation by hand', () => {
	const question = (own: number[], others: number[]): ModelQuestion => ({
		model: 'm',
		question: 'q',
		rows: [{ fault: 0, own, others }]
	});
	it('is not believed of counts that are as usual', () =>
		expect(likeliestDeviation(Array.from({ length: 20 }, () => question([8, 2], [80, 20])))).toBeNull());
	it('is believed of counts that turn the usual round, the more of them there are', () => {
		const deviation = { share: 0.1, faults: 0.4, weight: 3 };
		const of = (n: number) => deviationChances(question([0, n], [90, 10]), deviation)[0] as number;
		expect(of(1)).toBeLessThan(0.2);
		expect(of(4)).toBeGreaterThan(of(2));
		expect(of(12)).toBeGreaterThan(0.95);
	});
	it('takes what is usual for a start: own answers lie between it and the counts', () => {
		const usual = {
			background: [0.9, 0.1],
			none: { chances: [0.9, 0.1], weight: 10 },
			perFault: [{ chances: [0.9, 0.1], weight: 100, doubts: [0, 0] }]
		};
		const deviation = { share: 0.1, faults: 0.4, weight: 3 };
		const on = (each: ModelQuestion) =>
			withDeviations(usual, each, deviationChances(each, deviation), deviation);
		const own = on(question([1, 11], [90, 10]));
		const chance = own.perFault[0]?.chances[1] as number;
		expect(chance).toBeGreaterThan(0.5);
		expect(chance).toBeLessThan(11 / 12);
		expect(own.perFault[0]?.weight).toBeLessThan(30);
		expect(on(question([9, 1], [90, 10])).perFault).toEqual(usual.perFault);
	});
});
