import { kaplanMeier, type Followed } from '../statistics/kaplan-meier';
import { normalQuantile } from '../statistics/normal';
import { clopperPearsonInterval } from '../statistics/rate-interval';

export interface ComebackRate {
	/** jobs that were followed */
	jobs: number;
	/** those that came back within the days */
	comebacks: number;
	/** chance of having come back within the days */
	rate: number;
	/** 95 %; null where nothing can be said */
	low: number | null;
	high: number | null;
}

const Z95 = normalQuantile(0.975);
const LEVEL = 0.95;

/**
 * The chance that a job comes back within some days: Kaplan and Meier's estimate, its interval with Greenwood's variance on the
 * log(-log) scale. Without a comeback it is nothing, up to the end of Clopper and Pearson's interval for the jobs that were followed so
 * long; where all have come back, no interval is known. Source: Kalbfleisch & Prentice, The Statistical Analysis of Failure Time Data, 1.4.
 */
export function comebackRate(jobs: readonly Followed[], days: number): ComebackRate {
	const step = kaplanMeier(jobs)
		.filter(({ time }) => time <= days)
		.at(-1);
	const comebacks = jobs.filter(({ event, time }) => event && time <= days).length;
	const counted = { jobs: jobs.length, comebacks };
	if (!step) {
		const long = jobs.filter(({ time }) => time >= days).length;
		const high = long === 0 ? null : clopperPearsonInterval(0, long, LEVEL).high;
		return { ...counted, rate: 0, low: 0, high };
	}
	const { survival, greenwood } = step;
	if (survival <= 0) return { ...counted, rate: 1, low: null, high: null };
	const half = (Z95 * Math.sqrt(greenwood)) / Math.abs(Math.log(survival));
	return {
		...counted,
		rate: 1 - survival,
		low: 1 - survival ** Math.exp(-half),
		high: 1 - survival ** Math.exp(half)
	};
}
