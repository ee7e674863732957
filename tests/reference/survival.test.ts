import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { betaQuantile } from '$lib/core/statistics/beta';
import { cumulativeIncidence, type FollowedTo } from '$lib/core/statistics/cumulative-incidence';
import { funnelLimit } from '$lib/core/statistics/funnel';
import { kaplanMeier, survivalAt, type Followed } from '$lib/core/statistics/kaplan-meier';
import { logRank } from '$lib/core/statistics/log-rank';

/**
 * Remission of acute myelogenous leukaemia, weeks: R. G. Miller, Survival Analysis (1981); the data of `aml` in the R package
 * survival, values as its survfit gives them.
 */
const followed = (text: string): Followed[] =>
	text.split(' ').map((word) => ({ time: parseInt(word), event: !word.endsWith('+') }));
const MAINTAINED = followed('9 13 13+ 18 23 28+ 31 34 45+ 48 161+');
const OTHERS = followed('5 5 8 8 12 16+ 23 27 30 33 43 45');

describe('Kaplan and Meier', () => {
	it.each([
		[9, 0.90909, 0.086678],
		[13, 0.81818, 0.116291],
		[18, 0.71591, 0.139665],
		[23, 0.61364, 0.152632],
		[31, 0.49091, 0.164193],
		[34, 0.36818, 0.162669],
		[48, 0.18409, 0.153493]
	])('maintained, %i weeks: %f with Greenwood’s error %f', (time, survival, error) => {
		const step = kaplanMeier(MAINTAINED).find((each) => each.time === time);
		expect(step?.survival).toBeCloseTo(survival, 5);
		expect((step?.survival ?? 0) * Math.sqrt(step?.greenwood ?? 0)).toBeCloseTo(error, 5);
	});
	it('not maintained, to the last one, of whom none is left', () => {
		const steps = kaplanMeier(OTHERS);
		expect(steps.map(({ time }) => time)).toEqual([5, 8, 12, 23, 27, 30, 33, 43, 45]);
		[0.83333, 0.66667, 0.58333, 0.48611, 0.38889, 0.29167, 0.19444, 0.09722, 0].forEach((survival, i) =>
			expect(steps[i]?.survival).toBeCloseTo(survival, 5)
		);
		expect(steps.at(-1)?.greenwood).toBe(Infinity);
	});
	it('between its steps survival is that of the last one, before the first it is 1', () => {
		const steps = kaplanMeier(MAINTAINED);
		expect(survivalAt(steps, 8.9)).toBe(1);
		expect(survivalAt(steps, 9)).toBeCloseTo(0.90909, 5);
		expect(survivalAt(steps, 12)).toBeCloseTo(0.90909, 5);
		expect(survivalAt(steps, 1000)).toBeCloseTo(0.18409, 5);
		expect(survivalAt([], 5)).toBe(1);
	});
});

/** Remission under 6-mercaptopurine, weeks: E. J. Freireich et al., Blood 21:699-716 (1963); values as D. G. Kleinbaum, M. Klein, Survival Analysis, print them. */
const TREATED = followed('6 6 6 6+ 7 9+ 10 10+ 11+ 13 16 17+ 19+ 20+ 22 23 25+ 32+ 32+ 34+ 35+');
const PLACEBO = followed('1 1 2 2 3 4 4 5 5 8 8 8 8 11 11 12 12 15 17 22 23');

describe('two groups', () => {
	it('6-MP: Kaplan and Meier’s estimate, ties of events and ends of observation', () => {
		const steps = kaplanMeier(TREATED);
		expect(steps.map(({ time }) => time)).toEqual([6, 7, 10, 13, 16, 22, 23]);
		[0.8571, 0.8067, 0.7529, 0.6902, 0.6275, 0.5378, 0.4482].forEach((survival, i) =>
			expect(steps[i]?.survival).toBeCloseTo(survival, 4)
		);
	});
	it('6-MP: the log-rank statistic 16.79, 9 events where 19.25 were to be expected', () => {
		const { observed, expected, chiSquare } = logRank(TREATED, PLACEBO);
		expect(observed).toBe(9);
		expect(expected).toBeCloseTo(19.25, 2);
		expect(chiSquare).toBeCloseTo(16.793, 3);
	});
	it('aml: 3.39639, p .065339, expected 10.68934 and 7.31066 (survdiff of the R package survival)', () => {
		const { expected, chiSquare, p } = logRank(MAINTAINED, OTHERS);
		expect(expected).toBeCloseTo(10.68934, 5);
		expect(chiSquare).toBeCloseTo(3.39639, 5);
		expect(p).toBeCloseTo(0.065339, 5);
		expect(logRank(OTHERS, MAINTAINED).expected).toBeCloseTo(7.31066, 5);
		expect(logRank([], OTHERS)).toMatchObject({ chiSquare: 0, p: 1 });
	});
});

describe('several causes', () => {
	const JOBS: FollowedTo<number>[] = '5/1 8/2 12/1 12/0 15/2 20/0 22/1 25/2 30/0 30/0'
		.split(' ')
		.map((word) => {
			const [time = 0, cause] = word.split('/').map(Number);
			return { time, cause: cause || null };
		});
	const at = (time: number, jobs = JOBS) => cumulativeIncidence(jobs).findLast((step) => step.time <= time);
	it('cumulative incidence (survfit of the R package survival)', () => {
		expect(at(12)?.incidence.get(1)).toBeCloseTo(0.2, 6);
		expect(at(22)?.incidence.get(1)).toBeCloseTo(0.345833, 6);
		expect(at(15)?.incidence.get(2)).toBeCloseTo(0.216667, 6);
		expect(at(25)?.incidence.get(2)).toBeCloseTo(0.3625, 6);
		expect(at(30)?.free).toBeCloseTo(0.291667, 6);
	});
	const anyJobs = fc.array(
		fc.record({ time: fc.integer({ min: 1, max: 40 }), cause: fc.option(fc.integer({ min: 1, max: 3 })) }),
		{ maxLength: 60 }
	);
	it('causes and what is left are 1 at any time, what is left is Kaplan and Meier’s estimate, the order does not matter', () => {
		fc.assert(
			fc.property(anyJobs, (jobs) => {
				const survival = kaplanMeier(jobs.map(({ time, cause }) => ({ time, event: cause !== null })));
				for (const { time, incidence, free } of cumulativeIncidence(jobs)) {
					const sum = [...incidence.values()].reduce((all, each) => all + each, 0);
					expect(sum + free).toBeCloseTo(1, 9);
					expect(free).toBeCloseTo(survivalAt(survival, time), 9);
				}
				const turned = cumulativeIncidence([...jobs].reverse()).at(-1);
				for (const [cause, share] of cumulativeIncidence(jobs).at(-1)?.incidence ?? []) {
					expect(turned?.incidence.get(cause)).toBeCloseTo(share, 9);
				}
			})
		);
	});
});

describe('limits of a funnel', () => {
	it.each([
		[100, 0.025, 0.025397],
		[100, 0.975, 0.132166],
		[100, 0.001, 0.003657],
		[100, 0.999, 0.169532]
	])(
		'usual .08, %i jobs, %f: %f (D. J. Spiegelhalter, Statistics in Medicine 24, 2005, exact interpolated)',
		(n, p, limit) => expect(funnelLimit(0.08, n, p)).toBeCloseTo(limit, 5)
	);
	it('lies within 0 and 1, for one job too, and closes with more of them', () => {
		expect(funnelLimit(0.08, 1, 0.025)).toBeGreaterThanOrEqual(0);
		expect(funnelLimit(0.08, 1, 0.975)).toBeLessThanOrEqual(1);
		const width = (n: number) => funnelLimit(0.08, n, 0.975) - funnelLimit(0.08, n, 0.025);
		expect([10, 40, 160, 640].map(width).every((each, i, all) => i === 0 || each < (all[i - 1] ?? 0))).toBe(
			true
		);
	});
});

describe('a belief and comebacks', () => {
	it.each([
		[5, 47, 0.0326065, 0.188806],
		[3, 97, 0.0062933, 0.0710761]
	])('Beta(%i, %i): 95 %% %f to %f (R, qbeta)', (a, b, low, high) => {
		expect(betaQuantile(0.025, a, b)).toBeCloseTo(low, 6);
		expect(betaQuantile(0.975, a, b)).toBeCloseTo(high, 6);
	});
});
