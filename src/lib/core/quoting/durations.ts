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

/** Minutes of past operations, by operation and by operation and model. */
export interface LearnedDurations {
	operations: Map<string, LogSums>;
	models: Map<string, LogSums>;
}

export const emptyDurations = (): LearnedDurations => ({ operations: new Map(), models: new Map() });

/** How many jobs a start value is worth. Choices of this program, not published values. */
const CATALOG_WEIGHT = 3;
const MODEL_WEIGHT = 5;
const SPREAD_WEIGHT = 5;
/** Usual spread of the logarithm of a job's minutes before there is a record; an assumption. */
const USUAL_SIGMA = 0.45;

/** Adds (or with -1 takes out) the minutes of one attempt. Zero minutes are not a duration. */
export function addDuration(
	learned: LearnedDurations,
	operation: string,
	model: string,
	minutes: number,
	times: 1 | -1 = 1
): void {
	if (!(minutes > 0)) return;
	const log = Math.log(minutes);
	const [sum, square] = [whole(log), whole(log * log)];
	const sign = BigInt(times);
	for (const [map, key] of [
		[learned.operations, operation],
		[learned.models, `${operation} ${model}`]
	] as const) {
		const { count, ...sums } = map.get(key) ?? NOTHING;
		if (count + times === 0) map.delete(key);
		else
			map.set(key, {
				count: count + times,
				sum: sums.sum + sign * sum,
				squares: sums.squares + sign * square
			});
	}
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
