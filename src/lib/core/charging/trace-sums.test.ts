import { describe, expect, it } from 'vitest';
import { seededRandom } from '../units/random';
import { decimate, pathResistance, traceSums, type Phase } from './trace-phases';

describe('sums of a log', () => {
	const sums = (steps: readonly number[], amps = 1, volts = 5) => {
		const seconds = steps.reduce((all, step) => [...all, (all.at(-1) as number) + step], [0]);
		return traceSums({
			seconds: Float64Array.from(seconds),
			volts: Float64Array.from(seconds, () => volts),
			amps: Float64Array.from(seconds, () => amps)
		});
	};
	it('a minute between rows is no gap, more is one and counts for nothing', () => {
		expect(sums([1, 1, 1, 60]).gaps).toEqual([]);
		expect(sums([1, 1, 1, 60]).chargeMah).toBeCloseTo(63 / 3.6, 9);
		expect(sums([1, 1, 61, 1])).toMatchObject({ gaps: [{ fromSeconds: 2, toSeconds: 63 }] });
		expect(sums([1, 1, 61, 1]).chargeMah).toBeCloseTo(3 / 3.6, 9);
	});
	it('a slow log has its own measure: twenty of its usual steps', () => {
		expect(sums([10, 10, 10, 200]).gaps).toEqual([]);
		expect(sums([10, 201, 10, 10]).gaps).toEqual([{ fromSeconds: 10, toSeconds: 211 }]);
	});
	it('charge and energy by the trapezoid rule, by hand', () => {
		const trace = {
			seconds: Float64Array.of(0, 2, 4),
			volts: Float64Array.of(4, 5, 6),
			amps: Float64Array.of(0, 1, 3)
		};
		const { chargeMah, energyMwh } = traceSums(trace);
		expect(chargeMah).toBeCloseTo((2 * (0 + 1) * 0.5 + 2 * (1 + 3) * 0.5) / 3.6, 12);
		expect(energyMwh).toBeCloseTo((2 * (0 + 5) * 0.5 + 2 * (5 + 18) * 0.5) / 3.6, 12);
		expect(sums([])).toEqual({ chargeMah: 0, energyMwh: 0, gaps: [] });
	});
});

describe('resistance of supply and cable', () => {
	const phase = (amps: number, volts: number, kind: Phase['kind'] = 'steady'): Phase => ({
		kind,
		fromSeconds: 0,
		toSeconds: 1,
		volts,
		amps
	});
	const sure = [phase(0, 5.1), phase(0.5, 5.02), phase(1, 4.9), phase(1.5, 4.82)];
	it('is how much the voltage falls with each ampere', () => {
		const found = pathResistance(sure);
		// least squares by hand: mean amps 0.75, mean volts 4.96; sums of products -0.24, of squares 1.25
		expect(found?.ohms).toBeCloseTo(0.24 / 1.25, 9);
		expect(found?.from).toBe(4);
		expect(found?.low).toBeGreaterThan(0.1);
		expect((found?.high as number) - (found?.ohms as number)).toBeCloseTo(
			(found?.ohms as number) - (found?.low as number),
			9
		);
	});
	it('pulses, agreeing and a dead supply say nothing of it, nor does another contract', () => {
		for (const odd of [
			phase(1.2, 4, 'pulsing'),
			phase(0.3, 5.6, 'handshake'),
			phase(0, 3),
			phase(0.2, 9),
			phase(1.5, 4.2)
		])
			expect(pathResistance([...sure, odd])?.from, JSON.stringify(odd)).toBe(4);
		expect(pathResistance([...sure, phase(0.7, 4.6)])?.from).toBe(5);
	});
	it('is not said of two phases, of like currents, or where the voltage rises', () => {
		expect(pathResistance(sure.slice(0, 2))).toBeNull();
		expect(pathResistance(sure.slice(0, 3))).not.toBeNull();
		expect(pathResistance([phase(0.5, 5.1), phase(0.6, 5.08), phase(0.69, 5.05)])).toBeNull();
		expect(pathResistance([phase(0.5, 5.1), phase(0.6, 5.08), phase(0.71, 5.05)])).not.toBeNull();
		expect(pathResistance([phase(0, 5), phase(0.5, 5.05), phase(1, 5.12)])).toBeNull();
		expect(pathResistance([])).toBeNull();
	});
	it('is never below nothing', () => {
		const found = pathResistance([phase(0, 5.02), phase(0.5, 5.05), phase(1, 4.99), phase(1.5, 5.01)]);
		expect(found?.low).toBe(0);
	});
});

describe('a log on few pixels', () => {
	it('keeps first, lowest, highest and last of each bucket, in order, each once', () => {
		const random = seededRandom(4);
		const values = Float64Array.from({ length: 997 }, () => Math.round(20 * random()));
		const kept = decimate(values, 10);
		const expected = Array.from({ length: 10 }, (_, b) => {
			const [from, to] = [Math.floor((b * 997) / 10), Math.floor(((b + 1) * 997) / 10)];
			const part = [...values.slice(from, to)];
			const low = from + part.indexOf(Math.min(...part));
			const high = from + part.indexOf(Math.max(...part));
			return [...new Set([from, low, high, to - 1])].sort((a, b) => a - b);
		}).flat();
		expect(kept).toEqual(expected);
		expect([...kept].sort((a, b) => a - b)).toEqual(kept);
	});
	it('keeps all of a short one', () => {
		expect(decimate(new Float64Array(40), 10)).toEqual(Array.from({ length: 40 }, (_, i) => i));
		expect(decimate(new Float64Array(41), 10).length).toBeLessThan(41);
	});
});
