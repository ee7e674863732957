import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../../catalog/catalog';
import type { CatalogRecord } from '../../catalog/kinds';
import { mean, sum, urn } from '$worlds/plain-bayes';
import { likeliestWeight } from '../../statistics/dirichlet';
import { DAY_MS } from '../../units/instant';
import { learn, type Lesson } from './learn';
import { faultSharesOf } from './shares';

/** Shares worked out a second time the plain way: nothing of the room under test is used for what it is held against. */

describe('shares of faults, worked out again', () => {
	const codes = ['a', 'b', 'c', 'd'];
	const catalog = (priors: Record<string, number> = {}, families: Record<string, string> = {}) =>
		buildCatalog([
			...codes.map((code): CatalogRecord => ({
				record: 'fault',
				code,
				label: code,
				...(priors[code] === undefined ? {} : { prior: priors[code] })
			})),
			...['m', 'n', 'o'].map((code): CatalogRecord => ({
				record: 'model',
				code,
				label: code,
				...(families[code] === undefined ? {} : { family: families[code] })
			}))
		]);
	const features = { signs: [], answers: [], attempts: [] };
	const lessons = (model: string, counts: Record<string, number>, day = 0) =>
		Object.entries(counts).flatMap(([faults, count]) =>
			Array.from({ length: count }, (): Lesson => ({
				model,
				closedAt: day * DAY_MS,
				faults: faults.split('+'),
				features,
				tried: []
			}))
		);
	it('a model’s shrunk to its family’s, that to the shop’s, that to what is stated', () => {
		const some = [
			...lessons('m', { a: 30, b: 5, c: 2 }),
			...lessons('n', { a: 8, b: 20, d: 3 }),
			...lessons('o', { c: 12, d: 9 })
		];
		const shop = catalog({ a: 0.5, b: 0.25 }, { m: 'f', n: 'f' });
		const shares = faultSharesOf(shop, learn(some), codes);
		const own: Record<string, number[]> = { m: [30, 5, 2, 0], n: [8, 20, 0, 3], o: [0, 0, 12, 9] };
		const add = (...rows: number[][]) => codes.map((_, k) => sum(rows.map((row) => row[k] as number)));
		// the catalog states a half and a quarter; those it does not state are even, a quarter each: 0.5 : 0.25 : 0.25 : 0.25
		const stated = [0.5, 0.25, 0.25, 0.25].map((prior) => 12 * ((0.75 * prior) / 1.25 + 0.25 / 4));
		const families = [add(own.m as number[], own.n as number[]), own.o as number[]];
		const usual = { weight: 25, spread: 0.7 };
		const whole = mean(add(...families), stated);
		const familyWeight = likeliestWeight(
			families.map((counts) => ({ counts, means: whole })),
			usual
		);
		const [f, o] = families.map((counts) =>
			mean(
				counts,
				whole.map((share) => familyWeight * share)
			)
		);
		const modelWeight = likeliestWeight(
			[
				{ counts: own.m as number[], means: f as number[] },
				{ counts: own.n as number[], means: f as number[] },
				{ counts: own.o as number[], means: o as number[] }
			],
			usual
		);
		const of = (counts: number[], means: number[] | undefined) =>
			mean(
				counts,
				(means as number[]).map((share) => modelWeight * share)
			);
		for (const [model, means] of [
			['m', f],
			['n', f],
			['o', o]
		] as const) {
			const counts = own[model] as number[];
			of(counts, means).forEach((chance, k) => expect(shares.of(model)[k]?.chance).toBeCloseTo(chance, 12));
			expect(shares.of(model)[0]?.weight).toBeCloseTo(sum(counts) + modelWeight, 9);
		}
		// a model that nobody knows is the shop's; the same list each time
		whole.forEach((chance, k) => expect(shares.of('new')[k]?.chance).toBeCloseTo(chance, 12));
		expect(shares.of('m')).toBe(shares.of('m'));
		expect(shares.fading.size).toBe(0);
		expect(shares.lifts).toBeNull();
	});
	it('faults that come together: their count over what is expected, shrunk by the likeliest freedom', () => {
		const some = [
			...lessons('m', { a: 60, b: 60, c: 60, d: 60 }),
			...lessons('m', { 'a+b': 24, 'c+d': 2, 'a+c': 3, 'b+d': 1 })
		];
		const shares = faultSharesOf(catalog(), learn(some), codes);
		const p = shares.of('m').map(({ chance }) => chance);
		const pairs = [
			[0, 1, 24],
			[0, 2, 3],
			[0, 3, 0],
			[1, 2, 0],
			[1, 3, 1],
			[2, 3, 2]
		] as const;
		const all = sum(pairs.map(([a, b]) => (p[a] as number) * (p[b] as number)));
		const expected = pairs.map(([a, b]) => (30 * (p[a] as number) * (p[b] as number)) / all);
		/** log chance of counts about e when the rate is drawn about one: negative binomial, one step after the other */
		const logOf = (freedom: number) =>
			sum(
				pairs.map(([, , met], i) => {
					const e = expected[i] as number;
					let log = freedom * Math.log(freedom / (freedom + e)) + met * Math.log(e / (freedom + e));
					for (let k = 0; k < met; k++) log += Math.log(freedom + k);
					return log;
				})
			);
		const best = [1, 3, 10, 30, 100].reduce((most, each) => (logOf(each) > logOf(most) ? each : most));
		expect(logOf(best)).toBeGreaterThan(logOf(1000) + 3);
		pairs.forEach(([a, b, met], i) =>
			expect(shares.lifts?.[a * 4 + b]).toBeCloseTo((met + best) / ((expected[i] as number) + best), 6)
		);
		// pairs that come as their shares say show nothing
		const even = [
			...lessons('m', { a: 60, b: 60, c: 60, d: 60 }),
			...lessons('m', { 'a+b': 5, 'c+d': 5, 'a+c': 5, 'b+d': 5, 'a+d': 5, 'b+c': 5 })
		];
		expect(faultSharesOf(catalog(), learn(even), codes).lifts).toBeNull();
		expect(faultSharesOf(catalog(), learn(lessons('m', { a: 9 })), codes).lifts).toBeNull();
	});
	it('a lift is never beyond twenty either way', () => {
		const some = [
			...lessons('m', { a: 900, b: 900, c: 20, d: 20 }),
			...lessons('m', { 'c+d': 60, 'a+b': 1 })
		];
		const lifts = faultSharesOf(catalog(), learn(some), codes).lifts;
		expect(lifts?.[2 * 4 + 3]).toBe(20);
		expect(lifts?.[1]).toBe(1 / 20);
	});
	it('forgetting: the rate that would have foretold each period best from those before, if it gains three nats', () => {
		// ten periods of a, then six of b: one model, no family
		const periods = Array.from({ length: 16 }, (_, t) => (t < 10 ? [9, 1, 0, 0] : [1, 9, 0, 0]));
		const some = periods.flatMap(([a, b], t) => lessons('m', { a: a as number, b: b as number }, 30 * t + 1));
		const shares = faultSharesOf(catalog(), learn(some), codes);
		const stated = [3, 3, 3, 3];
		const totals = codes.map((_, k) => sum(periods.map((counts) => counts[k] as number)));
		const usual = { weight: 25, spread: 0.7 };
		const shop = mean(totals, stated);
		const familyWeight = likeliestWeight([{ counts: totals, means: shop }], usual);
		const family = mean(
			totals,
			shop.map((share) => familyWeight * share)
		);
		const weight = likeliestWeight([{ counts: totals, means: family }], usual);
		const scoreOf = (keep: number, leaning: number) => {
			let [before, faded, score] = [[0, 0, 0, 0], [0, 0, 0, 0], 0];
			periods.forEach((counts, t) => {
				faded = faded.map((count) => (t === 0 ? 0 : count * keep));
				const long = mean(before, stated);
				score += fractional(
					counts,
					faded.map((count, k) => count + leaning * (long[k] as number))
				);
				faded = faded.map((count, k) => count + (counts[k] as number));
				before = before.map((count, k) => count + (counts[k] as number));
			});
			return score;
		};
		/** whole counts, weights of any size: drawn one by one */
		const fractional = (counts: readonly number[], weights: readonly number[]) => urn(counts, weights);
		const leanings = [0.5, 1, 2.5, 8, 40].map((factor) => factor * weight);
		const leaning = leanings.reduce((best, each) => (scoreOf(1, each) > scoreOf(1, best) ? each : best));
		const keep = [0.97, 0.92, 0.85, 0.7].reduce((best, each) =>
			scoreOf(each, leaning) > scoreOf(best, leaning) ? each : best
		);
		expect(scoreOf(keep, leaning)).toBeGreaterThan(scoreOf(1, leaning) + 3);
		expect([...shares.fading]).toEqual([['m', keep]]);
		// what is left of each period counts by its age
		const left = codes.map((_, k) =>
			sum(periods.map((counts, t) => (counts[k] as number) * keep ** (15 - t)))
		);
		const nowShop = mean(left, stated);
		const nowFamilyWeight = likeliestWeight([{ counts: left, means: nowShop }], usual);
		const nowFamily = mean(
			left,
			nowShop.map((share) => nowFamilyWeight * share)
		);
		const nowWeight = likeliestWeight([{ counts: left, means: nowFamily }], usual);
		mean(
			left,
			nowFamily.map((share) => nowWeight * share)
		).forEach((chance, k) => expect(shares.of('m')[k]?.chance).toBeCloseTo(chance, 9));
	});
	it('what changed more than two years ago is no reason to forget now', () => {
		const periods = Array.from({ length: 40 }, (_, t) => (t < 10 ? { a: 9, b: 1 } : { a: 1, b: 9 }));
		const some = periods.flatMap((counts, t) => lessons('m', counts, 30 * t + 1));
		expect(faultSharesOf(catalog(), learn(some), codes).fading.size).toBe(0);
	});
});
