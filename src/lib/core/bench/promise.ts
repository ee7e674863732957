import { HOUR_MS, MINUTE_MS, type Instant } from '../units/instant';

export type Urgency = 'late' | 'tight' | 'fine' | 'none';

/**
 * Slack of a promise: time left less the hands-on minutes that the job is expected to need still.
 * Late: the slack is gone. Tight: under two hours. Common practice, no source.
 */
export function promiseSlack(
	promisedAt: Instant | null,
	now: Instant,
	expectedMinutes = 0
): { slackMs: number | null; urgency: Urgency } {
	if (promisedAt === null) return { slackMs: null, urgency: 'none' };
	const slackMs = promisedAt - now - expectedMinutes * MINUTE_MS;
	if (slackMs < 0) return { slackMs, urgency: 'late' };
	return { slackMs, urgency: slackMs < 2 * HOUR_MS ? 'tight' : 'fine' };
}

/** "3 h 10", "25 min", "2 d 4 h"; without a sign. */
export function durationWords(ms: number): string {
	const minutes = Math.round(Math.abs(ms) / MINUTE_MS);
	if (minutes < 60) return `${minutes} min`;
	const hours = Math.floor(minutes / 60);
	if (hours < 24) return `${hours} h ${String(minutes % 60).padStart(2, '0')}`;
	return `${Math.floor(hours / 24)} d ${hours % 24} h`;
}
