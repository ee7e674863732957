import type { Instant } from '../units/instant';
import type { Minor } from '../units/money';
import type { BookedTicket } from './ticket-profit';

/** What the books keep of a closed ticket. */
export interface BookLine extends BookedTicket {
	id: number;
	model: string;
	openedAt: Instant;
	closedAt: Instant;
	/** of its closing, in the shop's time: "2026-03" */
	month: string;
	outcome: string;
	/** why the device came back, where it did and somebody said */
	cause: string | null;
	/** what was quoted and accepted; null where nothing was */
	quotedMinor: Minor | null;
	customer: string | null;
	customerKind: 'private' | 'trade' | null;
	minutes: number;
	/** the last operation after which the complaint was gone; null where none was */
	operation: string | null;
	/** minutes by who worked them */
	hands: readonly { technician: string; minutes: number }[];
}

/** What a line comes to with the tickets that it bears. */
export interface Borne {
	profitMinor: Minor;
	/** tickets whose work it bears: its comebacks and theirs */
	bears: number;
	/** its work is charged to another */
	borne: boolean;
}

export interface BookSum {
	tickets: number;
	/** those that bear their own work: all but comebacks of known tickets */
	jobs: number;
	paidMinor: Minor;
	taxMinor: Minor;
	partsMinor: Minor;
	labourMinor: Minor;
	minutes: number;
	profitMinor: Minor;
	/** sum of the squares of the jobs' profits, for how widely they scatter; a statistic, not money */
	profitSquares: number;
	/** jobs with an accepted price: how many, what was quoted, what they cost and were paid, how many cost more than was quoted */
	quoted: { jobs: number; quotedMinor: Minor; costMinor: Minor; paidMinor: Minor; overran: number };
}

export const nothingBooked = (): BookSum => ({
	tickets: 0,
	jobs: 0,
	paidMinor: 0,
	taxMinor: 0,
	partsMinor: 0,
	labourMinor: 0,
	minutes: 0,
	profitMinor: 0,
	profitSquares: 0,
	quoted: { jobs: 0, quotedMinor: 0, costMinor: 0, paidMinor: 0, overran: 0 }
});

/** Adds to a sum in place, or takes out with `times` = -1. */
export function addSum(to: BookSum, { quoted, ...sum }: BookSum, times: 1 | -1 = 1): void {
	for (const key of Object.keys(sum) as (keyof typeof sum)[]) to[key] += times * sum[key];
	for (const key of Object.keys(quoted) as (keyof typeof quoted)[]) to.quoted[key] += times * quoted[key];
}

/** What one line adds: its own payments and costs, and the profit of all that it bears. */
export function sumOfLine(line: BookLine, { profitMinor, borne }: Borne): BookSum {
	const { quotedMinor, paidMinor, taxMinor, partsMinor, labourMinor, minutes } = line;
	const costMinor = paidMinor - taxMinor - profitMinor;
	const asQuoted = quotedMinor !== null && !borne;
	return {
		tickets: 1,
		jobs: borne ? 0 : 1,
		paidMinor,
		taxMinor,
		partsMinor,
		labourMinor,
		minutes,
		profitMinor,
		profitSquares: profitMinor ** 2,
		quoted: asQuoted
			? {
					jobs: 1,
					quotedMinor,
					costMinor,
					paidMinor,
					overran: costMinor > quotedMinor ? 1 : 0
				}
			: nothingBooked().quoted
	};
}

/**
 * An amount shared out in proportion to weights, in whole hundredths that add up to it: what rounding leaves goes to the
 * largest remainders (Hamilton's method). Nothing is shared out where no weight is above 0.
 * @example shareOut(100, [1, 1, 1]) // [34, 33, 33]
 */
export function shareOut(amountMinor: Minor, weights: readonly number[]): Minor[] {
	const total = weights.reduce((sum, weight) => sum + weight, 0);
	if (!(total > 0)) return weights.map(() => 0);
	const exact = weights.map((weight) => (amountMinor * weight) / total);
	const shares = exact.map(Math.floor);
	const remainder = amountMinor - shares.reduce((sum, share) => sum + share, 0);
	const order = [...exact.keys()].sort(
		(a, b) =>
			(exact[b] as number) - (shares[b] as number) - ((exact[a] as number) - (shares[a] as number)) || a - b
	);
	for (const i of order.slice(0, remainder)) shares[i] = (shares[i] as number) + 1;
	return shares;
}
