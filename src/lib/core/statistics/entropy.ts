/** Uncertainty of a belief, in bits: −Σ p log2 p. Shannon, Bell System Technical Journal 27 (1948). */
export const entropyBits = (belief: Iterable<number>): number => {
	let bits = 0;
	for (const chance of belief) if (chance > 0) bits -= chance * Math.log2(chance);
	return bits;
};
