import { betaQuantile } from './beta';
import { normalQuantile } from './normal';

export interface Interval {
	low: number;
	high: number;
}

/**
 * Wilson score interval for a share: `events` of `trials`.
 * Source: R. G. Newcombe, Statistics in Medicine 17:857-872 (1998), method 3.
 */
export function wilsonInterval(events: number, trials: number, level = 0.95): Interval {
	if (trials <= 0) return { low: 0, high: 1 };
	const z = normalQuantile(0.5 + level / 2);
	const share = events / trials;
	const centre = share + (z * z) / (2 * trials);
	const spread = z * Math.sqrt((share * (1 - share)) / trials + (z * z) / (4 * trials * trials));
	const scale = 1 + (z * z) / trials;
	return {
		low: events === 0 ? 0 : Math.max(0, (centre - spread) / scale),
		high: events === trials ? 1 : Math.min(1, (centre + spread) / scale)
	};
}

/** Clopper-Pearson ("exact") interval for a share, by beta quantiles. Source as above, method 5. */
export function clopperPearsonInterval(events: number, trials: number, level = 0.95): Interval {
	if (trials <= 0) return { low: 0, high: 1 };
	const tail = (1 - level) / 2;
	return {
		low: events === 0 ? 0 : betaQuantile(tail, events, trials - events + 1),
		high: events === trials ? 1 : betaQuantile(1 - tail, events + 1, trials - events)
	};
}
