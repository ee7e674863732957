import { gammaQuantile } from '../statistics/gamma';
import { sumOf } from '../statistics/sum';

/** How long orders of a part take, in days: mean and spread of a gamma distribution. */
export interface LeadTime {
	mean: number;
	sd: number;
	/** own lots behind it */
	from: number;
}

/** What a supplier states is worth so many of the part's own lots; another lot of the supplier so much of one. Choices. */
const STATED_WEIGHT = 1.5;
const OTHERS_WEIGHT = 0.35;
/** A supplier's other lots together are worth at most so many own ones. A choice. */
const OTHERS_MOST = 4;
/** Where nobody states anything: a week and a half, common practice, no source. */
const UNSTATED_DAYS = 10;
/** Usual spread of one delivery over its mean before any is known. A choice. */
const USUAL_CV = 0.35;
/** Deliveries that the usual spread is worth. A choice. */
const SPREAD_WEIGHT = 4;

/**
 * Days from order to arrival: the part's own lots, its supplier's other lots counting less, and what the supplier states;
 * the spread shrunk to a usual one.
 */
export function leadTimeOf(
	partDays: readonly number[],
	otherDays: readonly number[],
	statedDays: number | undefined
): LeadTime {
	const otherWeight = otherDays.length === 0 ? 0 : Math.min(OTHERS_WEIGHT, OTHERS_MOST / otherDays.length);
	const seen = [
		...partDays.map((days) => ({ days, weight: 1 })),
		...otherDays.map((days) => ({ days, weight: otherWeight }))
	];
	const weight = sumOf(seen.map((one) => one.weight));
	const stated = statedDays ?? UNSTATED_DAYS;
	const mean =
		(STATED_WEIGHT * stated + sumOf(seen.map((one) => one.weight * one.days))) / (STATED_WEIGHT + weight);
	const usual = (USUAL_CV * mean) ** 2;
	const scatter = sumOf(seen.map((one) => one.weight * (one.days - mean) ** 2));
	const variance = (SPREAD_WEIGHT * usual + scatter) / (SPREAD_WEIGHT + weight);
	// the mean itself is in doubt
	return { mean, sd: Math.sqrt(variance * (1 + 1 / (STATED_WEIGHT + weight))), from: partDays.length };
}

const STRATA = 12;

/** Days that stand for equal shares of all deliveries: middles of twelve equal parts. */
export function leadDaysDrawn({ mean, sd }: Pick<LeadTime, 'mean' | 'sd'>): number[] {
	if (mean <= 0) return [0];
	if (sd <= 0) return [mean];
	const shape = (mean / sd) ** 2;
	return Array.from({ length: STRATA }, (_, i) => (gammaQuantile((i + 0.5) / STRATA, shape) * mean) / shape);
}
