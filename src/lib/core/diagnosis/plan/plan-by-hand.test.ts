import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sum } from '$worlds/plain-bayes';
import type { FaultSet } from '../fault-sets';
import { firstSteps, lookFurther, repairOutlook } from './plan-ahead';
import {
	addressed,
	afterStep,
	answersTo,
	chanceIn,
	plannedRemedy,
	tryRemedy,
	type PlannedRemedy,
	type PlannedTest,
	type PlanWorld
} from './plan-world';

/** Plans worked out a second time, step by step over sets by their names, on small invented worlds. */

const sets: FaultSet[] = [[], [0], [1], [2], [0, 1], [0, 2], [1, 2]];
const name = (set: FaultSet) => set.join('+');
interface Fix {
	code: string;
	fixes: number[];
	success: number;
	cost: number;
}
interface Ask {
	code: string;
	cost: number;
	/** chance of the first answer, by set */
	yes: number[];
}
type Beliefs = Map<string, number>;

const normal = (beliefs: Beliefs): Beliefs => {
	const total = sum([...beliefs.values()]);
	return new Map([...beliefs].map(([key, chance]) => [key, total > 0 ? chance / total : chance]));
};
/** what is believed where a repair did not help, and the chance that it does */
function failed(beliefs: Beliefs, { fixes, success }: Fix): { works: number; then: Beliefs } {
	const then: Beliefs = new Map(sets.map((set) => [name(set), 0]));
	let works = 0;
	for (const set of sets) {
		const chance = beliefs.get(name(set)) as number;
		const left = set.filter((fault) => !fixes.includes(fault));
		const give = (key: string, more: number) => then.set(key, (then.get(key) as number) + more);
		if (left.length === set.length) give(name(set), chance);
		else {
			give(name(set), chance * (1 - success));
			if (left.length === 0) works += chance * success;
			else give(name(left), chance * success);
		}
	}
	return { works, then: normal(then) };
}
const helps = (beliefs: Beliefs, { fixes, success }: Fix) =>
	success *
	sum(
		sets.map((set) => (set.some((fault) => fixes.includes(fault)) ? (beliefs.get(name(set)) as number) : 0))
	);
type Tries = [fix: Fix, left: number][];
const lessOne = (tries: Tries, fix: Fix): Tries =>
	tries.map(([each, left]) => [each, each === fix ? left - 1 : left]);

/** repairs by chance per cost, eight at most; given up after whichever makes it cheapest, at once too */
function plain(beliefs: Beliefs, tries: Tries, loss: number): { cost: number; order: string[] } {
	let [reach, cost, now, left] = [1, 0, beliefs, tries];
	const order: string[] = [];
	const ends = [{ cost: loss, order: [] as string[] }];
	while (order.length < 8 && reach > 1e-4) {
		const open = left.filter(([fix, times]) => times > 0 && helps(now, fix) > 0.003).map(([fix]) => fix);
		const [first] = open;
		if (!first) break;
		const best = open.reduce(
			(most, fix) => (helps(now, fix) / fix.cost > helps(now, most) / most.cost ? fix : most),
			first
		);
		order.push(best.code);
		cost += reach * best.cost;
		const { works, then } = failed(now, best);
		reach *= 1 - works;
		now = then;
		left = lessOne(left, best);
		ends.push({ cost: cost + reach * loss, order: [...order] });
	}
	return ends.reduce((best, end) => (end.cost < best.cost ? end : best));
}
const answered = (beliefs: Beliefs, { yes }: Ask) =>
	[true, false].map((is) => {
		const joint: Beliefs = new Map(
			sets.map((set, i) => [
				name(set),
				(beliefs.get(name(set)) as number) * (is ? (yes[i] as number) : 1 - (yes[i] as number))
			])
		);
		return { chance: sum([...joint.values()]), then: normal(joint) };
	});

const chance = fc.double({ min: 0.02, max: 0.98, noNaN: true });
const cost = fc.integer({ min: 5, max: 400 });
const worlds = fc
	.record({
		beliefs: fc.array(chance, { minLength: 7, maxLength: 7 }),
		fixes: fc.tuple(cost, cost, cost, chance, chance),
		asks: fc.array(fc.record({ cost, yes: fc.array(chance, { minLength: 7, maxLength: 7 }) }), {
			minLength: 1,
			maxLength: 3
		}),
		loss: fc.integer({ min: 50, max: 3000 })
	})
	.map(({ beliefs, fixes: [a, b, c, p, q], asks, loss }) => {
		const fixes: Fix[] = [
			{ code: 'r0', fixes: [0], success: p, cost: a },
			{ code: 'r1', fixes: [1, 2], success: q, cost: b },
			{ code: 'r2', fixes: [0, 1, 2], success: 0.9, cost: c + 200 }
		];
		const questions: Ask[] = asks.map((ask, i) => ({ code: `t${i}`, ...ask }));
		const start = normal(new Map(sets.map((set, i) => [name(set), beliefs[i] as number])));
		const world: PlanWorld = {
			later: [],
			opening: null,
			sets,
			lossMinor: loss,
			remedies: fixes.map(({ fixes, cost, ...fix }) =>
				plannedRemedy({ ...fix, fixes: new Set(fixes) }, sets, { minutes: cost / 2, costMinor: cost })
			),
			tests: questions.map(({ code, cost, yes }) => ({
				kind: 'test',
				needs: [],
				code,
				question: code,
				minutes: cost / 2,
				costMinor: cost,
				answers: ['yes', 'no'],
				told: [Float64Array.from(yes), Float64Array.from(yes, (is) => 1 - is)]
			}))
		};
		const state = Float64Array.from(sets, (set) => start.get(name(set)) as number);
		const tries: Tries = fixes.map((fix) => [fix, 2]);
		return { fixes, questions, start, world, state, loss, tries };
	});
type Small = typeof worlds extends fc.Arbitrary<infer Each> ? Each : never;

/** cost of a step first, with something behind it */
function behind(
	{ start, tries, questions }: Small,
	code: string,
	rest: (beliefs: Beliefs, tries: Tries, open: Ask[]) => number
) {
	const fix = tries.find(([each]) => each.code === code)?.[0];
	if (fix) {
		const { works, then } = failed(start, fix);
		return fix.cost + (1 - works) * rest(then, lessOne(tries, fix), questions);
	}
	const ask = questions.find((each) => each.code === code) as Ask;
	return (
		ask.cost +
		sum(
			answered(start, ask).map(
				({ chance, then }) =>
					chance *
					rest(
						then,
						tries,
						questions.filter((each) => each !== ask)
					)
			)
		)
	);
}

describe('a plan, worked out again', () => {
	it('trying a repair and asking a question', () =>
		fc.assert(
			fc.property(worlds, ({ world, state, start, fixes, questions }) => {
				fixes.forEach((fix, r) => {
					const { works, then } = failed(start, fix);
					const { resolved, after } = tryRemedy(state, world.remedies[r] as PlannedRemedy);
					expect(resolved).toBeCloseTo(works, 12);
					sets.forEach((set, i) => expect(after[i]).toBeCloseTo(then.get(name(set)) as number, 12));
					expect(addressed(state, world.remedies[r] as PlannedRemedy) * fix.success).toBeCloseTo(
						helps(start, fix),
						12
					);
				});
				questions.forEach((ask, t) => {
					const branches = answersTo(state, world.tests[t] as PlannedTest);
					expect(branches.map(({ answer }) => answer)).toEqual(['yes', 'no']);
					answered(start, ask).forEach(({ chance, then }, k) => {
						expect(branches[k]?.chance).toBeCloseTo(chance, 12);
						sets.forEach((set, i) =>
							expect(branches[k]?.after[i]).toBeCloseTo(then.get(name(set)) as number, 12)
						);
					});
				});
				expect(chanceIn(world, state, 1)).toBeCloseTo(
					sum(['1', '0+1', '1+2'].map((key) => start.get(key) as number)),
					12
				);
			}),
			{ numRuns: 40 }
		));
	it('repairs by the plain rule: their order, what they cost, when it is given up', () =>
		fc.assert(
			fc.property(worlds, ({ world, state, start, tries, loss }) => {
				const wanted = plain(start, tries, loss);
				const found = repairOutlook(world, state);
				expect(found.costMinor).toBeCloseTo(wanted.cost, 6);
				expect(found.order).toEqual(wanted.order);
				if (found.order.length === 0) expect(found.minutes).toBe(0);
			}),
			{ numRuns: 150 }
		));
	it('every first step with the plain rule behind it, cheapest first', () =>
		fc.assert(
			fc.property(worlds, (small) => {
				const { world, state, loss } = small;
				const found = firstSteps(world, state);
				expect(found.map(({ step }) => step.code).sort()).toEqual(
					[...world.remedies.filter((remedy) => addressed(state, remedy) > 0.01), ...world.tests]
						.map(({ code }) => code)
						.sort()
				);
				found.forEach(({ step, costMinor }, i) => {
					const wanted = behind(small, step.code, (beliefs, tries) => plain(beliefs, tries, loss).cost);
					expect(costMinor).toBeCloseTo(wanted, 6);
					// within one per cent steps are alike
					if (i > 0) expect(found[i - 1]?.costMinor).toBeLessThanOrEqual(costMinor * 1.01);
				});
			}),
			{ numRuns: 60 }
		));
	it('and with the best test between', () =>
		fc.assert(
			fc.property(worlds, (small) => {
				const { world, state, loss } = small;
				const found = lookFurther(world, state, firstSteps(world, state), { depth: 1, firsts: 2 });
				const plainly = firstSteps(world, state);
				const looked = new Set(plainly.slice(0, 2).map(({ step }) => step.code));
				found.forEach(({ step, costMinor }, i) => {
					const wanted = behind(small, step.code, (beliefs, tries, open) => {
						const alone = plain(beliefs, tries, loss).cost;
						if (!looked.has(step.code)) return alone;
						const tested = open.map(
							(ask) =>
								ask.cost +
								sum(answered(beliefs, ask).map(({ chance, then }) => chance * plain(then, tries, loss).cost))
						);
						return Math.min(alone, ...tested);
					});
					expect(costMinor).toBeCloseTo(wanted, 6);
					// within one per cent steps are alike
					if (i > 0) expect(found[i - 1]?.costMinor).toBeLessThanOrEqual(costMinor * 1.01);
				});
				// without time left nothing is looked at again
				expect(
					lookFurther(world, state, plainly, { depth: 1, firsts: 6, timeLeft: () => false }).map(
						({ costMinor }) => costMinor
					)
				).toEqual(plainly.map(({ costMinor }) => costMinor));
			}),
			{ numRuns: 40 }
		));
	it('minutes add up as costs do, without a loss at the end', () => {
		const one: PlanWorld = {
			later: [],
			opening: null,
			sets: [[0], [1]],
			lossMinor: 10_000,
			tests: [],
			remedies: [0, 1].map((fault) =>
				plannedRemedy({ code: `r${fault}`, fixes: new Set([fault]), success: 0.8 }, [[0], [1]], {
					minutes: 10 * (fault + 1),
					costMinor: 100
				})
			)
		};
		const once = { ...one, remedies: one.remedies.map((remedy) => ({ ...remedy, tries: 1 })) };
		const { minutes, order } = repairOutlook(once, Float64Array.from([0.7, 0.3]));
		expect(order).toEqual(['r0', 'r1']);
		expect(minutes).toBeCloseTo(10 + (1 - 0.7 * 0.8) * 20, 9);
		const [first] = firstSteps(once, Float64Array.from([0.7, 0.3]));
		expect(first?.minutes).toBeCloseTo(minutes, 9);
		expect(afterStep(once, once.remedies[0] as PlannedRemedy).remedies.map(({ code }) => code)).toEqual([
			'r1'
		]);
	});
	it('eight repairs at most, as long as one job in ten thousand still needs one', () => {
		const alone = (remedies: number, success: number) => {
			const only: FaultSet[] = [[0]];
			const world: PlanWorld = {
				later: [],
				opening: null,
				sets: only,
				lossMinor: 1e6,
				tests: [],
				remedies: Array.from({ length: remedies }, (_, i) =>
					plannedRemedy({ code: `r${i}`, fixes: new Set([0]), success }, only, { minutes: 1, costMinor: 1 })
				)
			};
			return repairOutlook(world, Float64Array.of(1)).order.length;
		};
		expect(alone(9, 0.2)).toBe(8);
		expect(alone(3, 0.2)).toBe(6);
		// four failures in a hundred: one in 15,625 after three
		expect(alone(9, 0.96)).toBe(3);
		expect(alone(9, 0.95)).toBe(4);
	});
	it('a repair that hardly addresses anything is no first step', () => {
		const two: FaultSet[] = [[0], [1]];
		const of = (share: number) =>
			firstSteps(
				{
					later: [],
					opening: null,
					sets: two,
					lossMinor: 1000,
					tests: [],
					remedies: [0, 1].map((fault) =>
						plannedRemedy({ code: `r${fault}`, fixes: new Set([fault]), success: 0.9 }, two, {
							minutes: 1,
							costMinor: 10
						})
					)
				},
				Float64Array.from([1 - share, share])
			).map(({ step }) => step.code);
		expect(of(0.02)).toEqual(['r0', 'r1']);
		expect(of(0.009)).toEqual(['r0']);
	});
});
