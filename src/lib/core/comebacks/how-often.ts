import { gammaPoissonLog } from '../statistics/gamma-poisson';
import { softmax } from '../statistics/log-sum-exp';
import { shrunkRate } from '../statistics/shrunk-rate';
import { sumOf } from '../statistics/sum';
import { itemAt } from '../units/vector';

/** Fixed jobs and their comebacks, by model, and by the operation that fixed the device. */
export interface ComebackCounts {
	fixed: ReadonlyMap<string, number>;
	comebacks: ReadonlyMap<string, number>;
	fixedBy: ReadonlyMap<string, number>;
	backAfter: ReadonlyMap<string, number>;
}

/** Starting belief: one job in twenty returns, worth 20 jobs. Choices of this program. */
const COMEBACK_BELIEF = 0.05;
const COMEBACK_WEIGHT = 20;

const total = (counts: ReadonlyMap<string, number>) => sumOf([...counts.values()]);

const shopRate = (back: ReadonlyMap<string, number>, fixed: ReadonlyMap<string, number>) =>
	shrunkRate(Math.min(total(back), total(fixed)), total(fixed), COMEBACK_BELIEF, COMEBACK_WEIGHT);

/**
 * Comebacks that the ratio of one operation or model to the shop may lean on 1 with: the shape of a gamma distribution of mean 1 from
 * which ratios come. From ratios that lie far apart to ones that are the same. A choice.
 */
const LEANINGS = [1, 2, 4, 8, 16, 32, 64, 128, 256, 512];

/**
 * How much oftener the jobs of each operation, or model, come back than all. Comebacks are Poisson with the shop's rate times a ratio that
 * comes from a gamma distribution; its shape is weighed by the gamma-Poisson (negative binomial) marginal likelihood of all of them
 * (empirical Bayes: Clayton & Kaldor, Biometrics 43, 1987), so that ratios are shrunk to 1 by as much as the shop's own do not differ.
 */
function ratiosOf(
	back: ReadonlyMap<string, number>,
	fixed: ReadonlyMap<string, number>,
	rate: number
): (code: string) => number {
	const weights = softmax(
		LEANINGS.map((shape) =>
			sumOf(
				[...fixed].map(([code, jobs]) =>
					gammaPoissonLog(back.get(code) ?? 0, jobs * rate, { shape, rate: shape })
				)
			)
		)
	);
	return (code) => {
		const comebacks = back.get(code) ?? 0;
		const expected = (fixed.get(code) ?? 0) * rate;
		return sumOf(LEANINGS.map((shape, i) => itemAt(weights, i) * ((comebacks + shape) / (expected + shape))));
	};
}

/**
 * Chance that a device of this model, fixed by some operations, comes back: the shop's rate times what the model's and the
 * operations' own records say of it, each shrunk; of several operations each may be the cause.
 */
export function comebackChances(
	past: ComebackCounts,
	model: string
): (operations: readonly string[]) => number {
	const shop = shopRate(past.comebacks, past.fixed);
	const ofModel = ratiosOf(past.comebacks, past.fixed, shop)(model);
	const overallRate = shopRate(past.backAfter, past.fixedBy);
	const ofOperation = ratiosOf(past.backAfter, past.fixedBy, overallRate);
	const isByOperation = total(past.fixedBy) > 0;
	return (operations) => {
		if (operations.length === 0 || !isByOperation) return Math.min(0.95, shop * ofModel);
		const chanceNone = operations.reduce(
			(left, operation) => left * (1 - Math.min(0.95, overallRate * ofOperation(operation) * ofModel)),
			1
		);
		return 1 - chanceNone;
	};
}
