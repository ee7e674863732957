import { kaplanMeier, survivalAt, type Followed } from '../statistics/kaplan-meier';
import { Z80 } from '../statistics/normal';
import { DAY_MS, type Instant } from '../units/instant';
import type { Minor } from '../units/money';

/** A closed ticket as the reserve sees it. */
export interface Warranted {
	number: string;
	comebackOf: string | null;
	outcome: string;
	openedAt: Instant;
	closedAt: Instant;
	/** what it cost the shop: parts and labour less what was paid for it */
	costMinor: Minor;
}

export interface WarrantyReserve {
	/** expected cost of comebacks still to come within the warranty of what was fixed */
	expectedMinor: Minor;
	/** 80 % interval */
	lowMinor: Minor;
	highMinor: Minor;
	/** comebacks that are expected */
	comebacks: number;
	/** fixed tickets still under warranty, and past comebacks that their cost is known from */
	underWarranty: number;
	from: number;
}

/**
 * What is to be set aside for work that will come back at the shop's cost: each fixed ticket under warranty that has not come back
 * comes back with (S(age) - S(warranty)) / S(age), S from the shop's own record (Kaplan and Meier), and costs what comebacks cost
 * on average. The interval is that of a compound Poisson sum: variance = expected number times the mean square of a cost.
 */
export function warrantyReserve(
	tickets: readonly Warranted[],
	asOf: Instant,
	warrantyDays: number
): WarrantyReserve {
	const known = tickets.filter(({ closedAt }) => closedAt < asOf);
	const back = new Map<string, Instant>();
	for (const { comebackOf, openedAt } of known) {
		if (comebackOf === null) continue;
		back.set(comebackOf, Math.min(openedAt, back.get(comebackOf) ?? Infinity));
	}
	const fixed = known.filter(({ outcome }) => outcome === 'fixed');
	const followed = fixed.map(({ number, closedAt }): Followed => {
		const cameBack = back.get(number);
		const event = cameBack !== undefined && cameBack >= closedAt;
		return { time: ((event ? cameBack : asOf) - closedAt) / DAY_MS, event };
	});
	const steps = kaplanMeier(followed);
	const atEnd = survivalAt(steps, warrantyDays);
	let [comebacks, underWarranty] = [0, 0];
	for (const { time, event } of followed) {
		if (event || time >= warrantyDays) continue;
		const now = survivalAt(steps, time);
		underWarranty += 1;
		comebacks += now > 0 ? (now - atEnd) / now : 0;
	}
	const costs = known.flatMap(({ comebackOf, costMinor }) =>
		comebackOf === null ? [] : [Math.max(0, costMinor)]
	);
	const from = costs.length;
	const mean = from > 0 ? costs.reduce((sum, cost) => sum + cost, 0) / from : 0;
	const square = from > 0 ? costs.reduce((sum, cost) => sum + cost ** 2, 0) / from : 0;
	const half = Z80 * Math.sqrt(comebacks * square);
	return {
		expectedMinor: Math.round(comebacks * mean),
		lowMinor: Math.max(0, Math.round(comebacks * mean - half)),
		highMinor: Math.round(comebacks * mean + half),
		comebacks,
		underWarranty,
		from
	};
}
