import { logGamma, gammaQuantile } from '../statistics/gamma';
import { gammaPoissonLog } from '../statistics/gamma-poisson';
import { softmax } from '../statistics/log-sum-exp';

/** Pieces asked for by one job, and when, in weeks from any zero. */
export interface Asked {
	week: number;
	quantity: number;
}

/** What a part's jobs ask for now. */
export interface Demand {
	/** jobs a week, as a gamma distribution: shape jobs over rate weeks */
	shape: number;
	rate: number;
	/** chance of each number of pieces that one job asks for, from one on */
	sizes: readonly number[];
	/** weeks that the rate rests on: since it changed last, else since the part was known */
	fromWeeks: number;
	/** jobs in them */
	jobs: number;
}

/** A part that was never asked for: a job in some years. A choice; it keeps its rate from nothing. */
const BEFORE = { shape: 0.3, rate: 10 };
/** A part that is known for less counts as if it were known for so many weeks, as long as its rate is guessed. A choice. */
const YOUNG_WEEKS = 4;
/** Chance that the rate changed within the span at all, before the record is looked at. A choice. */
const CHANGED = 0.7;
/** From so sure a change on, what lies before it is looked at no more when another is sought. A choice. */
const SURE = 0.9;
/** Fewest weeks on either side of a change. A choice. */
const LEAST_WEEKS = 4;
/** Sizes lean on single pieces with so many jobs. A choice. */
const SINGLE_WEIGHT = 0.5;
/** More pieces at once are taken together. */
const MOST_PIECES = 200;

/**
 * How often jobs ask for a part now, and for how many pieces. Jobs come as a Poisson process whose rate stands still or changes
 * once; every week in which it may have changed is weighed by how well two rates foretell the jobs (gamma-Poisson marginal
 * likelihoods, textbook; the rate before and after about the span's own), and the present rate is the mixture of what follows,
 * as a gamma distribution of its mean and variance. Where a second change shows behind a sure one, the span begins there. So recent
 * weeks count more only where the record shows a change.
 * @param from week in which the part was first known
 * @param to the present, in weeks
 */
export function demandOf(requests: readonly Asked[], from: number, to: number): Demand {
	const sorted = requests.filter(({ week }) => week <= to).sort((a, b) => a.week - b.week);
	const weeks = sorted.map(({ week }) => week);
	let now = presentRate(weeks, from, to);
	for (;;) {
		if (now.changed < SURE) break;
		const later = presentRate(weeks, now.cut, to);
		if (later.changed < SURE) break;
		now = later;
	}
	const { shape, rate, fromWeeks } = now;
	return {
		shape,
		rate,
		sizes: sizesOf(sorted),
		fromWeeks,
		jobs: weeks.filter((week) => week >= to - fromWeeks).length
	};
}

/** The rate at the end of a span, over every week in which it may have changed. */
function presentRate(weeks: readonly number[], from: number, to: number) {
	const inside = weeks.filter((week) => week >= from);
	const span = Math.max(1e-9, to - from);
	// what a rate is likely to be, worth one job of the span's own rate; a part of yesterday is not asked for every hour
	const jobs = inside.length + BEFORE.shape;
	const belief = inside.length === 0 ? BEFORE : { shape: 1, rate: Math.max(span, YOUNG_WEEKS) / jobs };
	const cuts: { at: number; log: number; jobs: number }[] = [
		{
			at: from,
			log: Math.log(1 - CHANGED) + gammaPoissonLog(inside.length, span, belief),
			jobs: inside.length
		}
	];
	const places = Math.floor(span - 2 * LEAST_WEEKS) + 1;
	let countBefore = 0;
	for (let i = 0; i < places; i++) {
		const at = from + LEAST_WEEKS + i;
		while (countBefore < inside.length && (inside[countBefore] as number) < at) countBefore++;
		const countAfter = inside.length - countBefore;
		const log =
			Math.log(CHANGED / places) +
			gammaPoissonLog(countBefore, at - from, belief) +
			gammaPoissonLog(countAfter, to - at, belief);
		cuts.push({ at, log, jobs: countAfter });
	}
	const shares = softmax(cuts.map(({ log }) => log));
	let [mean, square, fromWeeks, best] = [0, 0, 0, 0];
	cuts.forEach(({ at, jobs }, i) => {
		const share = shares[i] as number;
		const [shape, rate] = [belief.shape + jobs, belief.rate + to - at];
		mean += share * (shape / rate);
		square += share * ((shape / rate) ** 2 + shape / rate ** 2);
		fromWeeks += share * (to - at);
		if (i > 1 && (shares[i] as number) > (shares[best] as number)) best = i;
		else if (best === 0 && i === 1) best = 1;
	});
	const variance = square - mean * mean;
	return {
		shape: mean ** 2 / variance,
		rate: mean / variance,
		fromWeeks,
		changed: 1 - (shares[0] as number),
		cut: cuts[best]?.at ?? from
	};
}

/** Jobs of all times: how many pieces a job asks for hardly changes. */
function sizesOf(requests: readonly Asked[]): number[] {
	const maxPieces = Math.min(
		MOST_PIECES,
		requests.reduce((largest, { quantity }) => Math.max(largest, Math.ceil(quantity)), 1)
	);
	const counts = Array.from({ length: maxPieces }, () => 0);
	counts[0] = SINGLE_WEIGHT;
	for (const { quantity } of requests) {
		const size = Math.min(maxPieces, Math.max(1, Math.round(quantity)));
		counts[size - 1] = (counts[size - 1] as number) + 1;
	}
	const total = requests.length + SINGLE_WEIGHT;
	return counts.map((count) => count / total);
}

export const meanSize = ({ sizes }: Pick<Demand, 'sizes'>): number =>
	sizes.reduce((sum, chance, i) => sum + chance * (i + 1), 0);

/**
 * Pieces a week, with an 80 % interval of their mean: the doubt about the rate, and about the mean of the pieces of a job, as one gamma
 * distribution.
 */
export function piecesPerWeek(demand: Demand): { mean: number; low: number; high: number } {
	const size = meanSize(demand);
	const spread = demand.sizes.reduce((sum, chance, i) => sum + chance * (i + 1 - size) ** 2, 0);
	const doubt = 1 / demand.shape + spread / (size ** 2 * (demand.jobs + 1));
	const mean = (demand.shape / demand.rate) * size;
	const at = (chance: number) => gammaQuantile(chance, 1 / doubt) * mean * doubt;
	return { mean, low: at(0.1), high: at(0.9) };
}

/**
 * Chances of 0, 1, 2, ... jobs within a span: Poisson with the gamma doubt about its rate, that is negative binomial of size
 * `shape` (textbook).
 */
export function jobsWithin(
	{ shape, rate }: Pick<Demand, 'shape' | 'rate'>,
	weeks: number,
	maxPieces: number
): number[] {
	if (weeks <= 0) return [1, ...Array.from({ length: maxPieces }, () => 0)];
	const p = rate / (rate + weeks);
	return Array.from({ length: maxPieces + 1 }, (_, k) =>
		Math.exp(
			logGamma(shape + k) - logGamma(shape) - logGamma(k + 1) + shape * Math.log(p) + k * Math.log(1 - p)
		)
	);
}
