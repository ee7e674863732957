import { itemAt } from '../units/vector';
import { sumOf } from '../statistics/sum';
import { drawIndex, type Random } from '../units/random';
import { sortedMap } from '../units/sorted-map';

/**
 * How jobs of this shop went, by what was confirmed at their end: which tests they took and which operations were tried in
 * which order, those that helped nothing and those that were tried again among them. A new job is drawn from them, so that its
 * price knows of the way to the repair and not of the repair alone.
 */
export interface Walk {
	/** tests that were done, and their minutes and cost together */
	tests: number;
	testMinutes: number;
	testCostMinor: number;
	/** operations in the order in which they were tried */
	operations: readonly string[];
	fixed: boolean;
}

/** By confirmed set (its codes sorted and joined by a bar), then by walk: how often. */
export type LearnedWalks = Map<string, Map<string, number>>;

const keyOf = ({ tests, testMinutes, testCostMinor, operations, fixed }: Walk) =>
	[tests, testMinutes, testCostMinor, fixed ? 1 : 0, ...operations].join(' ');

function walkOf(key: string): Walk {
	const [tests, testMinutes, testCostMinor, fixed, ...operations] = key.split(' ');
	return {
		tests: Number(tests),
		testMinutes: Number(testMinutes),
		testCostMinor: Number(testCostMinor),
		fixed: fixed === '1',
		operations
	};
}

export const setOf = (faults: readonly string[]) => [...faults].sort().join('|');

/** Counts a closed job's walk in place, or takes it out again with `times` = -1. */
export function addWalk(learned: LearnedWalks, faults: string, walk: Walk, times: 1 | -1 = 1): void {
	const walks = learned.get(faults) ?? new Map<string, number>();
	learned.set(faults, walks);
	const key = keyOf(walk);
	const count = (walks.get(key) ?? 0) + times;
	if (count === 0) walks.delete(key);
	else walks.set(key, count);
	if (walks.size === 0) learned.delete(faults);
}

/** A copy in an order of its own: draws from equal counts are then equal. */
export const copyOfWalks = (learned: LearnedWalks): LearnedWalks =>
	sortedMap(new Map([...learned].map(([faults, walks]) => [faults, sortedMap(walks)])));

/** What was done of a job already: how many tests, and which operations. */
export interface DoneSoFar {
	tests: number;
	operations: readonly string[];
}

/** Walks of one confirmed set that may still be this job's, to draw from. */
export interface Walks {
	count: number;
	draw(random: Random): Walk;
}

/**
 * Walks that began with these faults; what is left of each.
 * @param leaning how much likelier than by the record an operation is tried first, by what is believed now
 */
export function walksFrom(
	learned: LearnedWalks,
	faults: string,
	progress: DoneSoFar,
	leaning: (operation: string) => number = () => 1
): Walks | null {
	const from = [...(learned.get(faults) ?? [])].map(([key, count]) => ({ walk: walkOf(key), count }));
	if (from.length === 0) return null;
	const weights = from.map(({ walk, count }) => count * leaning(walk.operations[0] ?? ''));
	return {
		count: sumOf(from.map(({ count }) => count)),
		draw: (random) => leftOf(itemAt(from, drawIndex(random, weights)).walk, progress)
	};
}

/**
 * What is left of a walk after what was done: its tests where nothing was tested yet (once something was, the diagnosis counts as
 * done: no record says how much of it is to come), and the operations but for those that were tried.
 */
export function leftOf(walk: Walk, progress: DoneSoFar): Walk {
	const operations = [...walk.operations];
	for (const tried of progress.operations) {
		const at = operations.indexOf(tried);
		if (at >= 0) operations.splice(at, 1);
	}
	const firstTest = progress.tests === 0;
	return {
		...walk,
		tests: firstTest ? walk.tests : 0,
		testMinutes: firstTest ? walk.testMinutes : 0,
		testCostMinor: firstTest ? walk.testCostMinor : 0,
		operations
	};
}
