import { shrunkRate } from '../statistics/shrunk-rate';
import { sumOf } from '../statistics/sum';

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
/** How often an operation's or a model's jobs come back over the shop's leans on 1 with so many comebacks. A choice. */
const RATIO_WEIGHT = 3;

const total = (counts: ReadonlyMap<string, number>) => sumOf([...counts.values()]);

const shopRate = (back: ReadonlyMap<string, number>, fixed: ReadonlyMap<string, number>) =>
	shrunkRate(Math.min(total(back), total(fixed)), total(fixed), COMEBACK_BELIEF, COMEBACK_WEIGHT);

/** How much oftener one kind of jobs comes back than all: comebacks over what the shop's rate would give, shrunk to 1. */
const ratioOf = (back: number, fixed: number, rate: number) =>
	(back + RATIO_WEIGHT) / (fixed * rate + RATIO_WEIGHT);

/**
 * Chance that a device of this model, fixed by these operations, comes back: the shop's rate times what the model's and the
 * operations' own records say of it, each shrunk; of several operations each may be the cause.
 */
export function comebackChance(past: ComebackCounts, model: string, operations: readonly string[]): number {
	const shop = shopRate(past.comebacks, past.fixed);
	const ofModel = ratioOf(past.comebacks.get(model) ?? 0, past.fixed.get(model) ?? 0, shop);
	const overallRate = shopRate(past.backAfter, past.fixedBy);
	if (operations.length === 0 || total(past.fixedBy) === 0) return Math.min(0.95, shop * ofModel);
	const chanceNone = operations.reduce((left, operation) => {
		const rate = ratioOf(past.backAfter.get(operation) ?? 0, past.fixedBy.get(operation) ?? 0, overallRate);
		return left * (1 - Math.min(0.95, overallRate * rate * ofModel));
	}, 1);
	return 1 - chanceNone;
}
