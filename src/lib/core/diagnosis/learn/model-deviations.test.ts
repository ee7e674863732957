import { describe, expect, it } from 'vitest';
import { withDeviations, likeliestDeviation, deviationChances, type ModelQuestion } from './model-deviations';

describe('deviation by hand', () => {
	const question = (own: number[], others: number[]): ModelQuestion => ({
		model: 'm',
		question: 'q',
		rows: [{ fault: 0, counts: own, predicted: others }]
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
