/** Chances of counts worked out the plain way, for tests to hold the quick ways against. */

export const sum = (values: readonly number[]) => values.reduce((total, value) => total + value, 0);
/** log chance of whole counts, drawn one by one (Polya's urn): each answer by what was believed and seen of it so far. */
export function urn(counts: readonly number[], weights: readonly number[]): number {
	const now = [...weights];
	let log = 0;
	counts.forEach((count, k) => {
		for (let i = 0; i < count; i++) {
			log += Math.log((now[k] as number) / sum(now));
			now[k] = (now[k] as number) + 1;
		}
	});
	return log;
}
/** Posterior mean chances: counts and what was believed, over all of both. */
export const mean = (counts: readonly number[], weights: readonly number[]) =>
	counts.map((count, k) => (count + (weights[k] as number)) / (sum(counts) + sum(weights)));
