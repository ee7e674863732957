import type { StepCaution } from '../../units/seen-codes';
import { cautionsAt, STANDS, underRules } from './advice-rules';
import { JOINTS_QUESTION } from '../../evidence/joint-state';
import { asks, type DeviceState } from './device-state';
import { lostIncomeMinor, mayGiveUp, type Income } from './give-up';
import { percent } from '../../units/percent';
import type { Engine } from '../engine';
import type { Catalog } from '../../catalog/catalog';
import { MEASURES } from '../../evidence/measurements';
import type { Features } from '../learn/evidence';
import { answerWords } from '../learn/evidence-words';
import type { Inference } from '../infer/odds';
import { firstSteps, inOrder, lookFurther, repairOutlook, type First, type Looking } from './plan-ahead';
import {
	answersTo,
	chanceIn,
	tellsSomething,
	planWorld,
	tryRemedy,
	type Branch,
	type PlannedTest,
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
	/** what is to be heeded beside it, by its code */
	cautions: readonly StepCaution[];
	/** a fault stands already, and its repair comes first: this is not as good, whatever it costs */
	heldBack?: true;
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
	{
		measures = false,
		device = UNTOUCHED,
		income,
		...looking
	}: Looking & WorldOptions & { income?: Income } = QUICK
): Step[] {
	const planned = planWorld(engine, inference, features, costs, { measures, device });
	const { start } = planned;
	// what tells nothing new is no step
	const made = {
		start,
		world: { ...planned.world, tests: planned.world.tests.filter(tellsSomething(start)) }
	};
	// without a word of what giving up loses it is what the likeliest repair would bring
	const lost = income ? lostIncomeMinor(made.world, start, income) : null;
	const world =
		lost === null
			? made.world
			: { ...made.world, lossMinor: Math.max(lost + (income?.dataMinor ?? 0), made.world.lossMinor) };
	const firsts = firstsOf(world, start, device, looking);
	const failed = new Set(features.attempts.flatMap(({ operation, resolved }) => (resolved ? [] : operation)));
	const lead = inference.odds.faults[0]?.probability ?? 0;
	const leading = inference.codes.indexOf(inference.odds.faults[0]?.code ?? '');
	const asksOfJoints = (question: string) => asks(engine.catalog, question, JOINTS_QUESTION);
	const ruled = underRules(firsts, {
		world,
		start,
		device,
		failed,
		lead,
		leading,
		asksOfJoints,
		plain: !income
	});
	const plain = repairOutlook(world, start).costMinor;
	const wording = {
		catalog: engine.catalog,
		inference,
		world,
		start,
		plain,
		device,
		batteryState: batteryStateOf(features)
	};
	const worded = ruled.map((first) => wordStep(wording, first));
	const stands = lead >= STANDS && worded[0]?.kind === 'operation';
	const steps = worded.map((step): Step =>
		stands && step.kind !== 'operation' ? { ...step, heldBack: true } : step
	);
	const dearer = steps.findIndex(({ expectedCostMinor }) => expectedCostMinor >= world.lossMinor);
	const cheapest = dearer < 0 ? steps.length : dearer;
	const looksFirst = steps[0]?.kind === 'measure' && !device.looked && !device.attempted;
	const isFirst =
		income && mayGiveUp(world, start, income, { failedBefore: failed.size > 0, lead }) && !looksFirst;
	const place = !income ? cheapest : isFirst ? 0 : Math.min(steps.length, Math.max(1, cheapest));
	return steps.toSpliced(
		place,
		0,
		givingUp(world.lossMinor, place > 0 ? LOST : income ? NOTHING_PAYS : DEARER)
	);
}

/** First steps, looked further ahead. Where a plug may short the supply no step counts on what plugging would tell. */
function firstsOf(world: PlanWorld, start: State, { mayShort }: DeviceState, looking: Looking): First[] {
	if (!mayShort) return lookFurther(world, start, firstSteps(world, start), looking);
	const isPlugged = ({ needs }: PlannedTest) => needs.includes('plugged');
	const safe = { ...world, tests: world.tests.filter((test) => !isPlugged(test)) };
	const plugged = { ...world, remedies: [], tests: world.tests.filter(isPlugged) };
	return inOrder([
		...lookFurther(safe, start, firstSteps(safe, start), looking),
		...firstSteps(plugged, start)
	]);
}

/** A device that nobody has touched. */
const UNTOUCHED: DeviceState = {
	looked: false,
	attempted: false,
	opened: false,
	portOff: false,
	mayShort: false,
	seenWrong: false,
	jointsSeen: false,
	jointsSuspect: false,
	begun: new Map(),
	counts: {}
};

/** The battery as it was measured last. */
const batteryStateOf = ({ answers, since = [] }: Features): string | null =>
	[answers, ...since.map((seen) => seen.answers)]
		.flat()
		.findLast(({ question }) => question === 'battery:state')?.answer ?? null;

const LOST = 'Expected loss if nothing more is tried.';
const DEARER = 'No step is expected to cost less than that.';
const NOTHING_PAYS = 'No repair is expected to bring more than it costs.';

const givingUp = (lossMinor: number, why: string): Step => ({
	kind: 'give-up',
	code: 'give-up',
	label: 'Return it unrepaired',
	expectedCostMinor: lossMinor,
	expectedMinutes: 0,
	why,
	caution: null,
	cautions: [],
	outcomes: []
});

interface Wording {
	catalog: Catalog;
	inference: Inference;
	world: PlanWorld;
	start: State;
	/** cost of repairing by the plain rule at once */
	plain: number;
	device: DeviceState;
	batteryState: string | null;
}

/** A judged step in the trade's words. */
function wordStep(wording: Wording, first: First): Step {
	const { catalog, start, device } = wording;
	const { step, costMinor, minutes } = first;
	const cautions = cautionsAt(first, device, wording);
	const costs = { expectedCostMinor: costMinor, expectedMinutes: minutes };
	if (step.kind === 'operation' && step.opens) {
		const operation = catalog.operations.get(step.code);
		const why = 'It shows what is below, and its minutes count for the repair that follows.';
		const caution = operation?.caution ?? null;
		return {
			kind: step.kind,
			code: step.code,
			label: operation?.label ?? step.code,
			...costs,
			why,
			caution,
			cautions,
			outcomes: []
		};
	}
	if (step.kind === 'operation') {
		const operation = catalog.operations.get(step.code);
		const { resolved, after: failedState } = tryRemedy(start, step);
		return {
			kind: step.kind,
			code: step.code,
			label: operation?.label ?? step.code,
			...costs,
			why: `Expected to fix it: ${percent(resolved)}.`,
			caution: operation?.caution ?? null,
			cautions,
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
		cautions,
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
	let strongest = { move: 0, text: 'Its answers would hardly change the odds.' };
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
