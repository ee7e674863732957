import { itemAt } from '../../units/vector';
import { dirichletMean, dirichletMultinomialLog } from '../../statistics/dirichlet';
import { chanceOfSort, likeliestShare } from '../../statistics/likeliest-share';
import { logMix } from '../../statistics/log-sum-exp';
import { sumOf } from '../../statistics/sum';
import { once } from '../once';
import { withBias, biasChances, reweighted, biasOf, type AnswerBias } from './answer-bias';
import { mixOf, type AnswersByFault, type FaultAnswers, type OwnCounts } from './answer-model';
import { groupBy } from '../../units/group-by';
import { mapInSteps } from '../../units/in-steps';

/**
 * Models that answer in their own way. A question is usually answered alike by all models; on some models its answers lean
 * one way whatever is wrong (tilt.ts), and on some, beyond that, a few faults have answers of their own, drawn about what is
 * usual. How often that is so and how far such answers deviate is what makes all models' counts likeliest; nothing is believed
 * of either unless that foretells them clearly better.
 */
export interface Deviation {
	/** share of the questions of a model that have answers of its own */
	share: number;
	/** share of the faults that have answers of their own there */
	faults: number;
	/** what is usual counts so many tickets there: the fewer, the further they deviate */
	weight: number;
}

/** The counts of one model and question: by fault, alone on its device. */
export interface ModelQuestion<Row = ModelRow> {
	model: string;
	question: string;
	rows: readonly Row[];
}

interface ModelRow extends OwnCounts {
	/** what all others foretell, as weights of a Dirichlet distribution */
	predicted: readonly number[];
}

/** What is usual of every question, and the questions that some models answer in their own way. */
export interface UsualAndOwn {
	usual: (question: string) => AnswersByFault;
	deviating: readonly OwnAnswers[];
}

/** A question that a model answers in its own way. */
export interface OwnAnswers extends ModelQuestion {
	/** worked out when it is asked for */
	answers: () => AnswersByFault;
	/** how far some answers are believed to be more common on this model whatever is wrong */
	biased: number;
	/** by fault, how far its answers are believed to be the model's own beyond that */
	deviates: ReadonlyMap<number, number>;
}

const SHARES = [0.02, 0.06, 0.15, 0.3, 0.5] as const;
const WEIGHTS = [1, 3, 10] as const;
const FAULTS = [0.15, 0.4, 0.8] as const;
/** So much better (in nats) it must foretell the counts before it is believed at all. A choice. */
const LEAST_GAIN = 3;
/** Below this chance of deviation a row is left as it is. */
const NOTABLE = 0.05;
const LEAST_WEIGHT = 0.02;
/** So few tickets of a fault on a model tell nothing of how it answers there. */
const TELL_NOTHING = 2;
/** Keeps e^x a number. */
const MOST_LOG = 600;

/** What is known of a fault's answers without one model's own counts, of which `part` is in them. */
export const withoutOwn = (
	{ chances, weight }: FaultAnswers,
	counts: readonly number[],
	part: number
): number[] =>
	chances.map((chance, k) => Math.max(LEAST_WEIGHT, weight * chance - part * (counts[k] as number)));

/** What is usual counts so much less where a row deviates. */
const scaleOf = (counts: readonly number[], weight: number) => Math.min(1, weight / sumOf(counts));

const normal = (weights: readonly number[]) => {
	const total = sumOf(weights);
	return weights.map((weight) => weight / total);
};
const tells = ({ counts }: OwnCounts) => sumOf(counts) > TELL_NOTHING;
const usualLog = ({ counts, predicted: usual }: ModelRow) => dirichletMultinomialLog(counts, usual);
const deviatedLog = ({ counts, predicted: usual }: ModelRow, weight: number) =>
	dirichletMultinomialLog(counts, usual, scaleOf(usual, weight));

/** How models deviate, by a grid (empirical Bayes); null where all answer alike as far as the counts tell. */
export function likeliestDeviation(questions: readonly ModelQuestion[]): Deviation | null {
	const telling = questions.map(({ rows }) => rows.filter(tells));
	const usual = telling.map((rows) => rows.map(usualLog));
	let best: { deviation: Deviation | null; log: number } = { deviation: null, log: LEAST_GAIN };
	for (const weight of WEIGHTS) {
		/** how many times likelier each row is where it deviates */
		const times = telling.map((rows, q) =>
			rows.map((row, r) => Math.exp(Math.min(MOST_LOG, deviatedLog(row, weight) - (usual[q]?.[r] as number))))
		);
		for (const faults of FAULTS) {
			const gains = times.map((ratios) => sumOf(ratios.map((ratio) => Math.log(1 + faults * (ratio - 1)))));
			const { share, log } = likeliestShare(gains, SHARES);
			if (log > best.log) best = { deviation: { share, faults, weight }, log };
		}
	}
	return best.deviation;
}

/** How far each row of a model's question is believed to deviate. */
export function deviationChances({ rows }: ModelQuestion, { share, faults, weight }: Deviation): number[] {
	const rowGains = rows.map((row) => (tells(row) ? deviatedLog(row, weight) - usualLog(row) : null));
	const gain = rowGains.reduce<number>(
		(sum, logGain) => sum + (logGain === null ? 0 : logMix(faults, logGain, 0)),
		0
	);
	const deviates = chanceOfSort(gain, share);
	return rowGains.map((logGain) => (logGain === null ? 0 : deviates * chanceOfSort(logGain, faults)));
}

/** A model's answers with those of its own mixed in, as far as each row deviates. */
export function withDeviations(
	usual: AnswersByFault,
	question: ModelQuestion,
	chances: readonly number[],
	{ weight }: Deviation
): AnswersByFault {
	const perFault = [...usual.perFault];
	question.rows.forEach(({ fault, counts, predicted: others }, i) => {
		const [part, usualRow] = [chances[i] as number, usual.perFault[fault]];
		if (!usualRow || part < NOTABLE) return;
		const scale = scaleOf(others, weight);
		const mixed = mixOf([
			{ share: 1 - part, chances: usualRow.chances },
			{
				share: part,
				chances: dirichletMean(
					counts,
					others.map((chance) => scale * chance)
				)
			}
		]);
		perFault[fault] = {
			chances: mixed.chances,
			weight: (1 - part) * usualRow.weight + part * (sumOf(counts) + weight),
			doubts: mixed.doubts.map((doubt, k) => doubt + (1 - part) * (usualRow.doubts[k] as number))
		};
	});
	return { ...usual, perFault };
}

/** What is a model's own, found first, is left out of what is usual, and all is looked at once more. */
const ROUNDS = 2;

/**
 * @param usualOf answers by fault over all models, less some counts by fault
 * @param groupOf questions of a group are alike in how models differ on them: readings judged by what is known good of a
 * model, say
 */
export function* usualAndOwn(
	questions: readonly ModelQuestion<OwnCounts>[],
	usualOf: (question: string, excluded: readonly OwnCounts[]) => AnswersByFault,
	groupOf: (question: string) => string
): Generator<void, UsualAndOwn> {
	const groups = groupBy(questions, ({ question }) => groupOf(question));
	const found = new Map<string, UsualAndOwn>();
	for (const [group, members] of groups) found.set(group, yield* ownInGroup(members, usualOf));
	const plain = once((question: string) => usualOf(question, []));
	return {
		usual: (question) => (found.get(groupOf(question))?.usual ?? plain)(question),
		deviating: [...found.values()].flatMap(({ deviating: counts }) => counts)
	};
}

function* ownInGroup(
	questions: readonly ModelQuestion<OwnCounts>[],
	usualOf: (question: string, excluded: readonly OwnCounts[]) => AnswersByFault
): Generator<void, UsualAndOwn> {
	let found: UsualAndOwn = { usual: once((question: string) => usualOf(question, [])), deviating: [] };
	/** by question of a model: how far each row is its own */
	let parts = questions.map(({ rows }) => rows.map(() => 0));
	for (let round = 0; round < ROUNDS; round++) {
		const excluded = ownOf(questions, parts);
		const usual =
			excluded.size === 0
				? found.usual
				: once((question: string) => usualOf(question, excluded.get(question) ?? []));
		const deviations = yield* mapInSteps(questions, (each, q) =>
			besideOthers(each, usual(each.question), itemAt(parts, q))
		);
		const looked = yield* lookAt(deviations, parts);
		if (!looked) return found;
		parts = looked.deviates;
		found = { usual, deviating: ownAnswers(usual, looked) };
	}
	return found;
}

/** How the questions of models lean and which of their rows deviate. */
interface Looked {
	/** what others foretell, reweighted as the models are */
	withBiases: readonly ModelQuestion[];
	biases: readonly AnswerBias[];
	/** by question of a model: how far its tilt is believed, and how far each row deviates */
	believed: readonly number[];
	deviates: number[][];
	deviation: Deviation | null;
}

/**
 * @param parts how far each row was found to deviate before: what deviates by itself says nothing of how all answers lean
 * @returns null where all models answer alike as far as the counts tell
 */
function* lookAt(
	questions: readonly ModelQuestion[],
	parts: readonly (readonly number[])[]
): Generator<void, Looked | null> {
	const biases = yield* mapInSteps(questions, ({ rows }, q) =>
		biasOf(
			rows.map(({ fault, counts }, r) => ({
				fault,
				counts: counts.map((count) => count * (1 - (parts[q]?.[r] as number)))
			})),
			rows.map(({ predicted: usual }) => normal(usual))
		)
	);
	const believed = biasChances(biases);
	const withBiases = questions.map((question, q) =>
		(believed[q] as number) < NOTABLE
			? question
			: biasedQuestion(question, itemAt(biases, q), believed[q] as number)
	);
	const deviation = likeliestDeviation(withBiases);
	if (!deviation && believed.every((chance) => chance < NOTABLE)) return null;
	yield;
	const deviates = yield* mapInSteps(withBiases, (question) =>
		deviation ? deviationChances(question, deviation) : question.rows.map(() => 0)
	);
	return { withBiases, biases, believed, deviates, deviation };
}

const ownAnswers = (
	usual: UsualAndOwn['usual'],
	{ withBiases, biases, believed, deviates, deviation }: Looked
): OwnAnswers[] =>
	withBiases.flatMap((question, q) => {
		const biased = believed[q] as number;
		const strange = itemAt(deviates, q);
		if (biased < NOTABLE && !strange.some((chance) => chance >= NOTABLE)) return [];
		const answers = () => {
			const usualRows = usual(question.question);
			const corrected = biased < NOTABLE ? usualRows : withBias(usualRows, itemAt(biases, q).factors, biased);
			return deviation ? withDeviations(corrected, question, strange, deviation) : corrected;
		};
		const byFault = new Map(question.rows.map(({ fault }, r) => [fault, strange[r] as number]));
		return [{ ...question, answers, biased, deviates: byFault }];
	});

/** By question, the counts that are models' own as far as they are. */
function ownOf(
	questions: readonly ModelQuestion<OwnCounts>[],
	parts: readonly (readonly number[])[]
): Map<string, OwnCounts[]> {
	const excluded = new Map<string, OwnCounts[]>();
	questions.forEach(({ question, rows }, q) =>
		rows.forEach(({ fault, counts }, r) => {
			const part = parts[q]?.[r] as number;
			if (part < NOTABLE) return;
			const list = excluded.get(question) ?? [];
			excluded.set(question, list);
			list.push({ fault, counts: counts.map((count) => part * count) });
		})
	);
	return excluded;
}

const besideOthers = (
	question: ModelQuestion<OwnCounts>,
	usual: AnswersByFault,
	parts: readonly number[]
): ModelQuestion => ({
	...question,
	rows: question.rows.map((row, r) => ({
		...row,
		predicted: withoutOwn(itemAt(usual.perFault, row.fault), row.counts, 1 - (parts[r] as number))
	}))
});

/** What others foretell, reweighted as the model is. */
const biasedQuestion = (
	question: ModelQuestion,
	{ factors }: AnswerBias,
	believed: number
): ModelQuestion => ({
	...question,
	rows: question.rows.map((row) => {
		const weight = sumOf(row.predicted);
		const shifted = reweighted(row.predicted, factors);
		return {
			...row,
			others: row.predicted.map(
				(chance, k) => (1 - believed) * chance + believed * weight * (shifted[k] as number)
			)
		};
	})
});
