import { describe, expect, it } from 'vitest';
import { clopperPearsonInterval } from '../statistics/rate-interval';
import { comebackRate } from './comeback-rate';

const followed = (events: readonly number[], censored: readonly number[]) => [
	...events.map((time) => ({ time, event: true })),
	...censored.map((time) => ({ time, event: false }))
];

describe('how often jobs come back', () => {
	/**
	 * Remissions under 6-mercaptopurine in weeks (Freireich et al., Blood 21, 1963), with the survival and log(-log) intervals that text
	 * books print for them (Kalbfleisch & Prentice 1.4; the intervals from memory).
	 */
	const remissions = followed(
		[6, 6, 6, 7, 10, 13, 16, 22, 23],
		[6, 9, 10, 11, 17, 19, 20, 25, 32, 32, 34, 35]
	);
	it.each([
		[6, 3, 0.857, 0.62, 0.952],
		[7, 4, 0.807, 0.563, 0.923],
		[9.9, 4, 0.807, 0.563, 0.923],
		[10, 5, 0.753, 0.503, 0.889],
		[16, 7, 0.627, 0.368, 0.805],
		[23, 9, 0.448, 0.188, 0.68],
		[1000, 9, 0.448, 0.188, 0.68]
	])('after %d weeks %d of 21 have, %d have not: %d to %d', (time, comebacks, survival, low, high) => {
		const rate = comebackRate(remissions, time);
		expect(rate.jobs).toBe(21);
		expect(rate.comebacks).toBe(comebacks);
		expect(1 - rate.rate).toBeCloseTo(survival, 3);
		expect(1 - (rate.high ?? NaN)).toBeCloseTo(low, 3);
		expect(1 - (rate.low ?? NaN)).toBeCloseTo(high, 3);
	});
	it('is nothing before the first, up to what the jobs that were followed so long leave open', () => {
		// 20 of 21 were followed for six weeks or longer than five
		expect(comebackRate(remissions, 5)).toEqual({
			jobs: 21,
			comebacks: 0,
			rate: 0,
			low: 0,
			high: clopperPearsonInterval(0, 21, 0.95).high
		});
		const few = comebackRate(followed([50], [5, 6, 30]), 6);
		expect(few).toMatchObject({ jobs: 4, comebacks: 0, rate: 0, low: 0 });
		// one of four was followed for less than six days
		expect(few.high).toBe(clopperPearsonInterval(0, 3, 0.95).high);
		expect(few.high).toBeCloseTo(0.7076, 4);
	});
	it('says nothing of its end where nobody was followed so long', () => {
		expect(comebackRate(followed([], [3, 4]), 5)).toEqual({
			jobs: 2,
			comebacks: 0,
			rate: 0,
			low: 0,
			high: null
		});
		expect(comebackRate([], 5)).toEqual({ jobs: 0, comebacks: 0, rate: 0, low: 0, high: null });
	});
	it('is all of them without an interval where every one came back', () => {
		expect(comebackRate(followed([2, 3], []), 3)).toEqual({
			jobs: 2,
			comebacks: 2,
			rate: 1,
			low: null,
			high: null
		});
	});
});
