import { studentQuantile } from './student-t';

export interface LineFit {
	slope: number;
	intercept: number;
	/** half width of the slope's interval; infinite with two points */
	slopeHalf: number;
	/** points that it rests on */
	from: number;
}

/**
 * Least squares line with the t interval of its slope (textbook; n - 2 degrees of freedom).
 * @returns null with fewer than two different x
 */
export function fitLine(points: readonly (readonly [x: number, y: number])[], level = 0.95): LineFit | null {
	const n = points.length;
	const meanX = points.reduce((sum, [x]) => sum + x, 0) / n;
	const meanY = points.reduce((sum, [, y]) => sum + y, 0) / n;
	const spreadX = points.reduce((sum, [x]) => sum + (x - meanX) ** 2, 0);
	if (n < 2 || !(spreadX > 0)) return null;
	const slope = points.reduce((sum, [x, y]) => sum + (x - meanX) * (y - meanY), 0) / spreadX;
	const intercept = meanY - slope * meanX;
	const residual = points.reduce((sum, [x, y]) => sum + (y - intercept - slope * x) ** 2, 0);
	const slopeHalf =
		n === 2 ? Infinity : studentQuantile(0.5 + level / 2, n - 2) * Math.sqrt(residual / (n - 2) / spreadX);
	return { slope, intercept, slopeHalf, from: n };
}
