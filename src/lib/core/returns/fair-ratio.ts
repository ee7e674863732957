import { normalCdf, Z80 } from '../statistics/normal';
import { effectLevels, SHOP, type EffectLevels, type LevelKind } from './effect-levels';
import { effectCurve, effectSlope, type EffectCurve } from './effect-step';
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

const ROUNDS = 60;
const CLOSE = 1e-5;
/** Spreads move by so much of a step: effects follow them only a round later. */
const CAREFUL = 0.5;
/**
 * What is believed of a kind's spread before its levels are seen, its middle: what is done, to what and by whom explains more than the
 * piece that is used for it, where the jobs cannot tell them apart. Choices.
 */
const BELIEVED: Readonly<Record<ReturnKind, number>> = {
	operation: 0.4,
	model: 0.45,
	technician: 0.35,
	lot: 0.3,
	source: 0.25,
	part: 0.17,
	method: 0.15
};
/** How far off that may be: standard deviation of the logarithm. A choice. */
const BELIEVED_WITHIN = 0.6;

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
	{ start, close = CLOSE }: Fitting = {}
): Generator<void, Effects> {
	const levels = effectLevels(jobs);
	const { names, kinds, rows } = levels;
	const effect = Float64Array.from(names, (name, at) => {
		const kind = kinds[at] as LevelKind;
		return kind === SHOP ? 0 : (start?.of[kind].get(name)?.effect ?? 0);
	});
	const spread: Spreads = { ...(start?.spread ?? BELIEVED) };
	const information: Spreads = { ...spread };
	const order = [...jobs.keys()].sort(
		(a, b) => (jobs[a] as FollowedJob).time - (jobs[b] as FollowedJob).time
	);
	const risk = new Float64Array(jobs.length);
	let [moved, rounds] = [0, 0];
	let base: ReturnType<typeof baseHazard>;
	let curve: EffectCurve;
	do {
		rows.forEach((row, i) => {
			let sum = 0;
			for (const at of row) sum += effect[at] as number;
			risk[i] = Math.exp(sum);
		});
		base = baseHazard(jobs, order, risk);
		const state = { effect, spread, risk, cumulated: base.at, mix: mixOf(levels, effect) };
		curve = effectCurve(levels, state);
		yield;
		const solved = curve.solve(effectSlope(jobs, levels, state));
		moved = 0;
		solved.forEach((step, at) => {
			// what the shop as a whole does is in the base hazard
			if (kinds[at] === SHOP) return;
			const length = Math.max(-1, Math.min(1, step));
			effect[at] = (effect[at] as number) + length;
			moved = Math.max(moved, Math.abs(length));
		});
		for (const kind of RETURN_KINDS) {
			const next = spreadOf(kind, levels, { effect, variance: curve.variance, spread: spread[kind] });
			moved = Math.max(moved, Math.abs(next.spread - spread[kind]));
			[spread[kind], information[kind]] = [next.spread, next.information];
		}
		rounds += 1;
	} while (moved >= close && rounds < ROUNDS);
	const levelEffects = Object.fromEntries(RETURN_KINDS.map((kind) => [kind, new Map()])) as unknown as Record<
		ReturnKind,
		Map<string, LevelEffect>
	>;
	const reference = besideMean(levels, { effect, spread, information, curve });
	names.forEach((name, at) => {
		const kind = kinds[at] as LevelKind;
		if (kind !== SHOP) levelEffects[kind].set(name, reference[at] as LevelEffect);
	});
	return { of: levelEffects, spread, base: base.after };
}

/** Of each technician, what else his jobs foretell, on average, beside the mean of all; nothing for other levels. */
function mixOf({ rows, kinds, jobs }: EffectLevels, effect: Float64Array): Float64Array {
	const mix = new Float64Array(kinds.length);
	const people = Uint8Array.from(kinds, (kind) => (kind === 'technician' ? 1 : 0));
	for (const row of rows) {
		let sum = 0;
		for (const at of row) if (people[at] === 0) sum += effect[at] as number;
		for (const at of row) if (people[at] === 1) mix[at] = (mix[at] as number) + sum;
	}
	const technicians = [...mix.keys()].filter((at) => people[at] === 1);
	const total = (valueAt: (at: number) => number) => technicians.reduce((sum, at) => sum + valueAt(at), 0);
	const mean =
		total((at) => mix[at] as number) /
		Math.max(
			1,
			total((at) => jobs[at] as number)
		);
	for (const at of technicians) mix[at] = (mix[at] as number) / (jobs[at] as number) - mean;
	return mix;
}

/** One step of Fisher scoring towards a kind's likeliest spread, on its logarithm, and what the levels tell of it. */
function spreadOf(
	kind: ReturnKind,
	{ kinds }: EffectLevels,
	{ effect, variance, spread }: { effect: Float64Array; variance: Float64Array; spread: number }
): { spread: number; information: number } {
	let gradient = -Math.log(spread / BELIEVED[kind]) / BELIEVED_WITHIN ** 2;
	let information = 1 / BELIEVED_WITHIN ** 2;
	kinds.forEach((levelKind, at) => {
		if (levelKind !== kind) return;
		const told = 1 - (variance[at] as number) / spread ** 2;
		gradient += ((effect[at] as number) / spread) ** 2 - told;
		information += 2 * told ** 2;
	});
	return {
		spread: spread * Math.exp(Math.max(-0.5, Math.min(0.5, (CAREFUL * gradient) / information))),
		information
	};
}

/** Breslow's estimate: after each time with events, events over the risk of all that were still followed. */
function baseHazard(jobs: readonly FollowedJob[], order: readonly number[], risk: Float64Array) {
	let stillAtRisk = 0;
	for (const i of order) stillAtRisk += risk[i] as number;
	const times: number[] = [];
	const sums: number[] = [];
	const at = new Float64Array(jobs.length);
	let sum = 0;
	for (let first = 0; first < order.length;) {
		const { time } = jobs[order[first] as number] as FollowedJob;
		let [last, events, atRisk] = [first, 0, 0];
		for (; last < order.length; last++) {
			const i = order[last] as number;
			const job = jobs[i] as FollowedJob;
			if (job.time !== time) break;
			if (job.event) events += 1;
			atRisk += risk[i] as number;
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
 * others. The spreads are not known either: how far an effect moves with each adds to its doubt (Kass & Steffey, JASA 84, 1989).
 */
function besideMean(
	{ kinds, jobs }: EffectLevels,
	{
		effect,
		spread,
		information,
		curve: { solve, variance }
	}: { effect: Float64Array; spread: Spreads; information: Spreads; curve: EffectCurve }
): LevelEffect[] {
	const n = kinds.length;
	const moving = RETURN_KINDS.map((kind) => ({
		information: information[kind],
		by: solve(effect.map((value, at) => (kinds[at] === kind ? (2 * value) / spread[kind] ** 2 : 0)))
	}));
	const effects = new Array<LevelEffect>(n);
	for (const kind of RETURN_KINDS) {
		const levelsOfKind = [...kinds.keys()].filter((at) => kinds[at] === kind);
		if (levelsOfKind.length === 0) continue;
		const total = (valueAt: (at: number) => number) => levelsOfKind.reduce((sum, at) => sum + valueAt(at), 0);
		const hazard = (at: number) => (jobs[at] as number) * Math.exp(effect[at] as number);
		const [sum, all] = [total(hazard), total((at) => jobs[at] as number)];
		const share = new Float64Array(n);
		for (const at of levelsOfKind) share[at] = hazard(at) / sum;
		const mean = (values: Float64Array) => total((at) => (share[at] as number) * (values[at] as number));
		const shared = solve(share);
		const means = { shared: mean(shared), moving: moving.map(({ by: columns }) => mean(columns)) };
		for (const at of levelsOfKind) {
			const known = (variance[at] as number) - 2 * (shared[at] as number) + means.shared;
			const spreads = moving.reduce(
				(doubt, { by: solved, information: precision }, k) =>
					doubt + ((solved[at] as number) - (means.moving[k] as number)) ** 2 / precision,
				0
			);
			effects[at] = {
				effect: effect[at] as number,
				over: (effect[at] as number) - Math.log(sum / all),
				sd: Math.sqrt(Math.max(SURE, known + spreads))
			};
		}
	}
	return effects;
}
/** Nothing is surer: the only row of its kind is its own mean. */
const SURE = 1e-8;

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
