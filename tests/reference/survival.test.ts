import { describe, expect, it } from 'vitest';
import { kaplanMeier, survivalAt, type Followed } from '$lib/core/statistics/kaplan-meier';

/**
 * Remission of acute myelogenous leukaemia, weeks: R. G. Miller, Survival Analysis (1981); the data of `aml` in the R package
 * survival, values as its survfit gives them.
 */
const followed = (text: string): Followed[] =>
	text.split(' ').map((word) => ({ time: parseInt(word), event: !word.endsWith('+') }));
const MAINTAINED = followed('9 13 13+ 18 23 28+ 31 34 45+ 48 161+');
const OTHERS = followed('5 5 8 8 12 16+ 23 27 30 33 43 45');

describe('Kaplan and Meier', () => {
	it.each([
		[9, 0.90909, 0.086678],
		[13, 0.81818, 0.116291],
		[18, 0.71591, 0.139665],
		[23, 0.61364, 0.152632],
		[31, 0.49091, 0.164193],
		[34, 0.36818, 0.162669],
		[48, 0.18409, 0.153493]
	])('maintained, %i weeks: %f with Greenwood’s error %f', (time, survival, error) => {
		const step = kaplanMeier(MAINTAINED).find((each) => each.time === time);
		expect(step?.survival).toBeCloseTo(survival, 5);
		expect((step?.survival ?? 0) * Math.sqrt(step?.greenwood ?? 0)).toBeCloseTo(error, 5);
	});
	it('not maintained, to the last one, of whom none is left', () => {
		const steps = kaplanMeier(OTHERS);
		expect(steps.map(({ time }) => time)).toEqual([5, 8, 12, 23, 27, 30, 33, 43, 45]);
		[0.83333, 0.66667, 0.58333, 0.48611, 0.38889, 0.29167, 0.19444, 0.09722, 0].forEach((survival, i) =>
			expect(steps[i]?.survival).toBeCloseTo(survival, 5)
		);
		expect(steps.at(-1)?.greenwood).toBe(Infinity);
	});
	it('between its steps survival is that of the last one, before the first it is 1', () => {
		const steps = kaplanMeier(MAINTAINED);
		expect(survivalAt(steps, 8.9)).toBe(1);
		expect(survivalAt(steps, 9)).toBeCloseTo(0.90909, 5);
		expect(survivalAt(steps, 12)).toBeCloseTo(0.90909, 5);
		expect(survivalAt(steps, 1000)).toBeCloseTo(0.18409, 5);
		expect(survivalAt([], 5)).toBe(1);
	});
});
