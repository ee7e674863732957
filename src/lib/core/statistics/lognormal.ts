import { normalCdf, normalQuantile } from './normal';

/** A lognormal: the logarithm is normal with mean `mu` and standard deviation `sigma`. */
export interface Lognormal {
	mu: number;
	sigma: number;
}

export const lognormalMean = ({ mu, sigma }: Lognormal) => Math.exp(mu + (sigma * sigma) / 2);
export const lognormalMedian = ({ mu }: Lognormal) => Math.exp(mu);
export const lognormalMode = ({ mu, sigma }: Lognormal) => Math.exp(mu - sigma * sigma);
export const lognormalSd = (law: Lognormal) =>
	lognormalMean(law) * Math.sqrt(Math.expm1(law.sigma * law.sigma));
export const lognormalQuantile = ({ mu, sigma }: Lognormal, probability: number) =>
	Math.exp(mu + sigma * normalQuantile(probability));
/** P(X > x) */
export const lognormalExceeds = ({ mu, sigma }: Lognormal, x: number) =>
	x <= 0 ? 1 : 1 - normalCdf((Math.log(x) - mu) / sigma);

/** The lognormal of a given mean and coefficient of variation (sd / mean). */
export function lognormalFromMean(mean: number, variation: number): Lognormal {
	const sigma = Math.sqrt(Math.log1p(variation * variation));
	return { mu: Math.log(mean) - (sigma * sigma) / 2, sigma };
}
