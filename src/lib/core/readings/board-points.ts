import type { BoardPoint } from '../catalog/kinds-of-devices';
import type { KnownGoodBook } from './known-good-book';
import { pointOf, pointPlace } from '../units/probed-place';
import type { Mode } from './reference';
import { SHORT_BELOW, verdictOf, type Shown } from './verdict';

/** What a reading at a point of the board says; `value`: a reading that nothing is known to compare with. */
export const POINT_VERDICTS = ['agrees', 'value', 'short', 'open', 'low', 'high'] as const;
export type PointVerdict = (typeof POINT_VERDICTS)[number];

/** Below it a line is short; a good board reads some hundred ohms. Common practice, no source. */
export const SHORT_OHMS = 5;

interface PointReading extends Shown {
	pin: string;
	mode: Mode;
	meter?: string | undefined;
	board?: string | undefined;
}

/** Whether a reading shows a way to ground. Volts say nothing of it. */
const isGround = ({ mode, value = 0, overload }: PointReading): boolean =>
	mode !== 'volts' && !overload && Math.abs(value) < (mode === 'ohms' ? SHORT_OHMS : SHORT_BELOW.diode);

/** Of several modes the one that says the worst. */
const SEVERITY: readonly PointVerdict[] = ['value', 'agrees', 'high', 'low', 'open', 'short'];

/**
 * Verdicts on the points of a board that were read, each by its latest reading in every mode.
 * One end of a part that may be at ground says nothing as long as the other was not read; both at ground are short.
 * @param readings of points and contacts, in the order in which they were taken
 * @returns by code of the point; points that nothing can be said of are left out
 */
export function judgePoints(
	points: readonly BoardPoint[],
	readings: readonly PointReading[],
	book: KnownGoodBook
): Map<string, PointVerdict> {
	const latest = new Map<string, Map<Mode, PointReading>>();
	for (const reading of readings) {
		const point = pointOf(reading.pin);
		if (point === null) continue;
		const ofPoint = latest.get(point) ?? new Map<Mode, PointReading>();
		latest.set(point, ofPoint.set(reading.mode, reading));
	}
	/** whether a point is at ground; null where it was not read so that it could be told */
	const groundOf = (code: string): boolean | null => {
		const unpowered = [...(latest.get(code)?.values() ?? [])].filter(({ mode }) => mode !== 'volts');
		return unpowered.length === 0 ? null : unpowered.some(isGround);
	};
	const verdicts = new Map<string, PointVerdict>();
	for (const point of points) {
		const told = [...(latest.get(point.code)?.values() ?? [])].flatMap(
			(reading) => judgePoint(point, reading, book, groundOf) ?? []
		);
		const worst = told.reduce<PointVerdict | null>(
			(worst, verdict) =>
				worst === null || SEVERITY.indexOf(verdict) > SEVERITY.indexOf(worst) ? verdict : worst,
			null
		);
		if (worst !== null) verdicts.set(point.code, worst);
	}
	return verdicts;
}

function judgePoint(
	{ code, ground, with: other, expect: expected }: BoardPoint,
	reading: PointReading,
	book: KnownGoodBook,
	groundOf: (code: string) => boolean | null
): PointVerdict | null {
	if (isGround(reading)) {
		if (ground === 'normal') return 'agrees';
		if (ground === 'never') return 'short';
		const isOtherGround = groundOf(other ?? '');
		return isOtherGround === null ? null : isOtherGround ? 'short' : 'agrees';
	}
	const { mode, value = 0, overload } = reading;
	if (ground === 'normal' && mode !== 'volts') return overload ? 'open' : 'high';
	if (expected?.mode === mode) {
		if (overload) return 'open';
		return value < expected.low ? 'low' : value > expected.high ? 'high' : 'agrees';
	}
	const verdict = verdictOf(reading, mode, '', book.expected(pointPlace(code), mode, reading));
	if (verdict !== 'no-reference') return verdict;
	if (mode === 'volts') return 'value';
	// one that reads something is not at ground, which is all that is asked of a line
	return overload ? 'open' : 'agrees';
}

/** Of each chip that was read at any of its points: short where one of them is. */
export function judgeChips(
	points: readonly BoardPoint[],
	verdicts: ReadonlyMap<string, PointVerdict>
): Map<string, 'sound' | 'short'> {
	const chips = new Map<string, 'sound' | 'short'>();
	for (const { code, chip } of points) {
		const verdict = verdicts.get(code);
		if (chip === undefined || verdict === undefined) continue;
		if (verdict === 'short') chips.set(chip, 'short');
		else if (!chips.has(chip)) chips.set(chip, 'sound');
	}
	return chips;
}
