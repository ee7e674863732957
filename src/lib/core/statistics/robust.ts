/** Makes the MAD of normal data estimate their standard deviation: 1 / quantile(3/4). Textbook constant. */
export const MAD_TO_SD = 1.4826;

/**
 * How many values' worth of a standard deviation a MAD is: its efficiency for normal data.
 * Source: Rousseeuw & Croux, Journal of the American Statistical Association 88 (1993), from memory.
 */
export const MAD_EFFICIENCY = 0.37;
