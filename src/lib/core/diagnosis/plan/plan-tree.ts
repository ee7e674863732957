import type { StepKind } from './next-step';
import type { Inference } from '../infer/odds';
import { firstSteps, lookFurther, repairOutlook } from './plan-ahead';
import {
	afterStep,
	answersTo,
	chanceIn,
	planWorld,
	tryRemedy,
	type PlanWorld,
	type State
} from './plan-world';

/** The first steps of a job as a tree: what to do, and by what it shows, what to do then. */
export interface PlanTree {
	/** chance that the job gets here */
	reach: number;
	/** the likeliest faults here */
	leads: { code: string; chance: number }[];
	step: { kind: StepKind; code: string; question: string | null; minutes: number } | null;
	/** expected cost and minutes to the end from here */
	costMinor: number;
	minutes: number;
	branches: { answer: string; chance: number; tree: PlanTree }[];
	/** where the tree ends: the device works, it is handed back, or repairs go on in this order */
	end: 'works' | 'give-up' | 'go-on' | null;
	order: string[];
}

export interface TreeSize {
	/** so many steps deep at most */
	depth: number;
	/** branches that fewer jobs get to are cut: repairs go on by the plain rule */
	least: number;
}

const TREE_SIZE: TreeSize = { depth: 5, least: 0.04 };
const SHOWN_LEADS = 2;
/** A fault under this chance is no lead. */
const LEAST_LEAD = 0.05;

/**
 * Grows the tree of a plan from what is believed at its start.
 * @returns minutes and hundredths to the end from each place, `reach` as a share of all jobs
 * @example growPlanTree(inference, planWorld(engine, inference, features, costs)).step?.code
 */
export function growPlanTree(
	inference: Inference,
	{ world, start }: ReturnType<typeof planWorld>,
	{ depth, least: minReach }: TreeSize = TREE_SIZE
): PlanTree {
	const leadsOf = (state: State) =>
		inference.codes
			.map((code, fault) => ({ code, chance: chanceIn(world, state, fault) }))
			.sort((a, b) => b.chance - a.chance || (a.code < b.code ? -1 : 1))
			.slice(0, SHOWN_LEADS)
			.filter(({ chance }) => chance >= LEAST_LEAD);
	const leaf = (reach: number, end: PlanTree['end']): PlanTree => ({
		reach,
		leads: [],
		step: null,
		costMinor: 0,
		minutes: 0,
		branches: [],
		end,
		order: []
	});
	const grow = (open: PlanWorld, state: State, reach: number, budget: number): PlanTree => {
		const node = { ...leaf(reach, null), leads: leadsOf(state) };
		if (budget === 0 || reach < minReach) {
			const { order, ...outlook } = repairOutlook(open, state);
			return { ...node, ...outlook, order, end: order.length > 0 ? 'go-on' : 'give-up' };
		}
		const [best] = lookFurther(open, state, firstSteps(open, state), { depth: 1, firsts: 3 });
		if (!best || best.costMinor >= world.lossMinor) {
			return { ...node, costMinor: world.lossMinor, end: 'give-up' };
		}
		const { step, costMinor, minutes } = best;
		const grown = {
			...node,
			costMinor,
			minutes,
			step: {
				kind: step.kind,
				code: step.code,
				question: step.kind === 'operation' ? null : step.question,
				minutes: step.minutes
			}
		};
		const rest = afterStep(open, step);
		if (step.kind === 'operation') {
			const { resolved, after: failedState } = tryRemedy(state, step);
			return {
				...grown,
				branches: [
					{ answer: 'helps', chance: resolved, tree: leaf(reach * resolved, 'works') },
					{
						answer: 'does not help',
						chance: 1 - resolved,
						tree: grow(rest, failedState, reach * (1 - resolved), budget - 1)
					}
				]
			};
		}
		return {
			...grown,
			branches: answersTo(state, step).map(({ answer, chance, after: nextState }) => ({
				answer,
				chance,
				tree: grow(rest, nextState, reach * chance, budget - 1)
			}))
		};
	};
	return grow(world, start, 1, depth);
}
