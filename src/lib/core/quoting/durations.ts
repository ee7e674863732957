import type { Catalog } from '../catalog/catalog';
import type { LearnedCounts } from './counts';
import type { Lognormal } from '../statistics/lognormal';
import { sumOf } from '../statistics/sum';
import { groupBy } from '../units/group-by';

/**
 * Sums over recorded hands-on minutes in log space: enough for mean and spread. Whole numbers of 1e-15, so that what was
 * added can be taken out again to the last digit.
 */
interface LogSums {
	count: number;
	sum: bigint;
	squares: bigint;
}
const UNIT = 1e15;
const whole = (value: number) => BigInt(Math.round(value * UNIT));
const NOTHING: LogSums = { count: 0, sum: 0n, squares: 0n };

/** Minutes of past operations, by operation, by operation and model, and by operation and technician. */
export interface LearnedDurations {
	operations: Map<string, LogSums>;
	models: Map<string, LogSums>;
	technicians: Map<string, LogSums>;
	/** how many of what an operation depends on there were */
	counts: LearnedCounts;
}

export const emptyDurations = (): LearnedDurations => ({
	operations: new Map(),
	models: new Map(),
	technicians: new Map(),
	counts: new Map()
});

/** One attempt's minutes, with who worked them where that is known. */
export interface TakenMinutes {
	operation: string;
	model: string;
	technician?: string | undefined;
	minutes: number;
	/** how much longer than usual it was expected to take, by what it depends on; 1 without */
	factor?: number | undefined;
	/** what was counted for it */
	counted?: { what: string; number: number } | undefined;
}

/** How many jobs a start value is worth. Choices of this program, not published values. */
const CATALOG_WEIGHT = 3;
const MODEL_WEIGHT = 5;
const SPREAD_WEIGHT = 5;
/** Usual spread of the logarithm of a job's minutes before there is a record; an assumption. */
const USUAL_SIGMA = 0.45;

/** Adds (or with -1 takes out) the minutes of one attempt, as they would be with the usual counts. Zero minutes are not a duration. */
export function addDuration(
	learned: LearnedDurations,
	{ operation, model, technician, minutes, factor = 1, counted }: TakenMinutes,
	times: 1 | -1 = 1
): void {
	if (!(minutes > 0)) return;
	const log = Math.log(minutes / factor);
	if (counted) {
		const key = `${counted.what} ${counted.number}`;
		const met = (learned.counts.get(key) ?? 0) + times;
		if (met === 0) learned.counts.delete(key);
		else learned.counts.set(key, met);
	}
	addTo(learned.operations, operation, log, times);
	addTo(learned.models, `${operation} ${model}`, log, times);
	if (technician !== undefined) addTo(learned.technicians, `${operation} ${technician}`, log, times);
}

function addTo(sums: Map<string, LogSums>, key: string, log: number, times: 1 | -1): void {
	const { count, sum, squares } = sums.get(key) ?? NOTHING;
	const sign = BigInt(times);
	if (count + times === 0) sums.delete(key);
	else
		sums.set(key, {
			count: count + times,
			sum: sum + sign * whole(log),
			squares: squares + sign * whole(log * log)
		});
}

const inLogs = ({ count, sum, squares }: LogSums = NOTHING) => ({
	count,
	sum: Number(sum) / UNIT,
	squares: Number(squares) / UNIT
});

export interface DurationLaw extends Lognormal {
	/** past jobs of this operation, and of them on this model */
	from: number;
	fromModel: number;
}

/**
 * Lognormal law of an operation's minutes on a model: mean of logs of the model shrunk towards the
 * operation's, that towards the catalog's minutes; one spread per operation, shrunk likewise.
 */
export function durationLaw(
	catalog: Catalog,
	learned: LearnedDurations,
	operation: string,
	model: string
): DurationLaw {
	const usual = Math.log(Math.max(1, catalog.operations.get(operation)?.minutes ?? 30));
	const all = inLogs(learned.operations.get(operation));
	const modelLaw = inLogs(learned.models.get(`${operation} ${model}`));
	const overall = (all.sum + CATALOG_WEIGHT * usual) / (all.count + CATALOG_WEIGHT);
	const mu = (modelLaw.sum + MODEL_WEIGHT * overall) / (modelLaw.count + MODEL_WEIGHT);
	const scatter = all.count > 0 ? Math.max(0, all.squares - (all.sum * all.sum) / all.count) : 0;
	const variance =
		(scatter + SPREAD_WEIGHT * USUAL_SIGMA ** 2) / (Math.max(0, all.count - 1) + SPREAD_WEIGHT);
	return { mu, sigma: Math.sqrt(variance), from: all.count, fromModel: modelLaw.count };
}

/** A technician as the shop's record shows them. */
export interface Pace {
	technician: string;
	/** attempts of theirs */
	from: number;
	/** how much longer or shorter than the shop's their minutes are, in logarithms; shrunk to nothing where little is known */
	effect: number;
	/** the same beside it by operation, shrunk more */
	operations: ReadonlyMap<string, number>;
}

/** Paces lie about so far from the shop's before anything is known of them, in logarithms. A choice. */
const PACE_SPREAD = 0.15;
/** What lies beside the pace in one operation, likewise. A choice. */
const OWN_SPREAD = 0.08;

/**
 * Everybody's pace: the mean of what their minutes lie over the shop's for the same operation, shrunk by how far one attempt
 * scatters. For planning, never shown as blame.
 */
export function pacesOf(learned: LearnedDurations): Pace[] {
	const deviations = new Map<string, { operation: string; count: number; sum: number }[]>();
	for (const [key, sums] of learned.technicians) {
		const [operation, technician] = key.split(' ') as [string, string];
		const all = inLogs(learned.operations.get(operation));
		const { count, sum } = inLogs(sums);
		const soFar = deviations.get(technician) ?? [];
		deviations.set(technician, [...soFar, { operation, count, sum: sum - (count * all.sum) / all.count }]);
	}
	const variance = varianceWithin(learned.technicians.values(), USUAL_SIGMA);
	const [weight, ownWeight] = [variance / PACE_SPREAD ** 2, variance / OWN_SPREAD ** 2];
	return [...deviations]
		.map(([technician, paces]) => {
			const from = sumOf(paces.map(({ count }) => count));
			const effect = sumOf(paces.map(({ sum }) => sum)) / (from + weight);
			const operations = new Map(
				paces.map(({ operation, count, sum }) => [operation, (sum - count * effect) / (count + ownWeight)])
			);
			return { technician, from, effect, operations };
		})
		.sort((a, b) => (a.technician < b.technician ? -1 : 1));
}

/**
 * What of an operation's spread is neither that technicians differ nor that models do: the variance of logs less what lies between
 * the ones and between the others, where they are known (two factors that add up, as in a two-way analysis of variance without
 * interaction; Searle, Casella & McCulloch, Variance Components, 1992). No less than a quarter of the whole _(choice)_.
 */
export function spreadsWithin(learned: LearnedDurations): (operation: string, law: DurationLaw) => number {
	const factors = [learned.technicians, learned.models].map((sums) =>
		groupBy([...sums], ([key]) => key.slice(0, key.indexOf(' ')))
	);
	return (operation, law) => {
		const whole = law.sigma ** 2;
		const between = factors.map((groups) => {
			const sums = (groups.get(operation) ?? []).map(([, group]) => group);
			return Math.max(0, whole - varianceWithin(sums, law.sigma));
		});
		return Math.sqrt(Math.max(whole - sumOf(between), whole / 4));
	};
}

/** Variance of logs about their groups' own means, leaning on a usual spread. */
function varianceWithin(groups: Iterable<LogSums>, usualSigma: number): number {
	let [scatter, degrees] = [0, 0];
	for (const group of groups) {
		const { count, sum, squares } = inLogs(group);
		scatter += Math.max(0, squares - sum ** 2 / count);
		degrees += count - 1;
	}
	return (scatter + SPREAD_WEIGHT * usualSigma ** 2) / (degrees + SPREAD_WEIGHT);
}
