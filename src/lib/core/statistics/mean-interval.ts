import type { Interval } from './rate-interval';
import { studentQuantile } from './student-t';

export interface MeanInterval extends Interval {
	mean: number;
	count: number;
}

/** Mean with its t interval (Student 1908); without bounds (infinite) below two values, NaN of none. */
export function meanInterval(values: readonly number[], level = 0.95): MeanInterval {
	const count = values.length;
	const mean = values.reduce((sum, value) => sum + value, 0) / count;
	if (count < 2) return { mean, low: -Infinity, high: Infinity, count };
	const variance = values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / (count - 1);
	const half = studentQuantile(0.5 + level / 2, count - 1) * Math.sqrt(variance / count);
	return { mean, low: mean - half, high: mean + half, count };
}
