import { meanHourlyCostMinor, operationPartsMinor, type Catalog } from '../catalog/catalog';
import type { Remedy } from './attempts';
import { answerBeliefs, answerChances } from './beliefs';
import type { Features } from './evidence';
import { withoutFixed } from './attempts';
import type { FaultSet } from './fault-sets';
import type { Learned } from './learn';
import { remediesOf, type Inference } from './odds';

export interface Step {
	kind: 'test' | 'operation';
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

export interface StepOutcome {
	/** a test's answer; of a repair, whether it helps */
	answer: string;
	chance: number;
	/** the likeliest faults then, with their chance before */
	leads: { code: string; before: number; after: number }[];
}

/** What a step costs by itself: minutes, and hundredths of currency beside the minutes. */
export interface StepCost {
	minutes: number;
	extraMinor: number;
}

export interface PlanningCosts {
	/** expected minutes of an operation on this model */
	operationMinutes: (operation: string) => number;
	/** what the shop loses when the job is given up, in hundredths */
	lossOfGivingUpMinor: number;
	/** true while there is time to look further ahead; always without it */
	timeLeft?: () => boolean;
}

/** Where nobody's hourly cost is known, minutes still have to weigh: 30 an hour, a placeholder. */
export const ASSUMED_HOURLY_MINOR = 3000;
const MOST_SETS = 60;
const MOST_ATTEMPTS = 6;
/** The second step is looked at behind so many of the best first steps. */
const LOOKED_BEHIND = 6;
/** A second step is one of so many tests: those that did best as first steps. */
const SECOND_TESTS = 8;

/** Beliefs over the sets of a plan's world, by their index. */
type State = Float64Array;

type PricedRemedy = Remedy &
	StepCost & {
		costMinor: number;
		/** by set: the set that is left when it works; itself where it addresses nothing, -1 where nothing is left */
		leaves: Int16Array;
	};
interface PricedTest {
	code: string;
	minutes: number;
	costMinor: number;
	answers: readonly string[];
	/** by answer, then by set: how likely the answer is */
	told: Float64Array[];
}

/** Everything that a plan may meet: the likely sets and what repairs may leave of them, remedies and tests over these. */
interface Bench {
	sets: FaultSet[];
	remedies: PricedRemedy[];
	tests: PricedTest[];
	lossMinor: number;
}

interface Outlook {
	costMinor: number;
	minutes: number;
}

/**
 * Ranks tests and operations by the expected remaining cost to the end. Behind a step the plan goes on: the best second
 * step, and behind that repair attempts in the order of chance per cost, the belief updated after each failure, until
 * fixed or given up. For single faults and sure repairs that order is optimal: Heckerman, Breese & Rommelse, CACM 38(3),
 * 1995. First every step is judged with repairs alone behind it; then, best first and while there is time, with the best
 * second step too. What was tried in vain or already tested is not proposed again.
 */
export function rankNextSteps(
	catalog: Catalog,
	learned: Learned,
	inference: Inference,
	features: Features,
	costs: PlanningCosts
): Step[] {
	const hourlyMinor = meanHourlyCostMinor(catalog) ?? ASSUMED_HOURLY_MINOR;
	const lossMinor = costs.lossOfGivingUpMinor;
	const remedies = remediesOf(catalog, learned);
	const likely = currentBeliefs(inference, features, remedies);
	const sets = closedUnder(likely, remedies);
	const index = new Map(sets.map((set, i) => [set.join(' '), i]));
	const start = new Float64Array(sets.length);
	for (const { set, chance } of likely) {
		const i = index.get(set.join(' ')) as number;
		start[i] = (start[i] as number) + chance;
	}
	const failed = new Set(
		features.attempts.filter(({ resolved }) => !resolved).map(({ operation }) => operation)
	);
	const done = new Set(features.answers.map(({ question }) => question));
	const bench: Bench = {
		sets,
		lossMinor,
		remedies: remedies
			.filter(({ code, fixes }) => fixes.size > 0 && !failed.has(code))
			.map((remedy) => {
				const minutes = costs.operationMinutes(remedy.code);
				const extraMinor = operationPartsMinor(catalog, remedy.code);
				const leaves = Int16Array.from(sets, (set) => {
					const left = withoutFixed(set, remedy);
					return left.length === 0 && set.length > 0 ? -1 : (index.get(left.join(' ')) as number);
				});
				return {
					...remedy,
					minutes,
					extraMinor,
					costMinor: (minutes / 60) * hourlyMinor + extraMinor,
					leaves
				};
			}),
		tests: [...catalog.tests.values()]
			.filter(({ code }) => !done.has(code))
			.map(({ code, minutes, costMinor, risk }) => {
				const beliefs = answerBeliefs(catalog, learned, code);
				const chances = sets.map((set) => answerChances(beliefs, set));
				return {
					code,
					minutes,
					costMinor: (minutes / 60) * hourlyMinor + costMinor + (risk ?? 0) * lossMinor,
					answers: beliefs.answers,
					told: beliefs.answers.map((_, k) => Float64Array.from(chances, (told) => told[k] as number))
				};
			})
	};
	const { tests } = bench;
	const baseline = repairOutlook(start, bench, NOTHING);
	const firsts: First[] = [
		...bench.remedies
			.filter((remedy) => addressed(start, remedy) > 0.01)
			.map((remedy) => ({ remedy, outlook: behindRemedy(start, bench, remedy, repairOutlook) })),
		...tests.map((test) => ({ test, outlook: behindTest(start, bench, test, repairOutlook) }))
	].sort(byCost);
	const seconds = { ...bench, tests: firsts.flatMap(({ test }) => test ?? []).slice(0, SECOND_TESTS) };
	for (const first of firsts.slice(0, LOOKED_BEHIND)) {
		if (costs.timeLeft && !costs.timeLeft()) break;
		first.outlook = first.test
			? behindTest(start, seconds, first.test, bestSecond)
			: behindRemedy(start, seconds, first.remedy as PricedRemedy, bestSecond);
	}
	return firsts.sort(byCost).map((first) => wordStep(catalog, inference, start, bench, first, baseline));
}

interface First {
	remedy?: PricedRemedy;
	test?: PricedTest;
	outlook: Outlook;
}
const codeOf = ({ remedy, test }: First) => (remedy ?? test)?.code ?? '';
const byCost = (a: First, b: First) =>
	a.outlook.costMinor - b.outlook.costMinor || (codeOf(a) < codeOf(b) ? -1 : 1);

/** What a plan may not use again. */
interface Used {
	remedies: ReadonlySet<string>;
	test: string | null;
}
const NOTHING: Used = { remedies: new Set(), test: null };
type Ahead = (state: State, bench: Bench, used: Used) => Outlook;

function behindRemedy(state: State, bench: Bench, remedy: PricedRemedy, ahead: Ahead): Outlook {
	const { resolved, after } = tryRemedy(state, remedy);
	const rest = ahead(after, bench, { remedies: new Set([remedy.code]), test: null });
	return {
		costMinor: remedy.costMinor + (1 - resolved) * rest.costMinor,
		minutes: remedy.minutes + (1 - resolved) * rest.minutes
	};
}

function behindTest(state: State, bench: Bench, test: PricedTest, ahead: Ahead): Outlook {
	const total = { costMinor: test.costMinor, minutes: test.minutes };
	for (const { chance, after } of branchesOf(state, test)) {
		if (chance < 1e-6) continue;
		const rest = ahead(after, bench, { remedies: NOTHING.remedies, test: test.code });
		total.costMinor += chance * rest.costMinor;
		total.minutes += chance * rest.minutes;
	}
	return total;
}

/** The best of repairing at once and of one more test before that. */
function bestSecond(state: State, bench: Bench, used: Used): Outlook {
	const open = { ...bench, remedies: bench.remedies.filter(({ code }) => !used.remedies.has(code)) };
	let best = repairOutlook(state, open, NOTHING);
	for (const test of bench.tests) {
		// a test that costs as much as all that is left cannot pay
		if (test.code === used.test || test.costMinor >= best.costMinor) continue;
		const outlook = behindTest(state, open, test, repairOutlook);
		if (outlook.costMinor < best.costMinor) best = outlook;
	}
	return best;
}

interface Likely {
	set: FaultSet;
	chance: number;
}

/** The likely sets, each reduced by what failed attempts may have mended on the way. */
function currentBeliefs(inference: Inference, features: Features, remedies: readonly Remedy[]): Likely[] {
	const order = [...inference.sets.keys()].sort(
		(a, b) => (inference.posterior[b] as number) - (inference.posterior[a] as number)
	);
	const byCode = new Map(remedies.map((remedy) => [remedy.code, remedy]));
	const kept = order.slice(0, MOST_SETS);
	const total = kept.reduce((sum, i) => sum + (inference.posterior[i] as number), 0);
	return kept.map((i) => ({
		chance: total > 0 ? (inference.posterior[i] as number) / total : 0,
		set: features.attempts.reduce((set, { operation, resolved }) => {
			const remedy = byCode.get(operation);
			if (!remedy || resolved) return set;
			// after a failed attempt was weighed in: where it addressed some but not all, part may be mended
			const left = withoutFixed(set, remedy);
			return left.length > 0 ? left : set;
		}, inference.sets[i] as FaultSet)
	}));
}

/** The likely sets with all that any remedies leave of them. */
function closedUnder(likely: readonly Likely[], remedies: readonly Remedy[]): FaultSet[] {
	const known = new Map<string, FaultSet>();
	const open = likely.map(({ set }) => set);
	for (let set = open.pop(); set !== undefined; set = open.pop()) {
		const key = set.join(' ');
		if (known.has(key)) continue;
		known.set(key, set);
		for (const remedy of remedies) {
			const left = withoutFixed(set, remedy);
			if (left.length > 0 && left.length < set.length) open.push(left);
		}
	}
	return [...known.values()];
}

function normalised(chances: State): State {
	let total = 0;
	for (let i = 0; i < chances.length; i++) total += chances[i] as number;
	return total > 0 ? chances.map((chance) => chance / total) : chances;
}

/** Chance that a remedy mends anything that is present. */
function addressed(state: State, { leaves }: PricedRemedy): number {
	let sum = 0;
	for (let i = 0; i < state.length; i++) if (leaves[i] !== i) sum += state[i] as number;
	return sum;
}

/** Tries a remedy: the chance that the device then works, and the belief where it does not. */
function tryRemedy(state: State, { leaves, success }: PricedRemedy): { resolved: number; after: State } {
	const after = new Float64Array(state.length);
	let resolved = 0;
	for (let i = 0; i < state.length; i++) {
		const chance = state[i] as number;
		const left = leaves[i] as number;
		if (left === i) after[i] = (after[i] as number) + chance;
		else {
			if (left < 0) resolved += chance * success;
			else after[left] = (after[left] as number) + chance * success;
			after[i] = (after[i] as number) + chance * (1 - success);
		}
	}
	return { resolved, after: normalised(after) };
}

/** Expected cost of repairing by chance per cost until fixed, or of giving up where that is cheaper. */
function repairOutlook(state: State, bench: Bench, { remedies: tried }: Used): Outlook {
	let reach = 1;
	let now = state;
	const used = new Set(tried);
	const total = { costMinor: 0, minutes: 0 };
	for (let attempt = 0; attempt < MOST_ATTEMPTS; attempt++) {
		let best: PricedRemedy | null = null;
		let bestRatio = 0;
		for (const remedy of bench.remedies) {
			if (used.has(remedy.code)) continue;
			const mends = addressed(now, remedy) * remedy.success;
			const ratio = mends / Math.max(1, remedy.costMinor);
			if (mends * bench.lossMinor > remedy.costMinor && ratio > bestRatio) {
				best = remedy;
				bestRatio = ratio;
			}
		}
		if (!best) break;
		used.add(best.code);
		total.costMinor += reach * best.costMinor;
		total.minutes += reach * best.minutes;
		const { resolved, after } = tryRemedy(now, best);
		reach *= 1 - resolved;
		now = after;
		if (reach < 1e-4) break;
	}
	total.costMinor += reach * bench.lossMinor;
	return total;
}

/** A judged step in the trade's words. */
function wordStep(
	catalog: Catalog,
	inference: Inference,
	start: State,
	bench: Bench,
	{ remedy, test, outlook }: First,
	baseline: Outlook
): Step {
	const costs = { expectedCostMinor: outlook.costMinor, expectedMinutes: outlook.minutes };
	if (remedy) {
		const operation = catalog.operations.get(remedy.code);
		const { resolved, after } = tryRemedy(start, remedy);
		const why = `Works on ${percent(resolved)} of devices like this one by itself.`;
		const outcomes = [
			{ answer: 'helps', chance: resolved, leads: [] },
			{ answer: 'does not help', chance: 1 - resolved, leads: leadsOf(inference, bench.sets, start, after) }
		];
		return {
			kind: 'operation',
			code: remedy.code,
			label: operation?.label ?? remedy.code,
			...costs,
			why,
			caution: operation?.caution ?? null,
			outcomes
		};
	}
	if (!test) throw new Error('wordStep: neither test nor operation');
	const record = catalog.tests.get(test.code);
	const branches = branchesOf(start, test);
	const why = whyTest(
		catalog,
		inference,
		bench.sets,
		start,
		branches,
		outlook.costMinor < baseline.costMinor
	);
	return {
		kind: 'test',
		code: test.code,
		label: record?.label ?? test.code,
		...costs,
		why,
		caution: record?.caution ?? null,
		outcomes: branches.map(({ answer, chance, after }) => ({
			answer,
			chance,
			leads: leadsOf(inference, bench.sets, start, after)
		}))
	};
}

const SHOWN_LEADS = 3;

const chanceIn = (sets: readonly FaultSet[], state: State, fault: number) =>
	sets.reduce((sum, set, i) => (set.includes(fault) ? sum + (state[i] as number) : sum), 0);

/** The likeliest faults of a belief, each with what it was before. */
function leadsOf(
	{ codes }: Inference,
	sets: readonly FaultSet[],
	before: State,
	after: State
): StepOutcome['leads'] {
	return codes
		.map((code, fault) => ({ code, fault, after: chanceIn(sets, after, fault) }))
		.sort((a, b) => b.after - a.after || (a.code < b.code ? -1 : 1))
		.slice(0, SHOWN_LEADS)
		.filter(({ after }) => after >= 0.01)
		.map(({ code, fault, after }) => ({ code, before: chanceIn(sets, before, fault), after }));
}

interface Branch {
	answer: string;
	chance: number;
	after: State;
}

/** A test's answers, each with its chance and what would be believed then. */
function branchesOf(state: State, { answers, told }: PricedTest): Branch[] {
	return answers.map((answer, k) => {
		const likelihood = told[k] as Float64Array;
		const joint = new Float64Array(state.length);
		let chance = 0;
		for (let i = 0; i < state.length; i++) {
			const part = (state[i] as number) * (likelihood[i] as number);
			joint[i] = part;
			chance += part;
		}
		return { answer, chance, after: normalised(joint) };
	});
}

/** Names the answer that moves a fault the most, and how far. */
function whyTest(
	catalog: Catalog,
	{ codes }: Inference,
	sets: readonly FaultSet[],
	start: State,
	branches: readonly Branch[],
	pays: boolean
): string {
	let most = { move: 0, text: 'Its answers would hardly move the odds.' };
	for (const { answer, after, chance } of branches) {
		if (chance < 0.02) continue;
		codes.forEach((code, fault) => {
			const [before, then] = [chanceIn(sets, start, fault), chanceIn(sets, after, fault)];
			const move = Math.abs(then - before) * Math.sqrt(chance);
			if (move <= most.move) return;
			const label = catalog.faults.get(code)?.label ?? code;
			most = {
				move,
				text: `If ${answer}, ${label} goes from ${percent(before)} to ${percent(then)}.`
			};
		});
	}
	return pays || most.move === 0 ? most.text : `${most.text} Costs more than it saves.`;
}

const percent = (chance: number) => `${Math.round(chance * 100)} %`;
