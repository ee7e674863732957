import { describe, expect, it } from 'vitest';
import { kinds, type Level } from '$worlds/levelled-log';

describe('pulses', () => {
	const wave = (low: number, high: number, rows: number, turns: number, more: Level[] = []) =>
		kinds([...Array.from({ length: turns }, (_, i): Level => [i % 2 ? low : high, rows]), ...more], 1);
	it('six stretches in turn are pulsing, five are not', () => {
		expect(wave(0.02, 0.5, 30, 6)).toEqual(['pulsing']);
		expect(wave(0.02, 0.5, 30, 5)).not.toContain('pulsing');
		expect(wave(0.02, 0.5, 30, 7, [[0.5, 300]])).toContain('pulsing');
	});
	it('each within a minute', () => {
		expect(wave(0.02, 0.5, 60, 8)).toEqual(['pulsing']);
		expect(wave(0.02, 0.5, 61, 8)).not.toContain('pulsing');
	});
	it('two and a half times apart', () => {
		expect(wave(0.1, 0.285, 30, 8)).toEqual(['pulsing']);
		expect(wave(0.1, 0.275, 30, 8)).not.toContain('pulsing');
	});
	it('up and down, not up and up', () => {
		const stairs = [0.02, 0.09, 0.3, 0.9, 2.6, 7.5].map((amps): Level => [amps, 30]);
		expect(kinds(stairs, 1)).not.toContain('pulsing');
	});
	it('fast ones inside one stretch too, where the current truly goes to and fro', () => {
		const fast = (low: number, high: number) =>
			kinds(
				Array.from({ length: 200 }, (_, i): Level => [i % 2 ? low : high, 1]),
				1
			);
		expect(fast(0.01, 0.4)).toEqual(['pulsing']);
		expect(fast(0.2, 0.4)).not.toContain('pulsing');
		expect(fast(0.001, 0.04)).not.toContain('pulsing');
	});
});
