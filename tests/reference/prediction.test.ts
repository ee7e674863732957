import { describe, expect, it } from 'vitest';
import { posteriorOfSets } from '$lib/core/diagnosis/fault-sets';
import {
	binsOfEqualMass,
	binsOfEqualWidth,
	calibrationError,
	largestGap
} from '$lib/core/statistics/calibration';
import { dirichletMean, likeliestWeight } from '$lib/core/statistics/dirichlet';
import { pinballLoss } from '$worlds/pinball-loss';
import {
	areaUnderCurve,
	brierScore,
	logLoss,
	murphyParts,
	type Foretold
} from '$lib/core/statistics/proper-scores';
import { shrunkMean } from '$lib/core/statistics/shrunk-mean';

const pairs = (chances: number[], came: number[]): Foretold[] =>
	chances.map((chance, i) => [chance, came[i] === 1] as const);
const C1 = pairs([0.9, 0.8, 0.7, 0.7, 0.6, 0.4, 0.3, 0.2, 0.2, 0.1], [1, 1, 0, 1, 1, 0, 0, 1, 0, 0]);

// Source of the whole block: computed outside the project (references C1 to C4 of the design).
describe('proper scores and calibration', () => {
	it('ten forecasts of yes or no (C1)', () => {
		expect(brierScore(C1)).toBeCloseTo(0.173, 6);
		expect(logLoss(C1)).toBeCloseTo(0.520542, 6);
		expect(areaUnderCurve(C1)).toBeCloseTo(0.8, 6);
		const base = pairs(
			C1.map(() => 0.5),
			C1.map(([, came]) => (came ? 1 : 0))
		);
		expect(1 - brierScore(C1) / brierScore(base)).toBeCloseTo(0.308, 6);
		const { reliability, resolution, uncertainty } = murphyParts(C1);
		expect(reliability).toBeCloseTo(0.073, 6);
		expect(resolution).toBeCloseTo(0.15, 6);
		expect(uncertainty).toBeCloseTo(0.25, 6);
		expect(reliability - resolution + uncertainty).toBeCloseTo(brierScore(C1), 12);
	});

	it('five bins closed on the left (C2)', () => {
		const bins = binsOfEqualWidth(C1, 5);
		expect(calibrationError(bins)).toBeCloseTo(0.11, 6);
		expect(largestGap(bins)).toBeCloseTo(0.4, 6);
	});

	it('a perfectly calibrated row (C3)', () => {
		const rows = pairs([0.8, 0.8, 0.8, 0.8, 0.8, 0.2, 0.2, 0.2, 0.2, 0.2], [1, 1, 1, 1, 0, 0, 1, 0, 0, 0]);
		expect(calibrationError(binsOfEqualWidth(rows, 5))).toBeCloseTo(0, 6);
		expect(calibrationError(binsOfEqualMass(rows, 2))).toBeCloseTo(0, 6);
		expect(brierScore(rows)).toBeCloseTo(0.16, 6);
		expect(logLoss(rows)).toBeCloseTo(0.5004024, 6);
	});
});

// Source: Quinlan, Machine Learning 1 (1986); Mitchell, Machine Learning (1997). Fourteen days, from memory; the
// add-one figures and those with missing answers computed outside the project.
describe('play-tennis, learnt and weighed by the engine', () => {
	const DAYS = (
		'S H Hi W N; S H Hi St N; O H Hi W Y; R M Hi W Y; R C No W Y; R C No St N; O C No St Y; S M Hi W N; ' +
		'S C No W Y; R M No W Y; S M No St Y; O M Hi St Y; O H No W Y; R M Hi St N'
	)
		.split('; ')
		.map((day) => day.split(' '));
	const ANSWERS = [
		['S', 'O', 'R'],
		['H', 'M', 'C'],
		['Hi', 'No'],
		['W', 'St']
	];
	const PLAYS = ['Y', 'N'];

	/** Chance of playing, given some of the four answers. @param added to each count of an answer */
	function playing(query: (string | null)[], added: number): number {
		const days = PLAYS.map((play) => DAYS.filter((day) => day[4] === play));
		const prior = dirichletMean(
			days.map(({ length }) => length),
			[0, 0]
		);
		const heard = query.flatMap((answer, q) => {
			if (answer === null) return [];
			const answers = ANSWERS[q] as string[];
			const chances = days.map((some) =>
				dirichletMean(
					answers.map((each) => some.filter((day) => day[q] === each).length),
					answers.map(() => added)
				)
			);
			return [Float64Array.from(chances, (of) => Math.log(of[answers.indexOf(answer)] as number))];
		});
		return posteriorOfSets(Float64Array.from(prior, Math.log), heard)[0] as number;
	}

	it.each([
		[['S', 'C', 'Hi', 'St'], 0, 1 - 0.7954173],
		[['S', 'C', 'Hi', 'St'], 1, 0.2799333],
		[['S', null, 'Hi', null], 0, 0.2173913],
		[['S', null, 'Hi', null], 1, 0.3142145]
	] as const)('%j, %d added: %d', (query, added, chance) => {
		expect(playing([...query], added)).toBeCloseTo(chance, 6);
	});
});

describe('shrinkage by its likeliest strength', () => {
	// Source: computed outside the project (beta-binomial maximum likelihood, reference 5b of the design). The engine
	// looks for the weight on a grid of factors 1.35, so its own is the grid's nearest in likelihood.
	it('five rates: the weight about a mean of .123613 is near 60.37, the shrunk rates agree', () => {
		const [x, n] = [
			[4, 9, 2, 14, 1],
			[40, 60, 50, 70, 12]
		] as [number[], number[]];
		const means = [0.123613, 1 - 0.123613];
		const groups = x.map((events, i) => ({ counts: [events, (n[i] as number) - events], means }));
		const weight = likeliestWeight(groups);
		expect(weight / 60.37).toBeGreaterThan(1 / Math.sqrt(1.35));
		expect(weight / 60.37).toBeLessThan(Math.sqrt(1.35));
		const shrunk = groups.map(
			({ counts }) =>
				dirichletMean(
					counts,
					means.map((mean) => 60.37 * mean)
				)[0]
		);
		[0.114203, 0.136766, 0.085735, 0.164627, 0.116934].forEach((rate, i) =>
			expect(shrunk[i]).toBeCloseTo(rate, 4)
		);
	});

	// Source: computed outside the project (normal shrinkage, reference 5b of the design).
	it('four log speeds with known errors', () => {
		const speeds = [
			[0.2, 0.1, 0.138462],
			[-0.1, 0.05, -0.09],
			[0.35, 0.3, 0.07],
			[-0.3, 0.15, -0.15]
		] as const;
		for (const [value, error, mean] of speeds) {
			expect(shrunkMean(value, error, 0.15, 0).mean).toBeCloseTo(mean, 6);
		}
	});
});

describe('quantile forecasts', () => {
	it.each([
		[50, 62, 0.9, 10.8],
		[50, 40, 0.9, 1.0],
		[30, 22, 0.1, 7.2]
	])(
		'pinball loss of %d where it was %d, at %d (worked out by hand, references C19)',
		(quantile, value, level, loss) => expect(pinballLoss(quantile, value, level)).toBeCloseTo(loss, 9)
	);
});
