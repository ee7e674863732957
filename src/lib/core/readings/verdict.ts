import { medianAbsoluteDeviation, medianSorted, sortUp } from '../statistics/quantile';
import type { Grade, Mode, ReferenceRecord } from './reference';

export const VERDICTS = ['agrees', 'short', 'open', 'low', 'high', 'no-reference'] as const;
export type Verdict = (typeof VERDICTS)[number];

/** A reading as the meter showed it: a value in the mode's unit, or overload. */
export interface Shown {
	value?: number | undefined;
	overload?: boolean | undefined;
}

export interface Expected {
	centre: number;
	low: number;
	high: number;
	overload: boolean;
	/** how many known-good readings it rests on */
	from: number;
	grade: Grade;
}

/** Below this a diode-mode or ohms reading counts as a short. Common practice, no source. */
export const SHORT_BELOW: Record<Mode, number> = { diode: 0.05, ohms: 2, volts: 0.05 };

/** Known-good boards of one model agree within about this. Common practice, no source. */
const USUAL_SPREAD: Record<Mode, number> = { diode: 0.02, ohms: 0, volts: 0.05 };
/** Ohms spread in proportion to what is read. Common practice, no source. */
const USUAL_SHARE: Record<Mode, number> = { diode: 0, ohms: 0.1, volts: 0 };

/**
 * What a contact should read, from its known-good readings: median, and a half width of
 * max(usual spread, 3 scaled MAD) widened by (1 + 1/n) while there are few.
 * Verified readings are preferred; provisional ones are used only where there is no verified one.
 * Null without any. MAD scaled by 1.4826: Iglewicz & Hoaglin (1993).
 */
export function expectedReading(references: readonly ReferenceRecord[]): Expected | null {
	const verified = references.filter(({ grade }) => grade === 'verified');
	const used = verified.length > 0 ? verified : references;
	const first = used[0];
	if (!first) return null;
	const grade: Grade = verified.length > 0 ? 'verified' : 'provisional';
	const values = used.flatMap(({ value }) => (value === undefined ? [] : [value]));
	if (values.length * 2 <= used.length) {
		return { centre: 0, low: 0, high: 0, overload: true, from: used.length, grade };
	}
	const centre = medianSorted(sortUp(values));
	const usual = Math.max(USUAL_SPREAD[first.mode], USUAL_SHARE[first.mode] * Math.abs(centre));
	const half = Math.max(usual, 3 * 1.4826 * medianAbsoluteDeviation(values)) * (1 + 1 / values.length);
	return {
		centre,
		// a diode or a resistor never reads below nothing
		low: first.mode === 'volts' ? centre - half : Math.max(0, centre - half),
		high: centre + half,
		overload: false,
		from: values.length,
		grade
	};
}

/** How sure a verdict can be that rests on n known-good readings: Laplace's rule, (n + 1) / (n + 2). */
const sureness = (from: number) => (from + 1) / (from + 2);

/**
 * The verdict on one reading. Ground is known without a reference: it reads (near) zero.
 * @returns verdict and a confidence within 0..1; no reference has confidence 0.
 */
export function judgeReading(
	shown: Shown,
	mode: Mode,
	net: string,
	expected: Expected | null
): { verdict: Verdict; confidence: number } {
	const shorted = !shown.overload && Math.abs(shown.value ?? Infinity) < SHORT_BELOW[mode];
	if (net === 'gnd' && mode !== 'volts') {
		if (shorted) return { verdict: 'agrees', confidence: 0.99 };
		return { verdict: shown.overload ? 'open' : 'high', confidence: 0.95 };
	}
	if (!expected) return { verdict: 'no-reference', confidence: 0 };
	const confidence = sureness(expected.from);
	if (expected.overload) {
		if (shown.overload) return { verdict: 'agrees', confidence };
		return { verdict: shorted ? 'short' : 'low', confidence };
	}
	if (shown.overload) return { verdict: 'open', confidence };
	const value = shown.value ?? 0;
	if (value >= expected.low && value <= expected.high) return { verdict: 'agrees', confidence };
	if (shorted && expected.centre >= SHORT_BELOW[mode]) return { verdict: 'short', confidence };
	return { verdict: value < expected.low ? 'low' : 'high', confidence };
}
