import { itemAt } from '../../units/vector';
import { codeEntry } from '../../units/code';
import type { Catalog } from '../../catalog/catalog';
import { expectationsOf } from '../../catalog/expectations';
import { isOfPath } from '../../evidence/measurements';
import { divergence } from '../../statistics/divergence';
import { sumOf } from '../../statistics/sum';
import { answersOf } from './evidence';
import { pathBeliefs } from './path-beliefs';
import { pointBeliefs } from './point-beliefs';
import { withoutDoubted } from './doubted-lessons';
import { inOneGo, mapInSteps } from '../../units/in-steps';
import { once } from '../once';
import { usualAndOwn, type ModelQuestion, type OwnAnswers, type UsualAndOwn } from './model-deviations';
import { faultSharesOf, type Belief, type FaultShares } from './shares';
import { faultsOfKey, type BySet, type AnswerCounts, type Learned } from './learn';
import {
	answersByFault,
	likeliestHyperparameters,
	likeliestTrust,
	LEAST_WEIGHT,
	USUAL_WEIGHT,
	type AnswersByFault,
	type QuestionCounts,
	type OwnCounts,
	type Stated
} from './answer-model';

export type { Belief };

/** What a shop's counts say, worked out once for each state of the counts and the catalog. */
export interface Fitted {
	/** the counts that it rests on: what was learnt, without what comebacks speak against */
	counted: Learned;
	shares: FaultShares;
	/** chances of a sign's presence under each single fault, and without any; the same object for models that answer alike */
	sign(code: string, model: string): SignBeliefs;
	/** chances of every answer to a question; the same object for models that answer alike */
	answers(question: string, model: string): AnswersByFault & { answers: readonly string[] };
	/** where models answer in their own way, and what is usual there */
	byModel: { signs: UsualAndOwn; answers: UsualAndOwn };
}

export interface SignBeliefs {
	/** of the sign's presence, and of its absence */
	perFault: Belief[];
	absent: Belief[];
	none: Belief;
	background: number;
}

/** Most signs are absent most of the time: present and absent, in tickets, before anything is seen. A choice. */
const USUAL_SIGN = [0.3, 1.7] as const;
const fits = new WeakMap<Learned, { changes: number; catalog: Catalog; fitted: Fitted }>();

const remembered = (catalog: Catalog, learned: Learned): Fitted | null => {
	const cached = fits.get(learned);
	return cached && cached.changes === learned.changes && cached.catalog === catalog ? cached.fitted : null;
};

/** The fit of some counts under a catalog; a remembered one where neither has changed. */
export function fit(catalog: Catalog, learned: Learned): Fitted {
	const cached = remembered(catalog, learned);
	if (cached) return cached;
	const fitted = inOneGo(fitAll(catalog, learned));
	fits.set(learned, { changes: learned.changes, catalog, fitted });
	return fitted;
}

/**
 * The same in steps, for who shares a thread with others: `fit` finds it remembered afterwards.
 * @returns false where the counts changed meanwhile, so that nothing came of it
 */
export function* fitInSteps(catalog: Catalog, learned: Learned): Generator<void, boolean> {
	if (remembered(catalog, learned)) return true;
	const { changes } = learned;
	const work = fitAll(catalog, learned);
	for (;;) {
		const step = work.next();
		if (step.done) {
			fits.set(learned, { changes, catalog, fitted: step.value });
			return true;
		}
		yield;
		// what was begun with other counts is not gone on with
		if (learned.changes !== changes) return false;
	}
}

function* fitAll(catalog: Catalog, all: Learned): Generator<void, Fitted> {
	const learned = withoutDoubted(all);
	yield;
	const codes = [...catalog.faults.keys()];
	const index = new Map(codes.map((code, i) => [code, i]));
	const questions = {
		signs: [...learned.signs.keys()].filter((code) => catalog.signs.has(code)).sort(),
		answers: [...learned.answers.keys()].filter((question) => answersOf(catalog, question).length > 0).sort()
	};
	const signs = yield* fitQuestions(
		questions.signs,
		once((code: string) => signCounts(catalog, learned, codes, index, code)),
		fitSign,
		ownCounts(learned, index, questions.signs, ({ signs }, code) =>
			[...(signs.get(code) ?? [])].map(([key, count]) => [key, readSign(count)])
		)
	);
	const answers = yield* fitQuestions(
		questions.answers,
		once((question: string) => answerCounts(catalog, learned, codes, index, question)),
		fitAnswers,
		ownCounts(learned, index, questions.answers, ({ answers }, question) => {
			const possible = answersOf(catalog, question);
			return [...(answers.get(question) ?? [])].map(([key, count]) => [key, readAnswers(possible, count)]);
		})
	);
	return {
		counted: learned,
		shares: faultSharesOf(catalog, learned, codes),
		sign: perModel(signs, signBeliefs),
		answers: perModel(answers, (learned, question) => ({
			answers: answersOf(catalog, question),
			...learned
		})),
		byModel: { signs, answers }
	};
}

/** What is usual of one kind of questions and where models have answers of their own, with the hyperparameters of that kind. */
function* fitQuestions(
	codes: readonly string[],
	rowsOf: (question: string) => Rows,
	attribute: (rows: Rows, maximise: Maximise) => AnswersByFault,
	modelRows: readonly ModelQuestion<OwnCounts>[]
): Generator<void, UsualAndOwn> {
	const all = yield* mapInSteps(codes, (question) => rowsOf(question).single);
	const hyperparameters = likeliestHyperparameters(all);
	yield;
	const trust = likeliestTrust(all, hyperparameters);
	yield;
	return yield* usualAndOwn(
		modelRows,
		(question, excluded) =>
			attribute(lessOf(rowsOf(question), excluded), (counts) =>
				answersByFault(counts, hyperparameters, trust)
			),
		// measurements of a sort together; the catalog's own questions together
		(question) => question.slice(0, question.indexOf(':') + 1)
	);
}

function lessOf(rows: Rows, excluded: readonly OwnCounts[]): Rows {
	if (excluded.length === 0) return rows;
	const perFault = [...rows.single.perFault];
	for (const { fault, counts } of excluded) {
		perFault[fault] = itemAt(perFault, fault).map((count, k) => Math.max(0, count - (counts[k] as number)));
	}
	return { ...rows, single: { ...rows.single, perFault } };
}

/** What is told of a question, once for each model that answers in its own way and once for all others. */
function perModel<Told>(
	{ usual, deviating: modelRows }: UsualAndOwn,
	tell: (answers: AnswersByFault, question: string) => Told
): (question: string, model: string) => Told {
	const apart = new Map(modelRows.map((each) => [keyOf(each.question, each.model), each]));
	const tellOnce = once((question: string) => tell(usual(question), question));
	const toldApart = once((key: string) => {
		const { answers, question } = apart.get(key) as OwnAnswers;
		return tell(answers(), question);
	});
	return (question, model) => {
		const key = keyOf(question, model);
		return apart.has(key) ? toldApart(key) : tellOnce(question);
	};
}

const keyOf = (question: string, model: string) => `${question}\n${model}`;

function signBeliefs({ perFault, none: noFault, background }: AnswersByFault): SignBeliefs {
	const beliefOf = (answer: number) =>
		perFault.map(({ chances, weight, doubts }): Belief => ({
			chance: chances[answer] as number,
			weight,
			doubt: doubts[answer] as number
		}));
	return {
		perFault: beliefOf(0),
		absent: beliefOf(1),
		none: { chance: noFault.chances[0] as number, weight: noFault.weight },
		background: background[0] as number
	};
}

/** Counts question by question and model by model, of faults that were alone on their device. */
const ownCounts = (
	learned: Learned,
	index: ReadonlyMap<string, number>,
	codes: readonly string[],
	read: (counted: AnswerCounts, question: string) => [key: string, counts: number[]][]
): ModelQuestion<OwnCounts>[] =>
	codes.flatMap((question) =>
		[...learned.models]
			.map(([model, counted]) => ({
				model,
				question,
				rows: read(counted, question)
					.flatMap(([key, counts]) => {
						const fault = index.get(key);
						return fault === undefined || sumOf(counts) <= 0 ? [] : [{ fault, counts }];
					})
					.sort((a, b) => a.fault - b.fault)
			}))
			.filter(({ rows }) => rows.length > 0)
			.sort((a, b) => (a.model < b.model ? -1 : 1))
	);

const readSign = ([present, count]: readonly [number, number]) => [present, count - present];
const readAnswers = (answers: readonly string[], counts: ReadonlyMap<string, number>) =>
	answers.map((answer) => counts.get(answer) ?? 0);

/** Counts of one question: tickets with a single fault or none, and those with several beside. */
interface Rows {
	single: QuestionCounts;
	several: { faults: number[]; counts: number[] }[];
	/** the answers go from good to bad, and the worst of several faults shows */
	worstShows?: boolean;
}

function rowsOf<Count>(
	counts: BySet<Count> | undefined,
	codes: readonly string[],
	index: ReadonlyMap<string, number>,
	beliefs: QuestionCounts['beliefs'],
	usual: readonly number[],
	read: (count: Count) => number[]
): Rows {
	const perFault = codes.map(() => usual.map(() => 0));
	let noFault = usual.map(() => 0);
	const several: Rows['several'] = [];
	for (const [key, count] of counts ?? []) {
		const faults = faultsOfKey(key).flatMap((code) => index.get(code) ?? []);
		const row = read(count);
		if (key === '') noFault = row;
		else if (faults.length === 1)
			perFault[faults[0] as number] = add(itemAt(perFault, faults[0] as number), row);
		else if (faults.length > 1) several.push({ faults, counts: row });
	}
	several.sort((a, b) => a.faults.join(' ').localeCompare(b.faults.join(' ')));
	return { single: { perFault, none: noFault, beliefs, usual }, several };
}

const weightOf = ({ weight = USUAL_WEIGHT }: { weight?: number | undefined }) => weight;
const sureness = ({ sure: isSure }: { sure?: boolean | undefined }) => (isSure ? { sure: true } : {});

/** Rows with what the catalog states to be usual: of every fault of which it states nothing else. */
function usuallySaid(rows: Rows, stated: Stated | null): Rows {
	if (!stated) return rows;
	const { single } = rows;
	return {
		...rows,
		single: {
			...single,
			beliefs: single.beliefs.map((belief) => belief ?? stated),
			usual: stated.chances.map((chance) => stated.weight * chance + LEAST_WEIGHT),
			usualStated: true
		}
	};
}

const add = (a: readonly number[], b: readonly number[]) => a.map((value, i) => value + (b[i] as number));

function signCounts(
	catalog: Catalog,
	learned: Learned,
	codes: readonly string[],
	index: ReadonlyMap<string, number>,
	sign: string
): Rows {
	const { plain: expectations } = expectationsOf(catalog, sign);
	const beliefs = codes.map((fault) => {
		const expected = expectations.find(({ given }) => given === fault);
		return expected?.chance === undefined
			? null
			: {
					chances: [expected.chance, 1 - expected.chance],
					weight: weightOf(expected),
					...sureness(expected)
				};
	});
	const usual = expectations.find(({ given }) => given === undefined);
	return usuallySaid(
		rowsOf(learned.signs.get(sign), codes, index, beliefs, USUAL_SIGN, readSign),
		usual?.chance === undefined
			? null
			: { chances: [usual.chance, 1 - usual.chance], weight: weightOf(usual), ...sureness(usual) }
	);
}

function answerCounts(
	catalog: Catalog,
	learned: Learned,
	codes: readonly string[],
	index: ReadonlyMap<string, number>,
	question: string
): Rows {
	const answers = answersOf(catalog, question);
	const isPath = isOfPath(question);
	const drawn = isPath ? pathBeliefs(catalog, question) : pointBeliefs(catalog, question);
	const { plain: asked } = expectationsOf(catalog, question);
	const saidOf = (outcomes: Readonly<Record<string, number>>) =>
		answers.map((answer) => codeEntry(outcomes, answer) ?? 0);
	const beliefs = codes.map((fault): Stated | null => {
		const expected = asked.find(({ given }) => given === fault);
		return expected?.outcomes
			? { chances: saidOf(expected.outcomes), weight: weightOf(expected), ...sureness(expected) }
			: (drawn?.underFault(fault) ?? null);
	});
	const usual = answers.map(() => 1);
	const usually = asked.find(({ given: fault }) => fault === undefined);
	const rows = usuallySaid(
		rowsOf(learned.answers.get(question), codes, index, beliefs, usual, (count) =>
			readAnswers(answers, count)
		),
		usually?.outcomes
			? { chances: saidOf(usually.outcomes), weight: weightOf(usually), ...sureness(usually) }
			: null
	);
	if (!drawn) return rows;
	return { ...rows, worstShows: isPath, single: { ...rows.single, statedNone: drawn.whole } };
}

/** The M step: beliefs from counts that name one fault each. */
type Maximise = (counts: QuestionCounts) => AnswersByFault;
const SIGN_ITERATIONS = 3;
const ANSWER_ITERATIONS = 2;

/**
 * Signs under several faults by expectation and maximisation of the noisy-OR (Dempster, Laird & Rubin, J. R. Statist. Soc. B 39,
 * 1977): a sign that is absent is absent for each, one that is present is attributed to each by its responsibility.
 */
function fitSign({ single, several }: Rows, maximise: Maximise): AnswersByFault {
	let fitted = maximise(single);
	for (let iteration = 0; iteration < SIGN_ITERATIONS && several.length > 0; iteration++) {
		const perFault = single.perFault.map((counts) => [...counts]);
		const leak = Math.min(fitted.background[0] as number, 0.999);
		for (const { faults, counts } of several) {
			const [present, absent] = counts as [number, number];
			const singleChances = faults.map((fault) => fitted.perFault[fault]?.chances[0] ?? leak);
			const allSilent = singleChances.reduce(
				(chanceSilent, chance) => chanceSilent * Math.min(1, (1 - chance) / (1 - leak)),
				1 - leak
			);
			const seen = Math.max(1e-6, 1 - allSilent);
			faults.forEach((fault, i) => {
				const responsibility = Math.min(1, (singleChances[i] as number) / seen);
				const row = itemAt(perFault, fault);
				row[0] = (row[0] as number) + present * responsibility;
				row[1] = (row[1] as number) + present * (1 - responsibility) + absent;
			});
		}
		fitted = maximise({ ...single, perFault });
	}
	return fitted;
}

/** The best answer is that of every fault of the device, any other that of the one which gives it most often. */
function attributeWorst(
	perFault: number[][],
	faults: readonly number[],
	counts: readonly number[],
	fitted: AnswersByFault
): void {
	counts.forEach((count, k) => {
		if (count === 0) return;
		const chance = (fault: number) => fitted.perFault[fault]?.chances[k] ?? 0;
		const makers = k === 0 ? faults : [faults.reduce((a, b) => (chance(b) > chance(a) ? b : a))];
		for (const fault of makers) {
			const row = itemAt(perFault, fault);
			row[k] = (row[k] as number) + count;
		}
	});
}

/**
 * Answers under several faults by hard assignment (classification EM): they belong to the fault whose answers depart most from what is
 * usual.
 */
function fitAnswers({ single, several, worstShows }: Rows, maximise: Maximise): AnswersByFault {
	let fitted = maximise(single);
	for (let iteration = 0; iteration < ANSWER_ITERATIONS && several.length > 0; iteration++) {
		const perFault = single.perFault.map((counts) => [...counts]);
		const { background } = fitted;
		const departures = fitted.perFault.map(({ chances }) => divergence(chances, background));
		for (const { faults, counts } of several) {
			if (worstShows) {
				attributeWorst(perFault, faults, counts, fitted);
				continue;
			}
			const speaks = faults.reduce((loudest, fault) =>
				(departures[fault] as number) > (departures[loudest] as number) ? fault : loudest
			);
			perFault[speaks] = add(itemAt(perFault, speaks), counts);
		}
		fitted = maximise({ ...single, perFault });
	}
	return fitted;
}
