import { fromAbsolute, parseDateTime, toCalendarDateTime, toZoned } from '@internationalized/date';
import type { Instant } from '$lib/core/units/instant';

/** The value of a datetime-local field, read in the shop's zone; null where it is none. */
export function instantOfField(value: string, timeZone: string): Instant | null {
	try {
		return toZoned(parseDateTime(value), timeZone).toDate().getTime();
	} catch {
		return null;
	}
}

/** A moment as the value of a datetime-local field in the shop's zone, to the minute. */
export function fieldOfInstant(at: Instant, timeZone: string): string {
	return toCalendarDateTime(fromAbsolute(at, timeZone))
		.set({ second: 0, millisecond: 0 })
		.toString()
		.slice(0, 16);
}

/** A clock time some days on in the shop's zone: what a promise usually is. */
export function daysOn(now: Instant, days: number, hour: number, timeZone: string): Instant {
	const local = fromAbsolute(now, timeZone).add({ days });
	return local.set({ hour, minute: 0, second: 0, millisecond: 0 }).toDate().getTime();
}
