import { addAt, indexAt, itemAt, valueAt } from '../units/vector';
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
	caseMix: Float64Array;
}

/** The inverse of the observed information: variances of the effects, and Newton steps. */
export interface InformationInverse {
	/** of each level's effect */
	variance: Float64Array;
	/** the inverse times a vector */
	solve: (b: Float64Array) => Float64Array;
}

/** How far technicians may lean with the jobs they are given: standard deviation of the slope; a choice, wide. */
const MUNDLAK_SD = 2;

/**
 * What the jobs and the prior say of each effect: the gradient of the penalised Poisson regression's log posterior.
 *
 * A technician's effect is drawn around what the jobs he is given foretell of it, times a slope that is not known: who is given the hard
 * jobs is no chance, and effects drawn around nothing would charge him with half of what is the jobs' (Mundlak, Econometrica 46, 1978).
 */
export function logPosteriorGradient(
	jobs: readonly FollowedJob[],
	{ rows, kinds }: EffectLevels,
	{ effect, spread, risk, cumulated, caseMix }: EffectState
): Float64Array {
	const gradient = new Float64Array(kinds.length);
	for (let i = 0; i < rows.length; i++) {
		const excess = (itemAt(jobs, i).event ? 1 : 0) - valueAt(cumulated, i) * valueAt(risk, i);
		for (const a of itemAt(rows, i)) addAt(gradient, a, excess);
	}
	const { weight, projection } = mundlakTerm(effect, spread.technician, caseMix);
	kinds.forEach((kind, a) => {
		addAt(
			gradient,
			a,
			-priorPrecision(kind, spread) * valueAt(effect, a) + weight * projection * valueAt(caseMix, a)
		);
	});
	return gradient;
}

/** Precision of the shop's own effect: next to flat, enough for an answer where no job came back yet. */
const SHOP_PRECISION = 1e-9;
const priorPrecision = (kind: LevelKind, spread: EffectState['spread']): number =>
	kind === SHOP ? SHOP_PRECISION : 1 / spread[kind] ** 2;

/** What the prior gives back along the case mix of the technicians, its slope integrated out. */
function mundlakTerm(
	effect: Float64Array,
	spread: number,
	caseMix: Float64Array
): { weight: number; projection: number } {
	let [square, slope] = [0, 0];
	caseMix.forEach((share, a) => {
		square += share * share;
		slope += share * valueAt(effect, a);
	});
	return {
		weight: MUNDLAK_SD ** 2 / (spread ** 2 + MUNDLAK_SD ** 2 * square) / spread ** 2,
		projection: slope
	};
}

/**
 * The observed information (negative Hessian) of the same log posterior: a ridge on every effect. Lots are eliminated first (Schur
 * complement); where several of them meet in one job, what they share is put on the diagonal of each, so that it is never too small and
 * no step too long (majorisation: Lange, Hunter & Yang, J. Comput. Graph. Stat. 9, 2000).
 */
export function observedInformation(
	levels: EffectLevels,
	{ effect, spread, risk, cumulated, caseMix }: EffectState
): InformationInverse {
	const { kinds, place, jointCount: size, eliminatedCount, cross } = levels;
	const hessian = new Float64Array(size * size);
	const [diagonal, majorised] = [new Float64Array(eliminatedCount), new Float64Array(eliminatedCount)];
	const crossBlock = new Float64Array(indexAt(cross.from, eliminatedCount));
	for (let i = 0; i < cumulated.length; i++) {
		const expected = valueAt(cumulated, i) * valueAt(risk, i);
		const places = itemAt(levels.joint, i);
		for (let x = 0; x < places.length; x++) {
			const row = indexAt(places, x) * size;
			for (let y = 0; y <= x; y++) {
				const at = row + indexAt(places, y);
				addAt(hessian, at, expected);
			}
		}
		const lots = itemAt(levels.eliminated, i);
		if (lots.length === 0) continue;
		for (const slot of itemAt(cross.of, i)) addAt(crossBlock, slot, expected);
		for (const k of lots) {
			addAt(diagonal, k, expected);
			addAt(majorised, k, lots.length * expected);
		}
	}
	kinds.forEach((kind, a) => {
		const p = indexAt(place, a);
		const weight = priorPrecision(kind, spread);
		if (p >= 0) addAt(hessian, p * size + p, weight);
		else {
			addAt(diagonal, -1 - p, weight);
			addAt(majorised, -1 - p, weight);
		}
	});
	subtractMundlakTerm(hessian, levels, {
		caseMix,
		weight: mundlakTerm(effect, spread.technician, caseMix).weight
	});
	schurComplement(hessian, levels, { crossBlock, majorised });
	const factored = { lower: cholesky(hessian, size), crossBlock, diagonal, majorised };
	return { variance: posteriorVariance(levels, factored), solve: informationSolver(levels, factored) };
}

function subtractMundlakTerm(
	hessian: Float64Array,
	{ place, jointCount: size }: EffectLevels,
	{ caseMix, weight }: { caseMix: Float64Array; weight: number }
): void {
	const mixed = [...caseMix.keys()].filter((a) => caseMix[a] !== 0 && indexAt(place, a) >= 0);
	for (const a of mixed) {
		for (const b of mixed) {
			const [p, q] = [indexAt(place, a), indexAt(place, b)];
			if (q > p) continue;
			addAt(hessian, p * size + q, -weight * valueAt(caseMix, a) * valueAt(caseMix, b));
		}
	}
}

/** Takes the eliminated levels out of the joint block. */
function schurComplement(
	hessian: Float64Array,
	{ jointCount: size, cross }: EffectLevels,
	{ crossBlock, majorised }: Pick<Factored, 'crossBlock' | 'majorised'>
): void {
	cross.at.forEach((at, k) => {
		const from = indexAt(cross.from, k);
		for (let i = 0; i < at.length; i++) {
			const row = indexAt(at, i) * size;
			const share = valueAt(crossBlock, from + i) / valueAt(majorised, k);
			for (let j = 0; j <= i; j++) {
				const place = row + indexAt(at, j);
				addAt(hessian, place, -share * valueAt(crossBlock, from + j));
			}
		}
	});
}

interface Factored {
	/** Cholesky factor of the joint block's Schur complement */
	lower: Float64Array;
	/** information between eliminated and joint levels, by meeting */
	crossBlock: Float64Array;
	/** information of each eliminated level, as it is and majorised so that no step is too long */
	diagonal: Float64Array;
	majorised: Float64Array;
}

function informationSolver(
	{ place, jointCount: size, eliminatedCount, cross }: EffectLevels,
	{ lower, crossBlock, majorised }: Factored
): InformationInverse['solve'] {
	return (b) => {
		const reduced = new Float64Array(size);
		const eliminatedPart = new Float64Array(eliminatedCount);
		place.forEach((p, a) => {
			if (p < 0) eliminatedPart[-1 - p] = valueAt(b, a) / valueAt(majorised, -1 - p);
			else reduced[p] = valueAt(b, a);
		});
		cross.at.forEach((at, k) => {
			const from = indexAt(cross.from, k);
			at.forEach((p, i) => {
				addAt(reduced, p, -valueAt(crossBlock, from + i) * valueAt(eliminatedPart, k));
			});
		});
		const x = choleskySolve(lower, size, reduced);
		return Float64Array.from(place, (p) => {
			if (p >= 0) return valueAt(x, p);
			const [k, from] = [-1 - p, indexAt(cross.from, -1 - p)];
			let share = 0;
			cross.at[k]?.forEach((q, i) => (share += valueAt(crossBlock, from + i) * valueAt(x, q)));
			return valueAt(eliminatedPart, k) - share / valueAt(majorised, k);
		});
	};
}

function posteriorVariance(
	{ place, jointCount: size, cross }: EffectLevels,
	{ lower, crossBlock, diagonal }: Factored
): Float64Array {
	const full = inverse(lower, size);
	return Float64Array.from(place, (p) => {
		if (p >= 0) return valueAt(full, p * size + p);
		const [k, from] = [-1 - p, indexAt(cross.from, -1 - p)];
		const at = itemAt(cross.at, k);
		let square = 0;
		for (let i = 0; i < at.length; i++) {
			const row = indexAt(at, i) * size;
			const mine = valueAt(crossBlock, from + i);
			let crossed = 0;
			for (let j = 0; j < i; j++)
				crossed += valueAt(crossBlock, from + j) * valueAt(full, row + indexAt(at, j));
			square += mine * (2 * crossed + mine * valueAt(full, row + indexAt(at, i)));
		}
		return 1 / valueAt(diagonal, k) + square / valueAt(diagonal, k) ** 2;
	});
}
