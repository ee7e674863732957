import { describe, expect, it } from 'vitest';
import { HOLD, pinDetector, powerDetector } from './hold-detector';
import { isSimulatedMeter, meterSample, powerSample, simulatedName } from './instrument';
import { referenceRecord } from './reference';

/** Just under, at, just over: every bound of the room, so that none moves unnoticed. */

describe('readings taken from a stream', () => {
	const feed = (samples: [number, number | 'OL'][]) => {
		const detector = pinDetector();
		return samples.map(([atMs, shown]) =>
			detector.feed(shown === 'OL' ? { atMs, overload: true } : { atMs, value: shown })
		);
	};
	it('a value after 400 ms of standing still, not a moment before', () => {
		expect(HOLD).toEqual({ valueMs: 400, overloadMs: 2500 });
		expect(
			feed([
				[0, 0.4684],
				[399, 0.4684],
				[400, 0.4684]
			])
		).toEqual([null, null, { value: 0.468 }]);
	});
	it('an overload after 2,500 ms, and again after as long', () => {
		expect(
			feed([
				[0, 'OL'],
				[2499, 'OL'],
				[2500, 'OL'],
				[2600, 'OL'],
				[5099, 'OL'],
				[5100, 'OL']
			])
		).toEqual([null, null, { overload: true }, null, null, { overload: true }]);
	});
	it.each<[number, number, boolean]>([
		// within two counts, or half a per cent of the larger
		[0.1, 0.102, true],
		[0.1, 0.1021, false],
		[2, 2.01, true],
		[2, 2.0102, false]
	])('from %d to %d it stands still: %s', (first, then, still) => {
		expect(
			feed([
				[0, first],
				[400, then]
			])[1] !== null
		).toBe(still);
	});
	it.each<[number, boolean]>([
		[0.42, false],
		[0.4205, false],
		[0.43, true]
	])('after 0.4 was taken, %d is another contact: %s', (value, other) => {
		const taken = feed([
			[0, 0.4],
			[400, 0.4],
			[500, value],
			[900, value]
		]);
		expect(taken[3] !== null).toBe(other);
	});
	it('after a value the probe must leave before the same is taken again', () => {
		expect(
			feed([
				[0, 0.4],
				[400, 0.4],
				[900, 0.4],
				[1000, 'OL'],
				[1100, 0.4],
				[1500, 0.4]
			])[5]
		).toEqual({
			value: 0.4
		});
		expect(
			feed([
				[0, 0.4],
				[400, 0.4],
				[900, 0.4],
				[1500, 0.4]
			])
		).toEqual([null, { value: 0.4 }, null, null]);
	});
	it('a bounce begins the wait anew, a sample with neither value nor overload is one', () => {
		expect(
			feed([
				[0, 0.4],
				[300, 0.9],
				[500, 0.4],
				[800, 0.4],
				[900, 0.4]
			])[4]
		).toEqual({ value: 0.4 });
		const detector = pinDetector();
		detector.feed({ atMs: 0, value: 0.4 });
		expect(detector.feed({ atMs: 400 })).toBeNull();
		expect(detector.feed({ atMs: 500, value: 0.4 })).toBeNull();
	});
	const power = (samples: [number, number, number][]) => {
		const detector = powerDetector();
		return samples.map(([atMs, volts, amps]) => detector.feed({ atMs, volts, amps }));
	};
	it('current after four seconds to settle and two of standing still, as the mean', () => {
		const taken = power([
			[0, 5, 1],
			[3999, 5, 1],
			[4000, 5.1, 1],
			[5000, 5.2, 1.02],
			[5999, 5.2, 1.02],
			[6000, 5.2, 1.02],
			[9000, 5.2, 1.02]
		]);
		expect(taken.slice(0, 5)).toEqual([null, null, null, null, null]);
		expect(taken[5]).toEqual({ volts: 5.18, amps: 1.015, seconds: 6, last: true });
		expect(taken[6]).toBeNull();
	});
	it('plugged is what shows 0.8 V; pulled out, it begins again', () => {
		expect(
			power([
				[0, 0.79, 1],
				[4000, 0.79, 1],
				[6000, 0.79, 1],
				[7000, 0.79, 1]
			])
		).toEqual([null, null, null, null]);
		const again = power([
			[0, 0.8, 1],
			[4000, 0.8, 1],
			[6000, 0.8, 1],
			[7000, 0, 0],
			[8000, 5, 1],
			[12_000, 5, 1],
			[14_000, 5, 1]
		]);
		expect(again[2]).toMatchObject({ last: true });
		expect(again[6]).toMatchObject({ volts: 5, seconds: 6 });
	});
	it('what never stands still is taken at four moments, the last of them the last', () => {
		const samples = Array.from({ length: 130 }, (_, i): [number, number, number] => [
			i * 100,
			5,
			i % 2 ? 1 : 0.2
		]);
		const taken = power(samples).flatMap((one, i) => (one ? [{ at: i * 100, last: one.last }] : []));
		expect(taken).toEqual([
			{ at: 8000, last: false },
			{ at: 9300, last: false },
			{ at: 10_600, last: false },
			{ at: 11_900, last: true }
		]);
	});
	it.each<[number, boolean]>([
		[1.05, true],
		[1.06, false]
	])('from 1 A, %d A stands still: %s', (amps, still) =>
		expect(
			power([
				[0, 5, 1],
				[4000, 5, 1],
				[6000, 5, amps]
			])[2] !== null
		).toBe(still)
	);
	it('samples are one thing or the other', () => {
		expect(meterSample.safeParse({ atMs: 0, value: 1 }).success).toBe(true);
		expect(meterSample.safeParse({ atMs: 0, overload: true }).success).toBe(true);
		for (const odd of [
			{ atMs: 0 },
			{ atMs: 0, value: 1, overload: true },
			{ atMs: -1, value: 1 },
			{ atMs: 0, overload: false }
		]) {
			expect(meterSample.safeParse(odd).success).toBe(false);
		}
		expect(powerSample.safeParse({ atMs: 0, volts: 5, amps: 1 }).success).toBe(true);
		expect(powerSample.safeParse({ atMs: 0, volts: 5 }).success).toBe(false);
		expect(powerSample.safeParse({ atMs: -1, volts: 5, amps: 1 }).success).toBe(false);
	});
	it('stand-ins are known by their name', () => {
		expect(isSimulatedMeter(simulatedName('bench'))).toBe(true);
		expect(isSimulatedMeter('bench simulated ')).toBe(false);
		expect(isSimulatedMeter(undefined)).toBe(false);
	});
});

describe('a reference', () => {
	it.each<[object, boolean]>([
		[{ value: 0.4 }, true],
		[{ overload: true }, true],
		[{}, false],
		[{ value: 0.4, overload: true }, false],
		[{ overload: false }, false],
		[{ value: -1000 }, true],
		[{ value: -1001 }, false],
		[{ value: 1e9 }, true],
		[{ value: 1.1e9 }, false],
		[{ value: 0.4, board: '' }, false],
		[{ value: 0.4, meter: '' }, false],
		[{ value: 0.4, withdrawn: { at: '2026-01-01T00:00:00Z', because: '' } }, false]
	])('with %j is taken: %s', (more, taken) => {
		const record = { record: 'reference', model: 'm', pin: 'A4', mode: 'diode', grade: 'verified', ...more };
		expect(referenceRecord.safeParse(record).success).toBe(taken);
	});
});
