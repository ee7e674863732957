import { itemAt } from '../units/vector';
import { z } from 'zod';
import type { OpeningHours, Stretch } from '../units/calendar';

/** Opening hours as records hold them: seven days, Monday first, each with stretches such as "09:00-12:30". */

const STRETCH = /^([01]\d|2[0-4]):([0-5]\d)-([01]\d|2[0-4]):([0-5]\d)$/;
/** Minutes of the day from "09:00-12:30": [540, 750]. */
export function stretchOf(text: string): Stretch {
	const [, fromHour, fromMinute, toHour, toMinute] = (STRETCH.exec(text) ?? []).map(Number);
	return [(fromHour ?? 0) * 60 + (fromMinute ?? 0), (toHour ?? 0) * 60 + (toMinute ?? 0)];
}

const stretch = z
	.string()
	.regex(STRETCH, {
		error: ({ input }) => `holds "${input}", which is no stretch of a day; write it as 09:00-12:30`,
		abort: true
	})
	.refine(
		(text) => {
			const [from, to] = stretchOf(text);
			return from < to && to <= 1440;
		},
		{ error: ({ input }) => `holds "${input}", which ends before it begins, or after midnight` }
	);
const day = z
	.array(stretch)
	.max(6)
	.refine((all) => all.map(stretchOf).every(([from], i, list) => i === 0 || from >= itemAt(list, i - 1)[1]), {
		error: 'has stretches that overlap; write them in their order'
	});
export const weekHours = z.array(day).length(7, 'needs seven days, Monday first; [] where it is closed');
export type WeekHours = z.output<typeof weekHours>;

export const closedDays = z.array(z.iso.date('is no date; write it as 2026-12-25')).max(400);

/** Six days, nine to six with an hour at noon: what a shop is taken for that has not said. A choice. */
export const USUAL_WEEK: WeekHours = [...Array.from({ length: 6 }, () => ['09:00-13:00', '14:00-18:00']), []];

export const openingHours = (
	timeZone: string,
	week: WeekHours | undefined,
	closed: readonly string[] | undefined
): OpeningHours => ({
	timeZone,
	week: (week ?? USUAL_WEEK).map((stretches) => stretches.map(stretchOf)),
	holidays: new Set(closed)
});
