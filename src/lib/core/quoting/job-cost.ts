import { itemAt } from '../units/vector';
import type { Remedy } from '../diagnosis/infer/attempts';
import { operationPartsMinor, type Catalog } from '../catalog/catalog';
import { quantileSorted } from '../statistics/quantile';
import { sumOf } from '../statistics/sum';
import { drawIndex, drawNormal, seededRandom, type Random } from '../units/random';
import { countFactor, countsDrawn, type Counts } from './counts';
import { durationLaw, pacesOf, spreadsWithin, type DurationLaw, type Pace } from './durations';
import { leftOf, setOf, walksFrom, type DoneSoFar, type TestAnswer, type Walk } from './habits';
import { comebackChances, type ComebackCounts } from '../comebacks/how-often';
import { expectedComebackCostMinor, type ComebackCosts } from '../comebacks/what-one-costs';
import type { Minor } from '../units/money';
import type { Past } from './past';
import { once } from '../diagnosis/once';

/** What may be wrong with the device, with chances summing to 1; the empty list: nothing known fixes it. */
export interface PossibleFaults {
	faults: readonly string[];
	probability: number;
}

export interface Spread {
	p10: number;
	p50: number;
	p90: number;
	mean: number;
}

/** Outcomes of a job as it may go, drawn from the shop's own past. */
export interface JobCost {
	minutes: Spread;
	costMinor: Spread;
	chanceFixed: number;
	/** chance that a fixed one comes back */
	comebackChance: number;
	/** what a comeback is expected to cost */
	comebackCostMinor: Minor;
	/** drawn costs and whether the device was fixed, for the chance of a loss at any price */
	draws: { costMinor: number; fixed: boolean }[];
	/** the operations that the likeliest faults need, likeliest first */
	operations: string[];
	/** those that mend the likeliest faults */
	plan: string[];
	/** past jobs that the durations rest on */
	from: number;
	/** closed jobs with such faults whose way it is drawn from; none once the faults are known */
	fromWalks: number;
}

export interface JobInput {
	catalog: Catalog;
	past: Pick<Past, 'durations' | 'walks'> & ComebackCounts & { comebackCosts: ComebackCosts };
	remedies: readonly Remedy[];
	model: string;
	possible: readonly PossibleFaults[];
	/** answers of tests that were done, and codes of operations that were tried */
	testsDone: readonly TestAnswer[];
	tried?: readonly string[] | undefined;
	/** mean cost of an hour, or that of the technician who does it */
	hourlyMinor: number;
	technician?: string | null | undefined;
	/** nothing is left to be found out: the operations that the faults need, no more */
	faultsKnown?: boolean | undefined;
	/** pads, wires or contacts, as they were counted */
	counts?: Counts | undefined;
	/** operations that are chosen before cheaper ones */
	preferred?: readonly string[] | undefined;
}

const DRAWS = 2000;
/** An operation that failed twice on one device is not tried a third time; common practice, no source. */
const MOST_TRIES = 2;
/** Jobs with the same faults outweigh the plain way of mending them from so many on. A choice. */
const WALK_WEIGHT = 4;

/**
 * The whole job's minutes and cost as a distribution: tests done at their catalog minutes, then the job as it will go. What is
 * wrong is drawn from the odds, who does it as the shop's work is shared out, and the way from closed jobs with the same faults:
 * the tests that were still done, operations that helped nothing, repairs that were tried again, jobs that were given up. Where there
 * are few such jobs, the operations that mend the faults at the least expected cost, each until it works, behind what jobs of
 * the shop at large went through before; so too where the faults are known, without that. Monte Carlo with a fixed seed: the
 * same evidence gives the same quote; faults are drawn evenly, so that the standard error of a share is well below 0.012.
 */
export function jobCost(input: JobInput): JobCost {
	const { catalog, past, possible, model, faultsKnown: isKnown = false } = input;
	const random = seededRandom(20_261);
	const jobs = jobsOf(input);
	const tests = input.testsDone.filter(({ test }) => catalog.tests.has(test));
	const progress: DoneSoFar = { tests, operations: input.tried ?? [] };
	const tested = testing(catalog, tests);
	const leaning = leaningOf(input, progress);
	const ways = possible.map((option) => wayOf(input, jobs, { progress, leaning }, option));
	const crew = crewOf(input);
	const chanceBack = comebackChances(past, model);
	const comesBack = once((operation: string) => chanceBack([operation]));
	const countsOf = countsDrawn(catalog, past.durations.counts, [...jobs.keys()], input.counts ?? {});
	const lengthened = (code: string, counted: Counts) => countFactor(catalog, code, counted);
	const minutes: number[] = [];
	const draws: JobCost['draws'] = [];
	const weights = possible.map(({ probability }) => probability);
	const back = { chance: 0, fixed: 0 };
	for (const i of evenly(weights, DRAWS)) {
		const walk = isKnown ? planned(random, ways[i]?.plan ?? null) : itemAt(ways, i).draw(random);
		const pace = crew.draw(random);
		const counted = countsOf(random);
		const run = carryOut(random, walk, jobs, pace, (code) => lengthened(code, counted));
		const toTest = testing(catalog, walk.tests);
		const all = tested.minutes + toTest.minutes + run.minutes;
		minutes.push(all);
		const parts = tested.costMinor + toTest.costMinor + run.partsMinor;
		draws.push({ costMinor: parts + (all / 60) * pace.hourlyMinor, fixed: walk.fixed });
		const last = walk.operations.at(-1);
		if (walk.fixed && last !== undefined) {
			back.chance += comesBack(last);
			back.fixed += 1;
		}
	}
	const costMinor = spreadOf(draws.map((draw) => draw.costMinor));
	const order = [...possible.keys()].sort((a, b) => (weights[b] as number) - (weights[a] as number));
	const likely = order.flatMap((i) => (ways[i]?.plan ?? []).map(({ remedy }) => remedy.code));
	const first = likely[0];
	return {
		minutes: spreadOf(minutes),
		costMinor,
		chanceFixed: draws.filter(({ fixed }) => fixed).length / draws.length,
		comebackChance: back.fixed > 0 ? back.chance / back.fixed : chanceBack([]),
		comebackCostMinor: expectedComebackCostMinor(past.comebackCosts, costMinor.mean),
		draws,
		operations: [...new Set(likely)],
		plan: (ways[order[0] ?? -1]?.plan ?? []).map(({ remedy }) => remedy.code),
		from: first === undefined ? 0 : (jobs.get(first)?.law.from ?? 0),
		fromWalks: isKnown ? 0 : Math.round(sumOf(ways.map(({ from }, i) => from * (weights[i] as number))))
	};
}

/** Minutes and cost of some tests by the catalog. */
function testing({ tests }: Catalog, made: readonly TestAnswer[]) {
	const sum = { minutes: 0, costMinor: 0 };
	for (const { test } of made) {
		const { minutes = 0, costMinor = 0 } = tests.get(test) ?? {};
		sum.minutes += minutes;
		sum.costMinor += costMinor;
	}
	return sum;
}

interface Job {
	remedy: Remedy;
	/** minutes that it is expected to take with what was counted */
	minutes: number;
	law: DurationLaw;
	/** spread of its minutes for one technician on one model, with what is not known of their mean */
	sigma: number;
	partsMinor: number;
}

function jobsOf({ catalog, past, remedies, model, counts = {} }: JobInput): Map<string, Job> {
	const spreadWithin = spreadsWithin(past.durations);
	return new Map(
		remedies.map((remedy) => {
			const law = durationLaw(catalog, past.durations, remedy.code, model);
			const sigma = spreadWithin(remedy.code, law) * Math.sqrt(1 + 1 / (law.fromModel + 5));
			const minutes = Math.exp(law.mu) * countFactor(catalog, remedy.code, counts);
			const partsMinor = operationPartsMinor(catalog, remedy.code, model);
			return [remedy.code, { remedy, law, minutes, sigma, partsMinor }];
		})
	);
}

const USUAL_PACE: Pick<Pace, 'effect' | 'operations'> = { effect: 0, operations: new Map() };

/** Who does the job: the one who is named, else as the shop's work was shared out; rates about the shop's mean. */
function crewOf({ catalog, past, hourlyMinor, technician }: JobInput) {
	const paces = pacesOf(past.durations).filter((pace) => catalog.technicians.has(pace.technician));
	const named = paces.find((pace) => pace.technician === technician);
	if (technician != null) return { draw: () => ({ ...(named ?? USUAL_PACE), hourlyMinor }) };
	if (paces.length === 0) return { draw: () => ({ ...USUAL_PACE, hourlyMinor }) };
	const shares = paces.map(({ from }) => from);
	const rates = paces.map((pace) => catalog.technicians.get(pace.technician)?.hourlyCostMinor ?? hourlyMinor);
	const mean = sumOf(rates.map((rate, i) => rate * (shares[i] as number))) / sumOf(shares);
	return {
		draw: (random: Random) => {
			const i = drawIndex(random, shares);
			const rate = mean > 0 ? ((rates[i] as number) * hourlyMinor) / mean : hourlyMinor;
			return { ...itemAt(paces, i), hourlyMinor: rate };
		}
	};
}

/** How a device with some faults may go through the shop. */
interface Way {
	/** what mends them; null where nothing does, or nothing is known */
	plan: Job[] | null;
	/** past jobs with just these faults */
	from: number;
	draw(random: Random): Walk;
}

function wayOf(
	input: JobInput,
	jobs: ReadonlyMap<string, Job>,
	{ progress, leaning }: { progress: DoneSoFar; leaning: (walk: Walk) => number },
	{ faults }: PossibleFaults
): Way {
	const { catalog, past, hourlyMinor, preferred = [] } = input;
	const codes = [...catalog.faults.keys()];
	const plan = planRepair(
		faults.map((fault) => codes.indexOf(fault)),
		[...jobs.values()],
		{ hourlyMinor, preferred }
	);
	// the shop's own way is by its usual operations
	const laws =
		preferred.length > 0 || input.faultsKnown
			? null
			: walksFrom(past.walks, setOf(faults), progress, leaning);
	const count = laws?.count ?? 0;
	return {
		plan,
		from: count,
		draw: (random) => {
			if (laws && random() < count / (count + WALK_WEIGHT)) return laws.draw(random);
			const way = planned(random, plan);
			const detours = detour(random, input, jobs, progress);
			return detours
				? { ...detours, operations: [...detours.operations, ...way.operations], fixed: way.fixed }
				: way;
		}
	};
}

/**
 * How much likelier what is left of a walk is by what is believed now. Who is sure tests no more: where nothing is left to be tested
 * it is by the odds of the likeliest fault. Once something was tested what is tried first is what is believed to be wrong: by the
 * chance that its first operation addresses anything. From signs alone nobody chooses so: what is tried first stays as the record
 * has it.
 */
function leaningOf({ possible, remedies, catalog }: JobInput, { tests }: DoneSoFar): (walk: Walk) => number {
	const isTested = tests.length > 0;
	const codes = [...catalog.faults.keys()];
	const fixes = new Map(remedies.map((remedy) => [remedy.code, remedy.fixes]));
	const chanceThat = (has: (fault: string) => boolean) =>
		sumOf(possible.map(({ faults, probability }) => (faults.some(has) ? probability : 0)));
	const likeliest = Math.max(0, ...codes.map((code) => chanceThat((fault) => fault === code)));
	const odds = likeliest / Math.max(1e-3, 1 - likeliest);
	const endsTesting = (odds / SURE_ODDS) ** (isTested ? SURENESS : 1);
	const addressed = once((operation: string) => {
		if (!isTested) return 1;
		const chance = chanceThat((fault) => fixes.get(operation)?.has(codes.indexOf(fault)) ?? false);
		return (chance + LEAST_LEANING) ** LEANING;
	});
	return ({ operations, tests: toTest }) =>
		addressed(operations[0] ?? '') * (toTest.length === 0 ? endsTesting : 1);
}
/** At these odds of the likeliest fault testing is as likely to end as the record says; a choice that suits invented shops, as LEANING. */
const SURE_ODDS = 2;
/** And how sharply beyond them, once something was tested. A choice, likewise. */
const SURENESS = 1.5;
/** An operation that nothing speaks for is tried first all the same now and then. A choice. */
const LEAST_LEANING = 0.02;
/** How sharply: as jobs of invented shops went that try what is likeliest (tests/worlds/walked-jobs.ts). A choice. */
const LEANING = 2;

/** What a job of the shop at large went through that did not mend anything: its tests, and operations for other faults. */
function detour(
	random: Random,
	{ catalog, past }: JobInput,
	jobs: ReadonlyMap<string, Job>,
	progress: DoneSoFar
): Walk | null {
	const pool = poolOf(past.walks);
	if (pool.total === 0) return null;
	const drawn = itemAt(pool.sets, drawIndex(random, pool.weights));
	const codes = [...catalog.faults.keys()];
	const wrong = new Set(drawn.faults.split('|').map((fault) => codes.indexOf(fault)));
	const walk = leftOf(drawn.walks.draw(random), progress);
	const futile = walk.operations.filter((code) => {
		const fixes = jobs.get(code)?.remedy.fixes;
		return fixes && ![...fixes].some((fault) => wrong.has(fault));
	});
	return { ...walk, operations: futile };
}

const NOTHING_DONE: DoneSoFar = { tests: [], operations: [] };
const pools = new WeakMap<Past['walks'], ReturnType<typeof makePool>>();

function makePool(walks: Past['walks']) {
	const sets = [...walks.keys()].flatMap((faults) => {
		const starts = walksFrom(walks, faults, NOTHING_DONE);
		return starts ? [{ faults, walks: starts }] : [];
	});
	const weights = sets.map((set) => set.walks.count);
	return { sets, weights, total: sumOf(weights) };
}

/** All walks, to draw one from; the remembered ones while the sums stand. */
function poolOf(walks: Past['walks']) {
	const pool = pools.get(walks);
	if (pool) return pool;
	const made = makePool(walks);
	pools.set(walks, made);
	return made;
}

/** The plan's operations, each tried until it works or was tried often enough. */
function planned(random: Random, plan: readonly Job[] | null): Walk {
	const operations: string[] = [];
	for (const { remedy } of plan ?? []) {
		let isResolved = false;
		for (let attempt = 0; attempt < MOST_TRIES && !isResolved; attempt++) {
			operations.push(remedy.code);
			isResolved = random() < remedy.success;
		}
		if (!isResolved) return { tests: [], operations, fixed: false };
	}
	return { tests: [], operations, fixed: plan !== null };
}

/** Minutes and parts of a walk's operations by one technician. */
function carryOut(
	random: Random,
	{ operations }: Walk,
	jobs: ReadonlyMap<string, Job>,
	{ effect, operations: operationPaces }: Pick<Pace, 'effect' | 'operations'>,
	lengthened: (operation: string) => number
) {
	const run = { minutes: 0, partsMinor: 0 };
	for (const code of operations) {
		const job = jobs.get(code);
		if (!job) continue;
		const pace = effect + (operationPaces.get(code) ?? 0);
		run.minutes += lengthened(code) * Math.exp(job.law.mu + pace + job.sigma * drawNormal(random));
		run.partsMinor += job.partsMinor;
	}
	return run;
}

/**
 * Operations that between them fix every fault: again and again the one with the least expected cost for
 * each fault that it still fixes, preferred ones first. Null where some fault has no operation, or where nothing is known.
 */
function planRepair(
	faults: readonly number[],
	jobs: readonly Job[],
	{ hourlyMinor, preferred }: { hourlyMinor: number; preferred: readonly string[] }
): Job[] | null {
	if (faults.length === 0) return null;
	const plan: Job[] = [];
	let remaining = [...faults];
	while (remaining.length > 0) {
		let best: Job | null = null;
		let bestCost = Infinity;
		for (const job of jobs) {
			const fixed = remaining.filter((fault) => job.remedy.fixes.has(fault)).length;
			const once = (job.minutes / 60) * hourlyMinor + job.partsMinor;
			const wantedCost = preferred.includes(job.remedy.code) ? 1e-9 : 1;
			const cost = (wantedCost * once) / (job.remedy.success * fixed);
			if (fixed > 0 && cost < bestCost) [best, bestCost] = [job, cost];
		}
		if (!best) return null;
		const { fixes } = best.remedy;
		plan.push(best);
		remaining = remaining.filter((fault) => !fixes.has(fault));
	}
	return plan;
}

/** Indices in proportion to their weights, evenly: each is met as often as its share says, but for one. */
function* evenly(weights: readonly number[], count: number): Generator<number> {
	const total = sumOf(weights);
	let [i, upTo] = [0, weights[0] ?? 0];
	for (let k = 0; k < count; k++) {
		const at = ((k + 0.5) / count) * total;
		while (at > upTo && i < weights.length - 1) upTo += weights[++i] as number;
		yield i;
	}
}

function spreadOf(values: readonly number[]): Spread {
	const sorted = Float64Array.from(values).sort();
	return {
		p10: quantileSorted(sorted, 0.1),
		p50: quantileSorted(sorted, 0.5),
		p90: quantileSorted(sorted, 0.9),
		mean: sumOf(values) / values.length
	};
}
