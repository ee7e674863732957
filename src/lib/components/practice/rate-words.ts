import type { Interval } from '$lib/core/statistics/rate-interval';

/** Both ends of an interval of shares, to two places. */
export const rateWords = ({ low, high }: Interval) => `${low.toFixed(2)}–${high.toFixed(2)}`;
