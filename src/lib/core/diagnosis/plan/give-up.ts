import {
	addressed,
	tryRemedy,
	type PlannedRemedy,
	type PlannedTest,
	type PlanWorld,
	type State
} from './plan-world';

/** What a repaired device brings, as far as giving up hangs on it. Hundredths. */
export interface Income {
	/** what it is worth to its owner, its data with it; null where nobody says */
	valueMinor: number | null;
	/** what fixed jobs were paid over their cost */
	markup: number;
	/** what an hour of bench time costs */
	hourlyMinor: number;
	/** what is lost beside the device where its data is what counts */
	dataMinor: number;
}

/** A cheap look inside: ten minutes. Common practice, no source. */
const LOOK_MINUTES = 10;
/** It is taken where the device is worth more than so many times what the look costs. Common practice, no source. */
const LOOK_TIMES = 2;
/** A repair counts as a way out from here on. */
const COUNTS = 0.1;

const isQuick = ({ minutes }: PlannedTest) => minutes <= LOOK_MINUTES;
const repairsOf = ({ remedies }: PlanWorld): PlannedRemedy[] => remedies.filter(({ opens }) => !opens);

/**
 * What giving up loses: the price of the likeliest repair, at most what the device is worth, times its chance to succeed.
 * @returns null where no repair addresses anything
 */
export function lostIncomeMinor(
	world: PlanWorld,
	start: State,
	{ valueMinor, markup }: Income
): number | null {
	const repairs = repairsOf(world);
	const [first] = repairs;
	if (!first) return null;
	const likeliest = repairs.reduce(
		(best, each) => (addressed(start, each) > addressed(start, best) ? each : best),
		first
	);
	return Math.min(valueMinor ?? Infinity, likeliest.costMinor * markup) * likeliest.success;
}

/** From here on it is known well enough what is wrong: a look inside has little to find. A choice. */
const KNOWN = 0.4;

/**
 * Whether giving up may be named first: no repair brings more than it costs even at all that the device is worth, or all that address what
 * is left failed as often as they are tried; and not before a cheap look inside where the device is worth that. In one that is open
 * the look is owed while no fault leads and something quick was not looked at.
 * @param lead chance of the likeliest fault
 */
export function mayGiveUp(
	world: PlanWorld,
	start: State,
	{ valueMinor, hourlyMinor }: Income,
	{ failedBefore, lead }: { failedBefore: boolean; lead: number }
): boolean {
	const remaining = repairsOf(world).filter((remedy) => addressed(start, remedy) >= COUNTS);
	if (remaining.length === 0) return failedBefore;
	if (valueMinor === null) return false;
	const pays = remaining.some((remedy) => tryRemedy(start, remedy).resolved * valueMinor > remedy.costMinor);
	if (pays) return false;
	const isOwed = world.opening !== null || (lead < KNOWN && world.tests.some(isQuick));
	if (!isOwed) return true;
	const lookMinor = (world.opening?.costMinor ?? 0) + (LOOK_MINUTES / 60) * hourlyMinor;
	return valueMinor <= LOOK_TIMES * lookMinor;
}
