import { itemAt } from '../../units/vector';
import { dirichletMean, dirichletMultinomialLog } from '../../statistics/dirichlet';
import { logMix } from '../../statistics/log-sum-exp';
import { sumOf } from '../../statistics/sum';

/**
 * How the answers to one question depend on the fault, from counts. Most faults leave most answers as they always are;
 * few speak clearly. So each fault's answers are a mixture of two beliefs: near what is usual (weight `near` about the
 * background), or informative (weight `informative`, any answer). How likely the counts are under either decides how much of
 * each is believed (spike and slab, e.g. George & McCulloch, JASA 88, 1993).
 */
export interface Hyperparameters {
	/** share of informative faults, before the counts are seen */
	share: number;
	near: number;
	informative: number;
	/** how far informative faults speak by unusual answers: 0 by any alike, 1 by the unusual ones */
	contrast: number;
}

/** Weights of a informative fault's answers about what is usual. */
function informativeWeights(
	background: readonly number[],
	{ informative, contrast }: Omit<Hyperparameters, 'share' | 'near'>
): number[] {
	const n = background.length;
	if (n < 2) return background.map(() => informative);
	return background.map((chance) => informative * (1 - contrast + (contrast * n * (1 - chance)) / (n - 1)));
}

/** One question as it is learnt: counts by fault on tickets with that fault alone, and without any. */
export interface QuestionCounts {
	/** by fault, then by answer; fractions allowed */
	perFault: readonly (readonly number[])[];
	none: readonly number[];
	/** starting beliefs of the catalog: chances of the answers and how many tickets they are worth; null without */
	beliefs: readonly (Stated | null)[];
	/** what is usual before anything is seen, in tickets by answer */
	usual: readonly number[];
	/** the catalog states what is usual */
	usualStated?: boolean;
	/** what a device without any of the faults is believed to answer; as usual without */
	statedNone?: Stated;
}

/** The counts of one fault on one model: by answer. */
export interface OwnCounts {
	fault: number;
	counts: readonly number[];
}

export interface Stated {
	chances: readonly number[];
	weight: number;
	/** what is seen is the fault: not doubted as other beliefs are */
	sure?: boolean;
}

export interface AnswersByFault {
	background: number[];
	none: { chances: number[]; weight: number };
	perFault: FaultAnswers[];
}

/** Chances of a question's answers under one fault, and the tickets that they rest on. */
export interface FaultAnswers {
	chances: number[];
	weight: number;
	/** by answer, the variance of its log chance from not knowing which of the beliefs holds */
	doubts: number[];
	/** it leans on a belief that is sure: its answers may rule a fault out more strongly */
	sure?: boolean;
}

/** One of several beliefs about a fault's answers, with how far it is believed. */
export interface Part {
	share: number;
	chances: readonly number[];
}

/** Mean chances of some parts, and how far these are apart in logs. */
export function mixOf(parts: readonly Part[]): { chances: number[]; doubts: number[] } {
	const average = (k: number, value: (chance: number) => number) =>
		parts.reduce((sum, { share, chances }) => sum + share * value(chances[k] as number), 0);
	const answers = (parts[0]?.chances ?? []).map((_, k) => k);
	return {
		chances: answers.map((k) => average(k, (chance) => chance)),
		doubts: answers.map((k) => {
			const mean = average(k, Math.log);
			return average(k, (chance) => (Math.log(chance) - mean) ** 2);
		})
	};
}

/** Tickets without a fault lean on the background with so many. A choice. */
const NONE_WEIGHT = 8;
/** A starting belief says this much of a ticket about what is usual. A choice. */
const STATED_USUAL = 0.5;
/** What a starting belief is worth in tickets where it does not say: the exchange format's default. */
export const USUAL_WEIGHT = 4;
/** What a starting belief calls impossible is worth this much of a ticket all the same. A choice. */
export const LEAST_WEIGHT = 0.01;
/** And of a belief that is sure this much. A choice. */
const SURE_LEAST_WEIGHT = 0.001;
const ROUNDS = 4;

interface Split {
	/** chance that the fault is informative, given its counts */
	informative: number;
	logMarginal: number;
}

function splitOf(
	counts: readonly number[],
	background: readonly number[],
	hyperparameters: Hyperparameters
): Split {
	const nearLog = dirichletMultinomialLog(
		counts,
		background.map((chance) => hyperparameters.near * chance)
	);
	const toldLog = dirichletMultinomialLog(counts, informativeWeights(background, hyperparameters));
	const logMarginal = logMix(hyperparameters.share, toldLog, nearLog);
	return { informative: Math.exp(Math.log(hyperparameters.share) + toldLog - logMarginal), logMarginal };
}

/** What is usual: the answers of faults that do not speak, by a few rounds of expectation and maximisation. */
function backgroundOf(
	{ perFault, none: noFault, usual, usualStated, beliefs }: QuestionCounts,
	hyperparameters: Hyperparameters
): number[] {
	// what the catalog states of a fault counts a little, as long as nothing is said of what is usual
	const counted = usualStated ? 0 : STATED_USUAL;
	const statedLogs = perFault.map((counts, f) =>
		counts.map((count, k) => count + counted * (beliefs[f]?.chances[k] ?? 0))
	);
	const start = noFault.map(
		(count, k) => (usual[k] as number) + count + sumOf(statedLogs.map((counts) => counts[k] as number))
	);
	let background = start.map((count) => count / sumOf(start));
	for (let round = 0; round < ROUNDS; round++) {
		const splits = statedLogs.map((counts) => splitOf(counts, background, hyperparameters));
		const quiet = noFault.map(
			(count, k) =>
				(usual[k] as number) +
				count +
				sumOf(statedLogs.map((counts, f) => (1 - itemAt(splits, f).informative) * (counts[k] as number)))
		);
		background = quiet.map((count) => count / sumOf(quiet));
	}
	return background;
}

const statedWeights = ({ chances, weight, sure: isSure }: Stated) =>
	chances.map((chance) => weight * chance + (isSure ? SURE_LEAST_WEIGHT : LEAST_WEIGHT));

/** What is doubted of a belief that is sure; a record that contradicts it long enough still wins. A choice. */
const SURE_DOUBT = 0.0001;

/** Chance that a starting belief is right, by how well it foretold the counts beside the hyperparameters of the data. */
function statedIsRight(counts: readonly number[], stated: Stated, otherwise: Split, trust: number): number {
	// a belief that is worth many tickets is doubted less
	const usualDoubt = (1 - trust) * Math.min(1, USUAL_WEIGHT / Math.max(1e-9, stated.weight));
	const doubt = stated.sure ? SURE_DOUBT : usualDoubt;
	const right = Math.log(1 - doubt) + dirichletMultinomialLog(counts, statedWeights(stated));
	const wrong = Math.log(Math.max(1e-12, doubt)) + otherwise.logMarginal;
	const maximum = Math.max(right, wrong);
	return Math.exp(right - maximum) / (Math.exp(right - maximum) + Math.exp(wrong - maximum));
}

/** Answers by fault: what the catalog states, what is usual and what is informative, weighed by how well each foretold the counts. */
export function answersByFault(
	question: QuestionCounts,
	hyperparameters: Hyperparameters,
	trust: number
): AnswersByFault {
	const background = backgroundOf(question, hyperparameters);
	const nearWeights = background.map((chance) => hyperparameters.near * chance);
	const weights = informativeWeights(background, hyperparameters);
	const perFault = question.perFault.map((counts, f) => {
		const split = splitOf(counts, background, hyperparameters);
		const nearMean = dirichletMean(counts, nearWeights);
		const toldMean = dirichletMean(counts, weights);
		const prior =
			(1 - split.informative) * hyperparameters.near +
			split.informative * hyperparameters.informative * counts.length;
		const stated = question.beliefs[f];
		const learnt = (share: number): Part[] => [
			{ share: share * (1 - split.informative), chances: nearMean },
			{ share: share * split.informative, chances: toldMean }
		];
		if (!stated) return { ...mixOf(learnt(1)), weight: sumOf(counts) + prior };
		const right = statedIsRight(counts, stated, split, trust);
		const statedMean = dirichletMean(counts, statedWeights(stated));
		return {
			...mixOf([...learnt(1 - right), { share: right, chances: statedMean }]),
			weight: sumOf(counts) + (1 - right) * prior + right * stated.weight,
			...(stated.sure ? { sure: true } : {})
		};
	});
	const { statedNone } = question;
	const noneWeights = statedNone
		? statedWeights(statedNone)
		: background.map((chance) => NONE_WEIGHT * chance);
	const noFault = dirichletMean(question.none, noneWeights);
	return {
		background,
		none: { chances: noFault, weight: sumOf(question.none) + sumOf(noneWeights) },
		perFault
	};
}

/** Seven of ten starting beliefs are taken for right at first, as if eight had been looked at. A choice. */
const TRUST = { share: 0.7, weight: 8 };
const TRUST_ROUNDS = 5;

/** Share of the catalog's starting beliefs that the counts bear out (expectation and maximisation). */
export function likeliestTrust(
	questions: readonly QuestionCounts[],
	hyperparameters: Hyperparameters
): number {
	const rows = questions.flatMap((question) => {
		const background = backgroundOf(question, hyperparameters);
		return question.perFault.flatMap((counts, f) => {
			const stated = question.beliefs[f];
			return stated && sumOf(counts) > 0
				? [{ counts, stated, other: splitOf(counts, background, hyperparameters) }]
				: [];
		});
	});
	let trust = TRUST.share;
	for (let round = 0; round < TRUST_ROUNDS; round++) {
		const right = sumOf(
			rows.map(({ counts, stated, other: otherwise }) => statedIsRight(counts, stated, otherwise, trust))
		);
		trust = (TRUST.share * TRUST.weight + right) / (TRUST.weight + rows.length);
	}
	return Math.min(0.98, Math.max(0.05, trust));
}

const SHARES = [0.08, 0.16, 0.3, 0.5] as const;
const NEAR = [15, 50, 160, 500] as const;
const INFORMATIVE = [0.4, 0.8, 1.6].flatMap((informative) =>
	[0, 0.4, 0.8].map((contrast) => ({ informative, contrast }))
);
/** Before anything is known, and for finding what is usual while the hyperparameters are sought. A choice. */
const INITIAL_HYPERPARAMETERS: Hyperparameters = { share: 0.3, near: 50, informative: 0.8, contrast: 0.4 };

/**
 * The hyperparameters under which all questions' counts together are likeliest (empirical Bayes, by a grid). What is usual is
 * found once under the first hyperparameters: it hardly depends on them, and each row is then weighed but thirteen times.
 */
export function likeliestHyperparameters(questions: readonly QuestionCounts[]): Hyperparameters {
	const rows = questions.flatMap((question) => {
		const background = backgroundOf(question, INITIAL_HYPERPARAMETERS);
		return question.perFault
			.filter((counts) => sumOf(counts) > 0)
			.map((counts) => ({
				near: NEAR.map((spread) =>
					dirichletMultinomialLog(
						counts,
						background.map((chance) => spread * chance)
					)
				),
				informative: INFORMATIVE.map((informativeness) =>
					dirichletMultinomialLog(counts, informativeWeights(background, informativeness))
				)
			}));
	});
	let best = { hyperparameters: INITIAL_HYPERPARAMETERS, log: -Infinity };
	for (const share of SHARES) {
		NEAR.forEach((spread, n) => {
			INFORMATIVE.forEach((informativeness, t) => {
				const log = sumOf(
					rows.map((row) => logMix(share, row.informative[t] as number, row.near[n] as number))
				);
				if (log > best.log) best = { hyperparameters: { share, near: spread, ...informativeness }, log };
			});
		});
	}
	return rows.length === 0 ? INITIAL_HYPERPARAMETERS : best.hyperparameters;
}
