import type { Catalog } from '../catalog/catalog';
import { divergence } from '../statistics/divergence';
import { answersOf } from './evidence';
import { faultSharesOf, type Belief, type FaultShares } from './shares';
import { faultsOfKey, type BySet, type Learned } from './learn';
import {
	answersByFault,
	likeliestHabits,
	likeliestTrust,
	USUAL_WEIGHT,
	type AnswersByFault,
	type QuestionCounts
} from './telling';

export type { Belief };

/** What a shop's counts say, worked out once for each state of the counts and the catalog. */
export interface Fitted {
	shares: FaultShares;
	/** chances of a sign's presence under each single fault, and without any */
	sign(code: string): {
		/** of the sign's presence, and of its absence */
		perFault: Belief[];
		absent: Belief[];
		none: Belief;
		background: number;
	};
	/** chances of every answer to a question */
	answers(question: string): AnswersByFault & { answers: readonly string[] };
}

/** Most signs are absent most of the time: present and absent, in tickets, before anything is seen. A choice. */
const USUAL_SIGN = [0.3, 1.7] as const;
const fits = new WeakMap<Learned, { changes: number; catalog: Catalog; fitted: Fitted }>();

/** The fit of some counts under a catalog; a remembered one where neither has changed. */
export function fit(catalog: Catalog, learned: Learned): Fitted {
	const before = fits.get(learned);
	if (before && before.changes === learned.changes && before.catalog === catalog) return before.fitted;
	const fitted = work(catalog, learned);
	fits.set(learned, { changes: learned.changes, catalog, fitted });
	return fitted;
}

function work(catalog: Catalog, learned: Learned): Fitted {
	const codes = [...catalog.faults.keys()];
	const index = new Map(codes.map((code, i) => [code, i]));
	const signRows = once((code: string) => signCounts(catalog, learned, codes, index, code));
	const answerRows = once((question: string) => answerCounts(catalog, learned, codes, index, question));
	const asked = {
		signs: [...learned.signs.keys()].filter((code) => catalog.signs.has(code)).sort(),
		answers: [...learned.answers.keys()].filter((question) => answersOf(catalog, question).length > 0).sort()
	};
	const rowsAsked = (kind: 'signs' | 'answers') =>
		asked[kind].map((code) => (kind === 'signs' ? signRows(code) : answerRows(code)).single);
	const habits = once((kind: 'signs' | 'answers') => likeliestHabits(rowsAsked(kind)));
	const trust = once((kind: 'signs' | 'answers') => likeliestTrust(rowsAsked(kind), habits(kind)));
	return {
		shares: faultSharesOf(catalog, learned, codes),
		sign: once((code) =>
			fitSign(signRows(code), (counts) => answersByFault(counts, habits('signs'), trust('signs')))
		),
		answers: once((question) => ({
			answers: answersOf(catalog, question),
			...fitAnswers(answerRows(question), (counts) =>
				answersByFault(counts, habits('answers'), trust('answers'))
			)
		}))
	};
}

/** Each key's value worked out when it is first asked for. */
function once<Key extends string, Value>(make: (key: Key) => Value): (key: Key) => Value {
	const known = new Map<Key, Value>();
	return (key) => {
		const found = known.get(key);
		if (found !== undefined) return found;
		const made = make(key);
		known.set(key, made);
		return made;
	};
}

/** Counts of one question: tickets with a single fault or none, and those with several beside. */
interface Rows {
	single: QuestionCounts;
	several: { faults: number[]; counts: number[] }[];
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
	let none = usual.map(() => 0);
	const several: Rows['several'] = [];
	for (const [key, count] of counts ?? []) {
		const faults = faultsOfKey(key).flatMap((code) => index.get(code) ?? []);
		const row = read(count);
		if (key === '') none = row;
		else if (faults.length === 1)
			perFault[faults[0] as number] = add(perFault[faults[0] as number] as number[], row);
		else if (faults.length > 1) several.push({ faults, counts: row });
	}
	several.sort((a, b) => a.faults.join(' ').localeCompare(b.faults.join(' ')));
	return { single: { perFault, none, beliefs, usual }, several };
}

const add = (a: readonly number[], b: readonly number[]) => a.map((value, i) => value + (b[i] as number));

function signCounts(
	catalog: Catalog,
	learned: Learned,
	codes: readonly string[],
	index: ReadonlyMap<string, number>,
	sign: string
): Rows {
	const beliefs = codes.map((fault) => {
		const expected = catalog.expectations.find((e) => e.given === fault && e.sign === sign);
		return expected?.chance === undefined
			? null
			: { chances: [expected.chance, 1 - expected.chance], weight: expected.weight ?? USUAL_WEIGHT };
	});
	return rowsOf(learned.signs.get(sign), codes, index, beliefs, USUAL_SIGN, ([present, asked]) => [
		present,
		asked - present
	]);
}

function answerCounts(
	catalog: Catalog,
	learned: Learned,
	codes: readonly string[],
	index: ReadonlyMap<string, number>,
	question: string
): Rows {
	const answers = answersOf(catalog, question);
	const beliefs = codes.map((fault) => {
		const expected = catalog.expectations.find((e) => e.given === fault && e.test === question);
		return expected?.outcomes
			? {
					chances: answers.map((answer) => expected.outcomes?.[answer] ?? 0),
					weight: expected.weight ?? USUAL_WEIGHT
				}
			: null;
	});
	const usual = answers.map(() => 1);
	return rowsOf(learned.answers.get(question), codes, index, beliefs, usual, (count) =>
		answers.map((answer) => count.get(answer) ?? 0)
	);
}

type Fit = (counts: QuestionCounts) => AnswersByFault;
const SHARING_ROUNDS = 3;

/**
 * Signs under several faults are shared out by expectation and maximisation of the noisy-OR: a sign that is absent is
 * absent for each, one that is present was made by each with its part of the chance.
 */
function fitSign({ single, several }: Rows, fitOf: Fit): ReturnType<Fitted['sign']> {
	let fitted = fitOf(single);
	for (let round = 0; round < SHARING_ROUNDS && several.length > 0; round++) {
		const perFault = single.perFault.map((counts) => [...counts]);
		const leak = Math.min(fitted.background[0] as number, 0.999);
		for (const { faults, counts } of several) {
			const [present, absent] = counts as [number, number];
			const alone = faults.map((fault) => fitted.perFault[fault]?.chances[0] ?? leak);
			const silent = alone.reduce((left, chance) => left * Math.min(1, (1 - chance) / (1 - leak)), 1 - leak);
			const heard = Math.max(1e-6, 1 - silent);
			faults.forEach((fault, i) => {
				const part = Math.min(1, (alone[i] as number) / heard);
				const row = perFault[fault] as number[];
				row[0] = (row[0] as number) + present * part;
				row[1] = (row[1] as number) + present * (1 - part) + absent;
			});
		}
		fitted = fitOf({ ...single, perFault });
	}
	const beliefOf = (answer: number) =>
		fitted.perFault.map(({ chances, weight, doubts }): Belief => ({
			chance: chances[answer] as number,
			weight,
			doubt: doubts[answer] as number
		}));
	return {
		perFault: beliefOf(0),
		absent: beliefOf(1),
		none: { chance: fitted.none.chances[0] as number, weight: fitted.none.weight },
		background: fitted.background[0] as number
	};
}

/** Answers under several faults belong to the one that speaks: whose answers depart most from what is usual. */
function fitAnswers({ single, several }: Rows, fitOf: Fit): AnswersByFault {
	let fitted = fitOf(single);
	for (let round = 0; round < 2 && several.length > 0; round++) {
		const perFault = single.perFault.map((counts) => [...counts]);
		const { background } = fitted;
		const departures = fitted.perFault.map(({ chances }) => divergence(chances, background));
		for (const { faults, counts } of several) {
			const speaks = faults.reduce((loudest, fault) =>
				(departures[fault] as number) > (departures[loudest] as number) ? fault : loudest
			);
			perFault[speaks] = add(perFault[speaks] as number[], counts);
		}
		fitted = fitOf({ ...single, perFault });
	}
	return fitted;
}
