import { medianAbsoluteDeviation, medianSorted, sortUp } from './quantile';

/** Makes the MAD of normal data estimate their standard deviation: 1 / quantile(3/4). Textbook constant. */
export const MAD_TO_SD = 1.4826;

/**
 * How many values' worth of a standard deviation a MAD is: its efficiency for normal data.
 * Source: Rousseeuw & Croux, Journal of the American Statistical Association 88 (1993), from memory.
 */
export const MAD_EFFICIENCY = 0.37;

/**
 * Modified z-score of a value among others, 0.6745 (x - median) / MAD; beyond 3.5 it is called an outlier.
 * Source: Iglewicz & Hoaglin, How to Detect and Handle Outliers (1993). Infinite where all others are equal.
 */
export function modifiedZ(value: number, values: readonly number[]): number {
	const off = value - medianSorted(sortUp(values));
	return off === 0 ? 0 : (0.6745 * off) / medianAbsoluteDeviation(values);
}
