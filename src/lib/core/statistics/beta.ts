import { logGamma } from './gamma';

/**
 * Regularised incomplete beta I_x(a, b): the distribution function of a Beta(a, b).
 * Continued fraction, Abramowitz & Stegun 26.5.8, by the modified Lentz method.
 */
export function betaCdf(x: number, a: number, b: number): number {
	if (x <= 0) return 0;
	if (x >= 1) return 1;
	const scale = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log1p(-x));
	return x < (a + 1) / (a + b + 2)
		? (scale * betaFraction(x, a, b)) / a
		: 1 - (scale * betaFraction(1 - x, b, a)) / b;
}

function betaFraction(x: number, a: number, b: number): number {
	let c = 1;
	let d = 1 / (1 - ((a + b) * x) / (a + 1) || 1e-300);
	let fraction = d;
	for (let m = 1; m < 10_000; m++) {
		const evenTerm = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
		d = 1 / (1 + evenTerm * d || 1e-300);
		c = 1 + evenTerm / c || 1e-300;
		fraction *= d * c;
		const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
		d = 1 / (1 + odd * d || 1e-300);
		c = 1 + odd / c || 1e-300;
		const change = d * c;
		fraction *= change;
		if (Math.abs(change - 1) < 1e-15) break;
	}
	return fraction;
}

/** Quantile of a Beta(a, b) by bisection to 1e-15: no start value can mislead it. */
export function betaQuantile(probability: number, a: number, b: number): number {
	let low = 0;
	let high = 1;
	for (let step = 0; step < 60; step++) {
		const middle = (low + high) / 2;
		if (betaCdf(middle, a, b) < probability) low = middle;
		else high = middle;
	}
	return (low + high) / 2;
}
