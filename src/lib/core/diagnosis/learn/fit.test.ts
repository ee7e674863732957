import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	answersByFault,
	likeliestHyperparameters,
	likeliestTrust,
	type QuestionCounts
} from './answer-model';

const question = (perFault: number[][], more: Partial<QuestionCounts> = {}): QuestionCounts => ({
	perFault,
	none: [0, 0],
	beliefs: perFault.map(() => null),
	usual: [1, 1],
	...more
});
const hyperparameters = { share: 0.2, near: 60, informative: 0.8, contrast: 0 };

describe('informative faults from quiet ones', () => {
	it('a fault that speaks clearly keeps its own answers, quiet ones lean on what is usual', () => {
		const { background, perFault } = answersByFault(
			question([
				[2, 38],
				[3, 47],
				[18, 2],
				[1, 3]
			]),
			hyperparameters,
			0.6
		);
		expect(background[0]).toBeLessThan(0.12);
		expect(perFault[2]?.chances[0]).toBeGreaterThan(0.8);
		// four tickets say little: near the usual 7 in 100, not at 1 in 4
		expect(perFault[3]?.chances[0]).toBeLessThan(0.15);
	});
	it('chances of answers sum to one, whatever the counts', () => {
		const counts = fc.array(fc.tuple(fc.nat(60), fc.nat(60), fc.nat(9)), { minLength: 1, maxLength: 6 });
		fc.assert(
			fc.property(counts, (rows) => {
				const asked = question(
					rows.map((row) => [...row]),
					{ none: [0, 0, 0], usual: [1, 1, 1] }
				);
				const { background, none, perFault } = answersByFault(asked, likeliestHyperparameters([asked]), 0.6);
				for (const chances of [background, none.chances, ...perFault.map(({ chances }) => chances)]) {
					expect(chances.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
					expect(Math.min(...chances)).toBeGreaterThan(0);
				}
			}),
			{ numRuns: 60 }
		);
	});
	it('a starting belief holds while nothing is known, and gives way where the counts deny it', () => {
		const stated = (count: number[]) =>
			answersByFault(
				question([count], { beliefs: [{ chances: [0.9, 0.1], weight: 4 }] }),
				hyperparameters,
				0.6
			).perFault[0]?.chances[0] ?? 0;
		expect(stated([0, 0])).toBeGreaterThan(0.6);
		expect(stated([1, 40])).toBeLessThan(0.1);
		expect(stated([36, 4])).toBeGreaterThan(0.8);
	});
	it('beliefs that the counts bear out are trusted more than those that they deny', () => {
		const rows = (count: number[]) =>
			Array.from({ length: 12 }, () =>
				question([count, [1, 20], [2, 30]], { beliefs: [{ chances: [0.8, 0.2], weight: 4 }, null, null] })
			);
		expect(likeliestTrust(rows([16, 4]), hyperparameters)).toBeGreaterThan(0.7);
		expect(likeliestTrust(rows([1, 19]), hyperparameters)).toBeLessThan(0.4);
	});
});
