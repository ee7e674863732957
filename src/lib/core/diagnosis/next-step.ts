import { meanHourlyCostMinor, operationPartsMinor, type Catalog } from '../catalog/catalog';
import type { Remedy } from './attempts';
import { answerBeliefs, answerChances, type AnswerBeliefs } from './beliefs';
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
}

/** Where nobody's hourly cost is known, minutes still have to weigh: 30 an hour, a placeholder. */
export const ASSUMED_HOURLY_MINOR = 3000;
const MOST_SETS = 120;
const MOST_ATTEMPTS = 6;

interface State {
	sets: FaultSet[];
	chances: number[];
}

interface Bench {
	remedies: (Remedy & StepCost & { costMinor: number })[];
	lossMinor: number;
	hourlyMinor: number;
}

interface Outlook {
	costMinor: number;
	minutes: number;
}

/**
 * Ranks tests and operations by the expected remaining cost to the end: the step first, then repair
 * attempts in the order of chance per cost with the belief updated after each failure, until fixed
 * or given up. For single faults and perfect repairs that order is optimal: Heckerman, Breese &
 * Rommelse, CACM 38(3), 1995. One step of look-ahead over that plan; what was tried in vain or already
 * tested is not proposed again.
 */
export function rankNextSteps(
	catalog: Catalog,
	learned: Learned,
	inference: Inference,
	features: Features,
	costs: PlanningCosts
): Step[] {
	const hourlyMinor = meanHourlyCostMinor(catalog) ?? ASSUMED_HOURLY_MINOR;
	const priced = remediesOf(catalog, learned).map((remedy) => {
		const minutes = costs.operationMinutes(remedy.code);
		const extraMinor = operationPartsMinor(catalog, remedy.code);
		return { ...remedy, minutes, extraMinor, costMinor: (minutes / 60) * hourlyMinor + extraMinor };
	});
	const failed = new Set(
		features.attempts.filter(({ resolved }) => !resolved).map(({ operation }) => operation)
	);
	const bench: Bench = {
		remedies: priced.filter(({ code, fixes }) => fixes.size > 0 && !failed.has(code)),
		lossMinor: costs.lossOfGivingUpMinor,
		hourlyMinor
	};
	const start = currentState(inference, features, priced);
	const done = new Set(features.answers.map(({ question }) => question));
	const tests = [...catalog.tests.keys()].filter((code) => !done.has(code));
	const baseline = repairOutlook(start, bench, new Set());
	return [
		...bench.remedies
			.filter((remedy) => addressed(start, remedy) > 0.01)
			.map((remedy) => judgeOperation(catalog, start, bench, remedy)),
		...tests.map((code) => judgeTest(catalog, learned, inference, start, bench, code, baseline))
	].sort((a, b) => a.expectedCostMinor - b.expectedCostMinor || (a.code < b.code ? -1 : 1));
}

/** The likely sets, each reduced by what failed attempts may have mended on the way. */
function currentState(inference: Inference, features: Features, remedies: readonly Remedy[]): State {
	const order = [...inference.sets.keys()].sort(
		(a, b) => (inference.posterior[b] as number) - (inference.posterior[a] as number)
	);
	const kept = order.slice(0, MOST_SETS);
	const state: State = {
		sets: kept.map((i) => inference.sets[i] as FaultSet),
		chances: kept.map((i) => inference.posterior[i] as number)
	};
	const byCode = new Map(remedies.map((remedy) => [remedy.code, remedy]));
	return features.attempts.reduce((before, { operation, resolved }) => {
		const remedy = byCode.get(operation);
		return remedy && !resolved ? partlyMended(before, remedy) : before;
	}, normalised(state));
}

/** After a failed attempt was weighed in: where it addressed some but not all, part may be mended. */
function partlyMended(state: State, remedy: Remedy): State {
	const sets = state.sets.map((set) => {
		const left = withoutFixed(set, remedy);
		return left.length > 0 && left.length < set.length ? left : set;
	});
	return { sets, chances: state.chances };
}

function normalised({ sets, chances }: State): State {
	const total = chances.reduce((sum, chance) => sum + chance, 0);
	return { sets, chances: chances.map((chance) => (total > 0 ? chance / total : 0)) };
}

/** Chance that a remedy mends anything that is present. */
function addressed({ sets, chances }: State, remedy: Remedy): number {
	return sets.reduce(
		(sum, set, i) => (set.some((fault) => remedy.fixes.has(fault)) ? sum + (chances[i] as number) : sum),
		0
	);
}

/** Tries a remedy: the chance that the device then works, and the belief where it does not. */
function tryRemedy(state: State, remedy: Remedy): { resolved: number; after: State } {
	let resolved = 0;
	const sets: FaultSet[] = [];
	const chances: number[] = [];
	const keep = (set: FaultSet, chance: number) => {
		sets.push(set);
		chances.push(chance);
	};
	state.sets.forEach((set, i) => {
		const chance = state.chances[i] as number;
		const left = withoutFixed(set, remedy);
		if (left.length === set.length) keep(set, chance);
		else {
			if (left.length === 0) resolved += chance * remedy.success;
			else keep(left, chance * remedy.success);
			keep(set, chance * (1 - remedy.success));
		}
	});
	return { resolved, after: normalised({ sets, chances }) };
}

/** Expected cost of repairing by chance per cost until fixed, or of giving up where that is cheaper. */
function repairOutlook(state: State, bench: Bench, tried: ReadonlySet<string>): Outlook {
	let reach = 1;
	let now = state;
	const used = new Set(tried);
	const total = { costMinor: 0, minutes: 0 };
	for (let attempt = 0; attempt < MOST_ATTEMPTS; attempt++) {
		let best: (typeof bench.remedies)[number] | null = null;
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

function judgeOperation(
	catalog: Catalog,
	start: State,
	bench: Bench,
	remedy: Bench['remedies'][number]
): Step {
	const { resolved, after } = tryRemedy(start, remedy);
	const rest = repairOutlook(after, bench, new Set([remedy.code]));
	const label = catalog.operations.get(remedy.code)?.label ?? remedy.code;
	return {
		kind: 'operation',
		code: remedy.code,
		label,
		expectedCostMinor: remedy.costMinor + (1 - resolved) * rest.costMinor,
		expectedMinutes: remedy.minutes + (1 - resolved) * rest.minutes,
		why: `Works on ${percent(resolved)} of devices like this one by itself.`,
		caution: catalog.operations.get(remedy.code)?.caution ?? null
	};
}

function judgeTest(
	catalog: Catalog,
	learned: Learned,
	inference: Inference,
	start: State,
	bench: Bench,
	code: string,
	baseline: Outlook
): Step {
	const test = catalog.tests.get(code);
	if (!test) throw new Error(`judgeTest: no test ${code}`);
	const beliefs = answerBeliefs(catalog, learned, code);
	const branches = beliefs.answers.map((answer, i) => splitBy(start, beliefs, answer, i));
	const step = {
		costMinor: (test.minutes / 60) * bench.hourlyMinor + test.costMinor + (test.risk ?? 0) * bench.lossMinor,
		minutes: test.minutes
	};
	for (const { chance, after } of branches) {
		if (chance < 1e-6) continue;
		const rest = repairOutlook(after, bench, new Set());
		step.costMinor += chance * rest.costMinor;
		step.minutes += chance * rest.minutes;
	}
	return {
		kind: 'test',
		code,
		label: test.label,
		expectedCostMinor: step.costMinor,
		expectedMinutes: step.minutes,
		why: whyTest(catalog, inference, start, branches, step.costMinor < baseline.costMinor),
		caution: test.caution ?? null
	};
}

interface Branch {
	answer: string;
	chance: number;
	after: State;
}

function splitBy(start: State, beliefs: AnswerBeliefs, answer: string, index: number): Branch {
	const joint = start.sets.map(
		(set, i) => (start.chances[i] as number) * (answerChances(beliefs, set)[index] as number)
	);
	const chance = joint.reduce((sum, part) => sum + part, 0);
	return { answer, chance, after: normalised({ sets: start.sets, chances: joint }) };
}

/** Names the answer that moves a fault the most, and how far. */
function whyTest(
	catalog: Catalog,
	{ codes }: Inference,
	start: State,
	branches: readonly Branch[],
	pays: boolean
): string {
	const chanceOf = (state: State, fault: number) =>
		state.sets.reduce((sum, set, i) => (set.includes(fault) ? sum + (state.chances[i] as number) : sum), 0);
	let most = { move: 0, text: 'Its answers would hardly move the odds.' };
	for (const { answer, after, chance } of branches) {
		if (chance < 0.02) continue;
		codes.forEach((code, fault) => {
			const [before, then] = [chanceOf(start, fault), chanceOf(after, fault)];
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
