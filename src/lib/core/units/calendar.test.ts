import { CalendarDate, CalendarDateTime, toZoned } from '@internationalized/date';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	afterWorkingMinutes,
	closingAhead,
	dateOf,
	daysAfter,
	daysUntilOpen,
	isOpen,
	momentOn,
	openOn,
	wallClock,
	weekdayOf,
	workingMinutes,
	type OpeningHours
} from './calendar';
import { DAY_MS, HOUR_MS, MINUTE_MS } from './instant';

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
	it.each<[string, string, number]>([
		['2026-11-26T10:00', '2026-11-26T11:00', 60],
		['2026-11-26T11:30', '2026-11-26T13:00', 60],
		['2026-11-26T12:05', '2026-11-26T12:20', 0],
		['2026-11-26T17:00', '2026-11-27T10:00', 120],
		['2026-11-27T17:00', '2026-11-30T10:00', 60 + 180 + 60],
		['2026-12-24T17:00', '2026-12-26T11:00', 60 + 60],
		['2026-11-26T11:00', '2026-11-26T10:00', -60],
		['2026-11-26T10:00:00', '2026-11-26T10:00:30', 0.5]
	])('from %s to %s it works %d minutes', (from, to, minutes) =>
		expect(workingMinutes(utc(from), utc(to), hours())).toBeCloseTo(minutes, 9)
	);
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
	it('a shop that never opens closes with the day', () =>
		expect(closingAhead(utc('2026-11-26T11:00'), 1, hours({ week: [] }))).toBe(utc('2026-11-28T00:00')));
	it('a night shift of a changing clock is as long as it passes', () => {
		const night = hours({ week: Array.from({ length: 7 }, () => [[0, 1440] as const]), holidays: new Set() });
		// Lisbon leaves an hour out on 29 March 2026 and has one twice on 25 October
		const day = (date: string, from: number, to: number) => {
			const [year, month, d] = date.split('-').map(Number) as [number, number, number];
			return workingMinutes(
				momentOn({ year, month, day: d }, from, 'Europe/Lisbon'),
				momentOn({ year, month, day: d }, to, 'Europe/Lisbon'),
				night
			);
		};
		expect(day('2026-03-29', 0, 1440)).toBe(23 * 60);
		expect(day('2026-10-25', 0, 1440)).toBe(25 * 60);
		expect(day('2026-06-01', 0, 1440)).toBe(24 * 60);
	});
	it('adds up whatever lies between, and never counts more than time that passes', () => {
		const start = utc('2026-11-20T00:00');
		const moment = fc.integer({ min: 0, max: 30 * 24 * 60 }).map((minutes) => start + minutes * MINUTE_MS);
		fc.assert(
			fc.property(moment, moment, moment, (a, b, c) => {
				const of = (from: number, to: number) => workingMinutes(from, to, hours());
				expect(of(a, b) + of(b, c)).toBeCloseTo(of(a, c), 6);
				expect(Math.abs(of(a, b))).toBeLessThanOrEqual(Math.abs(b - a) / MINUTE_MS + 1e-9);
			})
		);
	});
	it('work that takes so long ends at the earliest moment by which it has passed', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 0, max: 20 * 24 * 60 }),
				fc.integer({ min: 1, max: 3000 }),
				(since, minutes) => {
					const from = utc('2026-11-20T00:00') + since * MINUTE_MS;
					const end = afterWorkingMinutes(from, minutes, hours()) as number;
					expect(workingMinutes(from, end, hours())).toBeCloseTo(minutes, 6);
					expect(workingMinutes(from, end - 1000, hours())).toBeLessThan(minutes);
				}
			)
		);
		expect(afterWorkingMinutes(utc('2026-11-26T17:00'), 60, hours())).toBe(utc('2026-11-26T18:00'));
		expect(afterWorkingMinutes(utc('2026-11-26T17:00'), 61, hours())).toBe(utc('2026-11-27T09:01'));
		expect(afterWorkingMinutes(utc('2026-11-26T17:00'), 0, hours())).toBe(utc('2026-11-26T17:00'));
		expect(afterWorkingMinutes(utc('2026-11-26T17:00'), 1, hours({ week: [] }))).toBeNull();
		expect(HOUR_MS * 24).toBe(DAY_MS);
	});
});
