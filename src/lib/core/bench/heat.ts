import type { Instant } from '../units/instant';

/** Minutes of heat that a board takes in all: watch it from the first on, stop at the second. Common practice, no source. */
export const HEAT_BUDGET_MINUTES = { watch: 5, spent: 10 } as const;
/** The station settles for so long, and one looks at the board every so many seconds. Common practice, no source. */
export const SETTLE_SECONDS = 30;
export const LOOK_AGAIN_SECONDS = { low: 5, high: 10 } as const;

export interface HeatOnBoard {
	/** in all, what runs now with it */
	seconds: number;
	/** since when heat is on; null where it is off */
	onSince: Instant | null;
	verdict: 'none' | 'within' | 'watch' | 'spent';
}

interface HeatEntry {
	on: boolean;
	seconds?: number | undefined;
	at?: number | undefined;
}

/**
 * Heat that a board had over all sessions and hands. What went on and never off counts until the next time that it went on,
 * or until now; an `off` that says how long it was counts so, whatever the clock between shows.
 * @param earlierMs seconds of earlier tickets of the same device
 * @example heatOnBoard([{ on: true, at: 0 }, { on: false, at: 90_000 }], 200_000).seconds // 90
 */
export function heatOnBoard(entries: readonly HeatEntry[], now: Instant, earlierMs = 0): HeatOnBoard {
	let seconds = earlierMs;
	let onSince: Instant | null = null;
	const upTo = (end: Instant) => (onSince === null ? 0 : Math.max(0, (end - onSince) / 1000));
	for (const { on: isOn, at = now, seconds: counted } of entries) {
		if (isOn) {
			seconds += upTo(at);
			onSince = at;
		} else {
			seconds += counted ?? upTo(at);
			onSince = null;
		}
	}
	seconds += upTo(now);
	return { seconds, onSince, verdict: verdictOf(seconds / 60) };
}

function verdictOf(minutes: number): HeatOnBoard['verdict'] {
	if (minutes >= HEAT_BUDGET_MINUTES.spent) return 'spent';
	if (minutes >= HEAT_BUDGET_MINUTES.watch) return 'watch';
	return minutes > 0 ? 'within' : 'none';
}

export const HEAT_WORDS: Record<HeatOnBoard['verdict'], string> = {
	none: 'no heat yet',
	within: 'within what a board takes',
	watch: 'watch it: half of what a board takes is used up',
	spent: 'used up: let it cool, continue only if you must'
};
