import { describe, expect, it } from 'vitest';
import { drawIndex, indexDrawer, seededRandom, type Random } from './random';

describe('drawing by weight', () => {
	const at =
		(share: number): Random =>
		() =>
			share;
	it.each<[number[], number, number]>([
		[[1], 0, 0],
		[[1, 1], 0.499, 0],
		[[1, 1], 0.5, 1],
		[[0, 2, 0, 2], 0, 1],
		[[0, 2, 0, 2], 0.499, 1],
		[[0, 2, 0, 2], 0.5, 3],
		[[1, 2, 5, 0], 1 - 1e-12, 2],
		[[3, 0, 1], 0.7499, 0],
		[[3, 0, 1], 0.75, 2]
	])('of %j at %f it is number %i', (weights, share, index) => {
		expect(indexDrawer(weights)(at(share))).toBe(index);
		expect(drawIndex(at(share), weights)).toBe(index);
	});
	it('the search and the walk along the weights draw the same', () => {
		const dice = seededRandom(3);
		for (let i = 0; i < 300; i++) {
			const weights = Array.from({ length: 1 + Math.floor(dice() * 40) }, () => Math.floor(dice() * 4));
			if (weights.every((weight) => weight === 0)) continue;
			const share = dice();
			expect(indexDrawer(weights)(at(share))).toBe(drawIndex(at(share), weights));
		}
	});
});
