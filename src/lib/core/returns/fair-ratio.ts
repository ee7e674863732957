import { cholesky, choleskySolve, inverseDiagonal } from '../statistics/cholesky';
import { normalCdf, Z80 } from '../statistics/normal';
import { RETURN_KINDS, type FollowedJob, type ReturnKind } from './followed-jobs';

/**
 * What each operation, part, lot, source, technician and model does to the hazard of coming back, all at once: nobody is blamed for what
 * another factor explains. A proportional hazard with a random effect for every level, normal in logarithms with a spread of its own for
 * each kind; effects of several levels in one job multiply. Fitted as a penalised Poisson regression on the cumulative base hazard
 * (Breslow 1974), spreads by empirical Bayes (the EM step of a Laplace approximation; Breslow & Clayton, JASA 88, 1993).
 */
export interface Effects {
	/** the level's effect in logarithms, and its standard deviation; by kind and level */
	of: Readonly<Record<ReturnKind, ReadonlyMap<string, { effect: number; sd: number; jobs: number }>>>;
	/** spread of the effects of each kind, standard deviation in logarithms */
	spread: Readonly<Record<ReturnKind, number>>;
	/** cumulative base hazard after a time, of a job whose effects are all nothing */
	base: (days: number) => number;
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

const ROUNDS = 40;
const SPREAD_AT_FIRST = 0.5;
/** What is believed of a kind's spread before its levels are seen, as if so many had shown it: a few levels say little. A choice. */
const BELIEF = { levels: 2, spread: 0.35 } as const;
const CLOSE = 1e-6;

interface Design {
	kinds: ReturnKind[];
	names: string[];
	/** of each job, the numbers of its levels */
	rows: Int32Array[];
	jobs: number[];
}

function designOf(jobs: readonly FollowedJob[]): Design {
	const numbers = new Map<string, number>();
	const design: Design = { kinds: [], names: [], rows: [], jobs: [] };
	for (const { levels } of jobs) {
		const row: number[] = [];
		for (const kind of RETURN_KINDS) {
			for (const name of new Set(levels[kind])) {
				const key = `${kind} ${name}`;
				let at = numbers.get(key);
				if (at === undefined) {
					at = design.names.length;
					numbers.set(key, at);
					design.kinds.push(kind);
					design.names.push(name);
					design.jobs.push(0);
				}
				design.jobs[at] = (design.jobs[at] as number) + 1;
				row.push(at);
			}
		}
		design.rows.push(Int32Array.from(row));
	}
	return design;
}

interface Fitting {
	/** what an earlier fit found of fewer jobs: fewer rounds are needed from there */
	start?: Effects | undefined;
	/** rounds end when no effect moves further */
	close?: number;
}

/** @param jobs followed jobs, any order */
export function comebackEffects(
	jobs: readonly FollowedJob[],
	{ start, close = CLOSE }: Fitting = {}
): Effects {
	const design = designOf(jobs);
	const n = design.names.length;
	const effect = Float64Array.from(
		design.names,
		(name, at) => start?.of[design.kinds[at] as ReturnKind].get(name)?.effect ?? 0
	);
	let variance: Float64Array = new Float64Array(n).fill(SPREAD_AT_FIRST ** 2);
	const spread = Object.fromEntries(
		RETURN_KINDS.map((kind) => [kind, start?.spread[kind] ?? SPREAD_AT_FIRST])
	) as Record<ReturnKind, number>;
	const order = [...jobs.keys()].sort(
		(a, b) => (jobs[a] as FollowedJob).time - (jobs[b] as FollowedJob).time
	);
	const risk = new Float64Array(jobs.length);
	let base = baseHazard(jobs, order, risk.fill(1));
	for (let round = 0; round < ROUNDS; round++) {
		design.rows.forEach((row, i) => {
			let sum = 0;
			for (const at of row) sum += effect[at] as number;
			risk[i] = Math.exp(sum);
		});
		base = baseHazard(jobs, order, risk);
		const step = newtonStep(jobs, design, { effect, spread, risk, cumulated: base.at });
		variance = step.variance;
		let moved = 0;
		for (let at = 0; at < n; at++) {
			const by = Math.max(-1, Math.min(1, step.by[at] as number));
			effect[at] = (effect[at] as number) + by;
			moved = Math.max(moved, Math.abs(by));
		}
		const before = { ...spread };
		for (const kind of RETURN_KINDS) spread[kind] = spreadOf(kind, design, effect, variance);
		const settled = RETURN_KINDS.every((kind) => Math.abs(spread[kind] - before[kind]) < close);
		if (moved < close && settled) break;
	}
	const of = Object.fromEntries(RETURN_KINDS.map((kind) => [kind, new Map()])) as unknown as Record<
		ReturnKind,
		Map<string, { effect: number; sd: number; jobs: number }>
	>;
	design.names.forEach((name, at) =>
		of[design.kinds[at] as ReturnKind].set(name, {
			effect: effect[at] as number,
			sd: Math.sqrt(variance[at] as number),
			jobs: design.jobs[at] as number
		})
	);
	return { of, spread, base: base.after };
}

function spreadOf(kind: ReturnKind, { kinds }: Design, effect: Float64Array, variance: Float64Array): number {
	let [sum, count] = [0, 0];
	kinds.forEach((each, at) => {
		if (each !== kind) return;
		sum += (effect[at] as number) ** 2 + (variance[at] as number);
		count += 1;
	});
	return Math.sqrt((sum + BELIEF.levels * BELIEF.spread ** 2) / (count + BELIEF.levels));
}

/** Breslow's estimate: after each time with events, events over the risk of all that were still followed. */
function baseHazard(jobs: readonly FollowedJob[], order: readonly number[], risk: Float64Array) {
	let left = 0;
	for (const i of order) left += risk[i] as number;
	const times: number[] = [];
	const sums: number[] = [];
	const at = new Float64Array(jobs.length);
	let sum = 0;
	for (let first = 0; first < order.length;) {
		const { time } = jobs[order[first] as number] as FollowedJob;
		let [last, events, gone] = [first, 0, 0];
		for (; last < order.length; last++) {
			const i = order[last] as number;
			const job = jobs[i] as FollowedJob;
			if (job.time !== time) break;
			if (job.event) events += 1;
			gone += risk[i] as number;
		}
		if (events > 0 && left > 0) {
			sum += events / left;
			times.push(time);
			sums.push(sum);
		}
		for (let k = first; k < last; k++) at[order[k] as number] = sum;
		left -= gone;
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

interface State {
	effect: Float64Array;
	spread: Readonly<Record<ReturnKind, number>>;
	risk: Float64Array;
	/** cumulative base hazard of each job until it was last seen */
	cumulated: Float64Array;
}

/** So many levels are solved together; with more each is solved for itself, and its interval leaves out what others take. A choice. */
const MOST_TOGETHER = 700;

function newtonStep(
	jobs: readonly FollowedJob[],
	{ rows, kinds }: Design,
	{ effect, spread, risk, cumulated }: State
): { by: Float64Array; variance: Float64Array } {
	const n = kinds.length;
	const together = n <= MOST_TOGETHER;
	const gradient = new Float64Array(n);
	const curve = new Float64Array(together ? n * n : n);
	rows.forEach((row, i) => {
		const expected = (cumulated[i] as number) * (risk[i] as number);
		const over = ((jobs[i] as FollowedJob).event ? 1 : 0) - expected;
		for (const a of row) {
			gradient[a] = (gradient[a] as number) + over;
			if (!together) curve[a] = (curve[a] as number) + expected;
			else for (const b of row) if (b <= a) curve[a * n + b] = (curve[a * n + b] as number) + expected;
		}
	});
	for (let a = 0; a < n; a++) {
		const weight = 1 / spread[kinds[a] as ReturnKind] ** 2;
		gradient[a] = (gradient[a] as number) - weight * (effect[a] as number);
		const at = together ? a * n + a : a;
		curve[at] = (curve[at] as number) + weight;
	}
	if (!together) {
		return {
			by: gradient.map((slope, a) => slope / (curve[a] as number)),
			variance: curve.map((each) => 1 / each)
		};
	}
	const lower = cholesky(curve, n);
	return { by: choleskySolve(lower, n, gradient), variance: inverseDiagonal(lower, n) };
}

/** A row against the shop's mean of its kind, weighted by jobs. */
export function fairRatio({ of }: Pick<Effects, 'of'>, kind: ReturnKind, level: string): FairRatio | null {
	const own = of[kind].get(level);
	if (!own) return null;
	let [sum, jobs] = [0, 0];
	for (const each of of[kind].values()) {
		sum += each.jobs * Math.exp(each.effect);
		jobs += each.jobs;
	}
	const over = own.effect - Math.log(sum / jobs);
	return {
		ratio: Math.exp(over),
		low: Math.exp(over - Z80 * own.sd),
		high: Math.exp(over + Z80 * own.sd),
		chance_worse: normalCdf(over / own.sd)
	};
}
