import { codeEntry } from '../units/code';
import type { Catalog } from '../catalog/catalog';
import { drawIndex, type Random } from '../units/random';

/** How many pads, wires or contacts there are, by what is counted; what was not counted is not in it. */
export type Counts = Readonly<Record<string, number>>;

/** The latest count of each. */
export const latestCounts = (counted: readonly { what: string; number: number }[]): Counts =>
	Object.fromEntries(counted.map(({ what: item, number }) => [item, number]));

/** Fewer than the usual number do not take less than this share of the usual minutes. A choice. */
const LEAST = 0.2;

/**
 * How much longer than usual an operation takes with so many of what it depends on: (minutes + each · (number - usual)) over
 * minutes. One where it depends on nothing, or nothing was counted.
 * @example countFactor(75 minutes, per 1 pad usual, 8 each; 20 pads) // (75 + 8 · 19) / 75 = 3.03
 */
export function countFactor(catalog: Catalog, operation: string, counts: Counts): number {
	const { minutes = 0, per } = catalog.operations.get(operation) ?? {};
	const number = per && codeEntry(counts, per.count);
	if (!per || number === undefined) return 1;
	const usual = Math.max(1, minutes);
	return Math.max(LEAST, (usual + per.each * (number - per.usual)) / usual);
}

/** How often each number was met, by what was counted: "pads 3". */
export type LearnedCounts = Map<string, number>;

/** The usual number of the catalog is worth so many jobs of the shop's own. A choice. */
const USUAL_WEIGHT = 2;

/**
 * Draws the counts that nobody made, for one job: as the shop's past had them, with the catalog's usual number among them. Draws
 * nothing where no operation depends on a count that is not known.
 */
export function countsDrawn(
	catalog: Catalog,
	learned: LearnedCounts,
	operations: readonly string[],
	counts: Counts
): (random: Random) => Counts {
	const open = new Map<string, { numbers: number[]; weights: number[] }>();
	for (const code of operations) {
		const per = catalog.operations.get(code)?.per;
		if (!per || counts[per.count] !== undefined || open.has(per.count)) continue;
		const numbers = [per.usual];
		const weights = [USUAL_WEIGHT];
		for (const [key, times] of learned) {
			const [item, number] = key.split(' ') as [string, string];
			if (item !== per.count) continue;
			numbers.push(Number(number));
			weights.push(times);
		}
		open.set(per.count, { numbers, weights });
	}
	if (open.size === 0) return () => counts;
	return (random) => {
		const drawn: Record<string, number> = { ...counts };
		for (const [item, { numbers, weights }] of open) {
			drawn[item] = numbers[drawIndex(random, weights)] as number;
		}
		return drawn;
	};
}
