/** Keeps e^x a number. */
const MOST_LOG = 600;

/**
 * The share of cases that are of a special sort under which all together are likeliest (two-part mixture, by a grid), and how
 * much likelier, in nats, they are than if none were.
 * @param gains by case: how much likelier it is, in nats, if it is of that sort
 */
export function likeliestShare(
	gains: readonly number[],
	shares: readonly number[]
): { share: number; log: number } {
	const more = gains.map((gain) => Math.expm1(Math.min(MOST_LOG, gain)));
	let best = { share: 0, log: 0 };
	for (const share of shares) {
		const log = more.reduce((sum, times) => sum + Math.log1p(share * times), 0);
		if (log > best.log) best = { share, log };
	}
	return best;
}

/** Chance that a case is of the special sort, by Bayes. @param gain as above */
export function chanceOfSort(gain: number, share: number): number {
	const more = Math.expm1(Math.min(MOST_LOG, gain));
	return (share * (1 + more)) / (1 + share * more);
}
