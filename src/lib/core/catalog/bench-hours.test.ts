import { describe, expect, it } from 'vitest';
import { openingHours, stretchOf, USUAL_WEEK, weekHours } from './bench-hours';
import { procedureStep } from './kinds-of-bench';

const week = (monday: string[]) => [monday, [], [], [], [], [], []];

describe('opening hours', () => {
	it.each([
		[week(['09:00-12:30', '13:30-18:00']), true],
		[week(['09:00-12:30', '12:30-18:00']), true],
		[week(['00:00-24:00']), true],
		[week(['09:00-09:00']), false],
		[week(['10:00-09:00']), false],
		[week(['09:00-24:01']), false],
		[week(['09:00-12:30', '12:00-18:00']), false],
		[week(['9-18']), false],
		[USUAL_WEEK, true],
		[USUAL_WEEK.slice(1), false]
	])('%j is read: %s', (hours, sound) => expect(weekHours.safeParse(hours).success).toBe(sound));
	it('are minutes of the day by the clock on the wall', () => {
		expect(stretchOf('09:05-12:30')).toEqual([545, 750]);
		expect(openingHours('UTC', week(['08:00-09:00']), ['2026-12-25'])).toEqual({
			timeZone: 'UTC',
			week: [[[480, 540]], [], [], [], [], [], []],
			holidays: new Set(['2026-12-25'])
		});
		expect(openingHours('UTC', undefined, undefined).week[6]).toEqual([]);
	});
});

describe('a step of a procedure', () => {
	it.each([
		[{ kind: 'hands', says: 'x' }, []],
		[{ kind: 'wait', says: 'x', wait: 'cure', minutes: 10 }, []],
		[{ kind: 'wait', says: 'x' }, ['wait', 'minutes']],
		[{ kind: 'gate', says: 'x' }, ['gate']],
		[{ kind: 'part', says: 'x' }, ['sku']],
		[{ kind: 'gate', says: 'x', gate: 'g' }, []]
	])('%j lacks %j', (step, missing) => {
		const { error } = procedureStep.safeParse(step);
		expect(error?.issues.map(({ path }) => path[0]) ?? []).toEqual(missing);
	});
});
