import type { Catalog } from '../catalog/catalog';
import { attemptsLikelihood, type Remedy } from './attempts';
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

export interface Reason {
	evidence: string;
	/** how many times this evidence multiplies the odds of the fault, beside all other evidence */
	factor: number;
}

export interface FaultOdds {
	code: string;
	label: string;
	probability: number;
	/** 80 % interval from how few tickets the beliefs rest on */
	low: number;
	high: number;
	/** closed tickets with this fault */
	from: number;
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
	codes: string[];
	sets: readonly FaultSet[];
	posterior: Float64Array;
	odds: Odds;
}

/** Below this change of log odds a piece of evidence is not worth a line. */
const SPOKEN = 0.05;
const MOST_REASONS = 8;
const MOST_SETS = 12;
/** Standard normal quantile of 0.9, for the 80 % interval. */
const Z80 = 1.2816;

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
	const { sets, unseen } = setsToWeigh(catalog, learned, shares, features);
	const prior = priorOf(catalog, learned, shares, sets);
	const speeches = hearAll(catalog, learned, sets, features);
	const posterior = posteriorOfSets(
		prior,
		speeches.map(({ logLikelihood }) => logLikelihood)
	);
	const chances = marginals(sets, posterior, codes.length);
	const variances = logVariances(shares, speeches);
	const rival = codes.map((_, fault) => strongestRival(sets, posterior, fault));
	const reasons = explainAll(sets, prior, speeches, chances);
	const faults = codes.map((code, fault): FaultOdds => {
		const spread = Math.sqrt((variances[fault] as number) + (variances[rival[fault] as number] ?? 0));
		return {
			code,
			label: catalog.faults.get(code)?.label ?? code,
			probability: chances[fault] as number,
			...logitInterval(chances[fault] as number, Z80 * spread),
			from: Math.round(learned.faults.get(code) ?? 0),
			reasons: reasons[fault] as Reason[]
		};
	});
	return {
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
	shares: readonly Belief[],
	features: Features
): { sets: readonly FaultSet[]; unseen: number } {
	if (shares.length <= TRIPLED) return { sets: setsOfUpToThree(shares.length), unseen: 0 };
	const small = setsOfUpToTwo(shares.length);
	const logs = hearAll(catalog, learned, small, features).map(({ logLikelihood }) => logLikelihood);
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
	sets: readonly FaultSet[],
	features: Features
): Speech[] {
	const speeches = [
		...features.signs.map(([sign, present]) => hearSign(catalog, learned, sets, sign, present)),
		...features.answers.map(({ question, answer }) => hearAnswer(catalog, learned, sets, question, answer)),
		...(features.opinions ?? []).map((opinion) => hearOpinion(catalog, learned, sets, opinion))
	];
	const remedies = new Map(remediesOf(catalog, learned).map((remedy) => [remedy.code, remedy]));
	const attempts = features.attempts.flatMap(({ operation, resolved }) => {
		const remedy = remedies.get(operation);
		return remedy ? [{ remedy, resolved }] : [];
	});
	// Attempts are one chain: each adds what the chain says with it beyond the chain without it.
	let before = Float64Array.from(sets, () => 0);
	attempts.forEach(({ remedy, resolved }, i) => {
		const chain = attempts.slice(0, i + 1);
		const upTo = Float64Array.from(sets, (set) => Math.log(attemptsLikelihood(set, chain)));
		speeches.push({
			evidence: `tried:${remedy.code}=${resolved}`,
			beliefs: [],
			logLikelihood: upTo.map((log, s) => log - (before[s] as number))
		});
		before = upTo;
	});
	return speeches;
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

/** For every fault, the factor by which each piece of evidence multiplies its odds beside the rest. */
function explainAll(
	sets: readonly FaultSet[],
	prior: Float64Array,
	speeches: readonly Speech[],
	chances: readonly number[]
): Reason[][] {
	const logOdds = (chance: number) =>
		Math.log(Math.max(1e-12, chance)) - Math.log(Math.max(1e-12, 1 - chance));
	const reasons: Reason[][] = chances.map(() => []);
	const joint = Float64Array.from(prior);
	for (const { logLikelihood } of speeches) {
		for (let i = 0; i < joint.length; i++) joint[i] = (joint[i] as number) + (logLikelihood[i] as number);
	}
	for (const speech of speeches) {
		// all evidence but this piece: one subtraction, not a sum over the others
		const others = joint.map((log, i) => log - (speech.logLikelihood[i] as number));
		const without = marginals(sets, posteriorOfSets(others, []), chances.length);
		chances.forEach((chance, fault) => {
			const change = logOdds(chance) - logOdds(without[fault] as number);
			if (Math.abs(change) < SPOKEN) return;
			reasons[fault]?.push({ evidence: speech.evidence, factor: Math.exp(change) });
		});
	}
	const loudness = ({ factor }: Reason) => Math.abs(Math.log(factor));
	return reasons.map((list) => list.sort((a, b) => loudness(b) - loudness(a)).slice(0, MOST_REASONS));
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
