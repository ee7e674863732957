/**
 * log of the gamma function for x > 0. Lanczos approximation with g = 7, n = 9 coefficients
 * (C. Lanczos, SIAM J. Numer. Anal. 1 (1964); coefficients from memory), relative error about 1e-15.
 */
const LANCZOS = [
	0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059,
	12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7
] as const;

export function logGamma(x: number): number {
	if (!(x > 0)) throw new RangeError(`logGamma: ${x} is not above 0`);
	if (x < 0.5) return Math.log(Math.PI / Math.sin(Math.PI * x)) - logGamma(1 - x);
	const shifted = x - 1;
	let series: number = LANCZOS[0];
	for (let i = 1; i < LANCZOS.length; i++) series += (LANCZOS[i] as number) / (shifted + i);
	const t = shifted + 7.5;
	return 0.5 * Math.log(2 * Math.PI) + (shifted + 0.5) * Math.log(t) - t + Math.log(series);
}

/**
 * Regularised lower incomplete gamma P(a, x): series below a + 1, continued fraction above
 * (Abramowitz & Stegun 6.5.29 and 6.5.31, by the modified Lentz method).
 */
export function regularisedGammaP(a: number, x: number): number {
	if (x <= 0) return 0;
	const scale = Math.exp(a * Math.log(x) - x - logGamma(a));
	if (x < a + 1) {
		let term = 1 / a;
		let sum = term;
		for (let n = 1; n < 1000 && Math.abs(term) > Math.abs(sum) * 1e-16; n++) {
			term *= x / (a + n);
			sum += term;
		}
		return sum * scale;
	}
	let b = x + 1 - a;
	let c = 1e300;
	let d = 1 / b;
	let fraction = d;
	for (let n = 1; n < 1000; n++) {
		const factor = -n * (n - a);
		b += 2;
		d = 1 / (factor * d + b || 1e-300);
		c = b + factor / c || 1e-300;
		const change = d * c;
		fraction *= change;
		if (Math.abs(change - 1) < 1e-16) break;
	}
	return 1 - scale * fraction;
}

/** Quantile of the gamma distribution of a shape and scale 1, by bisection of the distribution function; to 1e-10 of itself. */
export function gammaQuantile(probability: number, shape: number): number {
	if (!(probability > 0 && probability < 1))
		throw new RangeError(`gammaQuantile: probability ${probability} is outside 0..1`);
	let [low, high] = [0, shape + 1];
	while (regularisedGammaP(shape, high) < probability) high *= 2;
	for (let step = 0; step < 100 && high - low > 1e-10 * high; step++) {
		const middle = (low + high) / 2;
		if (regularisedGammaP(shape, middle) < probability) low = middle;
		else high = middle;
	}
	return (low + high) / 2;
}
