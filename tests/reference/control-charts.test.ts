import { describe, expect, it } from 'vitest';
import { averageRunLength } from '$lib/core/statistics/cusum';
import { normalCdf } from '$lib/core/statistics/normal';

describe('run lengths of cumulative sums', () => {
	const oneSided = (limit: number, shift: number) =>
		averageRunLength({ limit, cdf: (step) => normalCdf(step + 0.5 - shift) });
	const twoSided = (limit: number, shift: number) =>
		1 / (1 / oneSided(limit, shift) + 1 / oneSided(limit, -shift));
	/** of normal readings, allowance half a standard deviation: D. C. Montgomery, Introduction to Statistical Quality Control, to more places */
	it.each([
		[4, 0, 167.684],
		[4, 1, 8.3831],
		[5, 0, 465.444],
		[5, 0.5, 37.996],
		[5, 1, 10.376],
		[5, 2, 4.0089]
	])('limit %d, shifted by %d standard deviations: %d', (limit, shift, run) =>
		expect(twoSided(limit, shift) / run).toBeCloseTo(1, 2.9)
	);
	it('one side alone, nothing shifted', () => expect(oneSided(5, 0) / 930.887).toBeCloseTo(1, 2.9));
	/** comebacks as they come: 13 up for one that did, 1 down for one that did not, ringing at 56; a Markov chain and a simulation */
	it.each([
		[0.05, 1195.64],
		[0.1, 108.462],
		[0.15, 48.849]
	])('of a lattice, one comeback in %d: %d jobs', (chance, run) => {
		const cdf = (step: number) => (step >= 13 ? 1 : step >= -1 ? 1 - chance : 0);
		expect(averageRunLength({ limit: 55.5, bands: 56, cdf }) / run).toBeCloseTo(1, 4);
	});
	it('more bands come closer', () => {
		const cdf = (step: number) => normalCdf(step + 0.5);
		const off = (bands: number) => Math.abs(averageRunLength({ limit: 5, cdf, bands }) - 930.887);
		expect(off(200)).toBeLessThan(off(50) / 8);
	});
});
