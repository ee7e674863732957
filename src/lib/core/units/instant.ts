import { z } from 'zod';
import { shownValue } from './sound-value';

/** A moment: milliseconds since 1970-01-01T00:00:00Z. Shown in the shop's zone, stored in UTC. */
export type Instant = number;

/** The first and the last moment that a record may name. */
export const EARLIEST_INSTANT = 0;
export const LATEST_INSTANT = Date.UTC(2200, 0, 1) - 1;

export const MINUTE_MS = 60_000;
export const HOUR_MS = 3_600_000;
export const DAY_MS = 86_400_000;

/** Writes RFC 3339 in UTC, without a fraction where there is none, so that equal moments read alike. */
export function formatInstant(at: Instant): string {
	return new Date(at).toISOString().replace('.000Z', 'Z');
}

/** RFC 3339 with an offset, to the millisecond. */
export const instantTextSchema = z.iso.datetime({ offset: true, error: instantMessage }).refine(
	(text) => {
		const at = Date.parse(text);
		return at >= EARLIEST_INSTANT && at <= LATEST_INSTANT;
	},
	{ error: 'lies outside 1970 to 2199' }
);

function instantMessage(issue: { input?: unknown }): string {
	return `is ${shownValue(issue.input)}; write a time with its offset, as 2026-03-02T09:14:00Z`;
}

export const parseInstant = (text: string): Instant => Date.parse(text);
