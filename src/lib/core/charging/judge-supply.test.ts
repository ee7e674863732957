import { describe, expect, it } from 'vitest';
import { judgeSupplies, judgeSupply } from './judge-supply';

describe('a look through the bench supply', () => {
	it.each([
		[[0, 0], 'nothing'],
		[[0.004, 0.0049], 'nothing'],
		[[0, 0.005], 'hangs'],
		[[1.5, 1.5], 'short'],
		[[1.49, 1.49], 'hangs'],
		[[0.02, 0.18, 0.03], 'jump-and-back'],
		[[0.02, 0.18, 0.06], 'jump-and-back'],
		[[0.02, 0.18, 0.061], 'hangs'],
		[[0.02, 0.05, 0.11, 0.2], 'steady-climb'],
		[[0.02, 0.05, 0.046, 0.2], 'steady-climb'],
		[[0.02, 0.05, 0.044, 0.2], 'hangs'],
		[[0.1, 0.11, 0.12], 'hangs'],
		[[0.02, 0.2, 0.03, 0.2, 0.03], 'cycles'],
		[[0.02, 0.2, 0.03, 0.2], 'cycles'],
		[[0.02, 0.2, 0.1, 0.2, 0.03], 'jump-and-back']
	] as const)('%j: %s', (amps, verdict) => expect(judgeSupply(amps)).toBe(verdict));
});

describe('looks through the bench supply together', () => {
	const JUMP = [0.02, 0.18, 0.03];
	const CLIMB = [0.02, 0.05, 0.11, 0.2];
	const goods = (...looks: { amps: number[]; orientation?: 'a' | 'b' }[]) =>
		judgeSupplies(looks).looks.map(({ good }) => good);
	it('a jump and back is good on both sides, or where there are no sides', () => {
		expect(goods({ amps: JUMP, orientation: 'a' })).toEqual([null]);
		expect(goods({ amps: JUMP, orientation: 'a' }, { amps: JUMP, orientation: 'b' })).toEqual([true, true]);
		expect(goods({ amps: JUMP, orientation: 'a' }, { amps: [0, 0], orientation: 'b' })).toEqual([
			null,
			false
		]);
		expect(goods({ amps: JUMP, orientation: 'a' }, { amps: CLIMB, orientation: 'b' })).toEqual([true, true]);
		expect(goods({ amps: JUMP })).toEqual([true]);
	});
	it('a climb is good by itself, nothing and a short never, to hang or to start over says nothing', () => {
		expect(goods({ amps: CLIMB, orientation: 'b' })).toEqual([true]);
		expect(goods({ amps: [0, 0] }, { amps: [2, 2] })).toEqual([false, false]);
		expect(goods({ amps: [0.1, 0.11] }, { amps: [0.02, 0.2, 0.03, 0.2] })).toEqual([null, null]);
	});
	it('both sides answer only where each was seen to', () => {
		expect(judgeSupplies([{ amps: JUMP, orientation: 'a' }]).bothSides).toBe(false);
		expect(
			judgeSupplies([
				{ amps: JUMP, orientation: 'a' },
				{ amps: CLIMB, orientation: 'b' }
			]).bothSides
		).toBe(true);
		expect(judgeSupplies([{ amps: JUMP }, { amps: JUMP }]).bothSides).toBe(false);
	});
	it('instead of the battery a jump and back alone says little, and is no side of the port', () => {
		const fed = 'battery' as const;
		expect(judgeSupplies([{ amps: JUMP, fed }]).looks[0]?.good).toBeNull();
		expect(judgeSupplies([{ amps: JUMP, fed: 'port' }]).looks[0]?.good).toBe(true);
		expect(
			judgeSupplies([
				{ amps: JUMP, orientation: 'a', fed },
				{ amps: JUMP, orientation: 'b', fed }
			]).bothSides
		).toBe(false);
	});
});
