import type { Catalog } from '../catalog/catalog';
import type { Lognormal } from '../statistics/lognormal';

/**
 * Sums over recorded hands-on minutes in log space: enough for mean and spread. Whole numbers of 1e-15, so that what was
 * added can be taken out again to the last digit.
 */
export interface LogSums {
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
}

export const emptyDurations = (): LearnedDurations => ({
	operations: new Map(),
	models: new Map(),
	technicians: new Map()
});

/** One attempt's minutes, with who worked them where that is known. */
export interface TakenMinutes {
	operation: string;
	model: string;
	technician?: string | undefined;
	minutes: number;
}

/** How many jobs a start value is worth. Choices of this program, not published values. */
const CATALOG_WEIGHT = 3;
const MODEL_WEIGHT = 5;
const SPREAD_WEIGHT = 5;
/** Usual spread of the logarithm of a job's minutes before there is a record; an assumption. */
const USUAL_SIGMA = 0.45;

/** Adds (or with -1 takes out) the minutes of one attempt. Zero minutes are not a duration. */
export function addDuration(
	learned: LearnedDurations,
	{ operation, model, technician, minutes }: TakenMinutes,
	times: 1 | -1 = 1
): void {
	if (!(minutes > 0)) return;
	const log = Math.log(minutes);
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
	const own = inLogs(learned.models.get(`${operation} ${model}`));
	const overall = (all.sum + CATALOG_WEIGHT * usual) / (all.count + CATALOG_WEIGHT);
	const mu = (own.sum + MODEL_WEIGHT * overall) / (own.count + MODEL_WEIGHT);
	const scatter = all.count > 0 ? Math.max(0, all.squares - (all.sum * all.sum) / all.count) : 0;
	const variance =
		(scatter + SPREAD_WEIGHT * USUAL_SIGMA ** 2) / (Math.max(0, all.count - 1) + SPREAD_WEIGHT);
	return { mu, sigma: Math.sqrt(variance), from: all.count, fromModel: own.count };
}

/** A technician as the shop's record shows them. */
export interface Pace {
	technician: string;
	/** attempts of theirs */
	from: number;
	/** how much longer or shorter than the shop's their minutes are, in logarithms; shrunk to nothing where little is known */
	effect: number;
}

/** Paces lie about so far from the shop's before anything is known of them, in logarithms. A choice. */
const PACE_SPREAD = 0.15;

/**
 * Everybody's pace: the mean of what their minutes lie over the shop's for the same operation, shrunk by how far one attempt
 * scatters. For planning, never shown as blame.
 */
export function pacesOf(learned: LearnedDurations): Pace[] {
	const over = new Map<string, { from: number; sum: number }>();
	for (const [key, own] of learned.technicians) {
		const [operation, technician] = key.split(' ') as [string, string];
		const all = inLogs(learned.operations.get(operation));
		const { count, sum } = inLogs(own);
		const known = over.get(technician) ?? { from: 0, sum: 0 };
		over.set(technician, { from: known.from + count, sum: known.sum + sum - (count * all.sum) / all.count });
	}
	const weight = varianceWithin(learned.technicians.values(), USUAL_SIGMA) / PACE_SPREAD ** 2;
	return [...over]
		.map(([technician, { from, sum }]) => ({ technician, from, effect: sum / (from + weight) }))
		.sort((a, b) => (a.technician < b.technician ? -1 : 1));
}

/** What of an operation's spread is not that technicians differ: the variance of logs within them, where they are known. */
export function spreadWithin(learned: LearnedDurations, operation: string, law: DurationLaw): number {
	const own = [...learned.technicians].flatMap(([key, sums]) =>
		key.startsWith(`${operation} `) ? [sums] : []
	);
	return Math.sqrt(Math.min(varianceWithin(own, law.sigma), law.sigma ** 2));
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
