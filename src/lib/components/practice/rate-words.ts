import type { Interval } from '$lib/core/statistics/rate-interval';
import { percentRange } from '$lib/core/units/percent';

/** Both ends of an interval of shares. */
export const rateWords = ({ low, high }: Interval) => percentRange(low, high);
