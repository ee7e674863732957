import type { Minor } from '../units/money';

/** A closed job beside what was quoted for it. */
export interface QuotedJob {
	key: string;
	quotedMinor: Minor;
	/** what it cost: parts and labour, its comebacks with them */
	costMinor: Minor;
	paidMinor: Minor;
}

export interface QuoteAccuracy {
	key: string;
	jobs: number;
	/** means a job */
	quotedMinor: number;
	costMinor: number;
	paidMinor: number;
	/** jobs that cost more than was quoted for them */
	overran: number;
	/** the price at which they would just have paid: what they cost on average, over the share of what was quoted that was paid */
	breakEvenMinor: number | null;
}

/**
 * How quotes did against what their jobs cost, by any key; those that overran most often first. A key's jobs would have paid at
 * `breakEvenMinor`: mean cost over the share of the quoted money that came in (what was not fixed was not paid).
 */
export function quoteAccuracy(jobs: readonly QuotedJob[]): QuoteAccuracy[] {
	const sums = new Map<string, QuoteAccuracy>();
	for (const { key, quotedMinor, costMinor, paidMinor } of jobs) {
		const sum = sums.get(key) ?? {
			key,
			jobs: 0,
			quotedMinor: 0,
			costMinor: 0,
			paidMinor: 0,
			overran: 0,
			breakEvenMinor: null
		};
		sum.jobs += 1;
		sum.quotedMinor += quotedMinor;
		sum.costMinor += costMinor;
		sum.paidMinor += paidMinor;
		sum.overran += costMinor > quotedMinor ? 1 : 0;
		sums.set(key, sum);
	}
	return [...sums.values()]
		.map(({ jobs: n, ...sum }) => {
			const paidShare = sum.quotedMinor > 0 ? sum.paidMinor / sum.quotedMinor : 0;
			return {
				...sum,
				jobs: n,
				quotedMinor: sum.quotedMinor / n,
				costMinor: sum.costMinor / n,
				paidMinor: sum.paidMinor / n,
				breakEvenMinor: paidShare > 0 ? sum.costMinor / n / paidShare : null
			};
		})
		.sort((a, b) => b.overran / b.jobs - a.overran / a.jobs || b.jobs - a.jobs || (a.key < b.key ? -1 : 1));
}
