import type { Minor } from '../units/money';

/** What comebacks cost the shop: of those that are closed and count. */
export interface ComebackCosts {
	/** together */
	sumMinor: Minor;
	/** sum of their squares, for how widely they scatter */
	squares: number;
	/** how many */
	from: number;
}

export const noComebackCosts = (): ComebackCosts => ({ sumMinor: 0, squares: 0, from: 0 });

/**
 * What one comeback cost the shop: its parts and work less what was paid for it without tax. One that was paid for in full costs
 * nothing, and does not pay for another.
 * @example comebackCostMinor({ partsMinor: 400, labourMinor: 2000, paidMinor: 0 }) // 2400
 */
export const comebackCostMinor = ({
	partsMinor,
	labourMinor,
	paidMinor
}: {
	partsMinor: Minor;
	labourMinor: Minor;
	/** without tax */
	paidMinor: Minor;
}): Minor => Math.max(0, partsMinor + labourMinor - paidMinor);

/** Adds one, or takes it out again with `times` = -1. */
export function addComebackCost(costs: ComebackCosts, costMinor: Minor, times: 1 | -1 = 1): void {
	costs.sumMinor += times * costMinor;
	costs.squares += times * costMinor ** 2;
	costs.from += times;
}

/** What a comeback costs on average; nothing where none is known. */
export const meanComebackCostMinor = ({ sumMinor, from }: ComebackCosts): number =>
	from === 0 ? 0 : sumMinor / from;

/** A job's own cost stands for so many comebacks while few are known. A choice. */
const JOBS_WEIGHT = 5;

/** What a comeback of a job is expected to cost: what the shop's comebacks cost, leaning on what the job itself costs while few are known. */
export const expectedComebackCostMinor = ({ sumMinor, from }: ComebackCosts, jobMinor: number): number =>
	(sumMinor + JOBS_WEIGHT * jobMinor) / (from + JOBS_WEIGHT);
