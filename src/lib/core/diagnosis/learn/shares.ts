import { isCarried } from '../../units/carried';
import { addAt, valueAt } from '../../units/vector';
import type { Catalog } from '../../catalog/catalog';
import { dirichletMean, dirichletMultinomialLog, likeliestWeight } from '../../statistics/dirichlet';
import { logGamma } from '../../statistics/gamma';
import { sumOf } from '../../statistics/sum';
import { setWeightTotals } from '../fault-sets';
import { faultsOfKey, type Learned, type ModelCounts } from './learn';

/** A chance with the number of tickets that stand behind it (beliefs count with their weight). */
export interface Belief {
	chance: number;
	weight: number;
	/** variance of the log chance from not knowing which of several beliefs holds; none without */
	doubt?: number;
}

/** How often each fault is met, alone and with others. */
export interface FaultShares {
	/** share of each fault among faults of a model */
	of(model: string): Belief[];
	/** models whose older tickets count less: what one counts for a period (thirty days) later */
	fading: ReadonlyMap<string, number>;
	/** by pair (first · faults + second): how much more often they come together than by their shares; null where not */
	lifts: Float64Array | null;
}

/** The catalog's own shares are worth a dozen tickets. A choice. */
const PRIOR_WEIGHT = 12;
/** The catalog's shares of faults are taken for right this far; the rest is even. A choice. */
const STATED_SHARES = 0.75;
/** How alike models of a family and families of a shop usually are. A choice. */
const USUAL_SHRINKING = { weight: 25, spread: 0.7 };

const add = (a: readonly number[], b: readonly number[], times = 1) =>
	a.map((value, i) => value + times * (b[i] as number));

/**
 * Shares of faults: a model's shrunk to its family's, that to the shop's, that to the catalog's, by likeliest weights;
 * older tickets count less where that would have foretold the later ones better.
 */
export function faultSharesOf(catalog: Catalog, learned: Learned, codes: readonly string[]): FaultShares {
	const uniform = 1 / Math.max(1, codes.length);
	const stated = codes.map((code) => Math.max(1e-4, catalog.faults.get(code)?.prior ?? uniform));
	const total = sumOf(stated);
	const beliefs = stated.map(
		(share) => PRIOR_WEIGHT * ((STATED_SHARES * share) / total + (1 - STATED_SHARES) * uniform)
	);
	const familyOf = (model: string) => catalog.models.get(model)?.family ?? `model ${model}`;
	const models = [...learned.models].sort(([a], [b]) => (a < b ? -1 : 1));
	// how alike models are is judged on all that is known, then how fast to forget, then the shares
	const hierarchy = hierarchyOf(models, familyOf, codes, beliefs, new Map());
	const fading = fadingModels(models, familyOf, codes, beliefs, hierarchy.modelWeight);
	const { ofModel, meansOf, modelWeight } =
		fading.size === 0 ? hierarchy : hierarchyOf(models, familyOf, codes, beliefs, fading);
	const cached = new Map<string, Belief[]>();
	const beliefsOf = (model: string) => {
		const found = cached.get(model);
		if (found) return found;
		const counts = ofModel.get(model) ?? codes.map(() => 0);
		const means = ofThisModel(catalog, model, codes, meansOf(model));
		const weights = means.map((share) => modelWeight * share);
		const shares = dirichletMean(counts, weights).map((chance) => ({
			chance: Math.max(1e-6, chance),
			weight: sumOf(counts) + modelWeight
		}));
		cached.set(model, shares);
		return shares;
	};
	return { of: beliefsOf, fading, lifts: pairLifts(learned, models, codes, beliefsOf) };
}

/** A fault of what a model does not carry keeps this much of its share: a shop may have forgotten to say so. A choice. */
const NOT_CARRIED = 0.01;

/** Shares with what the model makes of them: where its port sits, and what it carries. */
function ofThisModel(
	catalog: Catalog,
	code: string,
	codes: readonly string[],
	means: readonly number[]
): number[] {
	const model = catalog.models.get(code);
	if (!model) return [...means];
	const factor = (fault: string) => {
		const { port_on: places, carries } = catalog.faults.get(fault) ?? {};
		return (places?.[model.port_on ?? 'board'] ?? 1) * (isCarried(carries, model.carries) ? 1 : NOT_CARRIED);
	};
	const weighed = means.map((share, i) => share * factor(codes[i] as string));
	const total = sumOf(weighed);
	return weighed.map((share) => share / total);
}

/** Counts by model, older ones faded, and the means that they are shrunk to with the likeliest weight. */
function hierarchyOf(
	models: Models,
	familyOf: (model: string) => string,
	codes: readonly string[],
	beliefs: readonly number[],
	fading: FaultShares['fading']
) {
	const zeros = codes.map(() => 0);
	const latest = latestPeriod(models);
	const ofModel = new Map(
		models.map(([model, { periods }]) => [
			model,
			[...periods].reduce(
				(sum, [period, faults]) =>
					add(sum, rowOf(faults, codes), (fading.get(model) ?? 1) ** (latest - period)),
				zeros
			)
		])
	);
	const ofFamily = new Map<string, number[]>();
	for (const [model, counts] of ofModel) {
		const family = familyOf(model);
		ofFamily.set(family, add(ofFamily.get(family) ?? zeros, counts));
	}
	const total = [...ofFamily.values()].reduce((sum, counts) => add(sum, counts), zeros);
	const shop = dirichletMean(total, beliefs);
	const familyWeight = likeliestWeight(
		[...ofFamily.values()].map((counts) => ({ counts, means: shop })),
		USUAL_SHRINKING
	);
	const shrunk = shop.map((share) => familyWeight * share);
	const families = new Map([...ofFamily].map(([family, counts]) => [family, dirichletMean(counts, shrunk)]));
	const meansOf = (model: string) => families.get(familyOf(model)) ?? shop;
	const modelWeight = likeliestWeight(
		[...ofModel].map(([model, counts]) => ({ counts, means: meansOf(model) })),
		USUAL_SHRINKING
	);
	return { ofModel, meansOf, modelWeight };
}

const rowOf = (faults: ReadonlyMap<string, number>, codes: readonly string[]) =>
	codes.map((code) => faults.get(code) ?? 0);

type Models = [model: string, counts: ModelCounts][];
const latestPeriod = (models: Models) =>
	models.reduce((latest, [, { periods }]) => Math.max(latest, ...periods.keys()), 0);

/** What a ticket may count a period later. */
const KEEPS = [0.97, 0.92, 0.85, 0.7] as const;
const LEANINGS = [0.5, 1, 2.5, 8, 40] as const;
/** So much better (in nats) forgetting must have foretold before it is believed: else chance would choose it. A choice. */
const LEAST_GAIN = 3;
/** Forgetting is judged on the latest two years. */
const JUDGED_PERIODS = 24;

/**
 * Where and how fast to forget: each period's faults of a model are foretold from its earlier ones, older ones counting
 * less, about the long run of its family; a model fades at the rate that would have foretold it best (predictive log
 * score of the Dirichlet-multinomial; forgetting as in power steady models, J. Q. Smith, J. R. Statist. Soc. B 41, 1979).
 */
function fadingModels(
	models: Models,
	familyOf: (model: string) => string,
	codes: readonly string[],
	beliefs: readonly number[],
	modelWeight: number
): Map<string, number> {
	const since = latestPeriod(models) - JUDGED_PERIODS;
	const zeros = codes.map(() => 0);
	const families = new Map<string, { period: number; model: string; counts: number[] }[]>();
	for (const [model, { periods }] of models) {
		const rows = families.get(familyOf(model)) ?? [];
		families.set(familyOf(model), rows);
		for (const [period, faults] of periods) {
			if (period > since) rows.push({ period, model, counts: rowOf(faults, codes) });
		}
	}
	for (const rows of families.values()) rows.sort((a, b) => a.period - b.period);
	/** by model: how well its periods were foretold */
	const scoresWith = (keep: number, weight: number) => {
		const scores = new Map<string, number>();
		for (const rows of families.values()) {
			const recent = new Map<string, { counts: number[]; period: number }>();
			let [family, current] = [zeros, zeros];
			rows.forEach(({ period, model, counts }, i) => {
				// what a period brings to the family is known to the next one only
				if (period !== rows[i - 1]?.period) [family, current] = [add(family, current), zeros];
				const modelRow = recent.get(model) ?? { counts: zeros, period };
				const faded = modelRow.counts.map((count) => count * keep ** (period - modelRow.period));
				const usual = dirichletMean(family, beliefs);
				const score = dirichletMultinomialLog(counts, add(faded, usual, weight));
				scores.set(model, (scores.get(model) ?? 0) + score);
				recent.set(model, { counts: add(faded, counts), period });
				current = add(current, counts);
			});
		}
		return scores;
	};
	// the weight of the family that suits best without forgetting: forgetting must not win as a stand-in for more of it
	const leanings = LEANINGS.map((factor) => {
		const scores = scoresWith(1, factor * modelWeight);
		return { weight: factor * modelWeight, scores, total: sumOf([...scores.values()]) };
	});
	const { weight, scores } = leanings.reduce((best, leaning) =>
		leaning.total > best.total ? leaning : best
	);
	const fading = new Map<string, number>();
	const best = new Map([...scores].map(([model, score]) => [model, score + LEAST_GAIN]));
	for (const keep of KEEPS) {
		for (const [model, score] of scoresWith(keep, weight)) {
			if (score <= (best.get(model) as number)) continue;
			best.set(model, score);
			fading.set(model, keep);
		}
	}
	return fading;
}

/** How freely pairs may come together beyond their shares: the smaller, the freer. */
const FREEDOMS = [1, 3, 10, 30, 100] as const;
const HARDLY = 1000;
/** A lift is never believed beyond this. */
const MOST_LIFT = 20;

/**
 * Faults that come together more (or less) often than their shares say: each pair's count over what is expected, shrunk
 * by a gamma prior about one whose freedom is the likeliest for all pairs (negative binomial marginal; empirical Bayes).
 * Null where the data shows no such thing.
 */
function pairLifts(
	learned: Learned,
	models: Models,
	codes: readonly string[],
	sharesOf: (model: string) => readonly Belief[]
): Float64Array | null {
	const n = codes.length;
	if (learned.pairs.size === 0 || n < 3) return null;
	const expected = new Float64Array(n * n);
	for (const [model, { several }] of models) {
		if (several <= 0) continue;
		const shares = sharesOf(model).map(({ chance }) => chance);
		const all = setWeightTotals(shares)[2];
		for (let a = 0; a < n; a++) {
			for (let b = a + 1; b < n; b++) {
				const at = a * n + b;
				addAt(expected, at, (several * (shares[a] as number) * (shares[b] as number)) / all);
			}
		}
	}
	const index = new Map(codes.map((code, i) => [code, i]));
	const met = new Float64Array(n * n);
	for (const [key, count] of learned.pairs) {
		const [a, b] = faultsOfKey(key)
			.flatMap((code) => index.get(code) ?? [])
			.sort((x, y) => x - y);
		if (a !== undefined && b !== undefined) met[a * n + b] = count;
	}
	const logOf = (freedom: number) => {
		let log = 0;
		for (let at = 0; at < expected.length; at++) {
			const [e, m] = [valueAt(expected, at), valueAt(met, at)];
			if (e <= 0) continue;
			log += logGamma(m + freedom) - logGamma(freedom);
			log += freedom * Math.log(freedom / (freedom + e)) + m * Math.log(e / (freedom + e));
		}
		return log;
	};
	const best = FREEDOMS.reduce(
		(best, freedom) => {
			const log = logOf(freedom);
			return log > best.log ? { freedom, log } : best;
		},
		{ freedom: HARDLY, log: logOf(HARDLY) + LEAST_GAIN }
	);
	if (best.freedom === HARDLY) return null;
	return expected.map((e, at) =>
		Math.min(MOST_LIFT, Math.max(1 / MOST_LIFT, (valueAt(met, at) + best.freedom) / (e + best.freedom)))
	);
}
