import { itemAt } from '../units/vector';
import type { Followed } from './kaplan-meier';
import { normalCdf } from './normal';

export interface LogRank {
	/** events that the first group would have had with the others' hazard */
	expected: number;
	observed: number;
	/** on one degree of freedom */
	chiSquare: number;
	/** of a difference as large by chance; 1 where nothing can be told */
	p: number;
}

/** Whether one group's events come sooner or later than another's. Source: N. Mantel, Cancer Chemotherapy Reports 50:163-170 (1966). */
export function logRank(one: readonly Followed[], second: readonly Followed[]): LogRank {
	const all = [
		...one.map(({ time, event }) => ({ time, event, first: true })),
		...second.map(({ time, event }) => ({ time, event, first: false }))
	].sort((a, b) => a.time - b.time);
	let [ones, total, at] = [one.length, all.length, 0];
	let [observed, expected, variance] = [0, 0, 0];
	while (at < all.length) {
		const time = all[at]?.time;
		let [events, onesEvents, atRisk, onesGone] = [0, 0, 0, 0];
		for (; at < all.length && all[at]?.time === time; at++) {
			const { event, first } = itemAt(all, at);
			atRisk += 1;
			if (first) onesGone += 1;
			if (event) events += 1;
			if (event && first) onesEvents += 1;
		}
		if (events > 0) {
			const share = ones / total;
			observed += onesEvents;
			expected += events * share;
			if (total > 1) variance += (events * share * (1 - share) * (total - events)) / (total - 1);
		}
		ones -= onesGone;
		total -= atRisk;
	}
	const chiSquare = variance > 0 ? (observed - expected) ** 2 / variance : 0;
	return { observed, expected, chiSquare, p: 2 * normalCdf(-Math.sqrt(chiSquare)) };
}
