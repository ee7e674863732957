import { describe, expect, it } from 'vitest';
import { simulateCharge } from '$worlds/simulated-charge';
import { changePoints } from '../statistics/change-points';
import { drawNormal, seededRandom } from '../units/random';
import { decimate, pathResistance, tracePhases, traceSums, type Trace } from './trace-phases';

describe('changes of a level', () => {
	it('are found where they are', () => {
		const random = seededRandom(3);
		const truth = [100, 130, 400, 402, 900];
		const levels = [0, 1, 0.5, 3, 0.5, 0.2];
		const values = Float64Array.from(
			{ length: 1500 },
			(_, i) => (levels[truth.filter((cut) => cut <= i).length] as number) + 0.05 * drawNormal(random)
		);
		expect(changePoints(values, 0.05)).toEqual(truth);
	});
	it('are seldom found where there is none', () => {
		let false_ = 0;
		for (let seed = 0; seed < 40; seed++) {
			const random = seededRandom(seed);
			false_ +=
				changePoints(
					Float64Array.from({ length: 2000 }, () => drawNormal(random)),
					1
				).length > 0
					? 1
					: 0;
		}
		expect(false_).toBeLessThanOrEqual(3);
	});
});

describe('phases of a charge', () => {
	const whole = { amps: 1.4, flat: true, constantSeconds: 1800, tauSeconds: 900, stepSeconds: 0.5 };
	it('are told in order, cover the log without gaps, and begin where they began', () => {
		for (let seed = 1; seed <= 8; seed++) {
			const { trace, begins } = simulateCharge(seededRandom(seed), whole);
			const phases = tracePhases(trace, 1.4);
			expect(phases.map(({ kind }) => kind)).toEqual([
				'idle',
				'handshake',
				'precharge',
				'constant-current',
				'constant-voltage',
				'done'
			]);
			phases.slice(1).forEach(({ fromSeconds }, i) => expect(fromSeconds).toBe(phases[i]?.toSeconds));
			expect(phases[0]?.fromSeconds).toBe(0);
			expect(phases.at(-1)?.toSeconds).toBe(trace.seconds.at(-1));
			expect(Math.abs((phases[2]?.fromSeconds ?? 0) - (begins.precharge ?? 0))).toBeLessThan(2);
			expect(Math.abs((phases[3]?.fromSeconds ?? 0) - begins.constant)).toBeLessThan(2);
			// a decay begins slowly: a twentieth of its time constant is 5 % of the current
			expect(Math.abs((phases[4]?.fromSeconds ?? 0) - begins.taper)).toBeLessThan(300);
			expect(phases[2]?.amps).toBeCloseTo(0.06, 2);
			expect(phases[3]?.amps).toBeCloseTo(1.4, 1);
		}
	});
	it('the same without knowing the model', () => {
		const { trace } = simulateCharge(seededRandom(2), whole);
		expect(tracePhases(trace, null).map(({ kind }) => kind)).toContain('constant-current');
	});
	it('a dropout of two seconds in an hour is found', () => {
		const { trace } = simulateCharge(seededRandom(4), {
			...whole,
			flat: false,
			constantSeconds: 3600,
			dropout: { at: 1200, seconds: 2 }
		});
		const dropout = tracePhases(trace, 1.4).find(({ kind }) => kind === 'dropout');
		expect(dropout?.fromSeconds).toBeCloseTo(23 + 1200, 0);
		expect((dropout?.toSeconds ?? 0) - (dropout?.fromSeconds ?? 0)).toBeCloseTo(2, 0);
	});
	const flat = (n: number, amps: (i: number) => number, volts = 5.1): Trace => ({
		seconds: Float64Array.from({ length: n }, (_, i) => i),
		volts: new Float64Array(n).fill(volts),
		amps: Float64Array.from({ length: n }, (_, i) => amps(i))
	});
	it.each<[string, (i: number) => number, number | null, string[]]>([
		['nothing at all', () => 0, 1, ['idle']],
		['a trickle that goes on', () => 0.06, 1, ['precharge']],
		['half of what it should', () => 0.45, 1, ['steady']],
		['pulsing', (i) => (Math.floor(i / 3) % 2 ? 0.5 : 0.02), 1, ['pulsing']],
		['charging to the end of the log', () => 0.95, 1, ['constant-current']]
	])('%s', (_, amps, healthy, kinds) =>
		expect(tracePhases(flat(400, amps), healthy).map(({ kind }) => kind)).toEqual(kinds)
	);
	it('sums charge and energy, and leaves gaps out', () => {
		const { trace, chargeMah } = simulateCharge(seededRandom(5), { ...whole, noiseAmps: 0 });
		const sums = traceSums(trace);
		expect(Math.abs(sums.chargeMah / chargeMah - 1)).toBeLessThan(0.005);
		expect(sums.energyMwh / sums.chargeMah).toBeGreaterThan(4.8);
		const gapped: Trace = {
			seconds: Float64Array.of(0, 1, 2, 3, 5000, 5001),
			volts: new Float64Array(6).fill(5),
			amps: new Float64Array(6).fill(1)
		};
		expect(traceSums(gapped).gaps).toEqual([{ fromSeconds: 3, toSeconds: 5000 }]);
		expect(traceSums(gapped).chargeMah).toBeCloseTo(4 / 3.6, 6);
	});
	it('tells the resistance of supply and cable, with an interval that holds the truth', () => {
		const { trace } = simulateCharge(seededRandom(6), { ...whole, pathOhms: 0.2 });
		const found = pathResistance(tracePhases(trace, 1.4));
		expect(found?.low).toBeLessThan(0.2);
		expect(found?.high).toBeGreaterThan(0.2);
		expect(found?.ohms).toBeCloseTo(0.2, 1);
	});
	it('keeps extremes when it is drawn on few pixels', () => {
		const values = Float64Array.from({ length: 10_000 }, (_, i) => (i === 7777 ? 9 : Math.sin(i / 500)));
		const kept = decimate(values, 100);
		expect(kept.length).toBeLessThanOrEqual(400);
		expect(kept).toContain(7777);
		expect([kept[0], kept.at(-1)]).toEqual([0, 9999]);
	});
});
