import { comebackRate } from '../comebacks/comeback-rate';
import type { Followed } from '../statistics/kaplan-meier';
import type { Minor } from '../units/money';

/** What a warranty of some days costs a job, and what the last month of it adds. */
export interface WarrantyLength {
	days: number;
	/** chance of a comeback within it; 95 % */
	rate: number;
	low: number | null;
	high: number | null;
	/** expected cost of comebacks within it, for each job that is handed over */
	costMinor: Minor;
	/** of that, what its last thirty days add */
	monthMinor: Minor;
	/** jobs that were followed so long */
	followed: number;
}

const MONTH = 30;
const WARRANTIES = [30, 60, 90, 120, 180, 270, 365] as const;

/**
 * What warranties of several lengths would cost, from the curve of comebacks that speak against the work. Lengths that too few jobs have
 * reached are left out.
 * @param meanMinor what a comeback costs on average
 */
export function warrantyAdvice(jobs: readonly Followed[], meanMinor: number): WarrantyLength[] {
	return WARRANTIES.flatMap((days) => {
		const followed = jobs.filter(({ time }) => time >= days).length;
		if (followed < FEWEST) return [];
		const { rate, low, high } = comebackRate(jobs, days);
		const earlierRate = comebackRate(jobs, days - MONTH).rate;
		return [
			{
				days,
				rate,
				low,
				high,
				costMinor: Math.round(rate * meanMinor),
				monthMinor: Math.round((rate - earlierRate) * meanMinor),
				followed
			}
		];
	});
}
/** With fewer jobs that were followed so long nothing is said. A choice. */
const FEWEST = 20;
