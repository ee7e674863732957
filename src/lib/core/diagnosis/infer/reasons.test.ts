import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	logPriorOfSets,
	marginals,
	posteriorOfSets,
	setsOfUpToThree,
	setsOfUpToTwo,
	type FaultSet
} from '../fault-sets';
import { explain } from './reasons';

/** Log odds of each fault: what is for it against what is not, each summed by itself, since 1 less a chance near 1 is rounding alone. */
const logOddsOf = (sets: readonly FaultSet[], posterior: Float64Array, faults: number): number[] =>
	Array.from({ length: faults }, (_, fault) => {
		const mass = (isThere: boolean) =>
			sets.reduce((sum, set, s) => (set.includes(fault) === isThere ? sum + (posterior[s] ?? 0) : sum), 0);
		return Math.log(mass(true)) - Math.log(mass(false));
	});
const product = (values: readonly number[]) => values.reduce((all, value) => all * value, 1);

/** A made-up case: shares of four faults and what each piece of evidence says under every set of up to three. */
const cases = fc
	.record({
		shares: fc.array(fc.double({ min: 0.01, max: 1, noNaN: true }), { minLength: 4, maxLength: 4 }),
		chances: fc.array(
			fc.array(fc.double({ min: 0.005, max: 0.995, noNaN: true }), { minLength: 15, maxLength: 15 }),
			{ minLength: 1, maxLength: 6 }
		)
	})
	.map(({ shares, chances }) => {
		const sets = setsOfUpToThree(4);
		return {
			sets,
			prior: logPriorOfSets(sets, shares, [0.05, 0.8, 0.12, 0.03]),
			likelihoods: chances.map((row, e) => ({
				evidence: `e${e}`,
				logLikelihood: Float64Array.from(sets, (_, s) => Math.log(row[s] as number))
			}))
		};
	});

describe('reasons', () => {
	it('add up: the usual odds times every factor are the odds', () =>
		fc.assert(
			fc.property(cases, ({ sets, prior, likelihoods }) => {
				const posterior = posteriorOfSets(
					prior,
					likelihoods.map(({ logLikelihood }) => logLikelihood)
				);
				const before = marginals(sets, posteriorOfSets(prior, []), 4);
				const after = logOddsOf(sets, posterior, 4);
				explain(sets, prior, likelihoods, 4).forEach(({ usual, reasons }, f) => {
					expect(usual).toBeCloseTo(before[f] as number, 9);
					const odds = (usual / (1 - usual)) * product(reasons.map(({ factor }) => factor));
					expect(Math.log(odds)).toBeCloseTo(after[f] as number, 8);
				});
			})
		));

	it('do not depend on the order of the evidence', () =>
		fc.assert(
			fc.property(cases, ({ sets, prior, likelihoods }) => {
				const forth = explain(sets, prior, likelihoods, 4);
				const back = explain(sets, prior, [...likelihoods].reverse(), 4);
				forth.forEach(({ reasons }, f) => {
					const other = new Map(back[f]?.reasons.map(({ evidence, factor }) => [evidence, factor]));
					for (const { evidence, factor } of reasons) {
						expect(Math.log(other.get(evidence) as number)).toBeCloseTo(Math.log(factor), 9);
					}
				});
			})
		));

	// of 808 random cases the quadrature was off by more than 0.0005 in one: these few are the same each time, the random ones are held looser
	it.each([
		['to 0.0005', 3, { numRuns: 12, seed: 7 }],
		['to 0.005 wherever they are drawn', 2, { numRuns: 5 }]
	])(
		'are the change of the log odds as each piece grows alone, walked along in small steps, %s',
		(_, digits, runs) =>
			fc.assert(
				fc.property(cases, ({ sets, prior, likelihoods }) => {
					const explained = explain(sets, prior, likelihoods, 4);
					const at = (part: number, own: number, e: number) =>
						logOddsOf(
							sets,
							posteriorOfSets(
								prior,
								likelihoods.map(({ logLikelihood }, i) =>
									logLikelihood.map((log) => log * (i === e ? own : part))
								)
							),
							4
						);
					const walk = (steps: number, e: number) => {
						const walked = [0, 0, 0, 0];
						for (let k = 0; k < steps; k++) {
							const middle = (k + 0.5) / steps;
							const [low, high] = [at(middle, middle - 0.5 / steps, e), at(middle, middle + 0.5 / steps, e)];
							walked.forEach((sum, f) => (walked[f] = sum + (high[f] as number) - (low[f] as number)));
						}
						return walked;
					};
					likelihoods.forEach(({ evidence }, e) => {
						// the error of such a walk falls with the square of its steps: two walks take most of it out (Richardson 1911)
						const [coarse, fine] = [walk(200, e), walk(400, e)];
						explained.forEach(({ reasons }, f) => {
							const found = reasons.find((reason) => reason.evidence === evidence);
							const walked = (4 * (fine[f] as number) - (coarse[f] as number)) / 3;
							expect(Math.log(found?.factor as number)).toBeCloseTo(walked, digits);
						});
					});
				}),
				runs
			)
	);

	// Weights of evidence of independent pieces are log likelihood ratios: I. J. Good, Probability and the Weighing of
	// Evidence (1950). Figures of one test from Eddy 1982 / Gigerenzer & Hoffrage 1995, as in tests/reference/bayes.test.ts.
	it('are likelihood ratios where one fault stands against none', () => {
		const sets = [[], [0]];
		const prior = Float64Array.from([0.99, 0.01], Math.log);
		const test = (evidence: string) => ({
			evidence,
			logLikelihood: Float64Array.from([0.096, 0.8], Math.log)
		});
		const [only] = explain(sets, prior, [test('first'), test('second')], 1);
		expect(only?.usual).toBeCloseTo(0.01, 12);
		for (const { factor } of only?.reasons ?? []) expect(factor).toBeCloseTo(0.8 / 0.096, 9);
	});

	it('come loudest first, for or against, equal ones by their names', () => {
		const sets = [[], [0]];
		const prior = Float64Array.from([0.5, 0.5], Math.log);
		const piece = (evidence: string, ratio: number) => ({
			evidence,
			logLikelihood: Float64Array.from([0.5, 0.5 * ratio], Math.log)
		});
		const all = [piece('d', 1.1), piece('c', 3), piece('b', 0.1), piece('a', 3), piece('e', 1 / 3)];
		const order = (some: typeof all) =>
			explain(sets, prior, some, 1)[0]?.reasons.map(({ evidence }) => evidence);
		expect(order(all)?.[0]).toBe('b');
		expect(order(all)?.at(-1)).toBe('d');
		// against as loud as for, but for the last digit
		expect(order(all)?.slice(1, 4).sort()).toEqual(['a', 'c', 'e']);
		expect(order([piece('z', 2), piece('x', 2), piece('y', 2)])).toEqual(['x', 'y', 'z']);
	});

	it('stay finite where a fault is all but certain, and take what was tried twice as one', () => {
		const sets = setsOfUpToTwo(2);
		const prior = logPriorOfSets(sets, [0.5, 0.5], [0.01, 0.89, 0.1, 0]);
		const clear = {
			evidence: 'tried:x=false',
			logLikelihood: Float64Array.from(sets, (set) => Math.log(set.includes(0) ? 1 : 1e-9))
		};
		const [certain, other] = explain(sets, prior, [clear, clear], 2);
		expect(certain?.reasons).toHaveLength(1);
		expect(Math.log(certain?.reasons[0]?.factor as number)).toBeCloseTo(18 * Math.LN10, 4);
		expect(Number.isFinite(other?.reasons[0]?.factor)).toBe(true);
	});

	it('say nothing where there is no evidence', () => {
		const sets = setsOfUpToTwo(2);
		const prior = logPriorOfSets(sets, [0.7, 0.3], [0.05, 0.95, 0, 0]);
		const [first] = explain(sets, prior, [], 2);
		expect(first?.reasons).toEqual([]);
		expect(first?.usual).toBeCloseTo(0.95 * 0.7, 9);
	});
});
