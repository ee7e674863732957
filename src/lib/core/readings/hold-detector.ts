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

const near = (a: number, b: number, bound: { counts: number; share: number }) =>
	Math.abs(a - b) <= Math.max(bound.counts, bound.share * Math.max(Math.abs(a), Math.abs(b)));

/**
 * Takes pin readings from a multimeter's stream. A contact that bounces starts the wait anew. After a value was taken,
 * the probe must leave the contact before the next is taken; after an overload the wait begins again at once.
 */
export function pinDetector(): Detector<MeterSample, Shown> {
	let held: { since: number; value: number | null } | null = null;
	let taken: number | null = null;
	return {
		feed({ atMs, value, overload }) {
			const shown = overload || value === undefined ? null : value;
			if (taken !== null) {
				if (shown !== null && near(shown, taken, LEFT)) return null;
				taken = null;
				held = null;
			}
			const same =
				held !== null &&
				(shown === null ? held.value === null : held.value !== null && near(shown, held.value, STILL));
			if (!held || !same) {
				held = { since: atMs, value: shown };
				return null;
			}
			const waited = atMs - held.since;
			if (shown === null) {
				if (waited < HOLD.overloadMs) return null;
				held = null;
				return { overload: true };
			}
			if (waited < HOLD.valueMs) return null;
			taken = shown;
			held = null;
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
	let still: { since: number; amps: number; sum: number; volts: number; count: number } | null = null;
	let done = false;
	let moments = 0;
	return {
		feed({ atMs, volts, amps }) {
			if (volts < PLUGGED_VOLTS) {
				plugged = still = null;
				done = false;
				moments = 0;
				return null;
			}
			plugged ??= atMs;
			const since = atMs - plugged;
			if (done || since < SETTLE_MS) return null;
			const taken = (v: number, a: number, last: boolean): TakenPower => {
				done = last;
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
				return taken(volts, amps, moments === UNSTEADY_MS.length);
			}
			if (moments > 0) return null;
			if (!still || !near(amps, still.amps, STILL_AMPS)) {
				still = { since: atMs, amps, sum: amps, volts, count: 1 };
				return null;
			}
			still = { ...still, sum: still.sum + amps, volts: still.volts + volts, count: still.count + 1 };
			if (atMs - still.since < STILL_MS) return null;
			return taken(still.volts / still.count, still.sum / still.count, true);
		}
	};
}
