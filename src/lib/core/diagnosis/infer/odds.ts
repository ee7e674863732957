import type { Engine } from '../engine';
import { attemptLikelihoods, type Remedy } from './attempts';
import {
	faultShares,
	answerLikelihood,
	signLikelihood,
	sizeChances,
	successBelief,
	type Belief,
	type EvidenceLikelihood
} from './beliefs';
import type { Features } from '../learn/evidence';
import { opinionLikelihood } from './opinion-likelihood';
import {
	enumerateTriples,
	logPriorOfSets,
	marginals,
	posteriorOfSets,
	setsOfUpToThree,
	setsOfUpToTwo,
	type FaultSet
} from '../fault-sets';
import { explain, type Explained, type Reason } from './reasons';

export interface FaultOdds {
	code: string;
	label: string;
	probability: number;
	/** 80 % interval from how few tickets the beliefs rest on */
	low: number;
	high: number;
	/** closed tickets with this fault */
	from: number;
	/** the chance on this model before any evidence: its odds times the factors of all reasons are the odds */
	usual: number;
	reasons: Reason[];
}

export interface Odds {
	learnedFrom: number;
	/** closed tickets of this model */
	fromModel: number;
	faults: FaultOdds[];
	sets: { faults: string[]; probability: number }[];
	none: number;
	/** prior chance of the sets of three that were not weighed; 0 in a catalog of up to 20 faults */
	unseen: number;
}

/** The posterior with what the planner and the quote need of it. */
export interface Inference {
	model: string;
	codes: string[];
	sets: readonly FaultSet[];
	posterior: Float64Array;
	odds: Odds;
}

const MOST_SETS = 12;
/** Standard normal quantile of 0.9, for the 80 % interval. */
const Z80 = 1.2816;
/**
 * In a young shop the habits that all beliefs lean on are estimated themselves: variances grow by YOUNG / (tickets + GROWN).
 * Chosen so that the interval holds what it says on invented shops (bench:engine).
 */
const YOUNG = 100;
const GROWN = 50;

/** The catalog's operations with their learnt chance of success. */
export function remediesOf(engine: Engine): Remedy[] {
	const index = new Map([...engine.catalog.faults.keys()].map((code, i) => [code, i]));
	return [...engine.catalog.operations.values()].map(({ code, fixes }) => ({
		code,
		fixes: new Set(fixes.flatMap((fault) => index.get(fault) ?? [])),
		success: successBelief(engine, code).chance
	}));
}

/**
 * Chances of every fault and set of faults, given the evidence and what the shop's closed tickets taught.
 * The empty set is "no fault of the catalog explains it". Chances of sets sum to 1.
 * @param engine catalog and what was learnt
 * @param model code of the device's model; one that nobody knows is judged by the shop
 * @param features evidence in classes, as `readFeatures` makes it
 * @returns `sets` as lists of indices into `codes`, `posterior` of the same length, and the odds as they are shown
 * @example inferOdds(engine, 'tern-6', readFeatures(ticket, catalog)).odds.faults[0]?.probability // 0.81
 */
export function inferOdds(engine: Engine, model: string, features: Features): Inference {
	const codes = [...engine.catalog.faults.keys()];
	const shares = faultShares(engine, model);
	const { sets, unseen } = setsToWeigh(engine, model, shares, features);
	const prior = priorOf(engine, shares, sets);
	const likelihoods = evidenceLikelihoods(engine, model, sets, features);
	const posterior = posteriorOfSets(
		prior,
		likelihoods.map(({ logLikelihood }) => logLikelihood)
	);
	const chances = marginals(sets, posterior, codes.length);
	const variances = logVariances(shares, likelihoods);
	const youth = 1 + YOUNG / (engine.learned.tickets + GROWN);
	const rival = codes.map((_, fault) => strongestRival(sets, posterior, fault));
	const explained = explain(sets, prior, likelihoods, codes.length);
	const faults = codes.map((code, fault): FaultOdds => {
		const spread = Math.sqrt(
			youth * ((variances[fault] as number) + (variances[rival[fault] as number] ?? 0))
		);
		return {
			code,
			label: engine.catalog.faults.get(code)?.label ?? code,
			probability: chances[fault] as number,
			...logitInterval(chances[fault] as number, Z80 * spread),
			from: Math.round(engine.learned.faults.get(code) ?? 0),
			...(explained[fault] as Explained)
		};
	});
	return {
		model,
		codes,
		sets,
		posterior,
		odds: {
			learnedFrom: engine.learned.tickets,
			fromModel: engine.learned.models.get(model)?.tickets ?? 0,
			faults: faults.sort((a, b) => b.probability - a.probability || (a.code < b.code ? -1 : 1)),
			sets: likeliestSets(sets, posterior, codes),
			none: posterior[0] as number,
			unseen
		}
	};
}

const priorOf = (engine: Engine, shares: readonly Belief[], sets: readonly FaultSet[]) =>
	logPriorOfSets(
		sets,
		shares.map(({ chance }) => chance),
		sizeChances(engine.learned),
		engine.fitted.shares.lifts
	);

/** Triples are made of so many of the likeliest faults: all of a small catalog, 1140 triples at most. */
const TRIPLED = 20;

/**
 * Every set of up to two, and the triples of the faults that are likeliest among those. What is left out is known: the
 * prior chance of the triples that are not weighed.
 */
function setsToWeigh(
	engine: Engine,
	model: string,
	shares: readonly Belief[],
	features: Features
): { sets: readonly FaultSet[]; unseen: number } {
	if (shares.length <= TRIPLED) return { sets: setsOfUpToThree(shares.length), unseen: 0 };
	const small = setsOfUpToTwo(shares.length);
	const logs = evidenceLikelihoods(engine, model, small, features).map(({ logLikelihood }) => logLikelihood);
	const chances = marginals(small, posteriorOfSets(priorOf(engine, shares, small), logs), shares.length);
	const likely = shares
		.map((_, fault) => fault)
		.sort((a, b) => (chances[b] as number) - (chances[a] as number) || a - b)
		.slice(0, TRIPLED);
	const sets = [...small, ...enumerateTriples(likely)];
	const seen = priorOf(engine, shares, sets).reduce((sum, log) => sum + Math.exp(log), 0);
	return { sets, unseen: Math.max(0, 1 - seen) };
}

function evidenceLikelihoods(
	engine: Engine,
	model: string,
	sets: readonly FaultSet[],
	features: Features
): EvidenceLikelihood[] {
	const likelihoods = [
		...features.signs.map(([sign, present]) => signLikelihood(engine, sets, model, sign, present)),
		...features.answers.map(({ question, answer }) =>
			answerLikelihood(engine, sets, model, question, answer)
		),
		...(features.opinions ?? []).map((opinion) => opinionLikelihood(engine, sets, opinion))
	];
	const remedies = new Map(remediesOf(engine).map((remedy) => [remedy.code, remedy]));
	const attempts = features.attempts.flatMap(({ operation, resolved }) => {
		const remedy = remedies.get(operation);
		return remedy ? [{ remedy, resolved }] : [];
	});
	return [...likelihoods, ...attemptsLikelihood(sets, attempts)];
}

/**
 * Attempts are one chain: each adds what the chain says with it beyond the chain without it. An operation that was tried
 * several times, to the same end, is one piece of evidence.
 */
function attemptsLikelihood(
	sets: readonly FaultSet[],
	attempts: readonly { remedy: Remedy; resolved: boolean }[]
): EvidenceLikelihood[] {
	const likelihoods = new Map<string, EvidenceLikelihood>();
	const logs = attempts.map(({ remedy, resolved }) => {
		const evidence = `tried:${remedy.code}=${resolved}`;
		const known = likelihoods.get(evidence) ?? {
			evidence,
			beliefs: [],
			logLikelihood: new Float64Array(sets.length)
		};
		likelihoods.set(evidence, known);
		return known.logLikelihood;
	});
	sets.forEach((set, s) => {
		let before = 0;
		attemptLikelihoods(set, attempts).forEach((likelihood, i) => {
			// so small that it is nothing: courses of hundreds of attempts, none of which ever works
			const log = Math.log(Math.max(Number.MIN_VALUE, likelihood));
			const said = logs[i] as Float64Array;
			said[s] = (said[s] as number) + log - before;
			before = log;
		});
	});
	return [...likelihoods.values()];
}

/**
 * Variance of each fault's log likelihood from the tickets behind it, by the delta method:
 * Var(log p) is about (1 - p) / (p n), and what is in doubt between several beliefs beside. Textbook; pieces of evidence
 * taken as independent.
 */
function logVariances(shares: readonly Belief[], likelihoods: readonly EvidenceLikelihood[]): number[] {
	const variance = ({ chance, weight, doubt = 0 }: Belief) =>
		(1 - chance) / (chance * Math.max(1, weight)) + doubt;
	return shares.map((share, fault) =>
		likelihoods.reduce((sum, { beliefs }) => {
			const belief = beliefs[fault];
			return belief ? sum + variance(belief) : sum;
		}, variance(share))
	);
}

/** The fault that most speaks against this one: the likeliest set without it, its first fault. */
function strongestRival(sets: readonly FaultSet[], posterior: Float64Array, fault: number): number {
	let best = -1;
	sets.forEach((set, i) => {
		if (set.length !== 1 || set[0] === fault) return;
		if (best < 0 || (posterior[i] as number) > (posterior[best] as number)) best = i;
	});
	return sets[best]?.[0] ?? -1;
}

function logitInterval(chance: number, halfWidth: number): { low: number; high: number } {
	const inside = Math.min(1 - 1e-12, Math.max(1e-12, chance));
	const logit = Math.log(inside / (1 - inside));
	const expit = (x: number) => 1 / (1 + Math.exp(-x));
	return { low: expit(logit - halfWidth), high: expit(logit + halfWidth) };
}

function likeliestSets(sets: readonly FaultSet[], posterior: Float64Array, codes: string[]) {
	return sets
		.map((set, i) => ({
			faults: set.map((fault) => codes[fault] as string),
			probability: posterior[i] as number
		}))
		.filter(({ faults }) => faults.length > 0)
		.sort((a, b) => b.probability - a.probability)
		.slice(0, MOST_SETS);
}
