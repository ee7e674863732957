import { itemAt } from '../../units/vector';
import { chanceOfSort, likeliestShare } from '../../statistics/likeliest-share';
import { sumOf } from '../../statistics/sum';
import type { AnswersByFault, OwnCounts } from './answer-model';

/**
 * A model on which some answers come more often than elsewhere whatever is wrong: nothing known good to judge a line by, a
 * lamp that always blinks. All its answers are reweighted alike, P(answer | fault) times a factor for each answer, so that the
 * answer tells no fault from another by being usual there. The factors make what is expected of the model's tickets what was
 * seen (iterative proportional fitting: Deming & Stephan, Ann. Math. Statist. 11, 1940), shrunk towards one.
 */
export interface AnswerBias {
	factors: readonly number[];
	/** how much likelier the model's answers are with it, in nats, less what its freedom is worth */
	gain: number;
}

/** Expected tickets that are added to what was seen, so that few change little. A choice. */
const STEADY = 4;
const ROUNDS = 4;
const SHARES = [0.05, 0.2, 0.5] as const;
/** So much better (in nats) biases must foretell the counts before any is believed. A choice. */
const LEAST_GAIN = 3;

/** Chances times their factors, summing to 1 again. */
export function reweighted(chances: readonly number[], factors: readonly number[]): number[] {
	const weights = chances.map((chance, k) => chance * (factors[k] as number));
	const total = sumOf(weights);
	return weights.map((weight) => weight / total);
}

/** @param usual chances of the answers by fault, without this model */
export function biasOf(rows: readonly OwnCounts[], usual: readonly (readonly number[])[]): AnswerBias {
	const answers = usual[0]?.length ?? 0;
	const seen = new Array<number>(answers).fill(0);
	for (const { counts } of rows) counts.forEach((count, k) => (seen[k] = (seen[k] as number) + count));
	const factors = new Array<number>(answers).fill(1);
	for (let round = 0; round < ROUNDS; round++) {
		const expected = new Array<number>(answers).fill(0);
		rows.forEach(({ counts }, r) => {
			const n = sumOf(counts);
			reweighted(itemAt(usual, r), factors).forEach((chance, k) => {
				expected[k] = (expected[k] as number) + n * chance;
			});
		});
		const all = sumOf(expected);
		for (let k = 0; k < answers; k++) {
			const steady = (STEADY * (expected[k] as number)) / Math.max(1e-9, all);
			const [above, below] = [(seen[k] as number) + steady, (expected[k] as number) + steady];
			if (below > 0) factors[k] = ((factors[k] as number) * above) / below;
		}
	}
	let likelier = 0;
	rows.forEach(({ counts }, r) => {
		const usualChances = itemAt(usual, r);
		const shifted = reweighted(usualChances, factors);
		counts.forEach((count, k) => {
			if (count > 0) likelier += count * Math.log((shifted[k] as number) / (usualChances[k] as number));
		});
	});
	// Schwarz's criterion: half the log of the tickets for each freedom
	const free = Math.max(0, seen.filter((count) => count > 0).length - 1);
	return { factors, gain: likelier - (Math.max(1, free) / 2) * Math.log(sumOf(seen) + 1) };
}

/** How far each of some biases is believed, given how common biases are here (empirical Bayes, by a grid). */
export function biasChances(biases: readonly AnswerBias[]): number[] {
	const gains = biases.map(({ gain }) => gain);
	const { share, log } = likeliestShare(gains, SHARES);
	return gains.map((gain) => (log > LEAST_GAIN ? chanceOfSort(gain, share) : 0));
}

/** Answers of a model that are reweighted as far as that is believed. */
export function withBias(
	usual: AnswersByFault,
	factors: readonly number[],
	believed: number
): AnswersByFault {
	const mix = (chances: readonly number[]) =>
		reweighted(chances, factors).map(
			(chance, k) => believed * chance + (1 - believed) * (chances[k] as number)
		);
	return {
		background: mix(usual.background),
		none: { ...usual.none, chances: mix(usual.none.chances) },
		perFault: usual.perFault.map((answers) => ({ ...answers, chances: mix(answers.chances) }))
	};
}
