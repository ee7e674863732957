import type { Instant } from '../units/instant';
import { comebackEffectsInSteps, type Effects } from './fair-ratio';
import { knownAt, type FollowedJob } from './followed-jobs';

/** Nothing is watched before so many comebacks are known: what is usual is not known either. A choice. */
const FEWEST = 25;
/** What is usual is learnt anew once so many times the comebacks are known. A choice. */
const GROWN = 1.4;
/** What is usual is learnt of so many jobs, the last. A choice. */
const LATELY = 10_000;
/** What is usual need not be known closer: logarithms of a hazard. A choice. */
const NEAR = 0.01;
/**
 * Work and people that were always worse than typical ones are granted so many times as much at most before it is held against them, and
 * never more than at an earlier time: what grew worse is not granted. A choice.
 */
const GRANTED = 1.5;

/** A stretch of time with what was known to be usual at its beginning. */
export interface UsualPeriod {
	from: Instant;
	to: Instant;
	effects: Effects;
	/** times as much as a typical row, of rows that are granted more */
	grants: ReadonlyMap<string, number>;
}

/** Stretches of time with what was known at their beginnings: the first begins once enough comebacks are known. */
export function* usualPeriods(jobs: readonly FollowedJob[], asOf: Instant): Generator<void, UsualPeriod[]> {
	const backs = jobs.flatMap(({ back }) => (back ? [back.at] : [])).sort((a, b) => a - b);
	const starts: Instant[] = [];
	for (let seenCount = FEWEST; seenCount <= backs.length; seenCount = Math.ceil(seenCount * GROWN)) {
		starts.push((backs[seenCount - 1] as Instant) + 1);
	}
	const periods: UsualPeriod[] = [];
	let grants: ReadonlyMap<string, number> = new Map();
	for (const [i, from] of starts.entries()) {
		const closed = jobs.findLastIndex(({ closedAt }) => closedAt < from) + 1;
		const lately = knownAt(jobs.slice(Math.max(0, closed - LATELY), closed), from);
		const effects = yield* comebackEffectsInSteps(lately, { start: periods.at(-1)?.effects, close: NEAR });
		grants = grantsOf(effects, grants);
		periods.push({ from, to: starts[i + 1] ?? asOf, effects, grants });
	}
	return periods;
}

function grantsOf({ of: levelEffects }: Effects, earlier: ReadonlyMap<string, number>): Map<string, number> {
	const grants = new Map(earlier);
	for (const kind of ['operation', 'technician'] as const) {
		for (const [level, { effect }] of levelEffects[kind]) {
			const key = `${kind} ${level}`;
			grants.set(key, Math.max(1, Math.min(earlier.get(key) ?? GRANTED, Math.exp(effect))));
		}
	}
	return grants;
}
