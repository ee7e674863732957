import { pinDetector, powerDetector } from '../readings/hold-detector';
import type { MeterSample, PowerSample } from '../readings/instrument';
import { drawNormal, type Random } from '../units/random';
import { meterShows, type SimulatedDevice } from './simulated-device';

/**
 * The simulated stand-ins: samples as the bench's own instruments would send them, with noise, settling time and
 * contact bounce. A simulated hand moves the probe or turns the plug when it hears that a reading was taken: it
 * listens with the program's own detector.
 */

/** Milliseconds between samples: ten a second, as bench multimeters and inline meters do. */
export const SAMPLE_MS = 100;
/** Share of the way to the final value that one sample leaves. */
const SETTLING = 0.35;
const BOUNCES = 3;
const LIFT_SAMPLES = 4;
/** The hand gives up on a contact that never stands still. */
const MOST_SAMPLES = 120;

/** A multimeter in diode mode, black probe walked over some contacts in their order. */
export function* simulatedMultimeter(
	random: Random,
	device: SimulatedDevice,
	pins: readonly string[]
): Generator<MeterSample> {
	const detector = pinDetector();
	let atMs = 0;
	const next = (shown: { value?: number; overload?: true }): MeterSample => ({
		atMs: (atMs += SAMPLE_MS),
		...shown
	});
	for (const pin of pins) {
		for (let i = 0; i < LIFT_SAMPLES; i++) {
			const sample = next({ overload: true });
			detector.feed(sample);
			yield sample;
		}
		const truth = device.diode.get(pin) ?? null;
		let shown = truth === null ? 0 : truth * (0.6 + 0.8 * random());
		for (let i = 0; i < MOST_SAMPLES; i++) {
			const bouncing = i < BOUNCES && random() < 0.5;
			if (truth !== null) shown += (truth - shown) * (1 - SETTLING);
			const sample = next(
				bouncing
					? meterShows(random, random() < 0.5 ? null : random() * 0.9)
					: meterShows(random, truth === null ? null : shown)
			);
			const reading = detector.feed(sample);
			yield sample;
			if (reading) break;
		}
	}
}

/** An inline power meter between supply and device: side A, turned, side B. */
export function* simulatedPowerMeter(
	random: Random,
	device: SimulatedDevice,
	sides: readonly ('a' | 'b')[] = ['a', 'b']
): Generator<PowerSample> {
	const detector = powerDetector();
	let atMs = 0;
	for (const side of sides) {
		for (let i = 0; i < 8; i++) {
			const sample = { atMs: (atMs += SAMPLE_MS), volts: 0, amps: 0 };
			detector.feed(sample);
			yield sample;
		}
		for (let i = 0; i < 3 * MOST_SAMPLES; i++) {
			const seconds = (i * SAMPLE_MS) / 1000;
			const amps = Math.max(
				0,
				device.draw(side, seconds) * (1 + 0.006 * drawNormal(random)) + 0.0004 * drawNormal(random)
			);
			const agreed = seconds < 1 ? 5 : device.contractVolts;
			const volts = agreed + 0.09 - 0.12 * amps + 0.004 * drawNormal(random);
			const sample = { atMs: (atMs += SAMPLE_MS), volts: round(volts, 3), amps: round(amps, 4) };
			const reading = detector.feed(sample);
			yield sample;
			if (reading?.last) break;
		}
	}
}

/** A bench supply held to the battery's terminals without current: it shows the pack's voltage. */
export function* simulatedSupply(random: Random, device: SimulatedDevice): Generator<PowerSample> {
	for (let i = 0; i < MOST_SAMPLES; i++) {
		const settling = device.packVolts * (1 - 0.5 * SETTLING ** i);
		yield {
			atMs: (i + 1) * SAMPLE_MS,
			volts: i < 5 ? 0 : round(Math.max(0, settling + 0.002 * drawNormal(random)), 3),
			amps: 0
		};
	}
}

const round = (value: number, digits: number) => Math.round(value * 10 ** digits) / 10 ** digits;
