import { addAt, itemAt, valueAt } from '../units/vector';
import { normalCdf, Z80 } from '../statistics/normal';
import { effectLevels, SHOP, type EffectLevels } from './effect-levels';
import { observedInformation, logPosteriorGradient, type InformationInverse } from './penalised-poisson';
import { RETURN_KINDS, type FollowedJob, type ReturnKind } from './followed-jobs';

/**
 * What each operation, part, lot, source, technician, model and procedure does to the hazard of coming back, all at once: nobody is
 * blamed for what another factor explains. A proportional hazard with a random effect for every level, normal in logarithms with a spread
 * of its own for each kind; effects of several levels in one job multiply. Fitted as a penalised Poisson regression on the cumulative base
 * hazard (Breslow 1974), spreads by their likeliest values under a Laplace approximation (Breslow & Clayton, JASA 88, 1993).
 */
export interface Effects {
	of: Readonly<Record<ReturnKind, ReadonlyMap<string, LevelEffect>>>;
	/** spread of the effects of each kind, standard deviation in logarithms */
	spread: Readonly<Record<ReturnKind, number>>;
	/** cumulative base hazard after a time, of a job whose effects are all nothing */
	base: (days: number) => number;
}

/** All in logarithms of a hazard. */
interface LevelEffect {
	effect: number;
	/** beside the shop's mean of its kind, weighted by jobs, and its standard deviation */
	over: number;
	sd: number;
}

export interface FairRatio {
	/** the row's hazard over what the shop as a whole would have had with the same jobs */
	ratio: number;
	/** 80 % */
	low: number;
	high: number;
	/** of a ratio over 1 */
	chance_worse: number;
}

const MOST_ROUNDS = 60;
const TOLERANCE = 1e-5;
/** Spreads move by so much of a step: effects follow them only a round later. */
const DAMPING = 0.5;
/**
 * Prior median of a kind's spread: what is done, to what and by whom explains more than the
 * piece that is used for it, where the jobs cannot tell them apart. Choices.
 */
const PRIOR_SPREAD: Readonly<Record<ReturnKind, number>> = {
	operation: 0.4,
	model: 0.45,
	technician: 0.35,
	lot: 0.3,
	source: 0.25,
	part: 0.17,
	method: 0.15
};
/** How far off that may be: standard deviation of the logarithm. A choice. */
const PRIOR_LOG_SD = 0.6;

interface Fitting {
	/** what an earlier fit found of fewer jobs: fewer rounds are needed from there */
	start?: Effects | undefined;
	/** rounds end when no effect moves further */
	close?: number;
}
type Spreads = Record<ReturnKind, number>;

/** The same in steps, of rounds towards the likeliest. */
export function* comebackEffectsInSteps(
	jobs: readonly FollowedJob[],
	{ start, close = TOLERANCE }: Fitting = {}
): Generator<void, Effects> {
	const levels = effectLevels(jobs);
	const { names, kinds, rows } = levels;
	const effect = Float64Array.from(names, (name, at) => {
		const kind = itemAt(kinds, at);
		return kind === SHOP ? 0 : (start?.of[kind].get(name)?.effect ?? 0);
	});
	const spread: Spreads = { ...(start?.spread ?? PRIOR_SPREAD) };
	const information: Spreads = { ...spread };
	const order = [...jobs.keys()].sort((a, b) => itemAt(jobs, a).time - itemAt(jobs, b).time);
	const risk = new Float64Array(jobs.length);
	let [moved, rounds] = [0, 0];
	let base: ReturnType<typeof baseHazard>;
	let inverse: InformationInverse;
	do {
		rows.forEach((row, i) => {
			let sum = 0;
			for (const at of row) sum += valueAt(effect, at);
			risk[i] = Math.exp(sum);
		});
		base = baseHazard(jobs, order, risk);
		const state = { effect, spread, risk, cumulated: base.at, caseMix: caseMixOf(levels, effect) };
		inverse = observedInformation(levels, state);
		yield;
		const solved = inverse.solve(logPosteriorGradient(jobs, levels, state));
		moved = 0;
		solved.forEach((step, at) => {
			// what the shop as a whole does is in the base hazard
			if (kinds[at] === SHOP) return;
			const length = Math.max(-1, Math.min(1, step));
			addAt(effect, at, length);
			moved = Math.max(moved, Math.abs(length));
		});
		for (const kind of RETURN_KINDS) {
			const next = spreadOf(kind, levels, { effect, variance: inverse.variance, spread: spread[kind] });
			moved = Math.max(moved, Math.abs(next.spread - spread[kind]));
			[spread[kind], information[kind]] = [next.spread, next.information];
		}
		rounds += 1;
	} while (moved >= close && rounds < MOST_ROUNDS);
	const levelEffects = Object.fromEntries(RETURN_KINDS.map((kind) => [kind, new Map()])) as unknown as Record<
		ReturnKind,
		Map<string, LevelEffect>
	>;
	const reference = contrastsToMean(levels, { effect, spread, information, inverse });
	names.forEach((name, at) => {
		const kind = itemAt(kinds, at);
		if (kind !== SHOP) levelEffects[kind].set(name, itemAt(reference, at));
	});
	return { of: levelEffects, spread, base: base.after };
}

/** Of each technician, what else his jobs foretell, on average, beside the mean of all; nothing for other levels. */
function caseMixOf({ rows, kinds, jobs }: EffectLevels, effect: Float64Array): Float64Array {
	const caseMix = new Float64Array(kinds.length);
	const people = Uint8Array.from(kinds, (kind) => (kind === 'technician' ? 1 : 0));
	for (const row of rows) {
		let sum = 0;
		for (const at of row) if (people[at] === 0) sum += valueAt(effect, at);
		for (const at of row) if (people[at] === 1) addAt(caseMix, at, sum);
	}
	const technicians = [...caseMix.keys()].filter((at) => people[at] === 1);
	const total = (valueAt: (at: number) => number) => technicians.reduce((sum, at) => sum + valueAt(at), 0);
	const mean =
		total((at) => valueAt(caseMix, at)) /
		Math.max(
			1,
			total((at) => jobs[at] as number)
		);
	for (const at of technicians) caseMix[at] = valueAt(caseMix, at) / (jobs[at] as number) - mean;
	return caseMix;
}

/** One step of Fisher scoring towards a kind's likeliest spread, on its logarithm, and what the levels tell of it. */
function spreadOf(
	kind: ReturnKind,
	{ kinds }: EffectLevels,
	{ effect, variance, spread }: { effect: Float64Array; variance: Float64Array; spread: number }
): { spread: number; information: number } {
	let gradient = -Math.log(spread / PRIOR_SPREAD[kind]) / PRIOR_LOG_SD ** 2;
	let information = 1 / PRIOR_LOG_SD ** 2;
	kinds.forEach((levelKind, at) => {
		if (levelKind !== kind) return;
		const told = 1 - valueAt(variance, at) / spread ** 2;
		gradient += (valueAt(effect, at) / spread) ** 2 - told;
		information += 2 * told ** 2;
	});
	return {
		spread: spread * Math.exp(Math.max(-0.5, Math.min(0.5, (DAMPING * gradient) / information))),
		information
	};
}

/** Breslow's estimate: after each time with events, events over the risk of all that were still followed. */
function baseHazard(jobs: readonly FollowedJob[], order: readonly number[], risk: Float64Array) {
	let stillAtRisk = 0;
	for (const i of order) stillAtRisk += valueAt(risk, i);
	const times: number[] = [];
	const sums: number[] = [];
	const at = new Float64Array(jobs.length);
	let sum = 0;
	for (let first = 0; first < order.length;) {
		const { time } = itemAt(jobs, order[first] as number);
		let [last, events, atRisk] = [first, 0, 0];
		for (; last < order.length; last++) {
			const i = order[last] as number;
			const job = itemAt(jobs, i);
			if (job.time !== time) break;
			if (job.event) events += 1;
			atRisk += valueAt(risk, i);
		}
		if (events > 0 && stillAtRisk > 0) {
			sum += events / stillAtRisk;
			times.push(time);
			sums.push(sum);
		}
		for (let k = first; k < last; k++) at[order[k] as number] = sum;
		stillAtRisk -= atRisk;
		first = last;
	}
	return { at, after: (days: number) => sums[lastUpTo(times, days)] ?? 0 };
}

/** The place of the last time that does not lie after one; -1 where all do. */
function lastUpTo(times: readonly number[], time: number): number {
	let [low, high] = [0, times.length];
	while (low < high) {
		const middle = (low + high) >> 1;
		if ((times[middle] as number) <= time) low = middle + 1;
		else high = middle;
	}
	return low - 1;
}

/**
 * Each level beside the shop's mean of its kind, weighted by jobs: what all levels of a kind share is no doubt about one beside the
 * others. The spreads are not known either: how far an effect moves with each adds to its variance (Kass & Steffey, JASA 84, 1989).
 */
function contrastsToMean(
	{ kinds, jobs }: EffectLevels,
	{
		effect,
		spread,
		information,
		inverse: { solve, variance }
	}: { effect: Float64Array; spread: Spreads; information: Spreads; inverse: InformationInverse }
): LevelEffect[] {
	const n = kinds.length;
	const moving = RETURN_KINDS.map((kind) => ({
		information: information[kind],
		sensitivity: solve(effect.map((value, at) => (kinds[at] === kind ? (2 * value) / spread[kind] ** 2 : 0)))
	}));
	const effects = new Array<LevelEffect>(n);
	for (const kind of RETURN_KINDS) {
		const levelsOfKind = [...kinds.keys()].filter((at) => kinds[at] === kind);
		if (levelsOfKind.length === 0) continue;
		const total = (valueAt: (at: number) => number) => levelsOfKind.reduce((sum, at) => sum + valueAt(at), 0);
		const hazard = (at: number) => (jobs[at] as number) * Math.exp(valueAt(effect, at));
		const [sum, all] = [total(hazard), total((at) => jobs[at] as number)];
		const share = new Float64Array(n);
		for (const at of levelsOfKind) share[at] = hazard(at) / sum;
		const mean = (values: Float64Array) => total((at) => valueAt(share, at) * valueAt(values, at));
		const shared = solve(share);
		const means = { shared: mean(shared), moving: moving.map(({ sensitivity }) => mean(sensitivity)) };
		for (const at of levelsOfKind) {
			const residual = valueAt(variance, at) - 2 * valueAt(shared, at) + means.shared;
			const spreads = moving.reduce(
				(doubt, { sensitivity, information: precision }, k) =>
					doubt + (valueAt(sensitivity, at) - (means.moving[k] as number)) ** 2 / precision,
				0
			);
			effects[at] = {
				effect: valueAt(effect, at),
				over: valueAt(effect, at) - Math.log(sum / all),
				sd: Math.sqrt(Math.max(LEAST_VARIANCE, residual + spreads))
			};
		}
	}
	return effects;
}
/** Nothing is surer: the only row of its kind is its own mean. */
const LEAST_VARIANCE = 1e-8;

/** A row against the shop's mean of its kind, weighted by jobs. */
export function fairRatio(
	{ of: levelEffects }: Pick<Effects, 'of'>,
	kind: ReturnKind,
	level: string
): FairRatio | null {
	const effect = levelEffects[kind].get(level);
	if (!effect) return null;
	const { over, sd } = effect;
	return {
		ratio: Math.exp(over),
		low: Math.exp(over - Z80 * sd),
		high: Math.exp(over + Z80 * sd),
		chance_worse: normalCdf(over / sd)
	};
}
