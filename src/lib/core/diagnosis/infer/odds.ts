import { addAt, itemAt, valueAt } from '../../units/vector';
import type { Engine } from '../engine';
import { Courses, type OwnFault, type Remedy } from './attempts';
import {
	faultShares,
	answerBeliefs,
	answerChances,
	answerLikelihood,
	harmChance,
	ownFaultChances,
	signLikelihood,
	sizeChances,
	successBelief,
	type Belief,
	type EvidenceLikelihood
} from './beliefs';
import type { Answer, Features } from '../learn/evidence';
import { AFTER, MENDED } from '../learn/evidence-words';
import type { Catalog } from '../../catalog/catalog';
import { comebackLikelihoods } from './comeback-likelihood';
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
import { Z80 } from '../../statistics/normal';

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
	/** of what failed repairs have left, no longer of what was wrong at first */
	ofNow: boolean;
	/** prior chance of the sets of three that were not weighed; 0 in a catalog of up to 20 faults */
	unseen: number;
}

/** Chances of sets of faults: all that the planner needs. */
export interface Posterior {
	model: string;
	codes: string[];
	/** what may have been wrong at first, and how likely each is */
	sets: readonly FaultSet[];
	posterior: Float64Array;
	/** what is left of it after the attempts that failed; the same where there are none. Chances sum to 1 */
	now: readonly SetChance[];
	/** chance of each fault, in the order of `codes`; after attempts that failed, that it is left now */
	chances: readonly number[];
}

/** The posterior with its odds as they are shown: intervals, and what each piece of evidence did. */
export interface Inference extends Posterior {
	odds: Odds;
}

export interface SetChance {
	set: FaultSet;
	chance: number;
}

const MOST_SETS = 12;
/**
 * In a young shop the hyperparameters that all beliefs share are estimated themselves: variances grow by YOUNG / (tickets + GROWN).
 * Chosen so that the interval holds what it says on invented shops (bench:engine).
 */
const YOUNG = 100;
const GROWN = 50;

/** The catalog's operations with their learnt chance of success, as they are on a model. */
export function remediesOf(engine: Engine, model: string): Remedy[] {
	const index = new Map([...engine.catalog.faults.keys()].map((code, i) => [code, i]));
	const onFlex = engine.catalog.models.get(model)?.port_on === 'flex';
	return [...engine.catalog.operations.values()].map(({ code, fixes, fixes_on_flex: besides = [] }) => ({
		code,
		fixes: new Set([...fixes, ...(onFlex ? besides : [])].flatMap((fault) => index.get(fault) ?? [])),
		success: successBelief(engine, code).chance,
		harm: harmChance(engine.learned, code)
	}));
}

/** A posterior with what it was made of. */
interface Weighed extends Posterior {
	shares: readonly Belief[];
	prior: Float64Array;
	likelihoods: readonly EvidenceLikelihood[];
	unseen: number;
	/** chance of each fault that it was wrong at first */
	atFirst: readonly number[];
	ofNow: boolean;
}

function weighEvidence(engine: Engine, model: string, features: Features): Weighed {
	const codes = [...engine.catalog.faults.keys()];
	const shares = faultShares(engine, model);
	const { sets, unseen } = setsToWeigh(engine, model, shares, features);
	const prior = priorOf(engine, shares, sets);
	const repairs = repairsLikelihood(engine, model, sets, features);
	const likelihoods = [...evidenceLikelihoods(engine, model, sets, features), ...repairs.likelihoods];
	const posterior = posteriorOfSets(
		prior,
		likelihoods.map(({ logLikelihood }) => logLikelihood)
	);
	const atFirst = marginals(sets, posterior, codes.length);
	const now = leftNow(sets, posterior, repairs.courses);
	const isResolved = features.attempts.some(({ resolved }) => resolved);
	const ofNow = !isResolved && repairs.courses !== null;
	const chances = ofNow
		? marginals(
				now.map(({ set }) => set),
				Float64Array.from(now, ({ chance }) => chance),
				codes.length
			)
		: atFirst;
	return { model, codes, sets, posterior, now, chances, shares, prior, likelihoods, unseen, atFirst, ofNow };
}

/**
 * Chances of every fault and set of faults, given the evidence and what the shop's closed tickets taught.
 * The empty set is "no fault of the catalog explains it". Chances of sets sum to 1. After attempts that failed the chances are of
 * what is left now; once one worked they are of what was wrong.
 * @param engine catalog and what was learnt
 * @param model code of the device's model; one that nobody knows is judged by the shop
 * @param features evidence in classes, as `readFeatures` makes it
 * @returns `sets` as lists of indices into `codes`, `posterior` of the same length
 */
export const inferPosterior = (engine: Engine, model: string, features: Features): Posterior =>
	weighEvidence(engine, model, features);

/**
 * The posterior (`inferPosterior`) with the odds as they are shown. Their reasons and intervals cost more than the posterior itself.
 * @example inferOdds(engine, 'tern-6', readFeatures(ticket, catalog)).odds.faults[0]?.probability // 0.81
 */
export function inferOdds(engine: Engine, model: string, features: Features): Inference {
	const weighed = weighEvidence(engine, model, features);
	const { codes, sets, posterior, now, chances, shares, prior, likelihoods, atFirst } = weighed;
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
			probability: itemAt(chances, fault),
			...logitInterval(itemAt(chances, fault), Z80 * spread),
			from: Math.round(engine.learned.faults.get(code) ?? 0),
			...sinceMended(itemAt(explained, fault), itemAt(atFirst, fault), itemAt(chances, fault))
		};
	});
	return {
		...{ model, codes, sets, posterior, now, chances },
		odds: {
			learnedFrom: engine.learned.tickets,
			fromModel: engine.learned.models.get(model)?.tickets ?? 0,
			faults: leadingFirst(faults, engine.catalog),
			sets: likeliestSets(now, codes),
			none: now.find(({ set }) => set.length === 0)?.chance ?? 0,
			ofNow: weighed.ofNow,
			unseen: weighed.unseen
		}
	};
}

/**
 * Faults in the order in which they are named: the likeliest first, by code where they are alike. What stands for whatever has no code
 * of its own comes last, unless it leads.
 */
export function leadingFirst<Fault extends { code: string; probability: number }>(
	faults: readonly Fault[],
	catalog: Pick<Catalog, 'faults'>
): Fault[] {
	const sorted = faults.toSorted((a, b) => b.probability - a.probability || (a.code < b.code ? -1 : 1));
	const at = sorted.findIndex(({ code }) => catalog.faults.get(code)?.catch_all);
	return at <= 0 ? sorted : [...sorted.toSpliced(at, 1), itemAt(sorted, at)];
}

/** What may be left now of all sets, those that are the same taken together. */
function leftNow(
	sets: readonly FaultSet[],
	posterior: Float64Array,
	courses: readonly Courses[] | null
): SetChance[] {
	if (courses === null) return sets.map((set, s) => ({ set, chance: valueAt(posterior, s) }));
	const states = new Map<string, SetChance>();
	courses.forEach((course, s) => {
		const probability = valueAt(posterior, s);
		if (probability < UNLIKELY) return;
		for (const { left: set, chance } of course.now()) {
			const key = set.join(' ');
			const entry = states.get(key) ?? { set, chance: 0 };
			entry.chance += probability * chance;
			states.set(key, entry);
		}
	});
	const all = [...states.values()];
	const total = all.reduce((sum, { chance }) => sum + chance, 0);
	return all.map(({ set, chance }) => ({ set, chance: chance / total }));
}
/** Sets less likely than this are left out of what may be left: all of them together are less than a millionth. */
const UNLIKELY = 1e-10;

/** The reasons of what was wrong at first, with what repairs may have mended since as one more. */
function sinceMended({ usual, reasons }: Explained, atFirst: number, now: number): Explained {
	const odds = (chance: number) => chance / Math.max(1e-300, 1 - chance);
	if (Math.abs(now - atFirst) < 1e-9 || atFirst <= 0 || now <= 0) return { usual, reasons };
	return { usual, reasons: [...reasons, { evidence: MENDED, factor: odds(now) / odds(atFirst) }] };
}

const priorOf = (engine: Engine, shares: readonly Belief[], sets: readonly FaultSet[]) =>
	logPriorOfSets(
		sets,
		shares.map(({ chance }) => chance),
		sizeChances(engine.fitted.counted),
		engine.fitted.shares.lifts
	);

/** Triples are made of so many of the likeliest faults: all of the starter catalog's, 2024 triples at most. */
const TRIPLED = 24;

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
	const events = [
		...evidenceLikelihoods(engine, model, small, features),
		...repairsLikelihood(engine, model, small, features).likelihoods
	];
	const logs = events.map(({ logLikelihood }) => logLikelihood);
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
	return [
		...features.signs.map(([sign, present]) => signLikelihood(engine, sets, model, sign, present)),
		...features.answers.map(({ question, answer }) =>
			answerLikelihood(engine, sets, model, question, answer, features.answers)
		),
		...comebackLikelihoods(engine, sets, model, features),
		...(features.opinions ?? []).map((opinion) => opinionLikelihood(engine, sets, opinion))
	];
}

/** One moment of a repair: an attempt, or what was seen of what it left. */
type Event = { evidence: string } & (
	{ remedy: Remedy; resolved: boolean } | { chanceOf: (faults: FaultSet) => number }
);

/** Attempts up to the first that worked, each with what was seen after it. */
function eventsOf(engine: Engine, model: string, { attempts, since = [] }: Features): Event[] {
	const remedies = new Map(remediesOf(engine, model).map((remedy) => [remedy.code, remedy]));
	const events: Event[] = [];
	attempts.forEach(({ operation, resolved }, i) => {
		const remedy = remedies.get(operation);
		if (remedy) events.push({ evidence: `tried:${operation}=${resolved}`, remedy, resolved });
		for (const { answers } of since.filter((seen) => seen.attempts === i + 1)) {
			events.push(...answers.map((answer) => seenAfter(engine, model, answer)));
		}
	});
	return events;
}

function seenAfter(engine: Engine, model: string, { question, answer }: Answer): Event {
	const beliefs = answerBeliefs(engine, model, question);
	const index = beliefs.answers.indexOf(answer);
	return {
		evidence: `${AFTER}${question}=${answer}`,
		chanceOf: (faults) => answerChances(beliefs, faults)[index] as number
	};
}

/**
 * Attempts, and what was seen after them, are one chain: each adds what the chain says with it beyond the chain without it.
 * An operation that was tried several times, to the same end, is one piece of evidence.
 * @returns `courses` by set, up to the attempt that worked; null where nothing was tried
 */
function repairsLikelihood(
	engine: Engine,
	model: string,
	sets: readonly FaultSet[],
	features: Features
): { likelihoods: EvidenceLikelihood[]; courses: Courses[] | null } {
	if (features.attempts.length === 0) return { likelihoods: [], courses: null };
	const events = eventsOf(engine, model, features);
	const ownFaults = ownFaultsOf(engine);
	const likelihoods = new Map<string, EvidenceLikelihood>();
	const logs = events.map(({ evidence }) => {
		const cached = likelihoods.get(evidence) ?? {
			evidence,
			beliefs: [],
			logLikelihood: new Float64Array(sets.length)
		};
		likelihoods.set(evidence, cached);
		return cached.logLikelihood;
	});
	const courses = sets.map((set, s) => {
		const course = new Courses(set, ownFaults);
		let prior = 0;
		for (const [i, event] of events.entries()) {
			const isResolved = 'remedy' in event && event.resolved;
			if ('chanceOf' in event) course.see(event.chanceOf);
			else if (!isResolved) course.fail(event.remedy);
			const likelihood = isResolved ? course.workedBy(event.remedy) : course.total;
			// so small that it is nothing: courses of hundreds of attempts, none of which ever works
			const log = Math.log(Math.max(Number.MIN_VALUE, likelihood));
			const logAnswer = itemAt(logs, i);
			addAt(logAnswer, s, log - prior);
			prior = log;
			if (isResolved) break;
		}
		return course;
	});
	return { likelihoods: [...likelihoods.values()], courses };
}

/** Faults that repairs of this shop have made so far, by how often; the likeliest of them. */
function ownFaultsOf(engine: Engine): OwnFault[] {
	const index = new Map([...engine.catalog.faults.keys()].map((code, i) => [code, i]));
	return ownFaultChances(engine.learned).flatMap(({ code, chance }) => {
		const fault = index.get(code);
		return fault === undefined ? [] : [{ fault, chance }];
	});
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
		if (best < 0 || valueAt(posterior, i) > valueAt(posterior, best)) best = i;
	});
	return sets[best]?.[0] ?? -1;
}

function logitInterval(chance: number, halfWidth: number): { low: number; high: number } {
	const inside = Math.min(1 - 1e-12, Math.max(1e-12, chance));
	const logit = Math.log(inside / (1 - inside));
	const expit = (x: number) => 1 / (1 + Math.exp(-x));
	return { low: expit(logit - halfWidth), high: expit(logit + halfWidth) };
}

function likeliestSets(now: readonly SetChance[], codes: string[]) {
	return now
		.map(({ set, chance }) => ({
			faults: set.map((fault) => itemAt(codes, fault)),
			probability: chance
		}))
		.filter(({ faults }) => faults.length > 0)
		.sort((a, b) => b.probability - a.probability)
		.slice(0, MOST_SETS);
}
