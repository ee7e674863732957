import { attemptLikelihoods, leftAfter, type Attempted } from './attempts-in-order';
import type { Catalog } from '$lib/core/catalog/catalog';
import { engineOf } from '$lib/core/diagnosis/engine';
import { type Remedy } from '$lib/core/diagnosis/infer/attempts';
import { once } from '$lib/core/diagnosis/once';
import { inferOdds } from '$lib/core/diagnosis/infer/odds';
import type { Learned } from '$lib/core/diagnosis/learn/learn';
import { rankNextSteps } from '$lib/core/diagnosis/plan/next-step';
import { firstSteps, lookFurther } from '$lib/core/diagnosis/plan/plan-ahead';
import {
	plannedRemedy,
	type PlannedTest,
	type PlanWorld,
	type State
} from '$lib/core/diagnosis/plan/plan-world';
import { drawIndex, seededRandom } from '$lib/core/units/random';
import { deviceFeatures, exactSets, testChances, type Device, type World } from './engine-world';

/** Jobs of invented shops, carried to their end by some way of choosing the next step. */

/** The next step, by its place in the world; null gives the job up. */
type Choice = { test: number } | { operation: number } | null;
/** @param tried operations that did not help, in order */
export type Choose = (device: Device, tried: readonly number[]) => Choice;

export interface PlayedJob {
	costMinor: number;
	gaveUp: boolean;
	steps: string[];
}

const HOURLY_MINOR = 3000;
const MOST_STEPS = 40;

/**
 * One device until it works or is given up. Its answers and the luck of its repairs are drawn by test and by attempt, so
 * that each way of choosing meets the same device.
 * @param seed of this device
 */
export function playJob(
	world: World,
	start: Device,
	choose: Choose,
	lossMinor: number,
	seed: number
): PlayedJob {
	let device: Device = { ...start, answers: [] };
	let left = [...start.faults];
	const tried: number[] = [];
	const played: PlayedJob = { costMinor: 0, gaveUp: false, steps: [] };
	const worth = (minutes = 0) => (minutes / 60) * HOURLY_MINOR;
	while (left.length > 0) {
		const next = played.steps.length < MOST_STEPS ? choose(device, tried) : null;
		if (!next) return { ...played, costMinor: played.costMinor + lossMinor, gaveUp: true };
		if ('test' in next) {
			const test = world.tests[next.test] as World['tests'][number];
			played.steps.push(test.code);
			played.costMinor += worth(test.minutes);
			const random = seededRandom(seed * 1009 + next.test);
			const outcome = drawIndex(random, testChances(world, next.test, start.faults, start.model));
			device = { ...device, answers: [...device.answers, [next.test, outcome]] };
		} else {
			const operation = world.operations[next.operation] as World['operations'][number];
			played.steps.push(operation.code);
			played.costMinor += worth(operation.minutes);
			const goes = tried.filter((other) => other === next.operation).length;
			const random = seededRandom(seed * 1013 + 97 * next.operation + goes);
			if (random() < operation.success) left = left.filter((fault) => !operation.fixes.includes(fault));
			tried.push(next.operation);
		}
	}
	return played;
}

/** The planner, from what it has learnt. @param further steps that are looked at behind a first one */
export const learnedPlanner =
	(world: World, catalog: Catalog, learned: Learned, lossMinor: number, further = 1): Choose =>
	(device, tried) => {
		const engine = engineOf(catalog, learned);
		const attempts = tried.map((i) => ({ operation: world.operations[i]?.code ?? '', resolved: false }));
		const features = { ...deviceFeatures(world, device), attempts };
		const inference = inferOdds(engine, world.models[device.model]?.code ?? '', features);
		const costs = {
			operationMinutes: (code: string) => world.operations.find((each) => each.code === code)?.minutes ?? 30,
			lossOfGivingUpMinor: lossMinor
		};
		const [best] = rankNextSteps(engine, inference, features, costs, { depth: further, firsts: 6 });
		return best && best.kind !== 'give-up' ? placeOf(world, best.code) : null;
	};

const placeOf = (world: World, code: string): Choice => {
	const test = world.tests.findIndex((each) => each.code === code);
	return test >= 0 ? { test } : { operation: world.operations.findIndex((each) => each.code === code) };
};

/** A planner that knows the world: exact chances of all sets, of answers and of success. */
export function knowingPlanner(world: World, lossMinor: number, further = 1): Choose {
	const worth = (minutes: number) => (minutes / 60) * HOURLY_MINOR;
	const fixing = world.operations.map(({ code, fixes, success }): Remedy => ({
		code,
		fixes: new Set(fixes),
		success
	}));
	const planOf = once((model: number): PlanWorld => {
		const sets = exactSets(world, { model, faults: [], confirmed: [], signs: [], answers: [] }).map(
			({ faults }) => faults
		);
		return {
			later: [],
			opening: null,
			sets,
			lossMinor,
			remedies: fixing.map((remedy, i) => {
				const minutes = world.operations[i]?.minutes ?? 0;
				return plannedRemedy(remedy, sets, { minutes, costMinor: worth(minutes) });
			}),
			tests: world.tests.map(({ code, outcomes, minutes }, t): PlannedTest => ({
				kind: 'test',
				needs: [],
				code,
				question: code,
				minutes,
				costMinor: worth(minutes),
				answers: outcomes,
				told: outcomes.map((_, o) =>
					Float64Array.from(sets, (set) => testChances(world, t, set, model)[o] as number)
				)
			}))
		};
	});
	return (device, tried) => {
		const plan = planOf(device.model);
		const asked = new Set(device.answers.map(([test]) => world.tests[test]?.code));
		const open = { ...plan, tests: plan.tests.filter(({ code }) => !asked.has(code)) };
		const attempts = tried.map((i): Attempted => ({ remedy: fixing[i] as Remedy, resolved: false }));
		const now = beliefsAfter(plan, exactSets(world, device), attempts);
		const [best] = lookFurther(open, now, firstSteps(open, now), { depth: further, firsts: 6 });
		return best && best.costMinor < lossMinor ? placeOf(world, best.step.code) : null;
	};
}

/** What is left now, of sets as they were at first, after attempts that failed. */
function beliefsAfter(
	{ sets }: PlanWorld,
	first: ReturnType<typeof exactSets>,
	attempts: readonly Attempted[]
): State {
	const index = new Map(sets.map((set, i) => [set.join(' '), i]));
	const state = new Float64Array(sets.length);
	for (const { faults, chance } of first) {
		const said = (attemptLikelihoods(faults, attempts).at(-1) ?? 1) * chance;
		for (const { left, chance: share } of leftAfter(faults, attempts)) {
			const i = index.get(left.join(' ')) as number;
			state[i] = (state[i] as number) + said * share;
		}
	}
	const total = state.reduce((sum, chance) => sum + chance, 0);
	return state.map((chance) => chance / total);
}
