import { fitLine } from '../statistics/line-fit';

export interface SoakPoint {
	/** since the soak began */
	minutes: number;
	percent: number;
}

export interface SoakFinding {
	verdict: 'too-early' | 'as-it-should' | 'drains-fast' | 'not-sure-yet';
	/** per cent of the battery an hour; null while too early */
	perHour: { value: number; low: number; high: number } | null;
	from: number;
	expected: number;
	/** the model names no drain: a usual value stands in */
	typical: boolean;
}

/** A healthy battery loses about 8 to 10 % in an hour of video. Common practice, no source. */
export const USUAL_DRAIN_PER_HOUR = 9;
/** So much more than it should is too much. A choice: batteries are sold as worn under about 80 % of their capacity. */
const TOO_MUCH = 1.3;
/** A device shows whole per cents: each point is off by up to half of one. */
const READING_ERROR = 0.5;

/**
 * Drain over time: the least squares slope with its 95 % interval, never narrower than whole per cents allow, against
 * what the model should lose.
 */
export function soakDrain(points: readonly SoakPoint[], modelPerHour: number | null): SoakFinding {
	const expected = modelPerHour ?? USUAL_DRAIN_PER_HOUR;
	const common = { from: points.length, expected, typical: modelPerHour === null };
	const hours = points.map(({ minutes, percent }) => [minutes / 60, percent] as const);
	const line = fitLine(hours);
	const span = Math.max(...hours.map(([x]) => x)) - Math.min(...hours.map(([x]) => x));
	if (!line || span * 60 < 10) return { ...common, verdict: 'too-early', perHour: null };
	const rounding = (2 * READING_ERROR) / span;
	const half = Math.max(points.length > 2 ? line.slopeHalf : 0, rounding);
	const value = -line.slope;
	const perHour = { value, low: value - half, high: value + half };
	const limit = expected * TOO_MUCH;
	const verdict =
		perHour.low > limit ? 'drains-fast' : perHour.high <= limit ? 'as-it-should' : 'not-sure-yet';
	return { ...common, verdict, perHour };
}

export const SOAK_WORDS: Record<SoakFinding['verdict'], string> = {
	'too-early': 'too early: two looks, ten minutes apart, at least',
	'as-it-should': 'loses what it should',
	'drains-fast': 'loses too much: battery worn, or something draws',
	'not-sure-yet': 'not sure yet: soak it longer'
};
