import { describe, expect, it } from 'vitest';
import { buildCatalog, type Connector, type Model } from '../catalog/catalog';
import { pinDetector, powerDetector } from '../readings/hold-detector';
import { meterSample, powerSample, type MeterSample } from '../readings/instrument';
import { seededRandom } from '../units/random';
import { DEMO_CATALOG } from './demo-catalog';
import { FAULT_TRUTHS } from './demo-faults';
import { simulateDevice } from './simulated-device';
import {
	SAMPLE_MS,
	simulatedMultimeter,
	simulatedPowerMeter,
	simulatedSupply
} from './simulated-instruments';
import { verdictRates } from '$worlds/verdict-rates';

const catalog = buildCatalog(DEMO_CATALOG);
const make = (code: string, faults: string[] = [], seed = 1) => {
	const model = catalog.models.get(code) as Model;
	const connector = catalog.connectors.get(model.connector ?? '') as Connector;
	const random = seededRandom(seed);
	return { random, connector, device: simulateDevice(random, { model, connector, faults }) };
};

describe('the multimeter on a simulated device', () => {
	it('takes every contact of a port once, in order, values and overloads, bounce or not', () => {
		for (let seed = 1; seed <= 6; seed++) {
			const { random, connector, device } = make('pelagic-40', [], seed);
			const pins = connector.pins.map(({ pin }) => pin);
			const detector = pinDetector();
			const taken = [...simulatedMultimeter(random, device, pins)].flatMap((sample) => {
				expect(meterSample.safeParse(sample).success).toBe(true);
				return detector.feed(sample) ?? [];
			});
			expect(taken).toHaveLength(pins.length);
			taken.forEach(({ value, overload }, i) => {
				const truth = device.diode.get(pins[i] as string) ?? null;
				if (truth === null) expect(overload).toBe(true);
				else expect(value).toBeCloseTo(truth, 1);
			});
		}
	});
	const feed = (samples: Omit<MeterSample, 'atMs'>[]) => {
		const detector = pinDetector();
		return samples.flatMap((sample, i) => detector.feed({ ...sample, atMs: i * SAMPLE_MS }) ?? []);
	};
	const hold = (value: number, count: number) => Array.from({ length: count }, () => ({ value }));
	const lift = (count: number) => Array.from({ length: count }, () => ({ overload: true }));
	it('a lifted probe is no overload, a held one is', () => {
		expect(feed([...hold(0.5, 8), ...lift(8), ...hold(0.6, 8)])).toEqual([{ value: 0.5 }, { value: 0.6 }]);
		expect(feed([...hold(0.5, 8), ...lift(30)])).toEqual([{ value: 0.5 }, { overload: true }]);
	});
	it('a value that still moves is not taken, and a held one is taken once', () => {
		expect(feed(Array.from({ length: 20 }, (_, i) => ({ value: 0.3 + 0.01 * i })))).toEqual([]);
		expect(feed(hold(0.5, 60))).toEqual([{ value: 0.5 }]);
	});
});

describe('the power meter and the bench supply', () => {
	const taken = (faults: string[], seed = 2) => {
		const { random, device } = make('pelagic-40', faults, seed);
		const detector = powerDetector();
		return [...simulatedPowerMeter(random, device)].flatMap((sample) => {
			expect(powerSample.safeParse(sample).success).toBe(true);
			return detector.feed(sample) ?? [];
		});
	};
	it('one steady reading a side of a sound device', () => {
		const readings = taken([]);
		expect(readings.map(({ last }) => last)).toEqual([true, true]);
		for (const { volts, amps, seconds } of readings) {
			expect(volts).toBeGreaterThan(4.8);
			expect(amps).toBeGreaterThan(1.1);
			expect(seconds).toBeGreaterThanOrEqual(4);
		}
	});
	it('a model that knows more than 5 V agrees it a second after it is plugged in, unless its port controller is gone', () => {
		const volts = (code: string, faults: string[] = []) => {
			const { random, device } = make(code, faults);
			const samples = [...simulatedPowerMeter(random, device, ['a'])].filter((sample) => sample.volts > 1);
			return [samples[0]?.volts, samples.at(-1)?.volts].map((each) => Math.round(each ?? 0));
		};
		expect(volts('fathom-count')).toEqual([5, 9]);
		expect(volts('fathom-count', ['port-controller'])).toEqual([5, 5]);
		expect(volts('pelagic-40')).toEqual([5, 5]);
	});
	it('four moments a side of one that never stands still', () =>
		expect(Math.max(...[1, 2, 3, 4, 5, 6].map((seed) => taken(['board-corrosion'], seed).length))).toBe(8));
	it('the supply shows the pack', () => {
		const { random, device } = make('pelagic-40');
		const detector = powerDetector();
		const [reading] = [...simulatedSupply(random, device)].flatMap((sample) => detector.feed(sample) ?? []);
		expect(reading?.volts).toBeCloseTo(device.packVolts, 1);
	});
});

describe('verdicts on simulated devices', () => {
	const rates = verdictRates(catalog, { seed: 3, devices: 60, boards: 12 });
	const of = (fault: string | null) => rates.find((item) => item.fault === fault)?.rates;
	/** outside the device, behind the battery, or in words */
	const NO_METER_SEES = ['wireless-coil', 'display-controller', 'accessory', 'software', 'other'];
	it('tell every fault that a meter can see from sound devices', () => {
		expect(rates.map(({ fault }) => fault)).toEqual([null, ...Object.keys(FAULT_TRUTHS)]);
		const falseAlarms = of(null)?.any;
		for (const { fault, rates: found } of rates) {
			if (fault === null) continue;
			if (NO_METER_SEES.includes(fault))
				expect(found.any.low, fault).toBeLessThan((falseAlarms?.high as number) + 0.05);
			else expect(found.any.low, fault).toBeGreaterThan(falseAlarms?.high as number);
		}
		expect(falseAlarms?.hits).toBeLessThan(12);
	});
	it('the path names the right stretch', () => {
		for (const { fault, place } of rates)
			if (place) expect(place.hits / place.of, String(fault)).toBeGreaterThan(0.8);
	});
	it('repeat themselves for a seed', () =>
		expect(verdictRates(catalog, { seed: 3, devices: 5, boards: 3 })).toEqual(
			verdictRates(catalog, { seed: 3, devices: 5, boards: 3 })
		));
});
