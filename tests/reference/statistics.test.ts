import { gammaQuantile } from '$lib/core/statistics/gamma';
import { describe, expect, it } from 'vitest';
import { expectedProfitMinor, floorPriceMinor } from '$lib/core/quoting/price';
import { betaCdf, betaQuantile } from '$lib/core/statistics/beta';
import { logGamma } from '$lib/core/statistics/gamma';
import { lognormalMean } from '$lib/core/statistics/lognormal';
import { normalCdf, normalQuantile } from '$lib/core/statistics/normal';
import { medianAbsoluteDeviation, medianSorted, quantileSorted, sortUp } from '$lib/core/statistics/quantile';
import { clopperPearsonInterval, wilsonInterval } from '$lib/core/statistics/rate-interval';
import { shrunkRate } from '$lib/core/statistics/shrunk-rate';

describe('intervals for a share', () => {
	// Source: R. G. Newcombe, Statistics in Medicine 17:857-872 (1998), from memory; R prop.test and binom.test.
	it.each([
		[81, 263, 0.2553, 0.3662, 0.2527, 0.3676],
		[0, 20, 0, 0.1611, 0, 0.1684],
		[3, 40, 0.025836, 0.198642, 0.015742, 0.203865],
		[12, 150, 0.046354, 0.134621, 0.04202, 0.135574]
	])('%d of %d', (x, n, wilsonLow, wilsonHigh, exactLow, exactHigh) => {
		const wilson = wilsonInterval(x, n);
		const exact = clopperPearsonInterval(x, n);
		for (const [found, wanted] of [
			[wilson.low, wilsonLow],
			[wilson.high, wilsonHigh],
			[exact.low, exactLow],
			[exact.high, exactHigh]
		] as const) {
			expect(Math.abs(found - wanted)).toBeLessThan(5e-5);
		}
	});
});

describe('beta', () => {
	// Source: computed with R (qbeta), reference "Beta" of the design.
	it('prior Beta(2, 38) and 3 comebacks of 12', () => {
		expect(shrunkRate(3, 12, 0.05, 40)).toBeCloseTo(0.0961538, 7);
		expect(betaQuantile(0.025, 5, 47)).toBeCloseTo(0.0326065, 6);
		expect(betaQuantile(0.975, 5, 47)).toBeCloseTo(0.188806, 6);
		expect(betaQuantile(0.025, 3, 97)).toBeCloseTo(0.0062933, 6);
		expect(betaQuantile(0.975, 3, 97)).toBeCloseTo(0.0710761, 6);
	});
	it('is the inverse of its distribution, and symmetric', () => {
		for (const [a, b] of [
			[0.5, 0.5],
			[2, 38],
			[30, 3]
		] as const) {
			for (const p of [0.01, 0.3, 0.5, 0.99]) {
				expect(betaCdf(betaQuantile(p, a, b), a, b)).toBeCloseTo(p, 10);
				expect(betaCdf(0.3, a, b)).toBeCloseTo(1 - betaCdf(0.7, b, a), 12);
			}
		}
	});
	// Source: computed with R, reference "Shrinkage" of the design: prior weight 20 at the pooled rate.
	it('shrinks five rates towards the pooled one', () => {
		const x = [4, 9, 2, 14, 1];
		const n = [40, 60, 50, 70, 12];
		const pooled = x.reduce((a, b) => a + b) / n.reduce((a, b) => a + b);
		expect(pooled).toBeCloseTo(0.1293103, 7);
		const shrunk = x.map((events, i) => shrunkRate(events, n[i] as number, pooled, 20));
		[0.1097701, 0.1448276, 0.0655174, 0.1842912, 0.112069].forEach((wanted, i) =>
			expect(shrunk[i]).toBeCloseTo(wanted, 6)
		);
	});
});

describe('normal and gamma', () => {
	// Source: Abramowitz & Stegun, Handbook of Mathematical Functions, tables 26.1 and 6.1 (from memory).
	it.each([
		[0, 0.5],
		[1, 0.841344746],
		[1.96, 0.975002105],
		[-2.5, 0.00620966533]
	])('Phi(%d)', (x, p) => expect(normalCdf(x)).toBeCloseTo(p, 8));
	it('quantiles', () => {
		expect(normalQuantile(0.975)).toBeCloseTo(1.959963985, 8);
		expect(normalQuantile(0.9)).toBeCloseTo(1.281551566, 8);
		expect(normalQuantile(0)).toBe(-Infinity);
		expect(() => normalQuantile(1.2)).toThrow(/outside/);
	});
	it('factorials', () => {
		expect(Math.exp(logGamma(6))).toBeCloseTo(120, 9);
		expect(logGamma(0.5)).toBeCloseTo(Math.log(Math.sqrt(Math.PI)), 12);
	});
});

describe('lognormal', () => {
	// Source: computed with scipy, reference C13 of the design.
	it('of mu 3.5, sigma 0.5 has its mean', () => {
		expect(Math.abs(lognormalMean({ mu: 3.5, sigma: 0.5 }) / 37.52472 - 1)).toBeLessThan(1e-6);
	});
});

describe('robust statistics', () => {
	// Source: "Median absolute deviation", Wikipedia example; simple-statistics (reference C7 of the design).
	it('1 1 2 2 4 6 9 has median 2 and MAD 1', () => {
		const values = [9, 1, 4, 2, 1, 6, 2];
		expect(medianSorted(sortUp(values))).toBe(2);
		expect(medianAbsoluteDeviation(values)).toBe(1);
	});
	// Source: rule of Iglewicz & Hoaglin (1993); values computed, reference C8 of the design.
	it('pin readings with one outlier', () => {
		const values = [0.431, 0.436, 0.429, 0.433, 0.44, 0.428, 0.612, 0.434];
		const median = medianSorted(sortUp(values));
		const mad = medianAbsoluteDeviation(values);
		expect(median).toBeCloseTo(0.4335, 9);
		expect(mad).toBeCloseTo(0.0035, 9);
		expect((0.6745 * (0.612 - median)) / mad).toBeCloseTo(34.4, 2);
	});
	// Source: Hyndman & Fan, The American Statistician 50 (1996), type 7; R quantile(1:4, .25).
	it('quantile, type 7', () => expect(quantileSorted([1, 2, 3, 4], 0.25)).toBe(1.75));
});

describe('profit of a job', () => {
	// Source: computed by hand, reference "Quote" of the design: nothing is paid on failure, costs always spent.
	it('price 120, cost 75, success 0.78: 18.60, break-even at 0.625', () => {
		expect(expectedProfitMinor(12000, 0.78, 7500, 0)).toBeCloseTo(1860, 9);
		expect(expectedProfitMinor(12000, 0.625, 7500, 0)).toBeCloseTo(0, 9);
		expect(expectedProfitMinor(12000, 0.7916667, 7500, 0)).toBeCloseTo(2000, 2);
	});
	it('comeback rate 0.08 costing 55: 120 - 35 - 30 - 4.40', () =>
		expect(expectedProfitMinor(12000, 1, 6500, 0.08, { comebackCostMinor: 5500 })).toBeCloseTo(5060, 9));
	it('is nil at the floor', () => {
		const floor = floorPriceMinor(0.78, 7500, 0.08);
		expect(expectedProfitMinor(floor, 0.78, 7500, 0.08)).toBeCloseTo(0, 6);
	});
});

describe('the gamma distribution', () => {
	it.each([
		// chi-square tables: 0.95 of 5 degrees of freedom 11.0705, of 1 3.8415; 0.05 of 10 3.9403 (e.g. NIST e-Handbook 1.3.6.7.4)
		[0.95, 5, 11.0705],
		[0.95, 1, 3.8415],
		[0.05, 10, 3.9403]
	])('quantile %d of chi-square with %i degrees of freedom', (chance, degrees, value) =>
		expect(2 * gammaQuantile(chance, degrees / 2)).toBeCloseTo(value, 3)
	);
	it('refuses what is no chance', () => expect(() => gammaQuantile(1, 2)).toThrow('outside 0..1'));
});
