import { dirichletMean, dirichletMultinomialLog } from '../statistics/dirichlet';

/**
 * How the answers to one question depend on the fault, from counts. Most faults leave most answers as they always are;
 * few speak clearly. So each fault's answers are a mixture of two beliefs: near what is usual (weight `near` about the
 * background), or telling (weight `telling`, any answer). How likely the counts are under either decides how much of
 * each is believed (spike and slab, e.g. George & McCulloch, JASA 88, 1993).
 */
export interface Habits {
	/** share of telling faults, before the counts are seen */
	share: number;
	near: number;
	telling: number;
}

/** One question as it is learnt: counts by fault on tickets with that fault alone, and without any. */
export interface QuestionCounts {
	/** by fault, then by answer; fractions allowed */
	perFault: readonly (readonly number[])[];
	none: readonly number[];
	/** starting beliefs of the catalog: chances of the answers and how many tickets they are worth; null without */
	beliefs: readonly ({ chances: readonly number[]; weight: number } | null)[];
}

export interface AnswersByFault {
	background: number[];
	none: { chances: number[]; weight: number };
	perFault: { chances: number[]; weight: number }[];
}

const sumOf = (values: readonly number[]) => values.reduce((total, value) => total + value, 0);
/** Background beliefs are worth one ticket an answer; tickets without a fault lean on the background with 8. Choices. */
const NONE_WEIGHT = 8;
/** What a starting belief calls impossible is worth this much of a ticket all the same. A choice. */
export const LEAST_WEIGHT = 0.01;
const ROUNDS = 4;

interface Split {
	/** chance that the fault is telling, given its counts */
	telling: number;
	logMarginal: number;
}

function splitOf(counts: readonly number[], background: readonly number[], habits: Habits): Split {
	const n = counts.length;
	const near = dirichletMultinomialLog(
		counts,
		background.map((chance) => habits.near * chance)
	);
	const told = dirichletMultinomialLog(counts, new Array<number>(n).fill(habits.telling));
	const [a, b] = [Math.log(habits.share) + told, Math.log(1 - habits.share) + near];
	const most = Math.max(a, b);
	const logMarginal = most + Math.log(Math.exp(a - most) + Math.exp(b - most));
	return { telling: Math.exp(a - logMarginal), logMarginal };
}

/** What is usual: the answers of faults that do not speak, by a few rounds of expectation and maximisation. */
function backgroundOf({ perFault, none }: QuestionCounts, habits: Habits): number[] {
	const start = none.map((count, k) => 1 + count + sumOf(perFault.map((counts) => counts[k] as number)));
	let background = start.map((count) => count / sumOf(start));
	for (let round = 0; round < ROUNDS; round++) {
		const splits = perFault.map((counts) => splitOf(counts, background, habits));
		const quiet = none.map(
			(count, k) =>
				1 +
				count +
				sumOf(perFault.map((counts, f) => (1 - (splits[f] as Split).telling) * (counts[k] as number)))
		);
		background = quiet.map((count) => count / sumOf(quiet));
	}
	return background;
}

/** How likely a question's counts are under some habits: for choosing these over all questions. */
export function habitsLikelihood(question: QuestionCounts, habits: Habits): number {
	const background = backgroundOf(question, habits);
	return sumOf(question.perFault.map((counts) => splitOf(counts, background, habits).logMarginal));
}

/** Answers by fault, the two beliefs weighed by how well each foretold the counts. */
export function answersByFault(question: QuestionCounts, habits: Habits, trust: number): AnswersByFault {
	const background = backgroundOf(question, habits);
	const perFault = question.perFault.map((counts, f) => {
		const belief = question.beliefs[f];
		if (belief) {
			const weight = trust * belief.weight;
			const weights = belief.chances.map((chance) => weight * chance + LEAST_WEIGHT);
			return { chances: dirichletMean(counts, weights), weight: sumOf(counts) + weight };
		}
		const { telling } = splitOf(counts, background, habits);
		const near = dirichletMean(
			counts,
			background.map((chance) => habits.near * chance)
		);
		const told = dirichletMean(counts, new Array<number>(counts.length).fill(habits.telling));
		const chances = near.map((chance, k) => (1 - telling) * chance + telling * (told[k] as number));
		const prior = (1 - telling) * habits.near + telling * habits.telling * counts.length;
		return { chances, weight: sumOf(counts) + prior };
	});
	const none = dirichletMean(
		question.none,
		background.map((chance) => NONE_WEIGHT * chance)
	);
	return { background, none: { chances: none, weight: sumOf(question.none) + NONE_WEIGHT }, perFault };
}

const SHARES = [0.08, 0.16, 0.3, 0.5] as const;
const NEAR = [15, 50, 160] as const;
const TELLING = [0.4, 0.8, 1.6] as const;

/** The habits under which all questions' counts together are likeliest (empirical Bayes, by a grid). */
export function likeliestHabits(questions: readonly QuestionCounts[]): Habits {
	let best = { habits: { share: 0.3, near: 50, telling: 0.8 }, log: -Infinity };
	for (const share of SHARES) {
		for (const near of NEAR) {
			for (const telling of TELLING) {
				const habits = { share, near, telling };
				const log = sumOf(questions.map((question) => habitsLikelihood(question, habits)));
				if (log > best.log) best = { habits, log };
			}
		}
	}
	return best.habits;
}
