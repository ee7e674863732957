import { describe, expect, it } from 'vitest';
import {
	fitBinary,
	LOG_LOG,
	LOGIT,
	predictorAt,
	predictorDoubt,
	PROBIT
} from '$lib/core/statistics/binary-regression';

/**
 * O-rings of 23 flights: temperature (°F) and distress (Dalal, Fowlkes & Hoadley, JASA 84, 1989; widely reprinted, figures from
 * memory). Logistic fit: intercept 15.0429, slope -0.2322, standard errors 7.3786 and 0.1082.
 */
const temperature = [
	66, 70, 69, 68, 67, 72, 73, 70, 57, 63, 70, 78, 67, 53, 67, 75, 70, 81, 76, 79, 75, 76, 58
];
const distress = [0, 1, 0, 0, 0, 0, 0, 0, 1, 1, 1, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1, 0, 1];
const cases = temperature.map((t, i) => ({ x: [1, t], yes: distress[i] as number, all: 1 }));
const flat = [
	{ mean: 0, sd: Infinity },
	{ mean: 0, sd: Infinity }
];

describe('binary regression', () => {
	it('agrees with the published logistic fit', () => {
		const { coefficients, covariance } = fitBinary(cases, flat, LOGIT);
		expect(coefficients[0]).toBeCloseTo(15.0429, 3);
		expect(coefficients[1]).toBeCloseTo(-0.2322, 3);
		expect(Math.sqrt(covariance[0]![0]!)).toBeCloseTo(7.3786, 2);
		expect(Math.sqrt(covariance[1]![1]!)).toBeCloseTo(0.1082, 3);
	});
	it.each([
		['logit', LOGIT],
		['probit', PROBIT],
		['log-log', LOG_LOG]
	])('%s: no other coefficients are likelier (a grid about the mode)', (_, link) => {
		const beliefs = [
			{ mean: 5, sd: 6 },
			{ mean: -0.1, sd: 0.2 }
		];
		const { coefficients } = fitBinary(cases, beliefs, link);
		const log = (a: number, b: number) =>
			cases.reduce((sum, { x, yes }) => {
				const p = link.chance(a + b * x[1]!);
				return sum + Math.log(yes ? p : 1 - p);
			}, 0) -
			0.5 * (((a - 5) / 6) ** 2 + ((b + 0.1) / 0.2) ** 2);
		const best = log(coefficients[0]!, coefficients[1]!);
		for (const da of [-0.3, -0.01, 0, 0.01, 0.3])
			for (const db of [-0.01, -0.0003, 0, 0.0003, 0.01]) {
				expect(log(coefficients[0]! + da, coefficients[1]! + db)).toBeLessThanOrEqual(best + 1e-7);
			}
	});
	it('the slope of each link is its derivative', () => {
		for (const link of [LOGIT, PROBIT, LOG_LOG])
			for (const eta of [-2, -0.5, 0, 0.7, 3]) {
				const numeric = (link.chance(eta + 1e-5) - link.chance(eta - 1e-5)) / 2e-5;
				expect(link.slope(eta)).toBeCloseTo(numeric, 5);
			}
	});
	it('the evidence is that of numerical integration, nearly, and doubt spreads a forecast', () => {
		const coin = [{ x: [1], yes: 14, all: 20 }];
		const fitted = fitBinary(coin, [{ mean: 0, sd: 1 }], LOGIT);
		let sum = 0;
		for (let b = -6; b < 6; b += 0.001) {
			const p = LOGIT.chance(b);
			sum += (0.001 * p ** 14 * (1 - p) ** 6 * Math.exp(-0.5 * b * b)) / Math.sqrt(2 * Math.PI);
		}
		// Laplace's approximation leaves out the normal's own constant twice
		expect(Math.abs(fitted.logEvidence - Math.log(sum))).toBeLessThan(0.02);
		expect(predictorAt(fitted, [2])).toBeCloseTo(2 * fitted.coefficients[0]!, 12);
		expect(predictorDoubt(fitted, [2])).toBeCloseTo(2 * Math.sqrt(fitted.covariance[0]![0]!), 12);
	});
});
