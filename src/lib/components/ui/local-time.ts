import { fromAbsolute, parseDateTime, toCalendarDateTime, toZoned } from '@internationalized/date';
import type { Instant } from '$lib/core/units/instant';

/** The text of a field of day and time, read in the shop's zone; null where it is none. */
export function instantOfField(value: string, timeZone: string): Instant | null {
	try {
		return toZoned(parseDateTime(value), timeZone).toDate().getTime();
	} catch {
		return null;
	}
}

/** A moment as the text of a field of day and time in the shop's zone, to the minute. */
export function fieldOfInstant(at: Instant, timeZone: string): string {
	return toCalendarDateTime(fromAbsolute(at, timeZone))
		.set({ second: 0, millisecond: 0 })
		.toString()
		.slice(0, 16);
}
