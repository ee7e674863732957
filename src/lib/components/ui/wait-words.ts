import type { WaitEstimate } from '$lib/core/charging/charge-time';

/** Minutes as a person says them: "25 min", "2 h 10". */
export function minutesWords(minutes: number): string {
	if (!Number.isFinite(minutes)) return 'never';
	const whole = Math.round(minutes);
	if (whole < 60) return `${whole} min`;
	return `${Math.floor(whole / 60)} h ${String(whole % 60).padStart(2, '0')}`;
}

/** A wide estimate with its ends: "48 min (16 min to 2 h 40)". */
export const waitWords = ({ low, usual, high }: WaitEstimate) =>
	`${minutesWords(usual)} (${minutesWords(low)} to ${minutesWords(high)})`;
