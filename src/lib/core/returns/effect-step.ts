import { cholesky, choleskySolve, inverse } from '../statistics/cholesky';
import { SHOP, type EffectLevels, type LevelKind } from './effect-levels';
import type { FollowedJob, ReturnKind } from './followed-jobs';

/** Effects as they stand before a step towards the likeliest. */
export interface EffectState {
	effect: Float64Array;
	spread: Readonly<Record<ReturnKind, number>>;
	/** of each job, the product of what its levels do */
	risk: Float64Array;
	/** cumulative base hazard of each job until it was last seen */
	cumulated: Float64Array;
	/** of each technician, what else his jobs foretell beside the mean of all; nothing for other levels */
	mix: Float64Array;
}

/** How surely effects are known around a state, and how far a slope takes them. */
export interface EffectCurve {
	/** of each level's effect */
	variance: Float64Array;
	/** the curvature's inverse times a vector */
	solve: (b: Float64Array) => Float64Array;
}

/** How far technicians may lean with the jobs they are given: standard deviation of the slope; a choice, wide. */
const LEAN = 2;

/**
 * What the jobs and the prior say of each effect: the slope of the penalised Poisson regression.
 *
 * A technician's effect is drawn around what the jobs he is given foretell of it, times a slope that is not known: who is given the hard
 * jobs is no chance, and effects drawn around nothing would charge him with half of what is the jobs' (Mundlak, Econometrica 46, 1978).
 */
export function effectSlope(
	jobs: readonly FollowedJob[],
	{ rows, kinds }: EffectLevels,
	{ effect, spread, risk, cumulated, mix }: EffectState
): Float64Array {
	const slope = new Float64Array(kinds.length);
	for (let i = 0; i < rows.length; i++) {
		const excess = ((jobs[i] as FollowedJob).event ? 1 : 0) - (cumulated[i] as number) * (risk[i] as number);
		for (const a of rows[i] as Int32Array) slope[a] = (slope[a] as number) + excess;
	}
	const { weight, along } = leanOf(effect, spread.technician, mix);
	kinds.forEach((kind, a) => {
		slope[a] =
			(slope[a] as number) -
			believed(kind, spread) * (effect[a] as number) +
			weight * along * (mix[a] as number);
	});
	return slope;
}

/** Of the shop as a whole next to nothing is believed: enough for an answer where no job came back yet. */
const HARDLY = 1e-9;
const believed = (kind: LevelKind, spread: EffectState['spread']): number =>
	kind === SHOP ? HARDLY : 1 / spread[kind] ** 2;

/** What the prior gives back along the mix of the technicians' jobs, its slope taken out. */
function leanOf(effect: Float64Array, spread: number, mix: Float64Array): { weight: number; along: number } {
	let [square, slope] = [0, 0];
	mix.forEach((share, a) => {
		square += share * share;
		slope += share * (effect[a] as number);
	});
	return { weight: LEAN ** 2 / (spread ** 2 + LEAN ** 2 * square) / spread ** 2, along: slope };
}

/**
 * The curvature of the same regression. Levels that are solved for alone are taken out first (Schur complement); where several of them
 * meet in one job, what they share is put on the diagonal of each, so that the curvature is never too small and no step too long (Lange,
 * Hunter & Yang, J. Comput. Graph. Stat. 9, 2000).
 */
export function effectCurve(
	levels: EffectLevels,
	{ effect, spread, risk, cumulated, mix }: EffectState
): EffectCurve {
	const { kinds, place, together: smallRows, alone: lotCount, meeting } = levels;
	const curve = new Float64Array(smallRows * smallRows);
	const [right, bounded] = [new Float64Array(lotCount), new Float64Array(lotCount)];
	const solved = new Float64Array(meeting.from[lotCount] as number);
	for (let i = 0; i < cumulated.length; i++) {
		const expected = (cumulated[i] as number) * (risk[i] as number);
		const places = levels.near[i] as Int32Array;
		for (let x = 0; x < places.length; x++) {
			const row = (places[x] as number) * smallRows;
			for (let y = 0; y <= x; y++) {
				const at = row + (places[y] as number);
				curve[at] = (curve[at] as number) + expected;
			}
		}
		const lots = levels.far[i] as Int32Array;
		if (lots.length === 0) continue;
		for (const slot of meeting.of[i] as Int32Array) solved[slot] = (solved[slot] as number) + expected;
		for (const k of lots) {
			right[k] = (right[k] as number) + expected;
			bounded[k] = (bounded[k] as number) + lots.length * expected;
		}
	}
	kinds.forEach((kind, a) => {
		const p = place[a] as number;
		const weight = believed(kind, spread);
		if (p >= 0) curve[p * smallRows + p] = (curve[p * smallRows + p] as number) + weight;
		else {
			right[-1 - p] = (right[-1 - p] as number) + weight;
			bounded[-1 - p] = (bounded[-1 - p] as number) + weight;
		}
	});
	addLean(curve, levels, { mix, weight: leanOf(effect, spread.technician, mix).weight });
	takeOut(curve, levels, { by: solved, bounded });
	const factored = { lower: cholesky(curve, smallRows), by: solved, own: right, bounded };
	return { variance: varianceOf(levels, factored), solve: solverOf(levels, factored) };
}

function addLean(
	curve: Float64Array,
	{ place, together: smallRows }: EffectLevels,
	{ mix, weight }: { mix: Float64Array; weight: number }
): void {
	const leaning = [...mix.keys()].filter((a) => mix[a] !== 0 && (place[a] as number) >= 0);
	for (const a of leaning) {
		for (const b of leaning) {
			const [p, q] = [place[a] as number, place[b] as number];
			if (q > p) continue;
			curve[p * smallRows + q] =
				(curve[p * smallRows + q] as number) - weight * (mix[a] as number) * (mix[b] as number);
		}
	}
}

/** Takes the levels that are solved for alone out of what is left of the curvature. */
function takeOut(
	curve: Float64Array,
	{ together: smallRows, meeting }: EffectLevels,
	{ by: solved, bounded }: Pick<Factored, 'by' | 'bounded'>
): void {
	meeting.at.forEach((at, k) => {
		const from = meeting.from[k] as number;
		for (let i = 0; i < at.length; i++) {
			const row = (at[i] as number) * smallRows;
			const share = (solved[from + i] as number) / (bounded[k] as number);
			for (let j = 0; j <= i; j++) {
				const place = row + (at[j] as number);
				curve[place] = (curve[place] as number) - share * (solved[from + j] as number);
			}
		}
	});
}

interface Factored {
	/** of the levels solved for together, after the others were taken out */
	lower: Float64Array;
	/** of each meeting, what is expected of its jobs */
	by: Float64Array;
	/** curvature of each level solved for alone, as it is and so that no step is too long */
	own: Float64Array;
	bounded: Float64Array;
}

function solverOf(
	{ place, together: smallRows, alone: lotCount, meeting }: EffectLevels,
	{ lower, by: solved, bounded }: Factored
): EffectCurve['solve'] {
	return (b) => {
		const right = new Float64Array(smallRows);
		const lotPart = new Float64Array(lotCount);
		place.forEach((p, a) => {
			if (p < 0) lotPart[-1 - p] = (b[a] as number) / (bounded[-1 - p] as number);
			else right[p] = b[a] as number;
		});
		meeting.at.forEach((at, k) => {
			const from = meeting.from[k] as number;
			at.forEach((p, i) => {
				right[p] = (right[p] as number) - (solved[from + i] as number) * (lotPart[k] as number);
			});
		});
		const x = choleskySolve(lower, smallRows, right);
		return Float64Array.from(place, (p) => {
			if (p >= 0) return x[p] as number;
			const [k, from] = [-1 - p, meeting.from[-1 - p] as number];
			let share = 0;
			meeting.at[k]?.forEach((q, i) => (share += (solved[from + i] as number) * (x[q] as number)));
			return (lotPart[k] as number) - share / (bounded[k] as number);
		});
	};
}

function varianceOf(
	{ place, together: smallRows, meeting }: EffectLevels,
	{ lower, by: solved, own: right }: Factored
): Float64Array {
	const full = inverse(lower, smallRows);
	return Float64Array.from(place, (p) => {
		if (p >= 0) return full[p * smallRows + p] as number;
		const [k, from] = [-1 - p, meeting.from[-1 - p] as number];
		const at = meeting.at[k] as Int32Array;
		let square = 0;
		for (let i = 0; i < at.length; i++) {
			const row = (at[i] as number) * smallRows;
			const mine = solved[from + i] as number;
			let crossed = 0;
			for (let j = 0; j < i; j++)
				crossed += (solved[from + j] as number) * (full[row + (at[j] as number)] as number);
			square += mine * (2 * crossed + mine * (full[row + (at[i] as number)] as number));
		}
		return 1 / (right[k] as number) + square / (right[k] as number) ** 2;
	});
}
