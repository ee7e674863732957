import type { CatalogKind } from './records';

/**
 * How many records of a kind a catalog holds at most. What the engine computes grows with them: a full catalog is some seven
 * times the demo shop's, and the odds of a plain ticket take some 0.2 s with it on two cores. Choices.
 */
export const MOST_OF: Readonly<Partial<Record<CatalogKind, number>>> = {
	fault: 80,
	sign: 200,
	test: 120,
	operation: 120,
	gate: 60
};

/** Why one more record of a kind is refused; null where it fits. */
export function fullOf(kind: CatalogKind, count: number): string | null {
	const most = MOST_OF[kind];
	return most === undefined || count < most
		? null
		: `is one too many: a catalog holds ${most} records of the kind ${kind} at most; change one that is there`;
}
