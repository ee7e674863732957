import { kaplanMeier, type Followed } from '../statistics/kaplan-meier';
import { normalQuantile } from '../statistics/normal';

/** A point of the curve of comebacks: the chance of having come back by a day, with its 95 % interval. */
export interface CurvePoint {
	day: number;
	rate: number;
	low: number;
	high: number;
	/** jobs that were followed so long */
	followed: number;
}

const Z95 = normalQuantile(0.975);

/**
 * The curve that `comebackRate` reads single days of: one minus Kaplan and Meier's estimate, interval on the log(-log) scale.
 * @param until last day that is shown, at least 1
 * @returns a point a day on which it rises, at most `until` of them, in the order of days
 */
export function comebackCurve(jobs: readonly Followed[], until: number): CurvePoint[] {
	const points = new Map<number, CurvePoint>();
	for (const { time, survival, greenwood, atRisk } of kaplanMeier(jobs)) {
		if (time > until) break;
		const half = survival > 0 ? (Z95 * Math.sqrt(greenwood)) / Math.abs(Math.log(survival)) : 0;
		// the last step of a day is what the day shows
		points.set(Math.ceil(time), {
			day: Math.ceil(time),
			rate: 1 - survival,
			low: 1 - survival ** Math.exp(-half),
			high: 1 - survival ** Math.exp(half),
			followed: atRisk
		});
	}
	return [...points.values()];
}
