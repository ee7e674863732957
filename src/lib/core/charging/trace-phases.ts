import { itemAt, valueAt } from '../units/vector';
import { NOTHING_AMPS } from './judge-plug-in';
import { changePoints } from '../statistics/change-points';
import { fitLine } from '../statistics/line-fit';
import { quantileSorted } from '../statistics/quantile';

/** A meter log: seconds rising, volts and amperes at each; equal lengths. */
export interface Trace {
	seconds: Float64Array;
	volts: Float64Array;
	amps: Float64Array;
}

export const PHASE_KINDS = [
	'idle',
	'handshake',
	'precharge',
	'constant-current',
	'constant-voltage',
	'done',
	'pulsing',
	'dropout',
	'steady'
] as const;
export type PhaseKind = (typeof PHASE_KINDS)[number];

export interface Phase {
	kind: PhaseKind;
	fromSeconds: number;
	toSeconds: number;
	/** medians */
	volts: number;
	amps: number;
}

export const PHASE_WORDS: Record<PhaseKind, string> = {
	idle: 'no current',
	handshake: 'supply and device agree',
	precharge: 'precharge',
	'constant-current': 'constant current',
	'constant-voltage': 'constant voltage, tapering',
	done: 'charged',
	pulsing: 'pulsing',
	dropout: 'dropout',
	steady: 'steady draw of no charging phase'
};

/** A stretch of like current between two changes. */
interface Stretch {
	from: number;
	/** first sample after it */
	to: number;
	seconds: number;
	amps: number;
	volts: number;
	/** median of the first and the last quarter */
	first: number;
	last: number;
	pulses: boolean;
}

/** An empty battery is given about this much at most, amperes. Common practice, no source. */
const PRECHARGE_AMPS = 0.15;
/** Where the model is not known, a charging current is at least this, amperes. A choice. */
const CHARGE_AMPS = 0.3;
/** Share of the healthy current that counts as charging. Common practice, no source. */
const CHARGE_SHARE = 0.6;
/** Supply and device agree within this, seconds. Common practice, no source. */
const HANDSHAKE_SECONDS = 12;
/** Longer without current than this is idle, not a dropout, seconds. A choice. */
const DROPOUT_SECONDS = 120;

/**
 * The phases of a charge, one after the other without gaps: changes of current and voltage are found by seeded
 * binary segmentation (n log n), each stretch between them is judged by its level, its slope and its place.
 * @param healthyAmps what the model draws at the plug when healthy; null where it is not known
 */
export function tracePhases(trace: Trace, healthyAmps: number | null): Phase[] {
	const n = trace.seconds.length;
	if (n === 0) return [];
	const stretches = mergePulses(stretchesOf(trace), trace);
	const kinds = classify(stretches, healthyAmps);
	const phases: (Phase & { from: number; to: number })[] = [];
	stretches.forEach(({ from, to }, i) => {
		const last = phases.at(-1);
		const kind = itemAt(kinds, i);
		if (last?.kind === kind) last.to = to;
		else phases.push({ kind, from, to, fromSeconds: 0, toSeconds: 0, volts: 0, amps: 0 });
	});
	return phases.map(({ kind, from, to }) => ({
		kind,
		fromSeconds: valueAt(trace.seconds, from),
		toSeconds: valueAt(trace.seconds, Math.min(to, n - 1)),
		volts: medianOf(trace.volts, from, to),
		amps: medianOf(trace.amps, from, to)
	}));
}

function medianOf(values: Float64Array, from: number, to: number): number {
	return quantileSorted(values.slice(from, to).sort(), 0.5);
}

/** Noise from first differences: their median absolute size over 0.9539 is a normal's standard deviation. Textbook. */
function noiseOf(values: Float64Array): number {
	const steps = new Float64Array(Math.max(1, values.length - 1));
	for (let i = 1; i < values.length; i++)
		steps[i - 1] = Math.abs(valueAt(values, i) - valueAt(values, i - 1));
	return quantileSorted(steps.sort(), 0.5) / 0.9539;
}

function stretchesOf(trace: Trace): Stretch[] {
	const n = trace.amps.length;
	// logarithms, so that a change is one of proportion; 0.1 A keeps the noise about zero from counting
	const level = trace.amps.map((amps) => Math.log(Math.abs(amps) + 0.1));
	const supply = trace.volts.map((volts) => Math.log(Math.max(0, volts) + 1));
	const cuts = new Set([
		0,
		...changePoints(level, Math.max(0.02, noiseOf(level))),
		...changePoints(supply, Math.max(0.02, noiseOf(supply)))
	]);
	const starts = [...cuts].sort((a, b) => a - b);
	return starts.map((from, i) => stretch(trace, from, starts[i + 1] ?? n));
}

function stretch(trace: Trace, from: number, to: number): Stretch {
	const amps = trace.amps.slice(from, to).sort();
	const quarter = Math.max(1, Math.floor((to - from) / 4));
	const end = Math.min(to, trace.seconds.length - 1);
	return {
		from,
		to,
		seconds: valueAt(trace.seconds, end) - valueAt(trace.seconds, from),
		amps: quantileSorted(amps, 0.5),
		volts: medianOf(trace.volts, from, to),
		first: medianOf(trace.amps, from, from + quarter),
		last: medianOf(trace.amps, to - quarter, to),
		pulses: crossings(trace.amps, from, to, quantileSorted(amps, 0.1), quantileSorted(amps, 0.9)) >= 6
	};
}

/** How often the current goes between low and high; 0 where those are not far apart. */
function crossings(values: Float64Array, from: number, to: number, low: number, high: number): number {
	if (high < 0.05 || high < 3 * Math.max(low, 0.005)) return 0;
	const [lower, upper] = [low + (high - low) / 3, high - (high - low) / 3];
	let state = 0;
	let turns = 0;
	for (let i = from; i < to; i++) {
		const value = valueAt(values, i);
		const next = value < lower ? -1 : value > upper ? 1 : state;
		if (state !== 0 && next !== state) turns++;
		state = next;
	}
	return turns;
}

/** Five turns or more between low and high, each within a minute, are one stretch of pulsing. */
function mergePulses(stretches: readonly Stretch[], trace: Trace): Stretch[] {
	const merged: Stretch[] = [];
	for (let i = 0; i < stretches.length;) {
		let end = i;
		while (end + 1 < stretches.length && turns(stretches, i, end)) end++;
		const count = end - i + 1;
		if (count >= 6) {
			const [first, last] = [itemAt(stretches, i), itemAt(stretches, end)];
			merged.push({ ...stretch(trace, first.from, last.to), pulses: true });
			i = end + 1;
		} else merged.push(itemAt(stretches, i++));
	}
	return merged;
}

function turns(stretches: readonly Stretch[], start: number, at: number): boolean {
	const [a, b] = [itemAt(stretches, at), itemAt(stretches, at + 1)];
	const ratio = (Math.abs(b.amps) + 0.02) / (Math.abs(a.amps) + 0.02);
	if (a.seconds > 60 || b.seconds > 60 || (ratio < 2.5 && ratio > 0.4)) return false;
	const earlier = stretches[at - 1];
	return at === start || !earlier || earlier.amps > a.amps !== a.amps > b.amps;
}

function classify(stretches: readonly Stretch[], healthyAmps: number | null): PhaseKind[] {
	const lasts = lastingOf(stretches);
	const peak = stretches.reduce(
		(maximum, item) => (lasts(item) ? Math.max(maximum, Math.abs(item.amps)) : maximum),
		0
	);
	const charging = healthyAmps === null ? CHARGE_AMPS : CHARGE_SHARE * healthyAmps;
	const draws = ({ amps }: Stretch) => Math.abs(amps) >= NOTHING_AMPS;
	const first = stretches.findIndex(draws);
	const last = stretches.findLastIndex(draws);
	const charged = peak >= charging;
	/** the last stretch near the peak: what falls after it tapers */
	const knee = charged
		? stretches.findLastIndex((item) => lasts(item) && Math.abs(item.amps) >= 0.93 * peak)
		: -1;
	const start = itemAt(stretches, Math.max(0, first));
	const kinds: PhaseKind[] = [];
	let sinceAttach = 0;
	let charges = false;
	stretches.forEach((item, i) => {
		const previous = kinds[i - 1];
		const amps = Math.abs(item.amps);
		if (i >= first) sinceAttach += item.seconds;
		if (item.pulses) kinds.push('pulsing');
		else if (!draws(item)) kinds.push(undrawn(item, i, first, last, previous));
		else if (i >= first && sinceAttach <= HANDSHAKE_SECONDS && changesSoon(stretches, i, start))
			kinds.push('handshake');
		else if (knee >= 0 && i > knee) kinds.push(behindKnee(item, peak, charging, previous));
		else if (
			amps <= Math.max(PRECHARGE_AMPS, 0.25 * (charged ? peak : 0)) &&
			i < (knee < 0 ? stretches.length : knee)
		) {
			kinds.push(charges ? 'steady' : 'precharge');
		} else if (charged && amps >= Math.max(charging, 0.5 * peak)) {
			kinds.push(tapersInside(item) && previous !== undefined ? 'constant-voltage' : 'constant-current');
		} else kinds.push('steady');
		charges ||= kinds[i] === 'constant-current';
	});
	return kinds;
}

/** A minute at a higher current says nothing of an hour's charge. A choice. */
const LASTING_SHARE = 0.05;

/** Which stretches say what the charge's own current is: an inrush that is over with the handshake does not. */
function lastingOf(stretches: readonly Stretch[]): (item: Stretch) => boolean {
	const isOver =
		(minAmps: number) =>
		({ pulses, seconds }: Stretch) =>
			!pulses && seconds > minAmps;
	const drawn = stretches.filter(({ amps }) => Math.abs(amps) >= NOTHING_AMPS);
	const whole = drawn.reduce((sum, { seconds }) => sum + seconds, 0);
	return (
		[isOver(Math.max(HANDSHAKE_SECONDS, LASTING_SHARE * whole)), isOver(HANDSHAKE_SECONDS), isOver(0.9)].find(
			(lasts) => drawn.some(lasts)
		) ?? (() => true)
	);
}

function undrawn(
	item: Stretch,
	i: number,
	first: number,
	last: number,
	previous: PhaseKind | undefined
): PhaseKind {
	if (first < 0 || i < first) return 'idle';
	if (i > last)
		return previous === 'constant-voltage' || previous === 'done'
			? 'done'
			: item.volts < 1
				? 'idle'
				: 'dropout';
	return item.seconds <= DROPOUT_SECONDS ? 'dropout' : 'idle';
}

/** Something else comes after it: another current or another contract. */
function changesSoon(stretches: readonly Stretch[], i: number, { seconds }: Stretch): boolean {
	const [item, next] = [itemAt(stretches, i), stretches[i + 1]];
	if (!next || (i === 0 && seconds > HANDSHAKE_SECONDS)) return false;
	const ratio = (Math.abs(next.amps) + 0.02) / (Math.abs(item.amps) + 0.02);
	return ratio > 1.3 || ratio < 0.75 || Math.abs(next.volts - item.volts) > 1;
}

const tapersInside = ({ first, last }: Stretch) => Math.abs(last) < 0.7 * Math.abs(first);

/** A taper of this long falls by a tenth at least: its time constant is a quarter of an hour or two. Common practice, no source. */
const TAPER_SECONDS = 600;
const TAPER_FALLS = 0.9;

function behindKnee(
	item: Stretch,
	peak: number,
	charging: number,
	previous: PhaseKind | undefined
): PhaseKind {
	const amps = Math.abs(item.amps);
	if (amps <= Math.max(0.02, 0.04 * peak)) return 'done';
	const fall = Math.abs(item.last) / Math.max(1e-9, Math.abs(item.first));
	if (item.seconds >= TAPER_SECONDS && fall >= TAPER_FALLS)
		return amps >= Math.max(charging, 0.5 * peak) ? 'constant-current' : 'steady';
	const tapering = previous === 'constant-voltage' || fall < 0.97;
	return tapering || previous === 'constant-current' ? 'constant-voltage' : 'steady';
}

export interface TraceSums {
	chargeMah: number;
	energyMwh: number;
	/** stretches without a sample, not counted in the sums */
	gaps: { fromSeconds: number; toSeconds: number }[];
}

/** A pause between samples longer than this is a gap: the sums do not reach over it. A choice. */
const GAP_SECONDS = 60;
const GAP_STEPS = 20;

/** Charge and energy by the trapezoid rule. */
export function traceSums({ seconds, volts, amps }: Trace): TraceSums {
	const n = seconds.length;
	const steps = new Float64Array(Math.max(1, n - 1));
	for (let i = 1; i < n; i++) steps[i - 1] = valueAt(seconds, i) - valueAt(seconds, i - 1);
	const longest = Math.max(GAP_SECONDS, GAP_STEPS * quantileSorted(steps.slice().sort(), 0.5));
	const gaps: TraceSums['gaps'] = [];
	let coulombs = 0;
	let joules = 0;
	for (let i = 1; i < n; i++) {
		const step = valueAt(steps, i - 1);
		if (step > longest) {
			gaps.push({ fromSeconds: valueAt(seconds, i - 1), toSeconds: valueAt(seconds, i) });
			continue;
		}
		const [a, b] = [valueAt(amps, i - 1), valueAt(amps, i)];
		coulombs += (step * (a + b)) / 2;
		joules += (step * (a * valueAt(volts, i - 1) + b * valueAt(volts, i))) / 2;
	}
	return { chargeMah: coulombs / 3.6, energyMwh: joules / 3.6, gaps };
}

export interface PathResistance {
	ohms: number;
	low: number;
	high: number;
	/** phases that it rests on */
	from: number;
}

/**
 * Resistance of supply and cable before the meter: how much the voltage falls with each ampere, over phases at one
 * contract. Null with under three of them, or too little difference of current.
 */
export function pathResistance(phases: readonly Phase[]): PathResistance | null {
	const base = phases.filter(({ volts, kind }) => kind !== 'pulsing' && kind !== 'handshake' && volts > 3);
	const contract = base.reduce((best, { volts, amps }) => (amps > best.amps ? { volts, amps } : best), {
		volts: 0,
		amps: -1
	}).volts;
	const points = base
		.filter(({ volts }) => Math.abs(volts - contract) < 0.12 * contract)
		.map(({ amps, volts }) => [amps, volts] as const);
	const [minTime, maxTime] = points.reduce(
		([low, high], [a]) => [Math.min(low, a), Math.max(high, a)] as const,
		[Infinity, -Infinity] as const
	);
	const spread = maxTime - minTime;
	const line = points.length >= 3 && spread > 0.2 ? fitLine(points) : null;
	if (!line || !Number.isFinite(line.slopeHalf) || line.slope > 0) return null;
	return {
		ohms: -line.slope,
		low: Math.max(0, -line.slope - line.slopeHalf),
		high: -line.slope + line.slopeHalf,
		from: points.length
	};
}

/**
 * Indices that draw a series on few pixels and keep its extremes: first, lowest, highest and last of each of
 * `buckets` equal stretches. All of them where there are few.
 */
export function decimate(values: Float64Array, buckets: number): number[] {
	const n = values.length;
	if (n <= 4 * buckets) return Array.from({ length: n }, (_, i) => i);
	const kept: number[] = [];
	for (let b = 0; b < buckets; b++) {
		const [from, to] = [Math.floor((b * n) / buckets), Math.floor(((b + 1) * n) / buckets)];
		let [low, high] = [from, from];
		for (let i = from; i < to; i++) {
			if (valueAt(values, i) < valueAt(values, low)) low = i;
			if (valueAt(values, i) > valueAt(values, high)) high = i;
		}
		kept.push(...[...new Set([from, low, high, to - 1])].sort((a, b) => a - b));
	}
	return kept;
}
