/** A foretold chance of something, and whether it came. */
export type Foretold = readonly [chance: number, came: boolean];

/** No forecast is taken for more certain than this, so that one surprise cannot cost without end. A choice. */
const LEAST = 1e-9;
const inside = (chance: number) => Math.min(1 - LEAST, Math.max(LEAST, chance));
const meanOf = <Item>(items: readonly Item[], value: (item: Item) => number) =>
	items.reduce((sum, item) => sum + value(item), 0) / items.length;

/** Cost of one forecast of yes or no, in nats: −log of the chance given to what came. */
export const logCost = ([chance, occurred]: Foretold): number =>
	-Math.log(occurred ? inside(chance) : 1 - inside(chance));

/** Mean of that cost. NaN without any forecast. Good, J. R. Statist. Soc. B 14 (1952). */
export const logLoss = (pairs: readonly Foretold[]): number => meanOf(pairs, logCost);

/** Mean squared distance of chances from what came (0 or 1). Brier, Monthly Weather Review 78 (1950). */
export const brierScore = (pairs: readonly Foretold[]): number =>
	meanOf(pairs, ([chance, occurred]) => (chance - (occurred ? 1 : 0)) ** 2);

/**
 * Chance that something that came was foretold with a higher chance than something that did not, ties half
 * (area under the curve of hits over false alarms; Hanley & McNeil, Radiology 143, 1982). NaN where all came or none.
 */
export function areaUnderCurve(pairs: readonly Foretold[]): number {
	const sorted = [...pairs].sort((a, b) => a[0] - b[0]);
	const occurrences = sorted.filter(([, occurred]) => occurred).length;
	let [rankSum, start] = [0, 0];
	while (start < sorted.length) {
		let end = start;
		while (end < sorted.length && sorted[end]?.[0] === sorted[start]?.[0]) end++;
		// equal chances share the mean of their ranks
		const rank = (start + 1 + end) / 2;
		for (let i = start; i < end; i++) if (sorted[i]?.[1]) rankSum += rank;
		start = end;
	}
	return (rankSum - (occurrences * (occurrences + 1)) / 2) / (occurrences * (sorted.length - occurrences));
}

/**
 * The Brier score taken apart by distinct chances: reliability − resolution + uncertainty.
 * Murphy, Journal of Applied Meteorology 12 (1973).
 */
export function murphyParts(pairs: readonly Foretold[]): {
	reliability: number;
	resolution: number;
	uncertainty: number;
} {
	const groups = new Map<number, { n: number; came: number }>();
	for (const [chance, occurred] of pairs) {
		const group = groups.get(chance) ?? { n: 0, came: 0 };
		groups.set(chance, { n: group.n + 1, came: group.came + (occurred ? 1 : 0) });
	}
	const rate = meanOf(pairs, ([, occurred]) => (occurred ? 1 : 0));
	const sumOver = (part: (chance: number, share: number) => number) =>
		[...groups].reduce(
			(sum, [chance, { n, came: occurrences }]) => sum + n * part(chance, occurrences / n),
			0
		) / pairs.length;
	return {
		reliability: sumOver((chance, share) => (chance - share) ** 2),
		resolution: sumOver((_, share) => (share - rate) ** 2),
		uncertainty: rate * (1 - rate)
	};
}
