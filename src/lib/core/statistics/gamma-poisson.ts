import { logGamma } from './gamma';

/**
 * Log chance of so many events at their moments within some exposure when their rate is itself drawn from a gamma distribution of
 * this shape and rate: the gamma-Poisson marginal likelihood, without the factor that the moments alone decide. Textbook.
 */
export const gammaPoissonLog = (
	events: number,
	exposure: number,
	{ shape, rate }: { shape: number; rate: number }
): number =>
	shape * Math.log(rate) -
	logGamma(shape) +
	logGamma(shape + events) -
	(shape + events) * Math.log(rate + exposure);
