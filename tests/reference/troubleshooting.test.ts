import { describe, expect, it } from 'vitest';
import { buildCatalog } from '$lib/core/catalog/catalog';
import type { CatalogRecord } from '$lib/core/catalog/records';
import { emptyLearned } from '$lib/core/diagnosis/learn';
import { rankNextSteps } from '$lib/core/diagnosis/next-step';
import type { Inference } from '$lib/core/diagnosis/odds';

const LOSS = 1000;
/** Repairs work with 0.995 here (the engine trusts none fully): what is given up for that, on average. */
const GIVEN_UP = 0.005 * LOSS;

/** A device with exactly one of four faults, repairs that always work, cost by minutes at 60 an hour. */
function oneFaultWorld(
	chances: number[],
	costs: number[],
	tests: CatalogRecord[] = [],
	expectations: CatalogRecord[] = []
) {
	const code = (i: number) => `f${i + 1}`;
	const catalog = buildCatalog([
		...chances.map((_, i): CatalogRecord => ({ record: 'fault', code: code(i), label: code(i) })),
		...costs.map((minutes, i): CatalogRecord => ({
			record: 'operation',
			code: `fix-${code(i)}`,
			label: code(i),
			minutes,
			fixes: [code(i)],
			success: 0.995
		})),
		{ record: 'technician', code: 't', name: 'T', hourly_cost: 60 },
		...tests,
		...expectations
	]);
	const inference = {
		codes: chances.map((_, i) => code(i)),
		sets: chances.map((_, i) => [i]),
		posterior: Float64Array.from(chances)
	} as unknown as Inference;
	return rankNextSteps(
		catalog,
		emptyLearned(),
		inference,
		{ signs: [], answers: [], attempts: [] },
		{
			operationMinutes: (operation) => catalog.operations.get(operation)?.minutes ?? 0,
			lossOfGivingUpMinor: LOSS * 100
		}
	);
}

describe('troubleshooting order', () => {
	// Source: Heckerman, Breese & Rommelse, Decision-theoretic troubleshooting, CACM 38(3) 1995: the best
	// order is by p/c. Here repairs cost, so the expected cost of order 4,2,1,3 is 20.60 (reference T1 of the
	// design, all permutations enumerated).
	it('begins with the highest chance per cost and prices the whole plan', () => {
		const steps = oneFaultWorld([0.45, 0.25, 0.2, 0.1], [20, 4, 15, 1]);
		expect(steps.map(({ code }) => code).slice(0, 1)).toEqual(['fix-f4']);
		expect(Math.abs((steps[0]?.expectedCostMinor ?? 0) / 100 - GIVEN_UP - 20.6)).toBeLessThan(0.15);
		const second = steps.find(({ code }) => code === 'fix-f2');
		expect((second?.expectedCostMinor ?? 0) - (steps[0]?.expectedCostMinor ?? 0)).toBeGreaterThan(0);
	});

	// Source: computed by enumeration, reference T2 of the design: base 48, with the test 38.40 of which 5 is its cost.
	it('does the test whose value is above its cost', () => {
		const test: CatalogRecord = {
			record: 'test',
			code: 't',
			label: 't',
			minutes: 5,
			outcomes: ['plus', 'minus']
		};
		const expectations = [0.9, 0.2, 0.1].map((plus, i): CatalogRecord => ({
			record: 'expectation',
			given: `f${i + 1}`,
			test: 't',
			outcomes: { plus, minus: 1 - plus },
			weight: 1e6
		}));
		const steps = oneFaultWorld([0.5, 0.3, 0.2], [30, 20, 40], [test], expectations);
		expect(steps[0]?.kind).toBe('test');
		expect(Math.abs((steps[0]?.expectedCostMinor ?? 0) / 100 - GIVEN_UP - 43.4)).toBeLessThan(0.35); // a repair that fails (0.005) leads on to the next ones
		const best = steps.find(({ kind }) => kind === 'operation');
		const saved = ((best?.expectedCostMinor ?? 0) - (steps[0]?.expectedCostMinor ?? 0)) / 100;
		expect(Math.abs(saved - 4.6)).toBeLessThan(0.1);
	});
});
