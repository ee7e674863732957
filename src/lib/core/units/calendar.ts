import { DAY_MS, MINUTE_MS, type Instant } from './instant';

/** Minutes of a local day, from its beginning: half past nine is 570. An end of 1440 is midnight. */
export type Stretch = readonly [from: number, to: number];

/** When a shop is open, as its people say it: by the clock on its wall. */
export interface OpeningHours {
	/** IANA name, as "Europe/Lisbon" */
	timeZone: string;
	/** Monday first; each day's stretches in order, not overlapping; empty: closed */
	week: readonly (readonly Stretch[])[];
	/** days on which it is closed, as "2026-12-25" */
	holidays: ReadonlySet<string>;
}

/** A day of a calendar: year, month and day of month as people count them. */
export interface LocalDay {
	year: number;
	month: number;
	day: number;
}

/** A local day as its date, "2026-12-25". */
export const dateOf = ({ year, month, day }: LocalDay): string =>
	`${String(year).padStart(4, '0')}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;

/** A day as it is written in an address, with its end by the shop's clock; null where it is none. */
export function parseDay(text: string): { text: string; ends(timeZone: string): Instant } | null {
	const [, year, month, day] = (/^(\d{4})-(\d{2})-(\d{2})$/.exec(text) ?? []).map(Number);
	if (year === undefined || month === undefined || day === undefined) return null;
	const local = { year, month, day };
	return dateOf(daysAfter(local, 0)) === text
		? { text, ends: (timeZone) => momentOn(daysAfter(local, 1), 0, timeZone) }
		: null;
}

const formats = new Map<string, Intl.DateTimeFormat>();

function formatFor(timeZone: string): Intl.DateTimeFormat {
	const cached = formats.get(timeZone);
	if (cached) return cached;
	const made = new Intl.DateTimeFormat('en-CA', {
		timeZone,
		hourCycle: 'h23',
		year: 'numeric',
		month: '2-digit',
		day: '2-digit',
		hour: '2-digit',
		minute: '2-digit',
		second: '2-digit'
	});
	formats.set(timeZone, made);
	return made;
}

/** What the wall's clock shows at a moment: the day, and minutes since its midnight by the clock. */
export function wallClock(at: Instant, timeZone: string): LocalDay & { minutes: number } {
	const parts = formatFor(timeZone).formatToParts(at);
	const numberOf = (type: string) => Number(parts.find((part) => part.type === type)?.value ?? 0);
	return {
		year: numberOf('year'),
		month: numberOf('month'),
		day: numberOf('day'),
		minutes: numberOf('hour') * 60 + numberOf('minute') + numberOf('second') / 60
	};
}

const wallMs = ({ year, month, day, minutes }: LocalDay & { minutes: number }) =>
	Date.UTC(year, month - 1, day) + minutes * MINUTE_MS;

/** How far the wall's clock is ahead of UTC at a moment, milliseconds. */
export const zoneOffset = (at: Instant, timeZone: string): number => wallMs(wallClock(at, timeZone)) - at;

/**
 * The moment at which the wall's clock shows a time of a day. A time that is left out when clocks go forward is as much later;
 * of one that comes twice when they go back it is the first.
 * @param minutes since midnight by the clock, 0 to 1440
 */
export function momentOn(day: LocalDay, minutes: number, timeZone: string): Instant {
	const wallTime = wallMs({ ...day, minutes });
	const offsetAt = (at: Instant) => zoneOffset(at, timeZone);
	// offsets a day before and after hold every one that a change in between can bring
	const tries = [offsetAt(wallTime - DAY_MS), offsetAt(wallTime + DAY_MS)].map((offset) => wallTime - offset);
	const right = tries.filter((at) => wallMs(wallClock(at, timeZone)) === wallTime);
	if (right.length > 0) return Math.min(...right);
	return wallTime - offsetAt(wallTime - DAY_MS);
}

/** The day after a local day, or so many days after; days before with a minus. */
export function daysAfter({ year, month, day }: LocalDay, days: number): LocalDay {
	const date = new Date(Date.UTC(year, month - 1, day + days));
	return { year: date.getUTCFullYear(), month: date.getUTCMonth() + 1, day: date.getUTCDate() };
}

/** Weekday of a local day, Monday 0 to Sunday 6. */
export const weekdayOf = ({ year, month, day }: LocalDay): number =>
	(new Date(Date.UTC(year, month - 1, day)).getUTCDay() + 6) % 7;

/** Open stretches of one day as moments, in order; none on a holiday. */
export function openOn(day: LocalDay, { timeZone, week, holidays }: OpeningHours): [Instant, Instant][] {
	if (holidays.has(dateOf(day))) return [];
	return (week[weekdayOf(day)] ?? []).map(([from, to]) => [
		momentOn(day, from, timeZone),
		momentOn(day, to, timeZone)
	]);
}

export const isOpen = (at: Instant, hours: OpeningHours): boolean =>
	openOn(wallClock(at, hours.timeZone), hours).some(([from, to]) => at >= from && at < to);

/**
 * How many days from now lies the next on which work can still be done: 0 today, where the shop is open or opens later.
 * @returns null where it does not open for a year
 */
export function daysUntilOpen(now: Instant, hours: OpeningHours): number | null {
	return nextClosing(now, 0, hours)?.days ?? null;
}

/**
 * When a shop closes on the day that lies some days ahead, or on the next one on which it is open: until then something is ready
 * "in three days".
 * @returns the end of that local day where it does not open for a year
 */
export function closingAhead(now: Instant, days: number, hours: OpeningHours): Instant {
	const closing = nextClosing(now, days, hours);
	return closing?.closes ?? momentOn(daysAfter(wallClock(now, hours.timeZone), days), 1440, hours.timeZone);
}

/** The first closing still to come, on the day that lies `fromDays` ahead or within the year after it; null where there is none. */
function nextClosing(now: Instant, fromDays: number, hours: OpeningHours) {
	const today = wallClock(now, hours.timeZone);
	for (let days = fromDays; days < fromDays + 366; days++) {
		const closes = openOn(daysAfter(today, days), hours).at(-1)?.[1];
		if (closes !== undefined && closes > now) return { days, closes };
	}
	return null;
}
