import { logGamma } from './gamma';

const logChoose = (n: number, k: number) => logGamma(n + 1) - logGamma(k + 1) - logGamma(n - k + 1);

/**
 * One-sided Fisher exact test: chance of at least `hits` among `marked` of `total` things of which `drawn` are
 * drawn at random (hypergeometric tail). Textbook (R. A. Fisher 1935).
 */
export function fisherUpperTail(hits: number, drawn: number, marked: number, total: number): number {
	let chance = 0;
	for (let k = hits; k <= Math.min(drawn, marked); k++) {
		if (drawn - k > total - marked) continue;
		chance += Math.exp(logChoose(marked, k) + logChoose(total - marked, drawn - k) - logChoose(total, drawn));
	}
	return Math.min(1, chance);
}

/**
 * p-values adjusted so that the share of false discoveries among those under a bound stays under it.
 * Source: Benjamini & Hochberg, Journal of the Royal Statistical Society B 57 (1995). Keeps the order given.
 */
export function falseDiscoveryAdjusted(chances: readonly number[]): number[] {
	const order = chances.map((_, i) => i).sort((a, b) => (chances[b] as number) - (chances[a] as number));
	const adjusted = new Array<number>(chances.length);
	let minimum = 1;
	order.forEach((index, fromTop) => {
		const rank = chances.length - fromTop;
		minimum = Math.min(minimum, ((chances[index] as number) * chances.length) / rank);
		adjusted[index] = minimum;
	});
	return adjusted;
}
