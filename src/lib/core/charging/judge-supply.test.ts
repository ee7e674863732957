import { describe, expect, it } from 'vitest';
import { judgeSupply } from './judge-supply';

describe('a look through the bench supply', () => {
	it.each([
		[[0, 0], 'nothing'],
		[[0.004, 0.0049], 'nothing'],
		[[0, 0.005], 'stands-still'],
		[[1.5, 1.5], 'short'],
		[[1.49, 1.49], 'stands-still'],
		[[0.02, 0.18, 0.03], 'jump-and-back'],
		[[0.02, 0.18, 0.06], 'jump-and-back'],
		[[0.02, 0.18, 0.061], 'stands-still'],
		[[0.02, 0.05, 0.11, 0.2], 'steady-climb'],
		[[0.02, 0.05, 0.046, 0.2], 'steady-climb'],
		[[0.02, 0.05, 0.044, 0.2], 'stands-still'],
		[[0.1, 0.11, 0.12], 'stands-still']
	] as const)('%j: %s', (amps, verdict) => expect(judgeSupply(amps)).toBe(verdict));
});
