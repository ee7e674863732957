import { sumOf } from './sum';

/** log(sum(exp(x))) without overflow; -Infinity for an empty list. */
export function logSumExp(logs: ArrayLike<number>): number {
	let max = -Infinity;
	for (let i = 0; i < logs.length; i++) max = Math.max(max, logs[i] as number);
	if (max === -Infinity) return -Infinity;
	let sum = 0;
	for (let i = 0; i < logs.length; i++) sum += Math.exp((logs[i] as number) - max);
	return max + Math.log(sum);
}

/** Shares in proportion to e^x, summing to 1, without overflow (softmax). */
export function softmax(logs: readonly number[]): number[] {
	const maximum = Math.max(...logs);
	const weights = logs.map((log) => Math.exp(log - maximum));
	const total = sumOf(weights);
	return weights.map((weight) => weight / total);
}

/** log(share · e^a + (1 − share) · e^b) */
export function logMix(share: number, a: number, b: number): number {
	const [x, y] = [Math.log(share) + a, Math.log(1 - share) + b];
	const maximum = Math.max(x, y);
	return maximum + Math.log(Math.exp(x - maximum) + Math.exp(y - maximum));
}
