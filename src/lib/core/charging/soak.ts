import { fitLine } from '../statistics/line-fit';
import { studentQuantile } from '../statistics/student-t';

export interface SoakPoint {
	/** since the soak began */
	minutes: number;
	percent: number;
}

export const SOAK_VERDICTS = [
	'too-early',
	'as-it-should',
	'drains-fast',
	'not-sure-yet',
	'not-a-soak'
] as const;
export type SoakVerdict = (typeof SOAK_VERDICTS)[number];

export interface SoakFinding {
	verdict: SoakVerdict;
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
/**
 * A device shows whole per cents, so each look is off by about this much (half a per cent either way, evenly: 0.29), and that
 * is worth so many looks of scatter: with two looks the interval is what rounding allows, with more the scatter tells.
 */
const LOOK_ERROR = { spread: 0.3, worth: 8 };

/**
 * Drain over time: the least squares slope with its 95 % interval, Student's t with the scatter of the looks pooled with
 * that of whole per cents (normal with a scaled inverse chi-squared prior: Gelman et al., Bayesian Data Analysis, 14.2),
 * against what the model should lose. What rises, or stands still where it should have lost, is no soak.
 */
export function soakDrain(points: readonly SoakPoint[], modelPerHour: number | null): SoakFinding {
	const expected = modelPerHour ?? USUAL_DRAIN_PER_HOUR;
	const common = { from: points.length, expected, typical: modelPerHour === null };
	const hours = points.map(({ minutes, percent }) => [minutes / 60, percent] as const);
	const line = fitLine(hours);
	const span = Math.max(...hours.map(([x]) => x)) - Math.min(...hours.map(([x]) => x));
	if (!line || span * 60 < 10) return { ...common, verdict: 'too-early', perHour: null };
	const half = slopeHalf(hours, line);
	const value = -line.slope;
	const perHour = { value, low: value - half, high: value + half };
	const limit = expected * TOO_MUCH;
	// one look more is needed where it did not fall at all, and rounding may have hidden that
	if (value <= 0) {
		return { ...common, verdict: perHour.high < expected / 2 ? 'not-a-soak' : 'not-sure-yet', perHour };
	}
	const verdict =
		perHour.low > limit ? 'drains-fast' : perHour.high <= limit ? 'as-it-should' : 'not-sure-yet';
	return { ...common, verdict, perHour };
}

/** Half the interval of the slope, per cent an hour. */
function slopeHalf(looks: readonly (readonly [number, number])[], { slope }: { slope: number }): number {
	const mean = (axis: 0 | 1) => looks.reduce((sum, look) => sum + look[axis], 0) / looks.length;
	const [x, y] = [mean(0), mean(1)];
	const squares = looks.reduce((sum, [hour]) => sum + (hour - x) ** 2, 0);
	const residual = looks.reduce((sum, [hour, percent]) => sum + (percent - y - slope * (hour - x)) ** 2, 0);
	const freedom = LOOK_ERROR.worth + looks.length - 2;
	const variance = (LOOK_ERROR.worth * LOOK_ERROR.spread ** 2 + residual) / freedom;
	return studentQuantile(0.975, freedom) * Math.sqrt(variance / squares);
}

export const SOAK_WORDS: Record<SoakVerdict, string> = {
	'too-early': 'too early: needs at least two readings ten minutes apart',
	'as-it-should': 'normal loss',
	'drains-fast': 'loses too much: worn battery, or something draws current',
	'not-sure-yet': 'not sure yet: soak longer',
	'not-a-soak': 'no valid soak: the charge rises or does not change. Was it charging, or is the gauge stuck?'
};
