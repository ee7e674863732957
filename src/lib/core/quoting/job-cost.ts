import { operationPartsMinor, type Catalog } from '../catalog/catalog';
import type { Remedy } from '../diagnosis/infer/attempts';
import { quantileSorted } from '../statistics/quantile';
import { drawIndex, drawNormal, seededRandom, type Random } from '../units/random';
import { durationLaw, type DurationLaw, type LearnedDurations } from './durations';

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
	/** drawn costs and whether the device was fixed, for the chance of a loss at any price */
	draws: { costMinor: number; fixed: boolean }[];
	/** the operations that the likeliest faults need, likeliest first */
	operations: string[];
	/** past jobs that the durations rest on */
	from: number;
}

const DRAWS = 2000;
/** An operation that failed twice on one device is not tried a third time; common practice, no source. */
const MOST_TRIES = 2;

/**
 * The whole job's minutes and cost as a distribution: tests done at their catalog minutes, then the
 * operations that a drawn set of faults needs, each until it works. Monte Carlo with a fixed seed: the
 * same evidence gives the same quote; the standard error of a share is below 0.012.
 */
export function jobCost(input: {
	catalog: Catalog;
	durations: LearnedDurations;
	remedies: readonly Remedy[];
	model: string;
	possible: readonly PossibleFaults[];
	testsDone: readonly string[];
	hourlyMinor: number;
}): JobCost {
	const { catalog, durations, model, possible, hourlyMinor } = input;
	const random = seededRandom(20_261);
	const codes = [...catalog.faults.keys()];
	const cost = (code: string) => {
		const law = durationLaw(catalog, durations, code, model);
		return { law, partsMinor: operationPartsMinor(catalog, code) };
	};
	const jobs = new Map(input.remedies.map((remedy) => [remedy.code, { remedy, ...cost(remedy.code) }]));
	const plans = possible.map(({ faults }) =>
		planRepair(
			faults.map((fault) => codes.indexOf(fault)),
			[...jobs.values()],
			hourlyMinor
		)
	);
	const tests = input.testsDone.flatMap((code) => catalog.tests.get(code) ?? []);
	const testMinutes = tests.reduce((sum, { minutes }) => sum + minutes, 0);
	const testMinor = tests.reduce((sum, { costMinor }) => sum + costMinor, 0);
	const weights = possible.map(({ probability }) => probability);
	const minutes: number[] = [];
	const draws: JobCost['draws'] = [];
	for (let draw = 0; draw < DRAWS; draw++) {
		const plan = plans[drawIndex(random, weights)] as Job[] | null;
		const run = drawRepair(random, plan ?? []);
		minutes.push(testMinutes + run.minutes);
		draws.push({
			costMinor: testMinor + run.partsMinor + ((testMinutes + run.minutes) / 60) * hourlyMinor,
			fixed: plan !== null && run.fixed
		});
	}
	const order = [...possible.keys()].sort((a, b) => (weights[b] as number) - (weights[a] as number));
	const likely = order.flatMap((i) => (plans[i] ?? []).map(({ remedy }) => remedy.code));
	const first = likely[0];
	return {
		minutes: spreadOf(minutes),
		costMinor: spreadOf(draws.map(({ costMinor }) => costMinor)),
		chanceFixed: draws.filter(({ fixed }) => fixed).length / DRAWS,
		draws,
		operations: [...new Set(likely)],
		from: first === undefined ? 0 : (jobs.get(first)?.law.from ?? 0)
	};
}

interface Job {
	remedy: Remedy;
	law: DurationLaw;
	partsMinor: number;
}

/**
 * Operations that between them fix every fault: again and again the one with the least expected cost for
 * each fault that it still fixes. Null where some fault has no operation, or where nothing is known.
 */
function planRepair(faults: readonly number[], jobs: readonly Job[], hourlyMinor: number): Job[] | null {
	if (faults.length === 0) return null;
	const plan: Job[] = [];
	let left = [...faults];
	while (left.length > 0) {
		let best: Job | null = null;
		let bestCost = Infinity;
		for (const job of jobs) {
			const fixed = left.filter((fault) => job.remedy.fixes.has(fault)).length;
			const once = (Math.exp(job.law.mu) / 60) * hourlyMinor + job.partsMinor;
			const cost = once / (job.remedy.success * fixed);
			if (fixed > 0 && cost < bestCost) [best, bestCost] = [job, cost];
		}
		if (!best) return null;
		const { fixes } = best.remedy;
		plan.push(best);
		left = left.filter((fault) => !fixes.has(fault));
	}
	return plan;
}

function drawRepair(random: Random, plan: readonly Job[]) {
	const run = { minutes: 0, partsMinor: 0, fixed: true };
	for (const { remedy, law, partsMinor } of plan) {
		let worked = false;
		for (let attempt = 0; attempt < MOST_TRIES && !worked; attempt++) {
			run.minutes += Math.exp(law.mu + law.sigma * drawNormal(random));
			run.partsMinor += partsMinor;
			worked = random() < remedy.success;
		}
		if (!worked) return { ...run, fixed: false };
	}
	return run;
}

function spreadOf(values: readonly number[]): Spread {
	const sorted = Float64Array.from(values).sort();
	return {
		p10: quantileSorted(sorted, 0.1),
		p50: quantileSorted(sorted, 0.5),
		p90: quantileSorted(sorted, 0.9),
		mean: values.reduce((sum, value) => sum + value, 0) / values.length
	};
}
