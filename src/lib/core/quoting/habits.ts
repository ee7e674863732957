import { itemAt } from '../units/vector';
import { sumOf } from '../statistics/sum';
import { indexDrawer, type Random } from '../units/random';
import { sortedMap } from '../units/sorted-map';

/**
 * How jobs of this shop went, by what was confirmed at their end: which tests they took and which operations were tried in
 * which order, those that helped nothing and those that were tried again among them. A new job is drawn from them, so that its
 * price knows of the way to the repair and not of the repair alone.
 */
export interface Walk {
	/** tests in the order in which they were made before the first repair, each once */
	tests: readonly TestAnswer[];
	/** operations in the order in which they were tried */
	operations: readonly string[];
	fixed: boolean;
}

export interface TestAnswer {
	test: string;
	outcome: string;
}

interface CountedWalk {
	walk: Walk;
	count: number;
}

/** By confirmed set (its codes sorted and joined by a bar), then by walk: how often. */
export type LearnedWalks = Map<string, Map<string, CountedWalk>>;

const keyOf = ({ tests, operations, fixed }: Walk) =>
	[fixed ? 1 : 0, ...tests.map(({ test, outcome }) => `${test}=${outcome}`), '', ...operations].join(' ');

export const setOf = (faults: readonly string[]) => [...faults].sort().join('|');

/** Counts a closed job's walk in place, or takes it out again with `times` = -1. */
export function addWalk(learned: LearnedWalks, faults: string, walk: Walk, times: 1 | -1 = 1): void {
	const walks = learned.get(faults) ?? new Map<string, CountedWalk>();
	learned.set(faults, walks);
	const key = keyOf(walk);
	const count = (walks.get(key)?.count ?? 0) + times;
	if (count === 0) walks.delete(key);
	else walks.set(key, { walk, count });
	if (walks.size === 0) learned.delete(faults);
}

/** A copy in an order of its own: draws from equal counts are then equal. */
export const copyOfWalks = (learned: LearnedWalks): LearnedWalks =>
	sortedMap(new Map([...learned].map(([faults, walks]) => [faults, sortedMap(walks)])));

/** What was done of a job already: tests with their answers, and operations. */
export interface DoneSoFar {
	tests: readonly TestAnswer[];
	operations: readonly string[];
}

/** Walks of one confirmed set that may still be this job's, to draw from. */
export interface Walks {
	count: number;
	draw(random: Random): Walk;
}

/**
 * Walks that began with these faults; what is left of each. Those in which the same tests gave the same answers are likelier.
 * @param leaning how much likelier than by the record what is left of one is, by what is believed now
 */
export function walksFrom(
	learned: LearnedWalks,
	faults: string,
	progress: DoneSoFar,
	leaning: (remaining: Walk) => number = () => 1
): Walks | null {
	const counted = [...(learned.get(faults) ?? new Map<string, CountedWalk>()).values()];
	if (counted.length === 0) return null;
	const remaining = counted.map(({ walk }) => leftOf(walk, progress));
	const weights = counted.map(
		({ walk, count }, i) => count * likeness(walk, progress.tests) * leaning(itemAt(remaining, i))
	);
	const drawn = indexDrawer(weights);
	return {
		count: sumOf(counted.map(({ count }) => count)),
		draw: (random) => itemAt(remaining, drawn(random))
	};
}

/** Beside a job in which a test gave the same answer: one in which it gave another, one in which it was not made. Choices. */
const OTHER_ANSWER = 0.1;
const NOT_MADE = 0.05;

function likeness({ tests }: Walk, answers: readonly TestAnswer[]): number {
	let weight = 1;
	for (const { test, outcome } of answers) {
		const made = tests.find((answer) => answer.test === test);
		if (!made) weight *= NOT_MADE;
		else if (made.outcome !== outcome) weight *= OTHER_ANSWER;
	}
	return weight;
}

/** What is left of a walk after what was done: its tests and operations but for those; a test that it lacks stands for one of its own. */
export function leftOf(walk: Walk, progress: DoneSoFar): Walk {
	const operations = [...walk.operations];
	for (const tried of progress.operations) {
		const at = operations.indexOf(tried);
		if (at >= 0) operations.splice(at, 1);
	}
	const untested = walk.tests.filter(
		({ test }) => !progress.tests.some((answered) => answered.test === test)
	);
	const standIns = progress.tests.length - (walk.tests.length - untested.length);
	return { ...walk, tests: untested.slice(standIns), operations };
}
