import { MINUTE_MS, type Instant } from '../units/instant';

/** Waits with an end, as they are counted down and called out. */
export interface TimedWait {
	number: string;
	for: string;
	until: Instant;
}

export interface WaitCalls<Wait extends TimedWait> {
	/** their time is over and nobody has ended them; longest over first */
	over: Wait[];
	/** still running, next to end first */
	running: Wait[];
}

export function waitCalls<Wait extends TimedWait>(waits: readonly Wait[], now: Instant): WaitCalls<Wait> {
	const sorted = [...waits].sort((a, b) => a.until - b.until);
	return {
		over: sorted.filter(({ until }) => until <= now),
		running: sorted.filter(({ until }) => until > now)
	};
}

/** What names one wait of one ticket, so that it is called out once. */
export const waitKey = ({ number, for: waitFor, until }: TimedWait): string =>
	`${number} ${waitFor} ${until}`;

/** What is left as a clock counts it down: "0:42", "9:05", "1 h 04"; "over 3 min" where it has passed. */
export function countdownWords(until: Instant, now: Instant): string {
	const seconds = Math.ceil((until - now) / 1000);
	if (seconds <= 0) {
		const minutes = Math.floor((now - until) / MINUTE_MS);
		return minutes === 0
			? 'over now'
			: `over ${minutes < 120 ? `${minutes} min` : `${Math.floor(minutes / 60)} h`}`;
	}
	const minutes = Math.floor(seconds / 60);
	if (minutes >= 60) return `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')}`;
	return `${minutes}:${String(seconds % 60).padStart(2, '0')}`;
}
