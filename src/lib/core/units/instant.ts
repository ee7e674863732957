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

const TWO = Array.from({ length: 60 }, (_, n) => String(n).padStart(2, '0'));
/** The day that was last written or read, and how it is written: moments of one ticket mostly share it. */
let [day, dayText] = [0, '1970-01-01'];

/**
 * Writes RFC 3339 in UTC, without a fraction where there is none, so that equal moments read alike. Hot where a whole shop is
 * written or read: hence by hand.
 */
export function formatInstant(at: Instant): string {
	const rest = at - Math.floor(at / DAY_MS) * DAY_MS;
	if (rest % 1000 !== 0) return new Date(at).toISOString();
	const days = (at - rest) / DAY_MS;
	if (days !== day) [day, dayText] = [days, new Date(at).toISOString().slice(0, 10)];
	const seconds = rest / 1000;
	const [hour, minute] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60];
	return `${dayText}T${TWO[hour]}:${TWO[minute]}:${TWO[seconds % 60]}Z`;
}

const ZERO = 48;
const twoAt = (text: string, at: number) =>
	(text.charCodeAt(at) - ZERO) * 10 + text.charCodeAt(at + 1) - ZERO;

/** @param text RFC 3339 with an offset, checked before */
export function parseInstant(text: string): Instant {
	// as this program writes it: 2026-03-02T09:14:00Z
	if (text.length !== 20 || text.charCodeAt(19) !== 90) return Date.parse(text);
	if (!text.startsWith(dayText)) {
		[day, dayText] = [Date.parse(text.slice(0, 10)) / DAY_MS, text.slice(0, 10)];
	}
	return day * DAY_MS + (twoAt(text, 11) * 3600 + twoAt(text, 14) * 60 + twoAt(text, 17)) * 1000;
}

/** RFC 3339 with an offset, to the millisecond. */
export const instantTextSchema = z.iso.datetime({ offset: true, error: instantMessage }).refine(
	(text) => {
		const at = parseInstant(text);
		return at >= EARLIEST_INSTANT && at <= LATEST_INSTANT;
	},
	{ error: 'lies outside 1970 to 2199' }
);

function instantMessage(issue: { input?: unknown }): string {
	return `is ${shownValue(issue.input)}; write a time with its offset, as 2026-03-02T09:14:00Z`;
}
