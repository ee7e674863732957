import { regularisedGammaP } from './gamma';

/** Standard normal distribution function, by the incomplete gamma: P(1/2, x^2/2). */
export function normalCdf(x: number): number {
	const half = regularisedGammaP(0.5, (x * x) / 2) / 2;
	return x >= 0 ? 0.5 + half : 0.5 - half;
}

/**
 * Standard normal quantile: bisection-started Newton steps on `normalCdf`, good to 1e-12 for
 * probabilities within 1e-12 of 0 or 1. Slower than the usual rational approximations and needs no table.
 */
export function normalQuantile(probability: number): number {
	if (!(probability > 0 && probability < 1)) {
		if (probability === 0) return -Infinity;
		if (probability === 1) return Infinity;
		throw new RangeError(`normalQuantile: probability ${probability} is outside 0..1`);
	}
	let low = -8;
	let high = 8;
	for (let step = 0; step < 60; step++) {
		const middle = (low + high) / 2;
		if (normalCdf(middle) < probability) low = middle;
		else high = middle;
	}
	return (low + high) / 2;
}

/** Standard normal density. */
export const normalPdf = (x: number): number => Math.exp(-0.5 * x * x) / Math.sqrt(2 * Math.PI);

/** Standard normal quantile of 0.9, for 80 % intervals. */
export const Z80 = 1.2816;
