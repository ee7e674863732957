import { valueAt } from './vector';

/** A source of uniform numbers in [0, 1). The same seed gives the same numbers on every machine. */
export type Random = () => number;

/**
 * mulberry32, a 32-bit generator of period 2^32 by Tommy Ettinger (public domain), from memory.
 * Good enough for simulation and quadrature; never for secrets.
 */
export function seededRandom(seed: number): Random {
	let state = seed >>> 0;
	return () => {
		state = (state + 0x6d2b79f5) >>> 0;
		let mixed = state;
		mixed = Math.imul(mixed ^ (mixed >>> 15), mixed | 1);
		mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
		return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
	};
}

/** Standard normal by Box and Muller, Annals of Mathematical Statistics 29 (1958). */
export function drawNormal(random: Random): number {
	const radius = Math.sqrt(-2 * Math.log(1 - random()));
	return radius * Math.cos(2 * Math.PI * random());
}

/** Index drawn in proportion to `weights` (not all zero). */
export function drawIndex(random: Random, weights: readonly number[]): number {
	const total = weights.reduce((sum, weight) => sum + weight, 0);
	let remaining = random() * total;
	for (let index = 0; index < weights.length; index++) {
		remaining -= weights[index] ?? 0;
		if (remaining < 0) return index;
	}
	return weights.length - 1;
}

/** Draws indices in proportion to `weights` (not all zero), each in the time of a binary search. */
export function indexDrawer(weights: readonly number[]): (random: Random) => number {
	const upTo = new Float64Array(weights.length);
	let total = 0;
	weights.forEach((weight, index) => (upTo[index] = total += weight));
	return (random) => {
		const at = random() * total;
		let [low, high] = [0, upTo.length - 1];
		while (low < high) {
			const middle = (low + high) >> 1;
			if (valueAt(upTo, middle) > at) high = middle;
			else low = middle + 1;
		}
		return low;
	};
}

/** One of `items`, each as likely as the other. Throws on an empty list. */
export function drawOne<Item>(random: Random, items: readonly Item[]): Item {
	const item = items[Math.floor(random() * items.length)];
	if (item === undefined) throw new Error('drawOne: nothing to draw from');
	return item;
}
