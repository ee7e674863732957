import { itemAt } from '../../units/vector';
import { engineOf, type Engine } from '../engine';
import type { Catalog } from '../../catalog/catalog';
import { brierScore, logLoss, type Foretold } from '../../statistics/proper-scores';
import { seededRandom } from '../../units/random';
import type { Features } from '../learn/evidence';
import { addLesson, learn, type Learned, type Lesson } from '../learn/learn';
import { inferPosterior, leadingFirst } from '../infer/odds';
import { type Opinion } from '../learn/opinions';
import { reliability } from '../infer/opinion-likelihood';
import { planWorld, type PlanningCosts } from '../plan/plan-world';
import { playOut } from '../plan/play-out';

/** A closed ticket to be foretold from the tickets before it. */
export interface PastCase {
	number: string;
	closedAt: number;
	lesson: Lesson;
	/** what was tried, in order, where the job ended with a device that works; null elsewhere */
	fixedBy: readonly string[] | null;
}

/** How one way of foretelling did on one ticket. */
export interface Mark {
	/** place of the best-placed confirmed fault among all, 1 the first; null where none was confirmed */
	place: number | null;
	/** mean log cost and mean squared error over the catalog's faults */
	logLoss: number;
	brier: number;
}

/** What was foretold of one ticket from those closed before it, and how right it was. */
export interface Prediction {
	number: string;
	model: string;
	closedAt: number;
	faults: readonly string[];
	/** closed tickets that it was foretold from */
	from: number;
	/** the fault named first, and its chance */
	first: { fault: string; chance: number } | null;
	/** chances of all faults with what was confirmed, in the order of the catalog */
	chances: readonly number[];
	came: readonly number[];
	/** with all that was seen before the repair */
	bench: Mark;
	/** with the signs alone, as at the counter */
	counter: Mark;
	/** by the model's usual faults, without any evidence */
	usual: Mark;
	/** the technician's first guess, where there is one: whether it was right */
	guess: (Mark & { fault: string; right: boolean }) | null;
	/** what following the plan would have cost beside what was done, both at the same prices; null where nothing was repaired */
	cost: { planMinor: number; doneMinor: number } | null;
}

/** What is learnt anew after so many tickets more: five of a hundred. The odds rest on fewer, never on later ones. A choice. */
const LEARN_EVERY = 0.05;

const isGuess = ({ source }: Opinion) => source.startsWith('technician:');

/** Evidence without what gives the answer away (repairs) and without the guess that it is held against. */
function beforeRepair({ signs, answers, opinions = [] }: Features): Features {
	return { signs, answers, attempts: [], opinions: opinions.filter((opinion) => !isGuess(opinion)) };
}

function markOf(chances: readonly number[], outcomes: readonly number[]): Mark {
	const pairs = chances.map((chance, i): Foretold => [chance, outcomes[i] === 1]);
	const best = Math.max(...chances.map((chance, i) => (outcomes[i] === 1 ? chance : -1)));
	return {
		place: best < 0 ? null : 1 + chances.filter((chance) => chance > best).length,
		logLoss: pairs.length > 0 ? logLoss(pairs) : 0,
		brier: pairs.length > 0 ? brierScore(pairs) : 0
	};
}

/** A guess as a forecast: its fault as often as its source was right so far, the others as usual, scaled to what is left. */
function guessChances(
	learned: Learned,
	{ source, fault }: Opinion,
	codes: readonly string[],
	usual: readonly number[]
): number[] {
	const right = reliability(learned, source).chance;
	const otherShare = codes.reduce((sum, code, i) => (code === fault ? sum : sum + (usual[i] as number)), 0);
	const total = usual.reduce((sum, chance) => sum + chance, 0);
	return codes.map((code, i) =>
		code === fault ? right : ((usual[i] as number) * Math.max(0, total - right)) / Math.max(1e-9, otherShare)
	);
}

/**
 * Foretells one closed ticket from what was learnt before it.
 * @param engine learnt from earlier tickets alone
 * @returns chances by fault in the catalog's order, marks against what was confirmed, costs in hundredths
 */
export function foretell(
	engine: Engine,
	{ number, closedAt, lesson, fixedBy }: PastCase,
	costs: PlanningCosts
): Prediction {
	const codes = [...engine.catalog.faults.keys()];
	const { model, features } = lesson;
	const faults = lesson.faults.filter((fault) => engine.catalog.faults.has(fault));
	const outcomes = codes.map((code) => (faults.includes(code) ? 1 : 0));
	const nothing: Features = { signs: [], answers: [], attempts: [] };
	const chancesOf = (seen: Features) => inferPosterior(engine, model, seen).chances;
	const seen = beforeRepair(features);
	const bench = chancesOf(seen);
	const [first] = leadingFirst(
		codes.map((code, i) => ({ code, probability: bench[i] as number })),
		engine.catalog
	);
	const usual = chancesOf(nothing);
	const guess = (features.opinions ?? []).find(isGuess);
	return {
		number,
		model,
		closedAt,
		faults,
		from: engine.learned.tickets,
		first: first ? { fault: first.code, chance: first.probability } : null,
		chances: bench.map((chance) => Math.round(chance * 1e5) / 1e5),
		came: outcomes,
		bench: markOf(bench, outcomes),
		counter: markOf(chancesOf({ ...seen, answers: [] }), outcomes),
		usual: markOf(usual, outcomes),
		guess: guess
			? {
					fault: guess.fault,
					right: faults.includes(guess.fault),
					...markOf(guessChances(engine.learned, guess, codes, usual), outcomes)
				}
			: null,
		cost: costsOf(engine, { number, closedAt, lesson, fixedBy }, costs)
	};
}

/**
 * Cost of the advised plan, beginning with what the counter and the meters showed, beside the tests and repairs that
 * were done. Answers that were taken are given to the plan as they were.
 */
function costsOf(
	engine: Engine,
	{ number, lesson, fixedBy }: PastCase,
	costs: PlanningCosts
): Prediction['cost'] {
	const index = new Map([...engine.catalog.faults.keys()].map((code, i) => [code, i]));
	const truth = lesson.faults.flatMap((fault) => index.get(fault) ?? []).sort((a, b) => a - b);
	if (fixedBy === null || fixedBy.length === 0 || truth.length === 0 || truth.length > 3) return null;
	const seen = beforeRepair(lesson.features);
	const answerByQuestion = new Map(seen.answers.map(({ question, answer }) => [question, answer]));
	const atStart = {
		...seen,
		answers: seen.answers.filter(({ question }) => !engine.catalog.tests.has(question))
	};
	const posterior = inferPosterior(engine, lesson.model, atStart);
	const { world, start } = planWorld(engine, posterior, atStart, costs, { besides: [truth] });
	const random = seededRandom([...number].reduce((seed, letter) => seed * 31 + letter.charCodeAt(0), 7));
	const plan = playOut(world, start, truth, (test) => answerByQuestion.get(test), random);
	const priceOf = new Map(
		[...world.tests, ...world.remedies].map(({ code, costMinor }) => [code, costMinor])
	);
	const tested = [...answerByQuestion.keys()].filter((question) => engine.catalog.tests.has(question));
	// a repair that took two goes costs once: whether it works at the first is luck, for the plan as well
	const doneSoFar = [...tested, ...new Set(fixedBy)];
	return {
		planMinor: Math.round(plan.costMinor),
		doneMinor: Math.round(doneSoFar.reduce((sum, code) => sum + (priceOf.get(code) ?? 0), 0))
	};
}

/**
 * Foretells tickets in the order of their closing, each only from those closed before it (prequential: Dawid, J. R.
 * Statist. Soc. A 147, 1984). Tickets closed at the same moment know nothing of each other.
 * @param history tickets closed before the first of them; learnt from, not foretold
 * @param cases in the order of closing
 */
export function* foretellInOrder(
	catalog: Catalog,
	history: Iterable<Lesson>,
	cases: readonly PastCase[],
	costsOf: (model: string) => PlanningCosts
): Generator<Prediction> {
	const learned = learn(history);
	let waiting: Lesson[] = [];
	for (let i = 0; i < cases.length;) {
		const closedAt = cases[i]?.closedAt;
		if (waiting.length > LEARN_EVERY * learned.tickets) {
			for (const lesson of waiting) addLesson(learned, lesson);
			waiting = [];
		}
		for (; cases[i]?.closedAt === closedAt && i < cases.length; i++) {
			const past = itemAt(cases, i);
			yield foretell(engineOf(catalog, learned), past, costsOf(past.lesson.model));
			waiting.push(past.lesson);
		}
	}
}
