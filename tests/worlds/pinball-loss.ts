/**
 * Pinball loss of a quantile: what it is under by, times its level, or over by, times the rest. Koenker & Bassett, Econometrica 46
 * (1978).
 * @example pinballLoss(50, 62, 0.9) // 10.8
 */
export const pinballLoss = (quantile: number, value: number, level: number): number =>
	value >= quantile ? level * (value - quantile) : (1 - level) * (quantile - value);
