import type { Catalog } from '../catalog/catalog';
import { attemptLikelihoods, type Remedy } from './attempts';
import {
	faultShares,
	hearAnswer,
	hearSign,
	sizeChances,
	successBelief,
	type Belief,
	type Speech
} from './beliefs';
import type { Features } from './evidence';
import { fit } from './fit';
import { hearOpinion } from './opinions';
import {
	enumerateTriples,
	logPriorOfSets,
	marginals,
	posteriorOfSets,
	setsOfUpToThree,
	setsOfUpToTwo,
	type FaultSet
} from './fault-sets';
import type { Learned } from './learn';
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
export function remediesOf(catalog: Catalog, learned: Learned): Remedy[] {
	const index = new Map([...catalog.faults.keys()].map((code, i) => [code, i]));
	return [...catalog.operations.values()].map(({ code, fixes }) => ({
		code,
		fixes: new Set(fixes.flatMap((fault) => index.get(fault) ?? [])),
		success: successBelief(catalog, learned, code).chance
	}));
}

/**
 * Chances of every fault and set of faults, given the evidence and what the shop's closed tickets taught.
 * The empty set is "no fault of the catalog explains it". Chances of sets sum to 1.
 */
export function inferOdds(catalog: Catalog, learned: Learned, model: string, features: Features): Inference {
	const codes = [...catalog.faults.keys()];
	const shares = faultShares(catalog, learned, model);
	const { sets, unseen } = setsToWeigh(catalog, learned, model, shares, features);
	const prior = priorOf(catalog, learned, shares, sets);
	const speeches = hearAll(catalog, learned, model, sets, features);
	const posterior = posteriorOfSets(
		prior,
		speeches.map(({ logLikelihood }) => logLikelihood)
	);
	const chances = marginals(sets, posterior, codes.length);
	const variances = logVariances(shares, speeches);
	const youth = 1 + YOUNG / (learned.tickets + GROWN);
	const rival = codes.map((_, fault) => strongestRival(sets, posterior, fault));
	const explained = explain(sets, prior, speeches, codes.length);
	const faults = codes.map((code, fault): FaultOdds => {
		const spread = Math.sqrt(
			youth * ((variances[fault] as number) + (variances[rival[fault] as number] ?? 0))
		);
		return {
			code,
			label: catalog.faults.get(code)?.label ?? code,
			probability: chances[fault] as number,
			...logitInterval(chances[fault] as number, Z80 * spread),
			from: Math.round(learned.faults.get(code) ?? 0),
			...(explained[fault] as Explained)
		};
	});
	return {
		model,
		codes,
		sets,
		posterior,
		odds: {
			learnedFrom: learned.tickets,
			fromModel: learned.models.get(model)?.tickets ?? 0,
			faults: faults.sort((a, b) => b.probability - a.probability || (a.code < b.code ? -1 : 1)),
			sets: likeliestSets(sets, posterior, codes),
			none: posterior[0] as number,
			unseen
		}
	};
}

const priorOf = (catalog: Catalog, learned: Learned, shares: readonly Belief[], sets: readonly FaultSet[]) =>
	logPriorOfSets(
		sets,
		shares.map(({ chance }) => chance),
		sizeChances(learned),
		fit(catalog, learned).shares.lifts
	);

/** Triples are made of so many of the likeliest faults: all of a small catalog, 1140 triples at most. */
const TRIPLED = 20;

/**
 * Every set of up to two, and the triples of the faults that are likeliest among those. What is left out is known: the
 * prior chance of the triples that are not weighed.
 */
function setsToWeigh(
	catalog: Catalog,
	learned: Learned,
	model: string,
	shares: readonly Belief[],
	features: Features
): { sets: readonly FaultSet[]; unseen: number } {
	if (shares.length <= TRIPLED) return { sets: setsOfUpToThree(shares.length), unseen: 0 };
	const small = setsOfUpToTwo(shares.length);
	const logs = hearAll(catalog, learned, model, small, features).map(({ logLikelihood }) => logLikelihood);
	const chances = marginals(
		small,
		posteriorOfSets(priorOf(catalog, learned, shares, small), logs),
		shares.length
	);
	const likely = shares
		.map((_, fault) => fault)
		.sort((a, b) => (chances[b] as number) - (chances[a] as number) || a - b)
		.slice(0, TRIPLED);
	const sets = [...small, ...enumerateTriples(likely)];
	const seen = priorOf(catalog, learned, shares, sets).reduce((sum, log) => sum + Math.exp(log), 0);
	return { sets, unseen: Math.max(0, 1 - seen) };
}

function hearAll(
	catalog: Catalog,
	learned: Learned,
	model: string,
	sets: readonly FaultSet[],
	features: Features
): Speech[] {
	const speeches = [
		...features.signs.map(([sign, present]) => hearSign(catalog, learned, sets, model, sign, present)),
		...features.answers.map(({ question, answer }) =>
			hearAnswer(catalog, learned, sets, model, question, answer)
		),
		...(features.opinions ?? []).map((opinion) => hearOpinion(catalog, learned, sets, opinion))
	];
	const remedies = new Map(remediesOf(catalog, learned).map((remedy) => [remedy.code, remedy]));
	const attempts = features.attempts.flatMap(({ operation, resolved }) => {
		const remedy = remedies.get(operation);
		return remedy ? [{ remedy, resolved }] : [];
	});
	return [...speeches, ...hearAttempts(sets, attempts)];
}

/**
 * Attempts are one chain: each adds what the chain says with it beyond the chain without it. An operation that was tried
 * several times, to the same end, is one piece of evidence.
 */
function hearAttempts(
	sets: readonly FaultSet[],
	attempts: readonly { remedy: Remedy; resolved: boolean }[]
): Speech[] {
	const speeches = new Map<string, Speech>();
	const speech = attempts.map(({ remedy, resolved }) => {
		const evidence = `tried:${remedy.code}=${resolved}`;
		const known = speeches.get(evidence) ?? {
			evidence,
			beliefs: [],
			logLikelihood: new Float64Array(sets.length)
		};
		speeches.set(evidence, known);
		return known.logLikelihood;
	});
	sets.forEach((set, s) => {
		let before = 0;
		attemptLikelihoods(set, attempts).forEach((likelihood, i) => {
			// so small that it is nothing: courses of hundreds of attempts, none of which ever works
			const log = Math.log(Math.max(Number.MIN_VALUE, likelihood));
			const said = speech[i] as Float64Array;
			said[s] = (said[s] as number) + log - before;
			before = log;
		});
	});
	return [...speeches.values()];
}

/**
 * Variance of each fault's log likelihood from the tickets behind it, by the delta method:
 * Var(log p) is about (1 - p) / (p n), and what is in doubt between several beliefs beside. Textbook; pieces of evidence
 * taken as independent.
 */
function logVariances(shares: readonly Belief[], speeches: readonly Speech[]): number[] {
	const variance = ({ chance, weight, doubt = 0 }: Belief) =>
		(1 - chance) / (chance * Math.max(1, weight)) + doubt;
	return shares.map((share, fault) =>
		speeches.reduce((sum, { beliefs }) => {
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
