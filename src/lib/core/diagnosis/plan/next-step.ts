import { percent } from '../../units/percent';
import type { Engine } from '../engine';
import type { Catalog } from '../../catalog/catalog';
import { MEASURES } from '../../evidence/measurements';
import type { Features } from '../learn/evidence';
import { answerWords } from '../learn/evidence-words';
import type { Inference } from '../infer/odds';
import { firstSteps, lookFurther, repairOutlook, type First, type Looking } from './plan-ahead';
import {
	answersTo,
	chanceIn,
	planWorld,
	tryRemedy,
	type Branch,
	type PlanningCosts,
	type PlanWorld,
	type State,
	type WorldOptions
} from './plan-world';

/** Answers of the catalog's tests, repairs, measurements that every shop takes, proof that a repair holds, and the end. */
export type StepKind = 'test' | 'operation' | 'measure' | 'prove' | 'give-up';

export interface Step {
	kind: StepKind;
	code: string;
	label: string;
	/** expected remaining cost to the end when this step is taken first, in hundredths */
	expectedCostMinor: number;
	expectedMinutes: number;
	why: string;
	caution: string | null;
	/** what each outcome would do to the odds */
	outcomes: StepOutcome[];
}

interface StepOutcome {
	/** a test's answer; of a repair, whether it helps */
	answer: string;
	chance: number;
	/** the likeliest faults then, with their chance before */
	leads: { code: string; before: number; after: number }[];
}

/** One more step is looked at behind the six best first ones. */
const QUICK: Looking = { depth: 1, firsts: 6 };

/**
 * Ranks tests and operations by the expected remaining cost to the end. First every step is judged with repairs by the
 * plain rule behind it; then, best first and while there is time, with the best further steps too. Giving the job up is a
 * step as well, before all that are not expected to cost less.
 * @param inference of the same engine and features
 * @param costs minutes of operations on this model and what giving up loses, in hundredths
 * @returns best first; costs in hundredths, minutes of hands
 * @example rankNextSteps(engine, inferOdds(engine, model, features), features, costs)[0]?.code // 'vbus-fuse'
 */
export function rankNextSteps(
	engine: Engine,
	inference: Inference,
	features: Features,
	costs: PlanningCosts,
	{ measures = false, ...looking }: Looking & WorldOptions = QUICK
): Step[] {
	const { world, start } = planWorld(engine, inference, features, costs, { measures });
	const firsts = lookFurther(world, start, firstSteps(world, start), looking);
	const plain = repairOutlook(world, start).costMinor;
	const steps = firsts.map((first) =>
		wordStep({ catalog: engine.catalog, inference, world, start, plain }, first)
	);
	const dearer = steps.findIndex(({ expectedCostMinor }) => expectedCostMinor >= world.lossMinor);
	const place = dearer < 0 ? steps.length : dearer;
	return steps.toSpliced(place, 0, givingUp(world.lossMinor, place === 0));
}

const givingUp = (lossMinor: number, best: boolean): Step => ({
	kind: 'give-up',
	code: 'give-up',
	label: 'Hand it back as it is',
	expectedCostMinor: lossMinor,
	expectedMinutes: 0,
	why: best ? 'No step is expected to cost less than that.' : 'What is lost when nothing more is tried.',
	caution: null,
	outcomes: []
});

interface Wording {
	catalog: Catalog;
	inference: Inference;
	world: PlanWorld;
	start: State;
	/** cost of repairing by the plain rule at once */
	plain: number;
}

/** A judged step in the trade's words. */
function wordStep(wording: Wording, { step, costMinor, minutes }: First): Step {
	const { catalog, start } = wording;
	const costs = { expectedCostMinor: costMinor, expectedMinutes: minutes };
	if (step.kind === 'operation') {
		const operation = catalog.operations.get(step.code);
		const { resolved, after: failedState } = tryRemedy(start, step);
		return {
			kind: step.kind,
			code: step.code,
			label: operation?.label ?? step.code,
			...costs,
			why: `Works on ${percent(resolved)} of devices like this one by itself.`,
			caution: operation?.caution ?? null,
			outcomes: [
				{ answer: 'helps', chance: resolved, leads: [] },
				{ answer: 'does not help', chance: 1 - resolved, leads: leadsOf(wording, failedState) }
			]
		};
	}
	const test =
		step.kind === 'test' ? catalog.tests.get(step.code) : MEASURES.find(({ code }) => code === step.code);
	const branches = answersTo(start, step).map((branch) => ({
		...branch,
		answer: answerWords(catalog, step.question, branch.answer)
	}));
	return {
		kind: step.kind,
		code: step.code,
		label: test?.label ?? step.code,
		...costs,
		why: whyTest(wording, branches, costMinor < wording.plain),
		caution: test?.caution ?? null,
		outcomes: branches.map(({ answer, chance, after: nextState }) => ({
			answer,
			chance,
			leads: leadsOf(wording, nextState)
		}))
	};
}

const SHOWN_LEADS = 3;

/** The likeliest faults of a belief, each with what it was before. */
function leadsOf({ inference, world, start }: Wording, nextState: State): StepOutcome['leads'] {
	return inference.codes
		.map((code, fault) => ({ code, fault, after: chanceIn(world, nextState, fault) }))
		.sort((a, b) => b.after - a.after || (a.code < b.code ? -1 : 1))
		.slice(0, SHOWN_LEADS)
		.filter(({ after: posterior }) => posterior >= 0.01)
		.map(({ code, fault, after: posterior }) => ({
			code,
			before: chanceIn(world, start, fault),
			after: posterior
		}));
}

/** Names the answer that moves a fault the most, and how far. */
function whyTest(
	{ catalog, inference, world, start }: Wording,
	branches: readonly Branch[],
	pays: boolean
): string {
	let strongest = { move: 0, text: 'Its answers would hardly move the odds.' };
	for (const { answer, after: nextState, chance } of branches) {
		if (chance < 0.02) continue;
		inference.codes.forEach((code, fault) => {
			const [prior, posterior] = [chanceIn(world, start, fault), chanceIn(world, nextState, fault)];
			const move = Math.abs(posterior - prior) * Math.sqrt(chance);
			if (move <= strongest.move) return;
			const label = catalog.faults.get(code)?.label ?? code;
			strongest = {
				move,
				text: `If ${answer}, ${label} goes from ${percent(prior)} to ${percent(posterior)}.`
			};
		});
	}
	return pays || strongest.move === 0 ? strongest.text : `${strongest.text} Costs more than it saves.`;
}
