import { studentQuantile } from '../statistics/student-t';
import type { BookSum } from './book-lines';

/** What the next job of a kind is expected to bring on average, by what such jobs brought. */
export interface MeanProfit {
	mean: number;
	/** 80 % interval of the mean; null with fewer than two jobs */
	low: number | null;
	high: number | null;
	from: number;
}

/** Mean profit a job with its t interval (Student 1908), from sums. */
export function meanProfit({
	jobs,
	profitMinor,
	profitSquares
}: Pick<BookSum, 'jobs' | 'profitMinor' | 'profitSquares'>): MeanProfit {
	const mean = jobs > 0 ? profitMinor / jobs : 0;
	if (jobs < 2) return { mean, low: null, high: null, from: jobs };
	const variance = Math.max(0, profitSquares - jobs * mean ** 2) / (jobs - 1);
	const half = studentQuantile(0.9, jobs - 1) * Math.sqrt(variance / jobs);
	return { mean, low: mean - half, high: mean + half, from: jobs };
}

/** Profit an hour of hands; null without minutes. */
export const profitPerHour = ({ profitMinor, minutes }: Pick<BookSum, 'profitMinor' | 'minutes'>) =>
	minutes > 0 ? (profitMinor * 60) / minutes : null;

export interface QuotedAgainst {
	jobs: number;
	/** means a job */
	quotedMinor: number;
	costMinor: number;
	/** jobs that cost more than was quoted for them */
	overran: number;
	/** the price at which they would just have paid: what they cost on average, over the share of what was quoted that was paid */
	breakEvenMinor: number | null;
}

/**
 * How quotes did against what their jobs cost. They would have paid at `breakEvenMinor`: mean cost over the share of the quoted
 * money that came in (what was not fixed was not paid).
 */
export function quotedAgainst({
	jobs,
	quotedMinor,
	costMinor,
	paidMinor,
	overran
}: BookSum['quoted']): QuotedAgainst {
	const share = quotedMinor > 0 ? paidMinor / quotedMinor : 0;
	return {
		jobs,
		quotedMinor: jobs > 0 ? quotedMinor / jobs : 0,
		costMinor: jobs > 0 ? costMinor / jobs : 0,
		overran,
		breakEvenMinor: share > 0 && jobs > 0 ? costMinor / jobs / share : null
	};
}
