import type { MeterSample, PowerSample } from './instrument';
import type { Shown } from './verdict';

/** Says when a reading stands still and may be taken. Feed it every sample, in order. */
export interface Detector<Sample, Taken> {
	feed(sample: Sample): Taken | null;
}

/** A value is taken after standing still for so long; an overload after longer, since a lifted probe shows it too. */
export const HOLD = { valueMs: 400, overloadMs: 2500 };
/** Still: within two counts of the last decimal, or half a per cent. Common practice, no source. */
const STILL = { counts: 0.002, share: 0.005 };
/** A new contact is reached when the reading has left the taken one by more than this, or showed overload. A choice. */
const LEFT = { counts: 0.02, share: 0.05 };

const isClose = (a: number, b: number, bound: { counts: number; share: number }) =>
	Math.abs(a - b) <= Math.max(bound.counts, bound.share * Math.max(Math.abs(a), Math.abs(b)));

/**
 * Takes pin readings from a multimeter's stream. A contact that bounces starts the wait anew. After a value was taken,
 * the probe must leave the contact before the next is taken; after an overload the wait begins again at once.
 */
export function pinDetector(): Detector<MeterSample, Shown> {
	let steady: { since: number; value: number | null } | null = null;
	let reading: number | null = null;
	return {
		feed({ atMs, value, overload }) {
			const shown = overload || value === undefined ? null : value;
			if (reading !== null) {
				if (shown !== null && isClose(shown, reading, LEFT)) return null;
				reading = null;
				steady = null;
			}
			const isSame =
				steady !== null &&
				(shown === null
					? steady.value === null
					: steady.value !== null && isClose(shown, steady.value, STILL));
			if (!steady || !isSame) {
				steady = { since: atMs, value: shown };
				return null;
			}
			const waited = atMs - steady.since;
			if (shown === null) {
				if (waited < HOLD.overloadMs) return null;
				steady = null;
				return { overload: true };
			}
			if (waited < HOLD.valueMs) return null;
			reading = shown;
			steady = null;
			return { value: Math.round(shown * 1000) / 1000 };
		}
	};
}

export interface TakenPower {
	volts: number;
	amps: number;
	/** since it was plugged in */
	seconds: number;
	/** the last of this plugging: turn the plug, or go on */
	last: boolean;
}

/** Plugged: volts above this. A choice. */
const PLUGGED_VOLTS = 0.8;
/** Supply and device need some seconds to agree; then two seconds within 5 % or 10 mA are still. Common practice. */
const SETTLE_MS = 4000;
const STILL_MS = 2000;
const STILL_AMPS = { counts: 0.01, share: 0.05 };
/** What never stands still is taken down at these moments, so that pulsing shows. A choice. */
const UNSTEADY_MS = [8000, 9300, 10_600, 11_900];

/** Takes plug-in readings from a power meter's stream: one where it stands still, four moments where it does not. */
export function powerDetector(): Detector<PowerSample, TakenPower> {
	let plugged: number | null = null;
	let steady: { since: number; amps: number; sum: number; volts: number; count: number } | null = null;
	let finished = false;
	let moments = 0;
	return {
		feed({ atMs, volts, amps }) {
			if (volts < PLUGGED_VOLTS) {
				plugged = steady = null;
				finished = false;
				moments = 0;
				return null;
			}
			plugged ??= atMs;
			const since = atMs - plugged;
			if (finished || since < SETTLE_MS) return null;
			const settle = (v: number, a: number, last: boolean): TakenPower => {
				finished = last;
				return {
					volts: Math.round(v * 100) / 100,
					amps: Math.round(a * 1000) / 1000,
					seconds: Math.round(since / 1000),
					last
				};
			};
			const due = UNSTEADY_MS[moments];
			if (due !== undefined && since >= due) {
				moments++;
				return settle(volts, amps, moments === UNSTEADY_MS.length);
			}
			if (moments > 0) return null;
			if (!steady || !isClose(amps, steady.amps, STILL_AMPS)) {
				steady = { since: atMs, amps, sum: amps, volts, count: 1 };
				return null;
			}
			steady = { ...steady, sum: steady.sum + amps, volts: steady.volts + volts, count: steady.count + 1 };
			if (atMs - steady.since < STILL_MS) return null;
			return settle(steady.volts / steady.count, steady.sum / steady.count, true);
		}
	};
}
