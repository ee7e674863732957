import { betaCdf } from './beta';
import { logGamma } from './gamma';

/** Student's t distribution function, `freedom` > 0 (may be fractional). Abramowitz & Stegun 26.7.1, by the incomplete beta. */
export function studentCdf(t: number, freedom: number): number {
	if (t === 0) return 0.5;
	const tail = betaCdf(freedom / (freedom + t * t), freedom / 2, 0.5) / 2;
	return t > 0 ? 1 - tail : tail;
}

/** Quantile by bisection on `studentCdf`, to about 1e-10 of its size; symmetric, so the upper half is searched. */
export function studentQuantile(probability: number, freedom: number): number {
	if (probability < 0.5) return -studentQuantile(1 - probability, freedom);
	let low = 0;
	let high = 2;
	while (studentCdf(high, freedom) < probability && high < 1e12) high *= 4;
	for (let step = 0; step < 70; step++) {
		const middle = (low + high) / 2;
		if (studentCdf(middle, freedom) < probability) low = middle;
		else high = middle;
	}
	return (low + high) / 2;
}

/** log density of t scaled by `scale` at a distance from its centre. */
export function studentLogDensity(distance: number, scale: number, freedom: number): number {
	const z = distance / scale;
	return (
		logGamma((freedom + 1) / 2) -
		logGamma(freedom / 2) -
		0.5 * Math.log(freedom * Math.PI) -
		Math.log(scale) -
		((freedom + 1) / 2) * Math.log1p((z * z) / freedom)
	);
}
