import { clopperPearsonInterval, type Interval } from '../statistics/rate-interval';

/** A past quote and whether the customer took it. */
export interface AnsweredQuote {
	priceMinor: number;
	/** what the device is worth to its owner; null where the model does not say */
	valueMinor: number | null;
	accepted: boolean;
}

/**
 * Answered quotes counted by how dear they were: the logarithm of price over value (of the price, where
 * the value is unknown) in steps of a twentieth. Asking it does not grow with the number of tickets.
 */
export interface LearnedAnswers {
	valued: Map<number, [accepted: number, answered: number]>;
	unvalued: Map<number, [accepted: number, answered: number]>;
}

export const emptyAnswers = (): LearnedAnswers => ({ valued: new Map(), unvalued: new Map() });

export const copyOfAnswers = ({ valued, unvalued }: LearnedAnswers): LearnedAnswers => ({
	valued: new Map(valued),
	unvalued: new Map(unvalued)
});

const STEP = 0.05;
const stepOf = (priceMinor: number, valueMinor: number | null) =>
	Math.round(Math.log(Math.max(1, priceMinor) / Math.max(1, valueMinor ?? 1)) / STEP);

/** Counts an answered quote in place, or takes it out again with `times` = -1. */
export function addAnswer(learned: LearnedAnswers, quote: AnsweredQuote, times: 1 | -1 = 1): void {
	const counts = quote.valueMinor === null ? learned.unvalued : learned.valued;
	const step = stepOf(quote.priceMinor, quote.valueMinor);
	const [accepted, answered] = counts.get(step) ?? [0, 0];
	if (answered + times === 0) counts.delete(step);
	else counts.set(step, [accepted + (quote.accepted ? times : 0), answered + times]);
}

/** The nearest past quotes that a chance of acceptance leans on, at least; and the fewest that say anything. */
const NEAREST = 60;
const FEWEST = 10;

/**
 * Chance that a price is accepted: (k + 1) / (n + 2) of the past quotes nearest in how dear they were,
 * whole steps on both sides until there are 60. Null with fewer than ten in all.
 */
export function acceptanceChance(
	priceMinor: number,
	valueMinor: number | null,
	learned: LearnedAnswers
): ({ chance: number; from: number } & Interval) | null {
	const target = stepOf(priceMinor, valueMinor);
	const counts = [...(valueMinor === null ? learned.unvalued : learned.valued)]
		.map(([step, count]) => ({ distance: Math.abs(step - target), count }))
		.sort((a, b) => a.distance - b.distance);
	let [taken, from, reach] = [0, 0, 0];
	for (const { distance, count } of counts) {
		if (from >= NEAREST && distance > reach) break;
		taken += count[0];
		from += count[1];
		reach = distance;
	}
	if (from < FEWEST) return null;
	return { chance: (taken + 1) / (from + 2), from, ...clopperPearsonInterval(taken, from, 0.8) };
}
