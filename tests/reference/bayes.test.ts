import { describe, expect, it } from 'vitest';
import {
	enumerateSets,
	marginals,
	noisyOr,
	posteriorOfSets,
	type FaultSet
} from '$lib/core/diagnosis/fault-sets';

/** All subsets of n faults: the engine's functions work on any list of sets. */
function allSubsets(n: number): FaultSet[] {
	return Array.from({ length: 2 ** n }, (_, bits) =>
		Array.from({ length: n }, (_, i) => i).filter((i) => bits & (1 << i))
	);
}
const independent = (sets: readonly FaultSet[], priors: number[]) =>
	Float64Array.from(sets, (set) =>
		priors.reduce((log, p, i) => log + Math.log(set.includes(i) ? p : 1 - p), 0)
	);
const sign = (sets: readonly FaultSet[], leak: number, links: number[], present: boolean) =>
	Float64Array.from(sets, (set) => {
		const chance = noisyOr(leak, links, set);
		return Math.log(present ? chance : 1 - chance);
	});

describe('Bayes by the engine', () => {
	// Source: problem form of Eddy (1982); Gigerenzer & Hoffrage, Psychological Review 102 (1995). Quoted from memory, recomputed.
	it('one positive test: prevalence 0.01, sensitivity 0.80, false positives 0.096', () => {
		const sets = enumerateSets(1);
		const prior = independent(sets, [0.01]);
		const positive = Float64Array.from(sets, (set) => Math.log(set.length ? 0.8 : 0.096));
		const negative = Float64Array.from(sets, (set) => Math.log(set.length ? 0.2 : 0.904));
		expect(posteriorOfSets(prior, [positive])[1]).toBeCloseTo(0.0776398, 6);
		expect(posteriorOfSets(prior, [negative])[0]).toBeCloseTo(0.9977702, 6);
		expect(posteriorOfSets(prior, [positive, positive])[1]).toBeCloseTo(0.4122691, 6);
	});

	// Source: Russell & Norvig, Artificial Intelligence: A Modern Approach, noisy-OR example (from memory).
	it.each([
		[[], 0],
		[['malaria'], 0.9],
		[['flu'], 0.8],
		[['flu', 'malaria'], 0.98],
		[['cold'], 0.4],
		[['cold', 'malaria'], 0.94],
		[['cold', 'flu'], 0.88],
		[['cold', 'flu', 'malaria'], 0.988]
	])('noisy-OR of %j is %d', (causes, chance) => {
		const names = ['cold', 'flu', 'malaria'];
		expect(
			noisyOr(
				0,
				[0.4, 0.8, 0.9],
				causes.map((cause) => names.indexOf(cause))
			)
		).toBeCloseTo(chance, 12);
	});

	// Source: computed by enumeration outside the project (reference B6 and B7 of the design).
	it('noisy-OR with leak over three faults, one sign present, then another absent', () => {
		const sets = allSubsets(3);
		const prior = independent(sets, [0.1, 0.05, 0.02]);
		const first = sign(sets, 0.01, [0.8, 0.9, 0.6], true);
		const posterior = posteriorOfSets(prior, [first]);
		const [a, b, c] = marginals(sets, posterior, 3) as [number, number, number];
		expect(a).toBeCloseTo(0.578266, 6);
		expect(b).toBeCloseTo(0.323563, 6);
		expect(c).toBeCloseTo(0.09274, 6);
		expect(posterior[0]).toBeCloseTo(0.059585, 6);
		const several = sets.reduce((sum, set, i) => sum + (set.length > 1 ? (posterior[i] as number) : 0), 0);
		expect(several).toBeCloseTo(0.053448, 6);
		const evidence = prior.reduce((sum, log, i) => sum + Math.exp(log + (first[i] as number)), 0);
		expect(evidence).toBeCloseTo(0.140624, 6);
		const both = posteriorOfSets(prior, [first, sign(sets, 0.02, [0.1, 0.7, 0.5], false)]);
		const [a2, b2, c2] = marginals(sets, both, 3) as [number, number, number];
		expect(a2).toBeCloseTo(0.730287, 6);
		expect(b2).toBeCloseTo(0.140795, 6);
		expect(c2).toBeCloseTo(0.064227, 6);
		expect(both[0]).toBeCloseTo(0.088302, 6);
	});

	// Source: computed outside the project (reference B8 of the design): two Gaussian readings.
	it('measured values as evidence', () => {
		const density = (x: number, mean: number, sd: number) =>
			-0.5 * ((x - mean) / sd) ** 2 - Math.log(sd * Math.sqrt(2 * Math.PI));
		const prior = Float64Array.from([Math.log(0.7), Math.log(0.3)]);
		const first = Float64Array.from([density(0.412, 0.45, 0.02), density(0.412, 0.4, 0.04)]);
		const second = Float64Array.from([density(0.055, 0.06, 0.01), density(0.055, 0.03, 0.02)]);
		expect(posteriorOfSets(prior, [first, second])[1]).toBeCloseTo(0.2441902, 6);
	});

	// Source: Russell & Norvig, Artificial Intelligence: A Modern Approach, the burglary network (from memory, recomputed).
	it('burglary and earthquake behind one alarm: explained away', () => {
		const sets = enumerateSets(2);
		const prior = independent(sets, [0.001, 0.002]);
		const alarm = (set: FaultSet) =>
			set.length === 2 ? 0.95 : set[0] === 0 ? 0.94 : set[0] === 1 ? 0.29 : 0.001;
		const calls = Float64Array.from(sets, (set) =>
			Math.log(alarm(set) * 0.9 * 0.7 + (1 - alarm(set)) * 0.05 * 0.01)
		);
		const [burglary, quake] = marginals(sets, posteriorOfSets(prior, [calls]), 2);
		expect(burglary).toBeCloseTo(0.2841718, 6);
		expect(quake).toBeCloseTo(0.1760668, 6);
		const rings = Float64Array.from(sets, (set) => Math.log(alarm(set)));
		expect(marginals(sets, posteriorOfSets(prior, [rings]), 2)[0]).toBeCloseTo(0.3735512, 6);
		const shakes = Float64Array.from(sets, (set) => (set.includes(1) ? 0 : -Infinity));
		expect(marginals(sets, posteriorOfSets(prior, [rings, shakes]), 2)[0]).toBeCloseTo(0.0032684, 6);
	});

	// Source: K. Murphy's tutorial on Bayes nets; Russell & Norvig: the sprinkler network (from memory, recomputed).
	it('sprinkler and rain behind wet grass, both led by the clouds', () => {
		const sets = enumerateSets(2);
		const causes = (set: FaultSet, s: number, r: number) =>
			(set.includes(0) ? s : 1 - s) * (set.includes(1) ? r : 1 - r);
		const prior = Float64Array.from(sets, (set) =>
			Math.log(0.5 * causes(set, 0.1, 0.8) + 0.5 * causes(set, 0.5, 0.2))
		);
		const wet = Float64Array.from(sets, (set) =>
			Math.log(set.length === 2 ? 0.99 : set.length === 1 ? 0.9 : 0)
		);
		const [sprinkler, rain] = marginals(sets, posteriorOfSets(prior, [wet]), 2);
		expect(sprinkler).toBeCloseTo(0.4297636, 6);
		expect(rain).toBeCloseTo(0.7079277, 6);
		const rained = Float64Array.from(sets, (set) => (set.includes(1) ? 0 : -Infinity));
		expect(marginals(sets, posteriorOfSets(prior, [wet, rained]), 2)[0]).toBeCloseTo(0.194499, 6);
	});
});
