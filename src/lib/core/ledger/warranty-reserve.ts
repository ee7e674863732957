import {
	addComebackCost,
	comebackCostMinor,
	meanComebackCostMinor,
	noComebackCosts
} from '../comebacks/what-one-costs';
import { firstComebacks, isComeback, type Causes, type ReturnVisit } from '../comebacks/what-counts';
import { kaplanMeier, survivalAt, type Followed } from '../statistics/kaplan-meier';
import { Z80 } from '../statistics/normal';
import { DAY_MS, type Instant } from '../units/instant';
import type { Minor } from '../units/money';

/** A closed ticket as the reserve sees it. */
export interface Warranted extends ReturnVisit {
	outcome: string;
	closedAt: Instant;
	partsMinor: Minor;
	labourMinor: Minor;
	/** without tax */
	paidMinor: Minor;
}

export interface WarrantyReserve {
	/** expected cost of comebacks still to come within the warranty of what was fixed */
	expectedMinor: Minor;
	/** 80 % interval */
	lowMinor: Minor;
	highMinor: Minor;
	/** comebacks that are expected */
	comebacks: number;
	/** fixed tickets still under warranty */
	underWarranty: number;
	/** what one costs on average, and past comebacks that this is known from */
	meanMinor: number;
	from: number;
}

/**
 * What is to be set aside for work that will come back at the shop's cost: each fixed ticket under warranty that has not come back
 * comes back with (S(age) - S(warranty)) / S(age), S from the shop's own record (Kaplan and Meier), and costs what comebacks cost
 * on average. The interval is that of a compound Poisson sum: variance = expected number times the mean square of a cost.
 */
export function warrantyReserve(
	tickets: readonly Warranted[],
	{ asOf, warrantyDays, causes }: { asOf: Instant; warrantyDays: number; causes: Causes }
): WarrantyReserve {
	const closedEarlier = tickets.filter(({ closedAt }) => closedAt < asOf);
	const fixed = new Map(
		closedEarlier
			.filter(({ outcome }) => outcome === 'fixed')
			.map(({ number, closedAt }) => [number, closedAt])
	);
	const back = firstComebacks(closedEarlier, fixed, asOf, causes);
	const followed = [...fixed].map(([number, closedAt]): Followed => {
		const cameBack = back.get(number);
		return { time: ((cameBack?.at ?? asOf) - closedAt) / DAY_MS, event: cameBack !== undefined };
	});
	const { comebacks, underWarranty } = stillToCome(followed, warrantyDays);
	const costs = noComebackCosts();
	for (const visit of closedEarlier) {
		const first = { outcome: 'fixed', closedAt: fixed.get(visit.comebackOf ?? '') ?? null };
		if (isComeback(visit, first, causes)) addComebackCost(costs, comebackCostMinor(visit));
	}
	const meanMinor = meanComebackCostMinor(costs);
	const half = Z80 * Math.sqrt((comebacks * costs.squares) / Math.max(1, costs.from));
	return {
		expectedMinor: Math.round(comebacks * meanMinor),
		lowMinor: Math.max(0, Math.round(comebacks * meanMinor - half)),
		highMinor: Math.round(comebacks * meanMinor + half),
		comebacks,
		underWarranty,
		meanMinor,
		from: costs.from
	};
}

/** Comebacks that are expected of jobs under warranty, and how many jobs are. */
function stillToCome(followed: readonly Followed[], warrantyDays: number) {
	const steps = kaplanMeier(followed);
	const atEnd = survivalAt(steps, warrantyDays);
	let [comebacks, underWarranty] = [0, 0];
	for (const { time, event } of followed) {
		if (event || time >= warrantyDays) continue;
		const now = survivalAt(steps, time);
		underWarranty += 1;
		comebacks += now > 0 ? (now - atEnd) / now : 0;
	}
	return { comebacks, underWarranty };
}
