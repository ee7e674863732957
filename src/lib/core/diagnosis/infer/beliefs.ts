import { expectationsOf } from '../../catalog/expectations';
import type { Answer } from '../../evidence/measurement';
import { isOfPath } from '../../evidence/measurements';
import type { Engine } from '../engine';
import { divergence } from '../../statistics/divergence';
import { shrunkRate } from '../../statistics/shrunk-rate';
import { valueAt } from '../../units/vector';
import { noisyOr, type FaultSet, type Sizes } from '../fault-sets';
import type { Belief, SignBeliefs } from '../learn/fit';
import { USUAL_WEIGHT } from '../learn/answer-model';
import type { Learned } from '../learn/learn';
import { codeEntry } from '../../units/code';

/** Choices of this program, not published values. */
const SUCCESS_WEIGHT = 8;
const SIZE_BELIEF = [0.04, 0.86, 0.095, 0.005] as const;
const SIZE_WEIGHT = 10;
/** No single answer may rule a fault in or out for good: confirmed faults are sometimes wrong. */
const LEAST = 0.005;
/** Nor may one that is the fault itself, but it comes close. */
const SURE_LEAST = 0.0002;
const clip = (chance: number) => Math.min(1 - LEAST, Math.max(LEAST, chance));

export type { Belief };

/** Share of each fault among faults of a model. */
export const faultShares = (engine: Engine, model: string): Belief[] => engine.fitted.shares.of(model);

/** Chances of no, one, two and three faults on a device. */
export function sizeChances({ sizes, tickets }: Learned): Sizes {
	return SIZE_BELIEF.map((belief, size) =>
		shrunkRate(sizes[size] as number, tickets, belief, SIZE_WEIGHT)
	) as unknown as Sizes;
}

/** What one piece of evidence says: its log likelihood under every set, and the beliefs behind it. */
export interface EvidenceLikelihood {
	/** as the odds report it: "vbus-fuse=open", "no-charge=true" */
	evidence: string;
	logLikelihood: Float64Array;
	/** of what was seen, per single fault; for the uncertainty of the odds */
	beliefs: readonly Belief[];
}

/**
 * A sign under every set: noisy-OR of the faults' links over the leak. The leak is what faults that do not speak of the
 * sign show: it is seen that often whatever is wrong.
 */
export function signLikelihood(
	engine: Engine,
	sets: readonly FaultSet[],
	model: string,
	sign: string,
	present: boolean
): EvidenceLikelihood {
	const beliefs = engine.fitted.sign(sign, model);
	return remembered(beliefs, sets, `${sign}=${present}`, (evidence) =>
		likelihoodOfSign(beliefs, sets, present, evidence)
	);
}

/** What was worked out once over some sets holds while the fit does: by what is believed, by list of sets, by evidence. */
const likelihoodsOver = new WeakMap<object, WeakMap<readonly FaultSet[], Map<string, EvidenceLikelihood>>>();

function remembered(
	beliefs: object,
	sets: readonly FaultSet[],
	evidence: string,
	workOut: (evidence: string) => EvidenceLikelihood
): EvidenceLikelihood {
	const bySets =
		likelihoodsOver.get(beliefs) ?? new WeakMap<readonly FaultSet[], Map<string, EvidenceLikelihood>>();
	likelihoodsOver.set(beliefs, bySets);
	const likelihoods = bySets.get(sets) ?? new Map<string, EvidenceLikelihood>();
	bySets.set(sets, likelihoods);
	const cached = likelihoods.get(evidence);
	if (cached) return cached;
	const likelihood = workOut(evidence);
	likelihoods.set(evidence, likelihood);
	return likelihood;
}

function likelihoodOfSign(
	{ perFault, absent, none: noFault, background }: SignBeliefs,
	sets: readonly FaultSet[],
	present: boolean,
	evidence: string
): EvidenceLikelihood {
	const leak = clip(background);
	const links = Float64Array.from(perFault, ({ chance }) => Math.max(0, (chance - leak) / (1 - leak)));
	const chanceOf = (set: FaultSet): number => {
		const [first] = set;
		if (first === undefined) return noFault.chance;
		return set.length === 1 ? (perFault[first]?.chance ?? leak) : noisyOr(leak, links, set);
	};
	return {
		evidence,
		beliefs: present ? perFault : absent,
		logLikelihood: Float64Array.from(sets, (set) => {
			const chance = clip(chanceOf(set));
			return Math.log(present ? chance : 1 - chance);
		})
	};
}

/** Chances of every answer to a question, as usual, without a fault, and under each single fault. */
export interface AnswerBeliefs {
	answers: readonly string[];
	overall: readonly number[];
	none: { chances: readonly number[]; weight: number };
	perFault: readonly { chances: readonly number[]; weight: number; doubts: readonly number[] }[];
	/** how far each fault's answers depart from the usual ones, in nats: the loudest of several faults speaks */
	departures: readonly number[];
	/** the answers go from good to bad, and the worst of several shows */
	worstShows: boolean;
}

function raised(chances: readonly number[], isSure: boolean): number[] {
	const least = isSure ? SURE_LEAST : LEAST;
	const raised = chances.map((chance) => Math.max(least, chance));
	const sum = raised.reduce((a, b) => a + b, 0);
	return raised.map((chance) => chance / sum);
}

const bounded = new WeakMap<object, AnswerBeliefs>();

/**
 * Beliefs of a question's answers where other questions were answered already: what the catalog states of a fault under such an answer
 * stands in for what is believed of it else, as far as the shop's own record of the fault does not outweigh it.
 */
export function answerBeliefsGiven(
	engine: Engine,
	model: string,
	question: string,
	answered: readonly Answer[]
): AnswerBeliefs {
	const beliefs = answerBeliefs(engine, model, question);
	const { conditional } = expectationsOf(engine.catalog, question);
	if (conditional.length === 0) return beliefs;
	const answerByQuestion = new Map(answered.map((each) => [each.question, each.answer]));
	const holding = conditional.filter(({ where }) =>
		where?.outcomes.includes(answerByQuestion.get(where.test ?? where.measured ?? '') ?? '')
	);
	return holding.length === 0 ? beliefs : conditioned(engine, beliefs, holding);
}

type Conditional = ReturnType<typeof expectationsOf>['conditional'];
const conditionedBeliefs = new WeakMap<AnswerBeliefs, Map<string, AnswerBeliefs>>();

function conditioned(engine: Engine, beliefs: AnswerBeliefs, holding: Conditional): AnswerBeliefs {
	const conditioned = conditionedBeliefs.get(beliefs) ?? new Map<string, AnswerBeliefs>();
	conditionedBeliefs.set(beliefs, conditioned);
	const key = holding.map((each) => engine.catalog.expectations.indexOf(each)).join(' ');
	const cached = conditioned.get(key);
	if (cached) return cached;
	const codes = [...engine.catalog.faults.keys()];
	const usually = holding.find(({ given }) => given === undefined);
	const under = (stated: Conditional[number] | undefined, chances: readonly number[], seen: number) => {
		if (!stated?.outcomes) return chances;
		const { outcomes, weight = USUAL_WEIGHT, sure: isSure = false } = stated;
		const share = weight / (weight + seen);
		const mixed = beliefs.answers.map(
			(answer, k) => share * (codeEntry(outcomes, answer) ?? 0) + (1 - share) * (chances[k] as number)
		);
		return raised(mixed, isSure);
	};
	const perFault = beliefs.perFault.map((plain, fault) => {
		const code = codes[fault] as string;
		const stated = holding.find(({ given }) => given === code) ?? usually;
		return { ...plain, chances: under(stated, plain.chances, engine.learned.faults.get(code) ?? 0) };
	});
	const overall = under(usually, beliefs.overall, engine.learned.tickets);
	const none = { ...beliefs.none, chances: under(usually, beliefs.none.chances, engine.learned.tickets) };
	const departures = perFault.map(({ chances }) => divergence(chances, overall));
	const made = { ...beliefs, overall, none, perFault, departures };
	conditioned.set(key, made);
	return made;
}

export function answerBeliefs(engine: Engine, model: string, question: string): AnswerBeliefs {
	const fitted = engine.fitted.answers(question, model);
	const cached = bounded.get(fitted);
	if (cached) return cached;
	const isSure = fitted.perFault.some(({ sure }) => sure);
	const { answers, background: overall, none: noFault } = fitted;
	const raise = ({ chances, weight }: { chances: readonly number[]; weight: number }) => ({
		chances: raised(chances, isSure),
		weight
	});
	const perFault = fitted.perFault.map((answers) => ({ ...raise(answers), doubts: answers.doubts }));
	const departures = perFault.map(({ chances }) => divergence(chances, overall));
	const worstShows = isOfPath(question);
	const beliefs = { answers, overall, none: raise(noFault), perFault, departures, worstShows };
	bounded.set(fitted, beliefs);
	return beliefs;
}

/**
 * Chance of each answer under a set: under several faults, that of the one that departs most from usual. A node of the
 * charging path shows the worst that any of them does to it (noisy max, Díez, Proc. UAI 1993).
 */
export function answerChances(
	{ perFault, departures, overall, none: noFault, worstShows }: AnswerBeliefs,
	set: FaultSet
): readonly number[] {
	if (worstShows && set.length > 1) return worstOf(set.map((fault) => perFault[fault]?.chances ?? overall));
	const loudest = loudestOf(departures, set);
	return loudest === undefined ? noFault.chances : (perFault[loudest]?.chances ?? overall);
}

/** The fault of a set whose answers depart most from the usual ones; none of the empty set. */
function loudestOf(departures: AnswerBeliefs['departures'], set: FaultSet): number | undefined {
	let loudest = set[0];
	for (const fault of set)
		if (loudest !== undefined && (departures[fault] ?? 0) > (departures[loudest] ?? 0)) loudest = fault;
	return loudest;
}

/**
 * Chance of one answer under every set, as `answerChances` has it.
 * @param k place of the answer among the question's
 */
function likelihoodOfAnswer(beliefs: AnswerBeliefs, sets: readonly FaultSet[], k: number): Float64Array {
	const { perFault, departures, overall, none: noFault, worstShows } = beliefs;
	const chances = Float64Array.from(perFault, ({ chances }) => chances[k] as number);
	const sumTo = (end: number) =>
		Float64Array.from(perFault, ({ chances }) => {
			let sum = 0;
			for (let i = 0; i < end; i++) sum += chances[i] as number;
			return sum;
		});
	const [before, upTo] = worstShows ? [sumTo(k), sumTo(k + 1)] : [chances, chances];
	return Float64Array.from(sets, (set) => {
		if (worstShows && set.length > 1) {
			let [worse, all] = [1, 1];
			for (const fault of set) {
				worse *= valueAt(before, fault);
				all *= valueAt(upTo, fault);
			}
			return all - worse;
		}
		const loudest = loudestOf(departures, set);
		if (loudest === undefined) return noFault.chances[k] as number;
		return loudest < chances.length ? valueAt(chances, loudest) : (overall[k] as number);
	});
}

/** Chances of the worst of several independent answers, ordered from good to bad. */
function worstOf(chances: readonly (readonly number[])[]): number[] {
	const upTo = chances.map((answers) =>
		answers.map((_, k) => answers.slice(0, k + 1).reduce((sum, chance) => sum + chance, 0))
	);
	const all = (upTo[0] ?? []).map((_, k) =>
		upTo.reduce((product, answers) => product * (answers[k] as number), 1)
	);
	return all.map((chance, k) => chance - (all[k - 1] ?? 0));
}

export function answerLikelihood(
	engine: Engine,
	sets: readonly FaultSet[],
	model: string,
	question: string,
	answer: string,
	answered: readonly Answer[] = []
): EvidenceLikelihood {
	const beliefs = answerBeliefsGiven(engine, model, question, answered);
	return remembered(beliefs, sets, `${question}=${answer}`, (evidence) => {
		const index = beliefs.answers.indexOf(answer);
		return {
			evidence,
			beliefs: beliefs.perFault.map(({ chances, weight, doubts }) => ({
				chance: chances[index] as number,
				weight,
				doubt: doubts[index] as number
			})),
			logLikelihood: likelihoodOfAnswer(beliefs, sets, index).map(Math.log)
		};
	});
}

/** Tickets that a shop's own rate of harm is worth for one operation, and the harmless ones before any. Choices. */
const HARM_WEIGHT = 30;
const HARMLESS = 100;

/** Chance that an operation makes a fault of its own: its record shrunk to the shop's; nothing while none is known. */
export function harmChance({ harm }: Learned, operation: string): number {
	let [harmed, tried] = [0, HARMLESS];
	for (const [h, t] of harm.values()) {
		harmed += h;
		tried += t;
	}
	const [own, times] = harm.get(operation) ?? [0, 0];
	// a device that came back may be learnt of before the ticket that it comes back from
	return shrunkRate(Math.min(own, times), times, Math.min(1, harmed / tried), HARM_WEIGHT);
}

/** Faults that repairs made are thought of as far as they are among so many. A choice. */
const OWN_FAULTS = 6;

/** Which fault a repair makes where it makes one, by the shop's record; none while nothing is known. Chances sum to 1. */
export function ownFaultChances({ broke }: Learned): { code: string; chance: number }[] {
	const largest = [...broke]
		.sort(([a, n], [b, m]) => m - n || (a < b ? -1 : 1))
		.slice(0, OWN_FAULTS)
		.filter(([, count]) => count > 0);
	const total = largest.reduce((sum, [, count]) => sum + count, 0);
	return largest.map(([code, count]) => ({ code, chance: count / total }));
}

/** Chance that an operation works where it addresses the fault, learnt, shrunk to the catalog's. */
export function successBelief(engine: Engine, operation: string): Belief {
	const [successes, tried] = engine.fitted.counted.operations.get(operation) ?? [0, 0];
	const belief = engine.catalog.operations.get(operation)?.success ?? 0.9;
	const chance = shrunkRate(successes, tried, belief, SUCCESS_WEIGHT);
	return { chance: Math.min(0.995, Math.max(0.02, chance)), weight: tried + SUCCESS_WEIGHT };
}
