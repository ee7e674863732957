import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { attemptLikelihoods, leftAfter } from '$worlds/attempts-in-order';
import { withoutFixed, type Remedy } from './attempts';
import type { FaultSet } from '../fault-sets';

type Tried = { remedy: Remedy; resolved: boolean };
const SLIP = 0.02;

/** The model spelt out: both courses of every attempt, one by one. */
function everyCourse(set: FaultSet, [first, ...rest]: readonly Tried[]): number {
	if (!first) return 1;
	const left = withoutFixed(set, first.remedy);
	const addressed = left.length < set.length;
	const { success } = first.remedy;
	if (first.resolved) return addressed && left.length === 0 ? success * (1 - SLIP) : SLIP;
	if (!addressed) return (1 - SLIP) * everyCourse(set, rest);
	const partly = left.length > 0 ? success * everyCourse(left, rest) : success * SLIP;
	return (1 - success) * everyCourse(set, rest) + partly;
}

const remedy = fc
	.record({ fixes: fc.subarray([0, 1, 2, 3]), success: fc.double({ min: 0, max: 1, noNaN: true }) })
	.map(({ fixes, success }): Remedy => ({ code: 'r', fixes: new Set(fixes), success }));
const set = fc.subarray([0, 1, 2], { maxLength: 3 });

describe('likelihood of attempts', () => {
	it('is that of every course of them, spelt out', () =>
		fc.assert(
			fc.property(
				set,
				fc.array(fc.record({ remedy, resolved: fc.boolean() }), { maxLength: 9 }),
				(faults, tried) => {
					attemptLikelihoods(faults, tried).forEach((likelihood, i) => {
						const whole = everyCourse(faults, tried.slice(0, i + 1));
						expect(Math.abs(likelihood - whole)).toBeLessThanOrEqual(1e-12);
					});
				}
			),
			{ numRuns: 500 }
		));
	it('takes as many steps as there are attempts, times the faults of the set', () => {
		let looks = 0;
		class Counted extends Set<number> {
			override has(fault: number) {
				looks += 1;
				return super.has(fault);
			}
		}
		const half: Remedy = { code: 'half', fixes: new Counted([0]), success: 0.5 };
		const other: Remedy = { code: 'other', fixes: new Counted([1, 2]), success: 0.4 };
		const tried = Array.from({ length: 500 }, (_, i) => ({ remedy: i % 2 ? half : other, resolved: false }));
		expect(attemptLikelihoods([0, 1, 2], tried)).toHaveLength(500);
		expect(looks).toBeLessThanOrEqual(500 * 3);
	});
});

/** What may be left, spelt out: every course of attempts that failed, with its weight. */
function everyEnd(set: FaultSet, [first, ...rest]: readonly Remedy[]): [left: FaultSet, weight: number][] {
	if (!first) return [[set, 1]];
	const left = withoutFixed(set, first);
	const times = (by: number, ends: [FaultSet, number][]) =>
		ends.map(([end, weight]): [FaultSet, number] => [end, weight * by]);
	if (left.length === set.length) return times(1 - SLIP, everyEnd(set, rest));
	const mended = left.length > 0 ? everyEnd(left, rest) : ([[[], SLIP]] as [FaultSet, number][]);
	return [...times(1 - first.success, everyEnd(set, rest)), ...times(first.success, mended)];
}

describe('what failed attempts leave', () => {
	const certain = fc.record({
		fixes: fc.subarray([0, 1, 2, 3]),
		success: fc.double({ min: 0.01, max: 0.99, noNaN: true })
	});
	it('is what every course of them leaves, spelt out', () =>
		fc.assert(
			fc.property(set, fc.array(certain, { maxLength: 7 }), (faults, some) => {
				const remedies = some.map(({ fixes, success }): Remedy => ({
					code: 'r',
					fixes: new Set(fixes),
					success
				}));
				const found = leftAfter(
					faults,
					remedies.map((remedy) => ({ remedy, resolved: false }))
				);
				const ends = everyEnd(faults, remedies);
				const total = ends.reduce((sum, [, weight]) => sum + weight, 0);
				expect(found.reduce((sum, { chance }) => sum + chance, 0)).toBeCloseTo(1, 12);
				for (const { left, chance } of found) {
					const same = ends.filter(([end]) => end.join() === left.join());
					expect(chance).toBeCloseTo(same.reduce((sum, [, weight]) => sum + weight, 0) / total, 12);
				}
			})
		));
	it('ends with the first that resolved, and is the whole set without any', () => {
		const fix: Remedy = { code: 'r', fixes: new Set([0]), success: 0.9 };
		expect(leftAfter([0, 3], [])).toEqual([{ left: [0, 3], chance: 1 }]);
		const failed = leftAfter([0, 3], [{ remedy: fix, resolved: false }]);
		expect(failed.map(({ left, chance }) => [left.join(), chance.toFixed(6)])).toEqual([
			['3', '0.900000'],
			['0,3', '0.100000']
		]);
		expect(leftAfter([0, 3], [{ remedy: fix, resolved: true }])).toEqual(leftAfter([0, 3], []));
		expect(
			leftAfter(
				[0, 3],
				[
					{ remedy: fix, resolved: false },
					{ remedy: fix, resolved: true }
				]
			)
		).toEqual(failed);
	});
});
