import { itemAt } from '../../units/vector';
import { isInside } from './inside';
import {
	addressed,
	afterStep,
	answersTo,
	costHere,
	failInPlace,
	tryRemedy,
	type PlannedRemedy,
	type PlannedTest,
	type PlanWorld,
	type State
} from './plan-world';

/** What is expected to the end of the job, fixed or given up. */
export interface Outlook {
	costMinor: number;
	minutes: number;
}

/** A first step with what is expected when the plan goes on well after it. */
export interface First extends Outlook {
	step: PlannedRemedy | PlannedTest;
}

const MOST_ATTEMPTS = 8;
/** A remedy that helps less often is not tried in a plan. */
const LEAST_HELP = 0.003;
/** Second and later steps are among so many tests: those that did best as first steps. */
const LATER_TESTS = 8;

/**
 * The plain rule: repairs by chance per cost, the belief updated after each failure, until fixed; given up after the
 * attempt after which that is cheapest, before the first one too. For single faults and sure repairs the order is
 * optimal: Heckerman, Breese & Rommelse, Decision-theoretic troubleshooting, CACM 38(3), 1995.
 */
export function repairOutlook(world: PlanWorld, state: State): Outlook & { order: string[] } {
	const { lossMinor } = world;
	// weights of the sets: not scaled after each failure, since only what a remedy addresses changes
	const weights = Float64Array.from(state);
	let [total, costMinor, minutes] = [1, 0, 0];
	const triesLeft = world.remedies.map(({ tries }) => tries);
	const tried: string[] = [];
	let best: Outlook & { order: string[] } = { costMinor: lossMinor, minutes: 0, order: [] };
	while (tried.length < MOST_ATTEMPTS && total > 1e-4) {
		let [next, maximum] = [-1, 0];
		for (let r = 0; r < triesLeft.length; r++) {
			if (triesLeft[r] === 0) continue;
			const remedy = itemAt(world.remedies, r);
			const helps = (addressed(weights, remedy) * remedy.success) / total;
			const ratio = helps / Math.max(1, remedy.costMinor);
			if (helps > LEAST_HELP && ratio > maximum) [next, maximum] = [r, ratio];
		}
		const remedy = world.remedies[next];
		if (!remedy) break;
		triesLeft[next] = itemAt(triesLeft, next) - 1;
		tried.push(remedy.code);
		costMinor += total * remedy.costMinor;
		minutes += total * remedy.minutes;
		total -= failInPlace(weights, remedy);
		const stopped = costMinor + total * lossMinor;
		if (stopped < best.costMinor) best = { costMinor: stopped, minutes, order: [...tried] };
	}
	return best;
}

/**
 * What is expected when a step is taken now and the best of `depth` more steps after it, then repairs by the plain rule.
 * @param bound where the sum reaches it the rest is not worked out: the answer is then at least the bound
 */
function behind(
	world: PlanWorld,
	state: State,
	step: PlannedRemedy | PlannedTest,
	depth: number,
	bound = Infinity
): Outlook {
	const open = afterStep(world, step);
	const total = { ...costHere(world, step) };
	const add = (chance: number, nextState: State) => {
		const rest = bestAhead(open, nextState, depth);
		total.costMinor += chance * rest.costMinor;
		total.minutes += chance * rest.minutes;
	};
	if (step.kind === 'operation') {
		const { resolved, after: failedState } = tryRemedy(state, step);
		if (resolved < 1) add(1 - resolved, failedState);
		return total;
	}
	for (const { chance, after: nextState } of answersTo(state, step)) {
		if (total.costMinor >= bound) break;
		if (chance >= 1e-6) add(chance, nextState);
	}
	return total;
}

/** The best of giving up, of repairing by the plain rule, and of one more step with as many again after it less one. */
function bestAhead(world: PlanWorld, state: State, depth: number): Outlook {
	let best: Outlook = repairOutlook(world, state);
	if (depth === 0) return best;
	const steps = [
		...world.tests,
		// a repair before the next test is worth a look only where there is a test after it
		...(depth > 1 ? world.remedies.filter((remedy) => addressed(state, remedy) > 0.1) : [])
	];
	for (const step of steps) {
		// a step that costs as much as all that is left cannot pay
		if (costHere(world, step).costMinor >= best.costMinor) continue;
		const outlook = behind(world, state, step, depth - 1, best.costMinor);
		if (outlook.costMinor < best.costMinor) best = outlook;
	}
	return best;
}

/** From outside, inside, operation: of steps that cost alike, those that a technician would do first. */
const reach = ({ step }: First): number => (step.kind === 'operation' ? 2 : isInside(step.needs) ? 1 : 0);
/** Within this share of the cost steps are alike. A choice. */
const ALIKE = 0.01;

/** Cheapest first; those that cost alike in a fixed order, so that no last digit decides. */
export function inOrder(firsts: readonly First[]): First[] {
	const sorted = [...firsts].sort(
		(a, b) => a.costMinor - b.costMinor || (a.step.code < b.step.code ? -1 : 1)
	);
	const ordered: First[] = [];
	while (sorted.length > 0) {
		const within = (sorted[0]?.costMinor ?? 0) * (1 + ALIKE);
		const beyond = sorted.findIndex(({ costMinor }) => costMinor > within);
		const alike = sorted.splice(0, beyond < 0 ? sorted.length : beyond);
		alike.sort(
			(a, b) => reach(a) - reach(b) || a.step.minutes - b.step.minutes || (a.step.code < b.step.code ? -1 : 1)
		);
		ordered.push(...alike);
	}
	return ordered;
}

/** Every step that may come first, cheapest first, with repairs alone behind it. */
export function firstSteps(world: PlanWorld, state: State): First[] {
	const remedies = world.remedies.filter((remedy) => remedy.opens || addressed(state, remedy) > 0.01);
	return inOrder(
		[...remedies, ...world.tests].map((step): First => ({ step, ...behind(world, state, step, 0) }))
	);
}

export interface Looking {
	/** so many more steps are looked at behind a first one */
	depth: number;
	/** behind so many of the best first steps */
	firsts: number;
	/** true while there is time to look further ahead; always without it */
	timeLeft?: (() => boolean) | undefined;
}

/** Looks again at the best of some first steps, further ahead: any time it is stopped, what it has holds. */
export function lookFurther(
	world: PlanWorld,
	state: State,
	firsts: readonly First[],
	{ depth, firsts: maxFirsts, timeLeft }: Looking
): First[] {
	const tests = firsts.flatMap(({ step }) => (step.kind === 'operation' ? [] : step));
	const later = { ...world, tests: tests.slice(0, LATER_TESTS) };
	const looked = firsts.map((first, i) => {
		if (i >= maxFirsts || (timeLeft && !timeLeft())) return first;
		return { step: first.step, ...behind(later, state, first.step, depth) };
	});
	return inOrder(looked);
}
