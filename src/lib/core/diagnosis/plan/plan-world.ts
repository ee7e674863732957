import { isCarried } from '../../units/carried';
import { addAt, itemAt, valueAt } from '../../units/vector';
import type { Engine } from '../engine';
import { meanHourlyCostMinor, operationPartsMinor, type Catalog } from '../../catalog/catalog';
import { expectationsOf } from '../../catalog/expectations';
import type { TestNeed } from '../../catalog/kinds-of-finding';
import { withoutFixed, type Remedy } from '../infer/attempts';
import { answerBeliefsGiven, answerChances, harmChance } from '../infer/beliefs';
import type { Asked } from '../../evidence/measurement';
import { MEASURES } from '../../evidence/measurements';
import type { Features } from '../learn/evidence';
import { faultsOfPoint } from '../learn/point-beliefs';
import { pointPlace } from '../../units/probed-place';
import type { FaultSet } from '../fault-sets';
import type { DeviceState } from './device-state';
import { isInside } from './inside';
import { remediesOf, type Posterior, type SetChance } from '../infer/odds';

/** What a step costs by itself: minutes, and hundredths of currency with the minutes in them. */
export interface StepCost {
	minutes: number;
	costMinor: number;
}

export interface PlanningCosts {
	/** expected minutes of an operation on this model */
	operationMinutes: (operation: string) => number;
	/** what the shop loses when the job is given up, in hundredths */
	lossOfGivingUpMinor: number;
}

/** Beliefs over the sets of a plan's world, by their index; they sum to 1. */
export type State = Float64Array;

export interface PlannedRemedy extends StepCost {
	kind: 'operation';
	code: string;
	success: number;
	/** by set: the set that is left when it works; itself where it addresses nothing, -1 where nothing is left */
	leaves: Int16Array;
	/** how often it may be tried from here on */
	tries: number;
	/** it mends nothing by itself: tests become possible by it */
	opens?: readonly TestNeed[] | undefined;
	/** its minutes are saved in this operation */
	partOf?: string | undefined;
}

export interface PlannedTest extends StepCost {
	kind: 'test' | 'measure';
	code: string;
	/** what its answers are answers to: a test's own code, or the question of a measurement */
	question: string;
	answers: readonly string[];
	/** by answer, then by set: how likely the answer is */
	told: Float64Array[];
	/** what must be true before it */
	needs: readonly TestNeed[];
}

/** Everything that a plan may meet: the likely sets and what repairs may leave of them, with remedies and tests over these. */
export interface PlanWorld {
	sets: FaultSet[];
	remedies: PlannedRemedy[];
	tests: PlannedTest[];
	/** those that some step has to make possible first */
	later: PlannedTest[];
	lossMinor: number;
	/** to open the device, before the first look inside; null where it is open */
	opening: StepCost | null;
}

export interface WorldOptions {
	/** sets that the world must hold, likely or not */
	besides?: readonly FaultSet[];
	/** measurements that are not taken yet are steps too, where the record or a belief says what they tell */
	measures?: boolean;
	/** how the device lies on the bench; closed and untouched without */
	device?: DeviceState | undefined;
}

/** Where nobody's hourly cost is known, minutes still have to weigh: 30 an hour, a placeholder. */
export const ASSUMED_HOURLY_MINOR = 3000;
const MOST_SETS = 60;
/**
 * A repair that failed so often is not tried again while one that was not tried at all addresses what is likelier, or as
 * likely as this. Choices.
 */
const TRIES = 2;
const WORTH_A_LOOK = 0.1;

/**
 * The world of a device's plan, and what is believed of the device now. What was tested is left out; a repair that failed
 * may be tried once more, and a third time when all other explanations were looked at.
 * @returns `start`: chances over `world.sets`, summing to 1; costs in hundredths
 * @example const { world, start } = planWorld(engine, inference, features, costs, { measures: true })
 */
export function planWorld(
	engine: Engine,
	posterior: Posterior,
	features: Features,
	{ operationMinutes, lossOfGivingUpMinor: lossMinor }: PlanningCosts,
	{ besides = [], measures = false, device }: WorldOptions = {}
): { world: PlanWorld; start: State } {
	const { catalog } = engine;
	const model = catalog.models.get(posterior.model);
	const hourlyMinor = meanHourlyCostMinor(engine.catalog) ?? ASSUMED_HOURLY_MINOR;
	const remedies = remediesOf(engine, posterior.model);
	const likely = likeliestNow(posterior);
	const sets = closedUnder([...likely.map(({ set }) => set), ...besides], remedies);
	const index = new Map(sets.map((set, i) => [set.join(' '), i]));
	const start = new Float64Array(sets.length);
	for (const { set, chance } of likely) {
		const i = index.get(set.join(' ')) as number;
		addAt(start, i, chance);
	}
	const answered = new Set(features.answers.map(({ question }) => question));
	const worth = (minutes: number) => (minutes / 60) * hourlyMinor;
	const costOf = (code: string): StepCost => {
		const begun = device?.begun.get(code);
		const minutes = Math.max(1, operationMinutes(code) - (begun === undefined ? 0 : operationMinutes(begun)));
		const harm = harmChance(engine.learned, code) * lossMinor;
		return {
			minutes,
			costMinor: worth(minutes) + operationPartsMinor(catalog, code, posterior.model) + harm
		};
	};
	const offered = remedies.filter(({ code }) =>
		isOffered(catalog, code, posterior.model, features, device?.counts ?? {})
	);
	const planned = offered
		.filter(({ fixes }) => fixes.size > 0)
		.map((remedy) => plannedRemedy(remedy, sets, costOf(remedy.code)));
	const openers = offered
		.filter(({ code, fixes }) => fixes.size === 0 && opensTests(catalog, code) && !device?.portOff)
		.map((remedy) => ({
			...plannedRemedy(remedy, sets, costOf(remedy.code)),
			tries: 1,
			opens: catalog.operations.get(remedy.code)?.opens,
			partOf: catalog.operations.get(remedy.code)?.part_of
		}));
	const tests = [
		...[...catalog.tests.values()]
			.filter((test) => isCarried(test.carries, model?.carries) && !isAnswered(catalog, test.code, answered))
			.map(({ code, minutes, costMinor, risk, needs = [] }): PlannedTest => ({
				kind: 'test',
				code,
				question: code,
				minutes,
				costMinor: worth(minutes) + costMinor + (risk ?? 0) * lossMinor,
				needs,
				...answerTable(engine, sets, posterior.model, code, features)
			})),
		...(measures ? openMeasures(engine, posterior.model, answered) : []).map(
			({ code, question, minutes, needs }): PlannedTest => ({
				kind: 'measure',
				code,
				question,
				minutes,
				costMinor: worth(minutes),
				needs,
				...answerTable(engine, sets, posterior.model, question, features)
			})
		)
	];
	// with the old port off there is nothing to plug into
	const isPossible = ({ needs }: PlannedTest) => !needs.includes(device?.portOff ? 'plugged' : 'port-off');
	const openMinutes = model?.open_minutes ?? OPEN_MINUTES;
	const world: PlanWorld = {
		sets,
		lossMinor,
		remedies: [...triesLeft(planned, start, features), ...openers],
		tests: tests.filter(isPossible),
		later: tests.filter((test) => !isPossible(test)),
		opening: device?.opened ? null : { minutes: openMinutes, costMinor: worth(openMinutes) }
	};
	return { world, start };
}

/** To open a device whose model does not say. Common practice, no source. */
const OPEN_MINUTES = 8;

const opensTests = (catalog: Catalog, code: string) => (catalog.operations.get(code)?.opens ?? []).length > 0;

/** It, or what asks the same, was answered. */
const isAnswered = (catalog: Catalog, code: string, answered: ReadonlySet<string>) =>
	answered.has(code) ||
	(catalog.tests.get(code)?.repeats ?? []).some((question) => answered.has(question)) ||
	[...answered].some((question) => catalog.tests.get(question)?.repeats?.includes(code));

/** Whether an operation may be done on this device: by its model, by what was counted and by what was found. */
export function isOffered(
	catalog: Catalog,
	code: string,
	model: string,
	{ answers, since = [] }: Pick<Features, 'answers' | 'since'>,
	counts: Readonly<Record<string, number>>
): boolean {
	const operation = catalog.operations.get(code);
	if (!operation || !isCarried(operation.carries, catalog.models.get(model)?.carries)) return false;
	const { when, unless = [] } = operation;
	const number = when && counts[when.count];
	if (when && number !== undefined && (number < (when.least ?? 0) || number > (when.most ?? Infinity)))
		return false;
	const found = [...answers, ...since.flatMap((seen) => seen.answers)];
	return !unless.some(({ test, measured, outcome }) =>
		found.some(({ question, answer }) => question === (test ?? measured) && answer === outcome)
	);
}

/** A test whose every answer is as likely whatever is wrong tells nothing new. */
export const tellsSomething =
	(start: State) =>
	({ told }: PlannedTest): boolean =>
		told.some((likelihood) => {
			let [low, high] = [Infinity, -Infinity];
			for (let i = 0; i < start.length; i++) {
				if (valueAt(start, i) < 1e-4) continue;
				low = Math.min(low, valueAt(likelihood, i));
				high = Math.max(high, valueAt(likelihood, i));
			}
			return high - low > 1e-3;
		});

/** What a question's answers say of each set, after what was answered. */
function answerTable(
	engine: Engine,
	sets: readonly FaultSet[],
	model: string,
	question: string,
	features: Features
): Pick<PlannedTest, 'answers' | 'told'> {
	const beliefs = answerBeliefsGiven(engine, model, question, features.answers);
	const chances = sets.map((set) => answerChances(beliefs, set));
	return {
		answers: beliefs.answers,
		told: beliefs.answers.map((_, k) => Float64Array.from(chances, (chances) => chances[k] as number))
	};
}

/** So many tickets must have answered a measurement's question before a plan asks it. A choice. */
const ASKED_OFTEN = 20;

/** Measurements that were not taken, each by the question of it that is answered most often, or that the catalog says most of. */
function openMeasures({ catalog, learned }: Engine, model: string, answered: ReadonlySet<string>): Asked[] {
	const ticketsOf = (question: string) => {
		let tickets = 0;
		for (const counts of learned.answers.get(question)?.values() ?? []) {
			for (const count of counts.values()) tickets += count;
		}
		return tickets;
	};
	const points = new Map(
		(catalog.models.get(model)?.points ?? [])
			.filter(({ ground, when }) => ground !== 'normal' && when === undefined)
			.map((point) => [pointPlace(point.code), faultsOfPoint(catalog, point).length])
	);
	const statedOf = (question: string) =>
		points.get(question) ?? expectationsOf(catalog, question).plain.length;
	const stated = [...catalog.expectations.flatMap(({ measured }) => measured ?? []), ...points.keys()];
	return MEASURES.flatMap((measure) => {
		const isSame = (question: string) =>
			measure.question.endsWith(':') ? question.startsWith(measure.question) : question === measure.question;
		if ([...answered].some(isSame)) return [];
		const questions = [...new Set([...learned.answers.keys(), ...stated])].filter(isSame).sort();
		const weigh = (question: string) =>
			[ticketsOf(question) >= ASKED_OFTEN ? ticketsOf(question) : 0, statedOf(question)] as const;
		const best = questions.reduce<string | null>((best, question) => {
			if (best === null) return question;
			const [[tickets, beliefs], [bestTickets, bestBeliefs]] = [weigh(question), weigh(best)];
			return tickets > bestTickets || (tickets === bestTickets && beliefs > bestBeliefs) ? question : best;
		}, null);
		if (best === null || (ticketsOf(best) < ASKED_OFTEN && statedOf(best) === 0)) return [];
		return [{ ...measure, question: best }];
	});
}

/** What may be tried how often still, after what was tried in vain. */
function triesLeft(planned: readonly PlannedRemedy[], start: State, { attempts }: Features): PlannedRemedy[] {
	const failures = (code: string) =>
		attempts.filter(({ operation, resolved }) => operation === code && !resolved).length;
	const untried = Math.max(
		0,
		...planned.filter(({ code }) => failures(code) === 0).map((remedy) => addressed(start, remedy))
	);
	return planned.flatMap((remedy) => {
		const triesLeft = TRIES - failures(remedy.code);
		const worthLooking = untried >= Math.min(WORTH_A_LOOK, addressed(start, remedy));
		const tries = triesLeft > 0 ? triesLeft : worthLooking ? 0 : 1;
		return tries > 0 ? { ...remedy, tries } : [];
	});
}

/** A world after a step was taken: a test is not asked again, a repair has a try less. */
export function afterStep(world: PlanWorld, step: PlannedRemedy | PlannedTest): PlanWorld {
	if (step.kind !== 'operation') {
		const opening = isInside(step.needs) ? null : world.opening;
		return { ...world, opening, tests: world.tests.filter((test) => test !== step) };
	}
	const remedies = world.remedies.flatMap((remedy) =>
		remedy !== step ? remedy : remedy.tries > 1 ? { ...remedy, tries: remedy.tries - 1 } : []
	);
	const { opens, partOf } = step;
	if (!opens) return { ...world, remedies };
	const isPossible = ({ needs }: PlannedTest) => needs.some((need) => opens.includes(need));
	const isOver = ({ needs }: PlannedTest) => opens.includes('port-off') && needs.includes('plugged');
	return {
		...world,
		opening: null,
		// what was done of it is saved there
		remedies: remedies.map((remedy) =>
			remedy.code !== partOf
				? remedy
				: {
						...remedy,
						minutes: Math.max(1, remedy.minutes - step.minutes),
						costMinor: Math.max(1, remedy.costMinor - step.costMinor)
					}
		),
		tests: [...world.tests.filter((test) => !isOver(test)), ...world.later.filter(isPossible)],
		later: world.later.filter((test) => !isPossible(test))
	};
}

/** What a step costs from here: the first look inside opens the device. */
export function costHere({ opening }: PlanWorld, step: PlannedRemedy | PlannedTest): StepCost {
	const { minutes, costMinor } = step;
	if (!opening || step.kind === 'operation' || !isInside(step.needs)) return { minutes, costMinor };
	return { minutes: minutes + opening.minutes, costMinor: costMinor + opening.costMinor };
}

/** A remedy over a closed list of sets. */
export function plannedRemedy(remedy: Remedy, sets: readonly FaultSet[], cost: StepCost): PlannedRemedy {
	const index = new Map(sets.map((set, i) => [set.join(' '), i]));
	const leaves = Int16Array.from(sets, (set) => {
		const remaining = withoutFixed(set, remedy);
		return remaining.length === 0 && set.length > 0 ? -1 : (index.get(remaining.join(' ')) as number);
	});
	return { kind: 'operation', code: remedy.code, success: remedy.success, ...cost, leaves, tries: TRIES };
}

/** The likely sets as they are now, after what failed attempts may have mended of them. */
function likeliestNow({ now }: Posterior): SetChance[] {
	const kept = [...now].sort((a, b) => b.chance - a.chance).slice(0, MOST_SETS);
	const total = kept.reduce((sum, { chance }) => sum + chance, 0);
	return kept.map(({ set, chance }) => ({ set, chance: total > 0 ? chance / total : 0 }));
}

/** Some sets with all that any remedies leave of them. */
function closedUnder(sets: readonly FaultSet[], remedies: readonly Remedy[]): FaultSet[] {
	const closed = new Map<string, FaultSet>();
	const open = [...sets];
	for (let set = open.pop(); set !== undefined; set = open.pop()) {
		const key = set.join(' ');
		if (closed.has(key)) continue;
		closed.set(key, set);
		for (const remedy of remedies) {
			const remaining = withoutFixed(set, remedy);
			if (remaining.length > 0 && remaining.length < set.length) open.push(remaining);
		}
	}
	return [...closed.values()];
}

/** Chances scaled in place so that they sum to 1, where they sum to anything. */
function normalise(chances: Float64Array, total: number): Float64Array {
	if (total > 0) for (let i = 0; i < chances.length; i++) chances[i] = valueAt(chances, i) / total;
	return chances;
}

/** Chance that a remedy addresses anything that is present. */
export function addressed(state: State, { leaves }: PlannedRemedy): number {
	const support = supportOf(leaves);
	let sum = 0;
	for (let i = 0; i < support.length; i++) sum += valueAt(state, support[i] as number);
	return sum;
}

/** Sets that a remedy addresses, by their index: few of many, and asked for thousands of times in one plan. */
const supports = new WeakMap<Int16Array, Int16Array>();
function supportOf(leaves: Int16Array): Int16Array {
	const cached = supports.get(leaves);
	if (cached) return cached;
	const support = Int16Array.from([...leaves.keys()].filter((i) => leaves[i] !== i));
	supports.set(leaves, support);
	return support;
}

/**
 * A remedy is tried and the device does not work: weights of the sets are moved in place, what worked is taken out of their sum.
 * What a remedy leaves of a set it does not address again, so that the order of sets has no effect.
 * @param weights of the sets, any positive scale
 * @returns weight of the sets under which the device then works
 */
export function failInPlace(weights: Float64Array, { leaves, success }: PlannedRemedy): number {
	const support = supportOf(leaves);
	let resolved = 0;
	for (let at = 0; at < support.length; at++) {
		const i = support[at] as number;
		const remaining = leaves[i] as number;
		const mended = valueAt(weights, i) * success;
		if (remaining < 0) resolved += mended;
		else addAt(weights, remaining, mended);
		weights[i] = valueAt(weights, i) * (1 - success);
	}
	return resolved;
}

/** Tries a remedy: the chance that the device then works, and the belief where it does not. */
export function tryRemedy(state: State, remedy: PlannedRemedy): { resolved: number; after: State } {
	const weights = Float64Array.from(state);
	const resolved = failInPlace(weights, remedy);
	return {
		resolved,
		after: normalise(
			weights,
			weights.reduce((sum, weight) => sum + weight, 0)
		)
	};
}

export interface Branch {
	answer: string;
	chance: number;
	after: State;
}

/** A test's answers, each with its chance and what would be believed then. */
export function answersTo(state: State, { answers, told: chances }: PlannedTest): Branch[] {
	return answers.map((answer, k) => {
		const likelihood = itemAt(chances, k);
		const joint = new Float64Array(state.length);
		let chance = 0;
		for (let i = 0; i < state.length; i++) {
			const part = (state[i] as number) * valueAt(likelihood, i);
			joint[i] = part;
			chance += part;
		}
		return { answer, chance, after: normalise(joint, chance) };
	});
}

/** Chance that a fault is present. */
export const chanceIn = ({ sets }: PlanWorld, state: State, fault: number): number =>
	sets.reduce((sum, set, i) => (set.includes(fault) ? sum + (state[i] as number) : sum), 0);
