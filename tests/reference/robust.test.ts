import { describe, expect, it } from 'vitest';
import { betweenGroups, shrunkMean } from '$lib/core/statistics/shrunk-mean';
import { falseDiscoveryAdjusted, fisherUpperTail } from '$lib/core/statistics/multiple-tests';
import { dirichletMean, dirichletMultinomialLog, likeliestWeight } from '$lib/core/statistics/dirichlet';
import { fitLine } from '$lib/core/statistics/line-fit';
import { MAD_TO_SD } from '$lib/core/statistics/robust';
import { medianAbsoluteDeviation, medianSorted, sortUp } from '$lib/core/statistics/quantile';
import { studentCdf, studentLogDensity, studentQuantile } from '$lib/core/statistics/student-t';

describe('robust statistics', () => {
	// Source: Wikipedia, "Median absolute deviation", worked example
	it('median and MAD of 1 1 2 2 4 6 9', () => {
		const data = [1, 1, 2, 2, 4, 6, 9];
		expect(medianSorted(sortUp(data))).toBe(2);
		expect(medianAbsoluteDeviation(data)).toBe(1);
		expect(MAD_TO_SD).toBeCloseTo(1.4826, 4);
	});
});

describe('Student’s t', () => {
	// Source: the usual printed table (Student 1908; R qt)
	it.each([
		[0.975, 1, 12.7062],
		[0.975, 4, 2.776445],
		[0.995, 4, 4.604095],
		[0.975, 10, 2.228139],
		[0.95, 30, 1.697261]
	])('quantile %d with %d degrees', (probability, freedom, t) =>
		expect(Math.abs(studentQuantile(probability, freedom) / t - 1)).toBeLessThan(1e-5)
	);
	// Source: Student 1908 (sleep data), Welch's test as R prints it: t -1.860813, df 17.77647, p .0793941
	it('Welch’s p of the sleep data', () =>
		expect(2 * studentCdf(-1.860813, 17.77647)).toBeCloseTo(0.0793941, 5));
	it('its density sums to one', () => {
		let sum = 0;
		for (let x = -60; x < 60; x += 0.01) sum += 0.01 * Math.exp(studentLogDensity(x, 1.3, 4));
		expect(sum).toBeCloseTo(1, 3);
	});
});

describe('many tests at once', () => {
	// Source: Benjamini & Hochberg (1995), their example of 15 p-values
	it('adjusted p-values', () => {
		const p = [
			0.0001, 0.0004, 0.0019, 0.0095, 0.0201, 0.0278, 0.0298, 0.0344, 0.0459, 0.324, 0.4262, 0.5719, 0.6528,
			0.759, 1
		];
		const adjusted = falseDiscoveryAdjusted(p);
		expect(adjusted.slice(0, 5).map((value) => Number(value.toFixed(6)))).toEqual([
			0.0015, 0.003, 0.0095, 0.035625, 0.0603
		]);
		expect(adjusted.filter((value) => value <= 0.05)).toHaveLength(4);
	});
	// Source: R. A. Fisher, The Design of Experiments (1935): the lady tasting tea, 3 of 4 right: 17/70
	it('the lady tasting tea', () => {
		expect(fisherUpperTail(3, 4, 4, 8)).toBeCloseTo(17 / 70, 9);
		expect(fisherUpperTail(4, 4, 4, 8)).toBeCloseTo(1 / 70, 9);
		expect(fisherUpperTail(0, 4, 4, 8)).toBeCloseTo(1, 9);
	});
});

describe('shrinkage and lines', () => {
	// Worked: log speed .20 -.10 .35 -.30, se .10 .05 .30 .15, tau .15, mean 0 (normal-normal)
	it.each([
		[0.2, 0.1, 0.138462],
		[-0.1, 0.05, -0.09],
		[0.35, 0.3, 0.07],
		[-0.3, 0.15, -0.15]
	])('%d with error %d is shrunk to %d', (value, error, shrunk) =>
		expect(shrunkMean(value, error, 0.15, 0).mean).toBeCloseTo(shrunk, 6)
	);
	it('one group says nothing of how alike groups are', () =>
		expect(betweenGroups([{ value: 1, error: 0.1 }], 0.01).tau).toBe(Infinity));
	// Hand-made: exact points on a line
	it('a line through exact points has no width', () => {
		const line = fitLine([0, 1, 2, 3].map((x) => [x, 100 - 9 * x] as const));
		expect(line?.slope).toBeCloseTo(-9, 9);
		expect(line?.slopeHalf).toBeLessThan(1e-9);
		expect(fitLine([[1, 2]])).toBeNull();
	});
	// Worked by hand: x 1 2 3, y 1 3 4: slope 1.5, residuals -1/6 1/3 -1/6, s² = 1/6, t(.975, 1) = 12.7062
	it('the slope’s interval', () =>
		expect(
			fitLine([
				[1, 1],
				[2, 3],
				[3, 4]
			])?.slopeHalf
		).toBeCloseTo(12.7062 * Math.sqrt(1 / 6 / 2), 3));
});

describe('shrinkage by marginal likelihood', () => {
	// Computed outside the project: beta-binomial maximum likelihood of 4/40 9/60 2/50 14/70 1/12: mean .123613, weight
	// 60.37, shrunk .114203 .136766 .085735 .164627 .116934. The engine's weight comes from a grid of factors of 1.6.
	it('finds the weight of the beta-binomial, to its grid, and so its shrunk rates', () => {
		const [hits, trials] = [
			[4, 9, 2, 14, 1],
			[40, 60, 50, 70, 12]
		];
		const means = [0.123613, 1 - 0.123613];
		const groups = hits.map((x, i) => ({ counts: [x, (trials[i] as number) - x], means }));
		const weight = likeliestWeight(groups);
		expect(weight).toBeGreaterThan(60.37 / 1.6);
		expect(weight).toBeLessThan(60.37 * 1.6);
		const expected = [0.114203, 0.136766, 0.085735, 0.164627, 0.116934];
		groups.forEach(({ counts }, i) => {
			const [shrunk] = dirichletMean(
				counts,
				means.map((mean) => mean * weight)
			);
			expect(Math.abs((shrunk as number) - (expected[i] as number))).toBeLessThan(0.004);
		});
	});
	// Worked by hand: with weights 1 and 1, two of two the same: 1/2 · 2/3
	it('the chance of counts under a Dirichlet', () => {
		expect(Math.exp(dirichletMultinomialLog([2, 0], [1, 1]))).toBeCloseTo(1 / 3, 12);
		expect(Math.exp(dirichletMultinomialLog([1, 1], [1, 1]))).toBeCloseTo(1 / 6, 12);
		expect(dirichletMultinomialLog([0, 0], [1, 1])).toBe(0);
	});
});
