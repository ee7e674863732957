import { describe, expect, it } from 'vitest';
import type { FaultSet } from '$lib/core/diagnosis/fault-sets';
import { firstSteps, lookFurther, repairOutlook } from '$lib/core/diagnosis/plan/plan-ahead';
import {
	answersTo,
	plannedRemedy,
	type PlannedTest,
	type PlanWorld
} from '$lib/core/diagnosis/plan/plan-world';
import { entropyBits } from '$lib/core/statistics/entropy';

/** A device with exactly one of some faults, repairs that always work, given up at no price that could pay. */
function oneFault(costs: number[], tests: PlannedTest[] = []): PlanWorld {
	const sets: FaultSet[] = costs.map((_, fault) => [fault]);
	return {
		later: [],
		opening: null,
		sets,
		lossMinor: 1e6,
		tests,
		remedies: costs.map((cost, fault) =>
			plannedRemedy({ code: `${fault + 1}`, fixes: new Set([fault]), success: 1 }, sets, {
				minutes: cost,
				costMinor: cost
			})
		)
	};
}

/** Every order of some things. */
const orders = (things: readonly number[]): number[][] =>
	things.length === 0
		? [[]]
		: things.flatMap((first) =>
				orders(things.filter((thing) => thing !== first)).map((rest) => [first, ...rest])
			);

/** Expected cost of trying in an order: each cost as far as it comes to it. */
const costOf = (order: readonly number[], p: readonly number[], c: readonly number[]) =>
	order.reduce(
		({ left, cost }, i) => ({ left: left - (p[i] as number), cost: cost + left * (c[i] as number) }),
		{ left: 1, cost: 0 }
	).cost;

// Source: Heckerman, Breese & Rommelse, Decision-theoretic troubleshooting, CACM 38(3) 1995: the best order is by p/c.
// Figures: all permutations enumerated outside the project (reference T1 of the design).
describe('troubleshooting order', () => {
	const p = [0.45, 0.25, 0.2, 0.1];
	const c = [20, 4, 15, 1];
	it('is 4, 2, 1, 3 at 20.60, the cheapest of all', () => {
		const { order, costMinor } = repairOutlook(oneFault(c), Float64Array.from(p));
		expect(order).toEqual(['4', '2', '1', '3']);
		expect(Math.abs(costMinor - 20.6)).toBeLessThan(1e-9);
		const all = orders([0, 1, 2, 3])
			.map((each) => costOf(each, p, c))
			.sort((a, b) => a - b);
		expect(Math.abs((all[0] as number) - costMinor)).toBeLessThan(1e-9);
		expect(Math.abs((all[1] as number) - 20.75)).toBeLessThan(1e-9);
		expect(Math.abs((all.at(-1) as number) - 32.5)).toBeLessThan(1e-9);
	});
	it('the planner begins with it and prices each other beginning with the best order after it', () => {
		const firsts = firstSteps(oneFault(c), Float64Array.from(p));
		for (const { step, costMinor } of firsts) {
			const begin = Number(step.code) - 1;
			const least = Math.min(
				...orders([0, 1, 2, 3])
					.filter(([first]) => first === begin)
					.map((order) => costOf(order, p, c))
			);
			expect(Math.abs(costMinor - least)).toBeLessThan(1e-9);
		}
		expect(firsts[0]?.step.code).toBe('4');
	});
});

// Source: computed by enumeration outside the project (reference T2 of the design).
describe('value of a test', () => {
	const belief = Float64Array.from([0.5, 0.3, 0.2]);
	const positive = Float64Array.from([0.9, 0.2, 0.1]);
	const test: PlannedTest = {
		kind: 'test',
		needs: [],
		code: 't',
		question: 't',
		minutes: 5,
		costMinor: 5,
		answers: ['plus', 'minus'],
		told: [positive, positive.map((chance) => 1 - chance)]
	};
	const world = oneFault([30, 20, 40], [test]);
	const [plus, minus] = answersTo(belief, test);

	it('what each answer leaves, and what repairing costs then', () => {
		expect(plus?.chance).toBeCloseTo(0.53, 6);
		[0.849057, 0.113208, 0.037736].forEach((chance, i) => expect(plus?.after[i]).toBeCloseTo(chance, 6));
		[0.106383, 0.510638, 0.382979].forEach((chance, i) => expect(minus?.after[i]).toBeCloseTo(chance, 6));
		const [base, after, otherwise] = [belief, plus?.after, minus?.after].map((state) =>
			repairOutlook(world, state as Float64Array)
		);
		expect(base?.costMinor).toBeCloseTo(48, 6);
		expect(base?.order).toEqual(['1', '2', '3']);
		expect(after?.costMinor).toBeCloseTo(34.528302, 6);
		expect(otherwise?.costMinor).toBeCloseTo(42.765957, 6);
		expect(otherwise?.order).toEqual(['2', '3', '1']);
	});
	it('is 9.60, so the planner tests first and saves 4.60', () => {
		const [best] = lookFurther(world, belief, firstSteps(world, belief), { depth: 1, firsts: 6 });
		expect(best?.step.code).toBe('t');
		expect(best?.costMinor).toBeCloseTo(38.4 + 5, 6);
		expect(48 - (best?.costMinor ?? 0)).toBeCloseTo(4.6, 6);
	});
	it('takes 0.452526 of 1.485475 bits of uncertainty', () => {
		expect(entropyBits(belief)).toBeCloseTo(1.485475, 6);
		const left = [plus, minus].reduce(
			(sum, branch) => sum + (branch?.chance ?? 0) * entropyBits(branch?.after ?? []),
			0
		);
		expect(entropyBits(belief) - left).toBeCloseTo(0.452526, 6);
	});
});
