import type { Catalog } from '../catalog/catalog';
import { shrunkRate } from '../statistics/shrunk-rate';
import { answersOf } from './evidence';
import { noisyOr, type FaultSet } from './fault-sets';
import type { Learned } from './learn';

/**
 * Start weights of the model, in tickets. Choices of this program, not published values: round
 * numbers that let a dozen tickets of one's own outweigh a belief.
 */
const PRIOR_WEIGHT = 12;
const MODEL_WEIGHT = 12;
const SIGN_WEIGHT = 4;
const ANSWER_WEIGHT = 4;
const SUCCESS_WEIGHT = 8;
const SIZE_BELIEF = [0.04, 0.86, 0.1] as const;
const SIZE_WEIGHT = 10;
/** No single answer may rule a fault in or out for good: confirmed faults are sometimes wrong. */
const LEAST = 0.005;
const clip = (chance: number) => Math.min(1 - LEAST, Math.max(LEAST, chance));

/** A chance with the number of tickets that stand behind it (beliefs count with their weight). */
export interface Belief {
	chance: number;
	weight: number;
}

/** Share of each fault among faults of a model, shrunk towards the shop, that towards the catalog. */
export function faultShares(catalog: Catalog, learned: Learned, model: string): Belief[] {
	const codes = [...catalog.faults.keys()];
	const even = 1 / Math.max(1, codes.length);
	const ofModel = learned.models.get(model);
	return codes.map((code) => {
		const prior = catalog.faults.get(code)?.prior ?? even;
		const count = learned.faults.get(code) ?? 0;
		const overall = shrunkRate(count, learned.tickets, prior, PRIOR_WEIGHT);
		const seen = ofModel?.faults.get(code) ?? 0;
		const chance = shrunkRate(seen, ofModel?.tickets ?? 0, overall, MODEL_WEIGHT);
		return { chance: Math.max(1e-6, chance), weight: (ofModel?.tickets ?? 0) + MODEL_WEIGHT };
	});
}

/** Chances of no, one and two faults on a device. */
export function sizeChances({ sizes, tickets }: Learned): [number, number, number] {
	return SIZE_BELIEF.map((belief, size) =>
		shrunkRate(sizes[size] as number, tickets, belief, SIZE_WEIGHT)
	) as [number, number, number];
}

/** What one piece of evidence says: its log likelihood under every set, and the beliefs behind it. */
export interface Speech {
	/** as the odds report it: "vbus-fuse=open", "no-charge=true" */
	evidence: string;
	logLikelihood: Float64Array;
	/** per single fault; for the uncertainty of the odds */
	beliefs: readonly Belief[];
}

/**
 * A sign under every set: noisy-OR of the faults' links over the leak. The leak is the least chance of
 * the sign under any fault: what is seen that often whatever is wrong is not any fault's doing.
 */
export function hearSign(
	catalog: Catalog,
	learned: Learned,
	sets: readonly FaultSet[],
	sign: string,
	present: boolean
): Speech {
	const counts = learned.signs.get(sign);
	const [seen, asked] = counts?.all ?? [0, 0];
	const overall = (seen + 1) / (asked + 2);
	const beliefs = [...catalog.faults.keys()].map((fault): Belief => {
		const [x, n] = counts?.faults.get(fault) ?? [0, 0];
		const expected = catalog.expectations.find((e) => e.given === fault && e.sign === sign);
		const mean = expected?.chance ?? overall;
		const weight = expected ? (expected.weight ?? SIGN_WEIGHT) : SIGN_WEIGHT;
		return { chance: clip(shrunkRate(x, n, mean, weight)), weight: n + weight };
	});
	const leak = Math.min(...beliefs.map(({ chance }) => chance), overall);
	const [x, n] = counts?.none ?? [0, 0];
	const none = clip(shrunkRate(x, n, leak, SIGN_WEIGHT));
	const links = beliefs.map(({ chance }) => (chance - leak) / (1 - leak));
	return {
		evidence: `${sign}=${present}`,
		beliefs,
		logLikelihood: Float64Array.from(sets, (set) => {
			const chance =
				set.length === 0
					? none
					: clip(
							noisyOr(
								leak,
								set.map((fault) => links[fault] as number)
							)
						);
			return Math.log(present ? chance : 1 - chance);
		})
	};
}

/** Chances of every answer to a question, overall, without a fault, and under each single fault. */
export function answerBeliefs(catalog: Catalog, learned: Learned, question: string) {
	const answers = answersOf(catalog, question);
	const counts = learned.answers.get(question);
	const totalOf = (count: ReadonlyMap<string, number> | undefined) =>
		[...(count?.values() ?? [])].reduce((sum, n) => sum + n, 0);
	const all = totalOf(counts?.all);
	const overall = answers.map((answer) => ((counts?.all.get(answer) ?? 0) + 1) / (all + answers.length));
	const shrink = (
		count: ReadonlyMap<string, number> | undefined,
		mean: readonly number[],
		weight: number
	) => {
		const total = totalOf(count);
		const chances = answers.map((answer, i) =>
			Math.max(LEAST, shrunkRate(count?.get(answer) ?? 0, total, mean[i] as number, weight))
		);
		const sum = chances.reduce((a, b) => a + b, 0);
		return { chances: chances.map((chance) => chance / sum), weight: total + weight };
	};
	const perFault = [...catalog.faults.keys()].map((fault) => {
		const expected = catalog.expectations.find((e) => e.given === fault && e.test === question);
		const mean = expected?.outcomes ? answers.map((answer) => expected.outcomes?.[answer] ?? 0) : overall;
		const weight = expected ? (expected.weight ?? ANSWER_WEIGHT) : ANSWER_WEIGHT;
		return shrink(counts?.faults.get(fault), mean, weight);
	});
	return { answers, overall, none: shrink(counts?.none, overall, ANSWER_WEIGHT), perFault };
}

export type AnswerBeliefs = ReturnType<typeof answerBeliefs>;

/** Chance of each answer under a set: under two faults, that of the one that departs most from usual. */
export function answerChances(beliefs: AnswerBeliefs, set: FaultSet): readonly number[] {
	const [first, second] = set;
	if (first === undefined) return beliefs.none.chances;
	const one = beliefs.perFault[first]?.chances ?? beliefs.overall;
	if (second === undefined) return one;
	const other = beliefs.perFault[second]?.chances ?? beliefs.overall;
	return divergence(one, beliefs.overall) >= divergence(other, beliefs.overall) ? one : other;
}

/** Kullback-Leibler divergence in nats. */
function divergence(from: readonly number[], to: readonly number[]): number {
	return from.reduce((sum, p, i) => sum + (p > 0 ? p * Math.log(p / (to[i] as number)) : 0), 0);
}

export function hearAnswer(
	catalog: Catalog,
	learned: Learned,
	sets: readonly FaultSet[],
	question: string,
	answer: string
): Speech {
	const beliefs = answerBeliefs(catalog, learned, question);
	const index = beliefs.answers.indexOf(answer);
	return {
		evidence: `${question}=${answer}`,
		beliefs: beliefs.perFault.map(({ chances, weight }) => ({
			chance: chances[index] as number,
			weight
		})),
		logLikelihood: Float64Array.from(sets, (set) => Math.log(answerChances(beliefs, set)[index] as number))
	};
}

/** Chance that an operation works where it addresses the fault, learnt, shrunk to the catalog's. */
export function successBelief(catalog: Catalog, learned: Learned, operation: string): Belief {
	const [worked, tried] = learned.operations.get(operation) ?? [0, 0];
	const belief = catalog.operations.get(operation)?.success ?? 0.9;
	const chance = shrunkRate(worked, tried, belief, SUCCESS_WEIGHT);
	return { chance: Math.min(0.995, Math.max(0.02, chance)), weight: tried + SUCCESS_WEIGHT };
}
