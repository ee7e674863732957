import type { Catalog } from '../../catalog/catalog';
import { stretchOf } from '../../catalog/bench-hours';
import { daysAfter, openOn, wallClock, type LocalDay, type OpeningHours } from '../../units/calendar';
import { parseInstant, type Instant } from '../../units/instant';

export type Span = readonly [from: Instant, to: Instant];

/** Working hours of one technician: their own week where the record has one, the shop's without; holidays are the shop's. */
function hoursOf(
	{ shop }: Pick<Catalog, 'shop'>,
	technician: { hours?: readonly (readonly string[])[] | undefined }
): OpeningHours {
	const { opening } = shop;
	return technician.hours ? { ...opening, week: technician.hours.map((day) => day.map(stretchOf)) } : opening;
}

/** Spans without what lies within others: what is left, in order. */
export function subtractSpans(spans: readonly Span[], busy: readonly Span[]): Span[] {
	return busy.reduce<Span[]>(
		(remaining, [from, to]) =>
			remaining.flatMap(([start, end]): Span[] => {
				if (to <= start || from >= end) return [[start, end]];
				return [...(from > start ? [[start, from] as const] : []), ...(to < end ? [[to, end] as const] : [])];
			}),
		[...spans]
	);
}

/** Local days from the one of a moment on. */
const daysFrom = (now: Instant, days: number, timeZone: string): LocalDay[] => {
	const today = wallClock(now, timeZone);
	return Array.from({ length: days }, (_, i) => daysAfter(today, i));
};

/** When it is open, from now on for some days. */
export const openSpans = (hours: OpeningHours, now: Instant, days: number): Span[] =>
	daysFrom(now, days, hours.timeZone)
		.flatMap((day) => openOn(day, hours))
		.flatMap(([from, to]): Span[] => (to <= now ? [] : [[Math.max(from, now), to]]));

/** When a technician can work, from now on for some days: opening hours without absences, by the clock on the wall. */
export function freeSpans(
	catalog: Pick<Catalog, 'shop' | 'records'>,
	technician: { code: string; hours?: readonly (readonly string[])[] | undefined },
	now: Instant,
	days: number
): Span[] {
	const away = [...catalog.records.absence.values()]
		.filter((absence) => absence.technician === technician.code && !absence.cancelled)
		.map(({ from, to }): Span => [parseInstant(from), parseInstant(to)]);
	return subtractSpans(openSpans(hoursOf(catalog, technician), now, days), away);
}
