import { describe, expect, it } from 'vitest';
import type { DayTask } from '$lib/core/bench/day/plan-day';
import { HOUR_MS, MINUTE_MS } from '$lib/core/units/instant';
import { laneScale, quarterBeside, quarterOf, stripsOf } from './lane-scale';
import { lateWords } from './late-words';

const day = { year: 2026, month: 11, day: 26 };
const at = (hour: number, minute = 0) => Date.UTC(2026, 10, 26, hour, minute);

describe('the scale of a day', () => {
	it('is nine to six where nothing is open, and whole hours round what is', () => {
		const usual = laneScale(day, 'UTC', [], []);
		expect([usual.from, usual.to, usual.hours.length]).toEqual([at(9), at(18), 10]);
		const early = laneScale(day, 'UTC', [[at(8, 30), at(12)]], [{ start: at(17), end: at(18, 20) }]);
		expect([early.from, early.to]).toEqual([at(8), at(19)]);
		// what lies on other days does not stretch it
		const others = laneScale(day, 'UTC', [[at(9) - 24 * HOUR_MS, at(20) - 24 * HOUR_MS]], []);
		expect([others.from, others.to]).toEqual([at(9), at(18)]);
	});
	it('a moment stands at its share, cut off at the edges', () => {
		const { at: share } = laneScale(day, 'UTC', [], []);
		expect([at(9), at(13, 30), at(18), at(8), at(19)].map(share)).toEqual([0, 0.5, 1, 0, 1]);
	});
	it('hands choose quarters of an hour', () => {
		expect(quarterOf(at(9, 7))).toBe(at(9));
		expect(quarterOf(at(9, 8))).toBe(at(9, 15));
		expect(quarterBeside(at(9, 15), 1)).toBe(at(9, 30));
		expect(quarterBeside(at(9, 15), -1)).toBe(at(9));
	});
});

describe('strips', () => {
	const task = (number: string, start: number, minutes: number, wait = 0): DayTask => ({
		number,
		code: `${number} ${start}`,
		label: '',
		technician: 'a',
		station: null,
		start,
		end: start + minutes * MINUTE_MS,
		waitEnd: start + (minutes + wait) * MINUTE_MS,
		fixed: null
	});
	it('join what one pair of hands does on one ticket without a break', () => {
		const strips = stripsOf([
			task('1', at(9), 10),
			task('1', at(9, 10), 20, 5),
			task('1', at(9, 35), 5),
			task('2', at(9, 40), 5),
			task('1', at(9, 45), 5)
		]);
		expect(strips.map(({ tasks, start, end, waitEnd }) => [tasks.length, start, end, waitEnd])).toEqual([
			[2, at(9), at(9, 30), at(9, 35)],
			[1, at(9, 35), at(9, 40), at(9, 40)],
			[1, at(9, 40), at(9, 45), at(9, 45)],
			[1, at(9, 45), at(9, 50), at(9, 50)]
		]);
		expect(stripsOf([])).toEqual([]);
	});
	it('words of the plan are written with the shop’s moments', () =>
		expect(
			lateWords('soldering is full until {5.25}, not {6}', { weekdayTime: (moment) => `t${moment}` })
		).toBe('soldering is full until t5.25, not t6'));
});
