import { CalendarDate, CalendarDateTime, toZoned } from '@internationalized/date';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	closingAhead,
	dateOf,
	daysAfter,
	daysUntilOpen,
	isOpen,
	momentOn,
	openOn,
	wallClock,
	weekdayOf,
	type OpeningHours
} from './calendar';
import { HOUR_MS } from './instant';

/** Monday to Friday nine to six with half an hour at noon, Saturday ten to one. */
const weekday = [
	[540, 720],
	[750, 1080]
] as const;
const hours = (more: Partial<OpeningHours> = {}): OpeningHours => ({
	timeZone: 'Europe/Lisbon',
	week: [weekday, weekday, weekday, weekday, weekday, [[600, 780]], []],
	holidays: new Set(['2026-12-25']),
	...more
});
const zones = [
	'Europe/Lisbon',
	'America/New_York',
	'Australia/Lord_Howe',
	'Asia/Kolkata',
	'Pacific/Apia',
	'UTC'
];
const utc = (text: string) => Date.parse(`${text}Z`);

describe('the clock on the wall', () => {
	// the dates package of the screens as a second implementation
	it('shows what the calendar of the zone shows, and back', () => {
		fc.assert(
			fc.property(
				fc.constantFrom(...zones),
				fc.integer({ min: utc('2000-01-01T00:00'), max: utc('2050-01-01T00:00') }),
				fc.integer({ min: 0, max: 1439 }),
				(timeZone, at, minutes) => {
					const { year, month, day } = wallClock(at, timeZone);
					const moment = momentOn({ year, month, day }, minutes, timeZone);
					const theirs = toZoned(
						new CalendarDateTime(year, month, day, Math.floor(minutes / 60), minutes % 60),
						timeZone,
						'compatible'
					);
					expect(moment).toBe(theirs.toDate().getTime());
				}
			),
			{ numRuns: 400 }
		);
	});
	it('knows days, dates and weekdays', () => {
		expect(dateOf({ year: 2026, month: 3, day: 9 })).toBe('2026-03-09');
		expect(daysAfter({ year: 2026, month: 12, day: 31 }, 1)).toEqual({ year: 2027, month: 1, day: 1 });
		expect(daysAfter({ year: 2028, month: 3, day: 1 }, -1)).toEqual({ year: 2028, month: 2, day: 29 });
		// 26 November 2026 is a Thursday
		expect(weekdayOf({ year: 2026, month: 11, day: 26 })).toBe(3);
		expect(weekdayOf({ year: 2026, month: 11, day: 29 })).toBe(6);
		expect(weekdayOf({ year: 2026, month: 11, day: 30 })).toBe(0);
		fc.assert(
			fc.property(
				fc.integer({ min: 1, max: 28 }),
				fc.integer({ min: 1, max: 12 }),
				fc.integer({ min: -400, max: 400 }),
				(day, month, days) => {
					const theirs = new CalendarDate(2026, month, day).add({ days });
					expect(dateOf(daysAfter({ year: 2026, month, day }, days))).toBe(theirs.toString());
				}
			)
		);
	});
});

describe('opening hours', () => {
	it.each<[string, number | null]>([
		['2026-11-26T08:00', 0],
		['2026-11-26T12:15', 0],
		['2026-11-26T17:59', 0],
		// Thursday evening, Saturday after one, a Sunday, and the evening before Christmas with the weekend behind it
		['2026-11-26T18:00', 1],
		['2026-11-28T13:00', 2],
		['2026-11-29T10:00', 1],
		['2026-12-24T18:00', 2]
	])('at %s it is open again in %s days', (at, days) => expect(daysUntilOpen(utc(at), hours())).toBe(days));
	it('by the clock on its own wall; a shop that never opens has no such day', () => {
		// half past eight on Saturday morning in Auckland, Friday evening in UTC
		const far = hours({ timeZone: 'Pacific/Auckland' });
		expect(daysUntilOpen(utc('2026-11-27T19:30'), far)).toBe(0);
		expect(daysUntilOpen(utc('2026-11-28T00:00'), far)).toBe(2);
		expect(daysUntilOpen(utc('2026-11-26T08:00'), hours({ week: [] }))).toBeNull();
	});
	it('a day’s stretches, none on a holiday nor on a closed day', () => {
		const thursday = { year: 2026, month: 11, day: 26 };
		expect(openOn(thursday, hours())).toEqual([
			[utc('2026-11-26T09:00'), utc('2026-11-26T12:00')],
			[utc('2026-11-26T12:30'), utc('2026-11-26T18:00')]
		]);
		expect(openOn({ year: 2026, month: 11, day: 29 }, hours())).toEqual([]);
		expect(openOn({ year: 2026, month: 12, day: 25 }, hours())).toEqual([]);
		expect(openOn({ year: 2026, month: 12, day: 28 }, hours({ week: [] }))).toEqual([]);
	});
	it.each<[string, boolean]>([
		['2026-11-26T08:59:59', false],
		['2026-11-26T09:00:00', true],
		['2026-11-26T11:59:59', true],
		['2026-11-26T12:00:00', false],
		['2026-11-26T12:30:00', true],
		['2026-11-26T18:00:00', false],
		['2026-12-25T10:00:00', false]
	])('at %s it is open: %s', (at, open) => expect(isOpen(utc(at), hours())).toBe(open));
	it.each([
		// a Thursday, eleven o'clock
		['2026-11-26T11:00', 0, '2026-11-26T18:00'],
		['2026-11-26T18:00', 0, '2026-11-27T18:00'],
		['2026-11-26T11:00', 2, '2026-11-28T13:00'],
		// over the Sunday
		['2026-11-26T11:00', 3, '2026-11-30T18:00'],
		// over the holiday, to the Saturday
		['2026-12-24T11:00', 1, '2026-12-26T13:00']
	])('%s and %i days closes at %s', (from, days, closes) =>
		expect(closingAhead(utc(from), days, hours())).toBe(utc(closes))
	);
	it('a day of a changing clock is as long as it passes', () => {
		// Lisbon leaves an hour out on 29 March 2026 and has one twice on 25 October
		const hoursOf = (month: number, day: number) =>
			(momentOn({ year: 2026, month, day: day + 1 }, 0, 'Europe/Lisbon') -
				momentOn({ year: 2026, month, day }, 0, 'Europe/Lisbon')) /
			HOUR_MS;
		expect([hoursOf(3, 29), hoursOf(10, 25), hoursOf(6, 1)]).toEqual([23, 25, 24]);
	});
	it('a shop that never opens closes with the day', () =>
		expect(closingAhead(utc('2026-11-26T11:00'), 1, hours({ week: [] }))).toBe(utc('2026-11-28T00:00')));
});
