import { valueAt } from '../../units/vector';
import { drawIndex, type Random } from '../../units/random';
import type { FaultSet } from '../fault-sets';
import { firstSteps } from './plan-ahead';
import { afterStep, answersTo, tryRemedy, type PlanWorld, type State } from './plan-world';

/** A job carried to its end by the plan, against what was really wrong. */
export interface PlayedOut {
	costMinor: number;
	minutes: number;
	/** the device works in the end; given up otherwise */
	fixed: boolean;
	steps: string[];
}

const MOST_STEPS = 16;

/**
 * Carries a job on step by step as the planner (one step ahead) advises, knowing only what it would know, while the
 * device answers by its true faults. A repair that addresses them works, as it did on the device.
 * @param answerOf a test's answer where it is known; else one is drawn from what the true faults are expected to show
 */
export function playOut(
	world: PlanWorld,
	start: State,
	truth: FaultSet,
	answerOf: (test: string) => string | undefined,
	random: Random
): PlayedOut {
	let now = world.sets.findIndex((set) => set.join(' ') === truth.join(' '));
	if (now < 0) throw new Error(`playOut: the world does not hold the set [${truth.join(', ')}]`);
	let [open, state] = [world, start];
	const played: PlayedOut = { costMinor: 0, minutes: 0, fixed: false, steps: [] };
	while (played.steps.length < MOST_STEPS && !played.fixed) {
		const [best] = firstSteps(open, state);
		if (!best || best.costMinor >= world.lossMinor) break;
		const { step } = best;
		played.steps.push(step.code);
		played.costMinor += step.costMinor;
		played.minutes += step.minutes;
		open = afterStep(open, step);
		if (step.kind !== 'operation') {
			const here = now;
			const answerIndex = step.answers.indexOf(answerOf(step.code) ?? '');
			const chances = step.told.map((chance) => valueAt(chance, here));
			const answer = answerIndex >= 0 ? answerIndex : drawIndex(random, chances);
			state = answersTo(state, step)[answer]?.after ?? state;
			continue;
		}
		const remaining = step.leaves[now] as number;
		if (remaining < 0) played.fixed = true;
		else now = remaining;
		state = tryRemedy(state, step).after;
	}
	if (!played.fixed) played.costMinor += world.lossMinor;
	return played;
}
