import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { withBias, biasChances, reweighted, biasOf } from './answer-bias';

const usual = [
	[0.7, 0.2, 0.1],
	[0.1, 0.2, 0.7]
];
const row = (fault: number, counts: number[]) => ({ fault, counts });

describe('tilt of a model’s answers', () => {
	it('is one and gains nothing where the model answers as usual', () => {
		const { factors, gain } = biasOf([row(0, [70, 20, 10]), row(1, [10, 20, 70])], usual);
		for (const factor of factors) expect(factor).toBeCloseTo(1, 6);
		expect(gain).toBeLessThan(0);
		expect(biasChances(Array.from({ length: 30 }, () => ({ factors, gain })))[0]).toBe(0);
	});
	it('finds an answer that is never given, whatever is wrong, and believes it', () => {
		const { factors, gain } = biasOf([row(0, [80, 0, 12]), row(1, [11, 0, 85])], usual);
		expect(factors[1]).toBeLessThan(0.3);
		expect(gain).toBeGreaterThan(10);
		expect(biasChances([{ factors, gain }])[0]).toBeGreaterThan(0.9);
	});
	it('makes what is expected what was seen, where many tickets were seen', () => {
		const rows = [row(0, [3000, 6000, 1000]), row(1, [1000, 8000, 1000])];
		const { factors } = biasOf(rows, usual);
		const expected = [0, 1, 2].map((k) =>
			rows.reduce(
				(sum, { fault }) => sum + 10_000 * (reweighted(usual[fault] as number[], factors)[k] as number),
				0
			)
		);
		[4000, 14_000, 2000].forEach((seen, k) => expect((expected[k] as number) / seen).toBeCloseTo(1, 1));
	});
	it('keeps chances that sum to one, and does not tell faults apart by an answer that biased for all', () =>
		fc.assert(
			fc.property(
				fc.array(fc.double({ min: 0.05, max: 5, noNaN: true }), { minLength: 3, maxLength: 3 }),
				fc.double({ min: 0, max: 1, noNaN: true }),
				(factors, believed) => {
					const answers = {
						background: [0.5, 0.3, 0.2],
						none: { chances: [0.6, 0.3, 0.1], weight: 5 },
						perFault: usual.map((chances) => ({ chances, weight: 10, doubts: [0, 0, 0] }))
					};
					const { background, none, perFault } = withBias(answers, factors, believed);
					for (const chances of [background, none.chances, ...perFault.map(({ chances }) => chances)]) {
						expect(chances.reduce((sum, chance) => sum + chance, 0)).toBeCloseTo(1, 9);
					}
					// the same answer under two faults that give it alike: no fault is favoured more than by what else they say
					const whole = withBias(answers, factors, 1).perFault.map(({ chances }) => chances);
					const ratio = (of: number[][], a: number, b: number) =>
						((of[0]?.[a] as number) / (of[0]?.[b] as number)) *
						((of[1]?.[b] as number) / (of[1]?.[a] as number));
					expect(ratio(whole, 0, 2)).toBeCloseTo(ratio(usual, 0, 2), 6);
				}
			)
		));
});
