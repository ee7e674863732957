import { expect, it } from 'vitest';
import { gammaPoissonLog } from './gamma-poisson';
import { logGamma } from './gamma';
import { softmax } from './log-sum-exp';

const close = (value: number, wanted: number) => expect(value).toBeCloseTo(wanted, 8);

it('is the integral of the events’ density over the rates, by Simpson’s rule', () => {
	for (const [events, exposure, shape, rate] of [
		[0, 3, 2, 1],
		[4, 3, 2, 1],
		[7, 0.5, 1.5, 4],
		[3, 12, 5, 5]
	] as const) {
		const density = (x: number) =>
			x ** events *
			Math.exp(-exposure * x) *
			Math.exp(shape * Math.log(rate) - logGamma(shape) + (shape - 1) * Math.log(x) - rate * x);
		const [to, steps] = [80, 400_000];
		const width = to / steps;
		let integral = 0;
		for (let i = 0; i <= steps; i++)
			integral += (i === 0 || i === steps ? 1 : i % 2 ? 4 : 2) * (i === 0 ? 0 : density(i * width));
		expect(Math.log((integral * width) / 3)).toBeCloseTo(
			gammaPoissonLog(events, exposure, { shape, rate }),
			5
		);
	}
});

it('counts of one fixed exposure sum to one as the negative binomial they are', () => {
	const belief = { shape: 1.7, rate: 0.8 };
	const exposure = 2.5;
	let total = 0;
	for (let n = 0; n < 400; n++)
		total += Math.exp(gammaPoissonLog(n, exposure, belief) + n * Math.log(exposure) - logGamma(n + 1));
	close(total, 1);
});

it('shares of logs: in proportion, summing to one, far beyond what exp can hold', () => {
	const shares = softmax([5000, 5000 + Math.log(3), -5000]);
	close(shares[0] as number, 0.25);
	close(shares[1] as number, 0.75);
	close(shares[2] as number, 0);
	expect(softmax([])).toEqual([]);
});
