import { dirichletMean, dirichletMultinomialLog } from '../statistics/dirichlet';
import { logMix } from '../statistics/log-sum-exp';
import { once } from './once';
import { mixOf, type AnswersByFault, type FaultAnswers } from './telling';

/**
 * Models that answer in their own way: a lamp that always blinks, a line that reads low by design. A question is usually
 * answered alike by all models; on a few it is not, and there some faults have answers of their own, drawn about what is
 * usual. How often that is so and how far such answers stray is what makes all models' counts likeliest; nothing is believed
 * of it unless that foretells them clearly better.
 */
export interface Straying {
	/** share of the questions of a model that have answers of its own */
	share: number;
	/** share of the faults that have answers of their own there */
	faults: number;
	/** what is usual counts so many tickets there: the fewer, the further they stray */
	weight: number;
}

/** The counts of one model and question: by fault, alone on its device. */
export interface ModelQuestion<Row = ModelRow> {
	model: string;
	question: string;
	rows: readonly Row[];
}

export interface OwnCounts {
	fault: number;
	own: readonly number[];
}

export interface ModelRow extends OwnCounts {
	/** what all others foretell, as weights of a Dirichlet distribution */
	others: readonly number[];
}

/** What is usual of every question, and the questions that some models answer in their own way. */
export interface UsualAndOwn {
	usual: (question: string) => AnswersByFault;
	straying: (ModelQuestion & { own: OwnAnswers })[];
}

const SHARES = [0.02, 0.06, 0.15, 0.3, 0.5] as const;
const WEIGHTS = [1, 3, 10] as const;
const FAULTS = [0.15, 0.4, 0.8] as const;
/** So much better (in nats) it must foretell the counts before it is believed at all. A choice. */
const LEAST_GAIN = 3;
/** Below this chance of straying a row is left as it is. */
const NOTABLE = 0.05;
const LEAST_WEIGHT = 0.02;
/** So few tickets of a fault on a model tell nothing of how it answers there. */
export const TELL_NOTHING = 2;
/** Keeps e^x a number. */
const MOST_LOG = 600;

const sumOf = (values: readonly number[]) => values.reduce((total, value) => total + value, 0);

/** What is known of a fault's answers without one model's own counts, of which `part` is in them. */
export const withoutOwn = (
	{ chances, weight }: FaultAnswers,
	own: readonly number[],
	part: number
): number[] =>
	chances.map((chance, k) => Math.max(LEAST_WEIGHT, weight * chance - part * (own[k] as number)));

/** What is usual counts so much less where a row strays. */
const scaleOf = (others: readonly number[], weight: number) => Math.min(1, weight / sumOf(others));

const usualLog = ({ own, others }: ModelRow) => dirichletMultinomialLog(own, others);
const strayedLog = ({ own, others }: ModelRow, weight: number) =>
	dirichletMultinomialLog(own, others, scaleOf(others, weight));

/** How models stray, by a grid (empirical Bayes); null where all answer alike as far as the counts tell. */
export function likeliestStraying(questions: readonly ModelQuestion[]): Straying | null {
	const usual = questions.map(({ rows }) => rows.map(usualLog));
	let best: { straying: Straying | null; log: number } = { straying: null, log: LEAST_GAIN };
	for (const weight of WEIGHTS) {
		/** how many times likelier each row is where it strays */
		const times = questions.map(({ rows }, q) =>
			rows.map((row, r) => Math.exp(Math.min(MOST_LOG, strayedLog(row, weight) - (usual[q]?.[r] as number))))
		);
		for (const faults of FAULTS) {
			const more = times.map((of) => {
				const log = of.reduce((sum, ratio) => sum + Math.log(1 + faults * (ratio - 1)), 0);
				return Math.expm1(Math.min(MOST_LOG, log));
			});
			for (const share of SHARES) {
				const log = more.reduce((sum, times) => sum + Math.log1p(share * times), 0);
				if (log > best.log) best = { straying: { share, faults, weight }, log };
			}
		}
	}
	return best.straying;
}

/** How far each row of a model's question is believed to stray. */
export function strayChances({ rows }: ModelQuestion, { share, faults, weight }: Straying): number[] {
	const logs = rows.map((row) => {
		const [own, usual] = [strayedLog(row, weight), usualLog(row)];
		const mixed = logMix(faults, own, usual);
		return { usual, mixed, part: Math.exp(Math.log(faults) + own - mixed) };
	});
	const apart = sumOf(logs.map(({ mixed }) => mixed));
	const alike = sumOf(logs.map(({ usual }) => usual));
	const strays = Math.exp(Math.log(share) + apart - logMix(share, apart, alike));
	return logs.map(({ part }) => strays * part);
}

/** Answers by fault on one model, and how far each fault's are believed to be the model's own. */
export interface OwnAnswers {
	answers: AnswersByFault;
	strays: ReadonlyMap<number, number>;
}

/**
 * What is usual, and a model's own answers as far as it strays; null where it does not.
 * @param chances how far each row strays
 */
export function answersOnModel(
	usual: AnswersByFault,
	question: ModelQuestion,
	chances: readonly number[],
	{ weight }: Straying
): OwnAnswers | null {
	if (!chances.some((chance) => chance >= NOTABLE)) return null;
	const perFault = [...usual.perFault];
	question.rows.forEach(({ fault, own, others }, i) => {
		const [stray, before] = [chances[i] as number, usual.perFault[fault]];
		if (!before || stray < NOTABLE) return;
		const mixed = mixOf([
			{ share: 1 - stray, chances: before.chances },
			{
				share: stray,
				chances: dirichletMean(
					own,
					others.map((other) => scaleOf(others, weight) * other)
				)
			}
		]);
		perFault[fault] = {
			chances: mixed.chances,
			weight: (1 - stray) * before.weight + stray * (sumOf(own) + weight),
			doubts: mixed.doubts.map((doubt, k) => doubt + (1 - stray) * (before.doubts[k] as number))
		};
	});
	const strays = new Map(question.rows.map(({ fault }, i) => [fault, chances[i] as number]));
	return { answers: { ...usual, perFault }, strays };
}

/** What strays, found first, is left out of what is usual, and all is looked at once more. */
const ROUNDS = 2;

/**
 * @param usualOf answers by fault over all models, less some counts by fault
 */
export function usualAndOwn(
	questions: readonly ModelQuestion<OwnCounts>[],
	usualOf: (question: string, less: readonly OwnCounts[]) => AnswersByFault
): UsualAndOwn {
	let found: UsualAndOwn = { usual: once((question: string) => usualOf(question, [])), straying: [] };
	/** by question of a model: how far each row strays */
	let parts = questions.map(({ rows }) => rows.map(() => 0));
	for (let round = 0; round < ROUNDS; round++) {
		const less = new Map<string, OwnCounts[]>();
		questions.forEach(({ question, rows }, q) =>
			rows.forEach(({ fault, own }, r) => {
				const part = parts[q]?.[r] as number;
				if (part < NOTABLE) return;
				const list = less.get(question) ?? [];
				less.set(question, list);
				list.push({ fault, own: own.map((count) => part * count) });
			})
		);
		const usual = once((question: string) => usualOf(question, less.get(question) ?? []));
		const beside = questions.map((each, q): ModelQuestion => ({
			...each,
			rows: each.rows.map((row, r) => ({
				...row,
				others: withoutOwn(
					usual(each.question).perFault[row.fault] as FaultAnswers,
					row.own,
					1 - (parts[q]?.[r] as number)
				)
			}))
		}));
		const habit = likeliestStraying(beside);
		if (!habit) return found;
		parts = beside.map((question) => strayChances(question, habit));
		const straying = beside.flatMap((question, q) => {
			const own = answersOnModel(usual(question.question), question, parts[q] as number[], habit);
			return own ? [{ ...question, own }] : [];
		});
		found = { usual, straying };
	}
	return found;
}
