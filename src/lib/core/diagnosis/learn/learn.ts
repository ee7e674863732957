import type { Catalog } from '../../catalog/catalog';
import { DAY_MS } from '../../units/instant';
import type { Learner } from '../../units/learner';
import { readFeatures, withoutSimulated, type Evidence, type Features, type KnownGood } from './evidence';

/** What the engine keeps of one closed ticket. */
export interface Lesson {
	model: string;
	/** when it closed; without, it counts as one of the earliest */
	closedAt?: number;
	/** what was wrong when it came in */
	faults: readonly string[];
	/** faults that the repair made itself */
	broke?: readonly string[];
	/** operations that it is blamed on, where they are not its own: those of the ticket that it comes back from */
	brokenBy?: readonly string[];
	/** operations that were steps of a longer repair */
	steps?: readonly string[];
	features: Features;
	/** attempts that addressed all that was left, and whether they worked, by the catalog that the ticket was read with */
	tried: readonly (readonly [operation: string, worked: boolean])[];
	/** the lesson that it speaks against, where it came back with another fault */
	doubts?: Doubt;
	/** the repair that it came back from, where the catalog believes something of what then is found, and all that was found */
	cameBack?: { operation: string; faults: readonly string[] };
}

/** A first lesson that a comeback with another fault speaks against. */
export interface Doubt {
	/** number of the first ticket */
	number: string;
	first: Lesson;
	/** what was found when it came back */
	instead: readonly string[];
	/** somebody found out whether the first confirmation was wrong */
	wrong?: boolean;
}

/** The ticket that a device comes back from. */
export interface Before {
	number: string;
	operations: readonly string[];
	/** those after which the complaint was gone, in order */
	fixedBy?: readonly string[];
	/** false where it came back for a cause that is no comeback of the work */
	counts?: boolean;
	/** what it taught; null where it taught nothing */
	lesson: Lesson | null;
	/** whether what was confirmed then was wrong, where somebody found that out */
	wrong?: boolean;
}

/** What was answered, by question and by the set of faults that was confirmed. */
export interface AnswerCounts {
	signs: Map<string, BySet<[present: number, asked: number]>>;
	answers: Map<string, BySet<Map<string, number>>>;
}

/** Counts over closed tickets, by the set of faults that was confirmed: what is learnt of each fault is worked out of them. */
export interface Learned extends AnswerCounts {
	/** moves with every change: what was worked out of the counts holds while it stands */
	changes: number;
	tickets: number;
	/** tickets with no, one, two, three or more confirmed faults */
	sizes: [number, number, number, number];
	faults: Map<string, number>;
	models: Map<string, ModelCounts>;
	/** how often two faults were confirmed on one device, by their set's key */
	pairs: Map<string, number>;
	/** by source: how often what it took for the fault was confirmed, and how often it said anything */
	opinions: Map<string, [right: number, said: number]>;
	/** how often each fault was named by anybody */
	named: Map<string, number>;
	/**
	 * per operation: tickets on which it, or another tried with it, made a fault of its own, found then or when the device came
	 * back, and tickets with it
	 */
	harm: Map<string, [harmed: number, tried: number]>;
	/** how often each fault was made by a repair */
	broke: Map<string, number>;
	/** per operation: worked and tried, where it addressed all that was confirmed */
	operations: Map<string, [worked: number, tried: number]>;
	/** by the repair that devices came back from, what was found then, by the set of faults */
	comebacks: Map<string, Map<string, number>>;
	/** lessons that comebacks with another fault speak against, by the two tickets; how often each was added */
	doubted: Map<string, [doubt: Doubt, times: number]>;
}

/**
 * Counts of one model: tickets, tickets with several faults, confirmed faults by the period of their closing, and what was
 * answered where one fault or none was confirmed.
 */
export interface ModelCounts extends AnswerCounts {
	tickets: number;
	several: number;
	periods: Map<number, Map<string, number>>;
}

/** Time is told apart in stretches of so long: thirty days. */
const PERIOD_MS = 30 * DAY_MS;
const periodOf = ({ closedAt = 0 }: Lesson) => Math.floor(closedAt / PERIOD_MS);

/** By confirmed set: its codes sorted and joined by a bar; the empty text where nothing was found. */
export type BySet<Count> = Map<string, Count>;
export const setKey = (faults: readonly string[]) =>
	faults.length < 2 ? (faults[0] ?? '') : [...faults].sort().join('|');
export const faultsOfKey = (key: string) => (key === '' ? [] : key.split('|'));

export const emptyLearned = (): Learned => ({
	changes: 0,
	tickets: 0,
	sizes: [0, 0, 0, 0],
	faults: new Map(),
	models: new Map(),
	pairs: new Map(),
	signs: new Map(),
	answers: new Map(),
	opinions: new Map(),
	named: new Map(),
	harm: new Map(),
	broke: new Map(),
	operations: new Map(),
	comebacks: new Map(),
	doubted: new Map()
});

/**
 * A closed ticket as a lesson; null where nothing was confirmed either way (declined, still open).
 * @param ticket evidence with what was confirmed and when it closed, in milliseconds
 * @param knownGood known-good readings to judge contacts by
 * @example learn(tickets.flatMap((ticket) => lessonOf(ticket, catalog) ?? [])).tickets // how many taught
 */
export function lessonOf(
	ticket: Evidence & {
		faults: readonly string[] | null;
		ownFaults?: readonly string[] | undefined;
		/** the ticket that it comes back from; null where it comes back from none */
		earlierVisit?: Before | null | undefined;
		closedAt: number | null;
	},
	catalog: Catalog,
	knownGood?: KnownGood
): Lesson | null {
	if (ticket.closedAt === null || ticket.faults === null) return null;
	const isOther = ticket.faults.some((fault) => catalog.faults.get(fault)?.catch_all);
	// what stands for any other fault is learnt as a share: its evidence would teach what is usual, or of the fault beside it, wrongly
	const features: Features = isOther
		? { signs: [], answers: [], attempts: [] }
		: readFeatures(withoutSimulated(ticket), catalog, knownGood);
	const { model, closedAt, ownFaults = [], earlierVisit } = ticket;
	// what the repair broke was not there when the signs were seen
	const faults = ticket.faults.filter((fault) => !ownFaults.includes(fault));
	const tried = triedOf(faults, features.attempts, catalog);
	const parts = ticket.attempts.flatMap(({ operation, part }) => (part ? [operation] : []));
	const steps = parts.length > 0 ? { steps: parts } : {};
	// what is found broken on a comeback was broken before it came back
	const blame =
		earlierVisit && earlierVisit.operations.length > 0
			? { brokenBy: [...new Set(earlierVisit.operations)] }
			: {};
	const broke = ownFaults.length > 0 ? { broke: ownFaults, ...blame } : {};
	const lesson = { model, closedAt, faults, ...broke, ...steps, features, tried };
	return { ...lesson, ...doubtOf(lesson, earlierVisit), ...cameBackOf(ticket.faults, earlierVisit, catalog) };
}

/** A comeback of the work teaches what is found after the repair that ended it, where the catalog believes something of that. */
function cameBackOf(
	faults: readonly string[],
	earlierVisit: Before | null | undefined,
	catalog: Pick<Catalog, 'records'>
): Pick<Lesson, 'cameBack'> {
	if (!earlierVisit || earlierVisit.counts === false || faults.length === 0) return {};
	const beliefs = catalog.records['comeback-belief'];
	const operation = earlierVisit.fixedBy?.findLast((fixing) => beliefs.has(fixing));
	return operation === undefined ? {} : { cameBack: { operation, faults } };
}

/**
 * A comeback speaks against the first lesson where it found something else: no fault of the two in common, nothing that the
 * first repair broke, and both are of one model and in the order of time.
 */
function doubtOf(
	{ model, closedAt, faults, broke }: Lesson,
	earlierVisit: Before | null | undefined
): Pick<Lesson, 'doubts'> {
	const first = earlierVisit?.lesson;
	if (!earlierVisit || !first || faults.length === 0 || broke) return {};
	if (first.model !== model || (first.closedAt ?? 0) > (closedAt ?? 0)) return {};
	if (faults.some((fault) => first.faults.includes(fault))) return {};
	const { doubts: _, ...plainLesson } = first;
	const wrongFault = earlierVisit.wrong === undefined ? {} : { wrong: earlierVisit.wrong };
	return { doubts: { number: earlierVisit.number, first: plainLesson, instead: faults, ...wrongFault } };
}

function triedOf(
	faults: readonly string[],
	attempts: Features['attempts'],
	catalog: Pick<Catalog, 'operations'>
): Lesson['tried'] {
	const open = new Set(faults);
	if (open.size === 0) return [];
	const tried: [string, boolean][] = [];
	for (const { operation, resolved } of attempts) {
		const fixes = catalog.operations.get(operation)?.fixes ?? [];
		if ([...open].every((fault) => fixes.includes(fault))) tried.push([operation, resolved]);
		else for (const fault of fixes) open.delete(fault);
		if (resolved) break;
	}
	return tried;
}

/**
 * Adds a lesson to the counts, or takes it out again with `times` = -1, or a part of it. Changes `learned` in place:
 * one more closed ticket must not cost a relearning of all. The order of lessons has no effect.
 */
export function addLesson(learned: Learned, lesson: Lesson, times = 1): void {
	const { faults, features } = lesson;
	const key = setKey(faults);
	learned.changes += 1;
	learned.tickets += times;
	learned.sizes[Math.min(3, faults.length) as 0 | 1 | 2 | 3] += times;
	const model = ensure(learned.models, lesson.model, (): ModelCounts => ({
		tickets: 0,
		several: 0,
		periods: new Map(),
		signs: new Map(),
		answers: new Map()
	}));
	model.tickets += times;
	if (faults.length > 1) model.several += times;
	const period = ensure(model.periods, periodOf(lesson), () => new Map<string, number>());
	faults.forEach((fault, i) => {
		for (const partner of faults.slice(i + 1)) bump(learned.pairs, setKey([fault, partner]), times);
	});
	for (const fault of faults) {
		bump(learned.faults, fault, times);
		bump(period, fault, times);
	}
	countAnswers(learned, key, features, times);
	if (faults.length < 2) countAnswers(model, key, features, times);
	for (const { source, fault } of features.opinions ?? []) {
		const count = ensure(learned.opinions, source, (): [number, number] => [0, 0]);
		count[0] += faults.includes(fault) ? times : 0;
		count[1] += times;
		bump(learned.named, fault, times);
	}
	addAttempts(learned, lesson, times);
	if (lesson.cameBack) {
		const { operation, faults: found } = lesson.cameBack;
		bump(
			ensure(learned.comebacks, operation, () => new Map()),
			setKey(found),
			times
		);
	}
	if (lesson.doubts) addDoubt(learned, lesson, lesson.doubts, times);
}

function addDoubt({ doubted }: Learned, { closedAt = 0 }: Lesson, doubt: Doubt, times: number): void {
	const key = `${doubt.number} ${closedAt} ${setKey(doubt.instead)}`;
	const doubtedSoFar = doubted.get(key)?.[1] ?? 0;
	// the latest counts: the first ticket may have been closed anew
	doubted.set(key, [times > 0 ? doubt : (doubted.get(key)?.[0] ?? doubt), doubtedSoFar + times]);
}

function countAnswers(counted: AnswerCounts, key: string, features: Features, times: number): void {
	for (const [sign, present] of features.signs) {
		const counts = ensure(counted.signs, sign, () => new Map<string, [number, number]>());
		const count = ensure(counts, key, (): [number, number] => [0, 0]);
		count[0] += present ? times : 0;
		count[1] += times;
	}
	for (const { question, answer } of features.answers) {
		const counts = ensure(counted.answers, question, () => new Map<string, Map<string, number>>());
		bump(
			ensure(counts, key, () => new Map()),
			answer,
			times
		);
	}
}

function addAttempts(learned: Learned, lesson: Lesson, times: number): void {
	for (const fault of lesson.broke ?? []) bump(learned.broke, fault, times);
	const { features, steps = [] } = lesson;
	for (const operation of new Set([...features.attempts.map(({ operation }) => operation), ...steps])) {
		const counts = ensure(learned.harm, operation, (): [number, number] => [0, 0]);
		counts[0] += lesson.broke && !lesson.brokenBy ? times : 0;
		counts[1] += times;
	}
	for (const operation of lesson.brokenBy ?? []) {
		const counts = ensure(learned.harm, operation, (): [number, number] => [0, 0]);
		counts[0] += times;
	}
	for (const [operation, isResolved] of lesson.tried) {
		const counts = ensure(learned.operations, operation, (): [number, number] => [0, 0]);
		counts[0] += isResolved ? times : 0;
		counts[1] += times;
	}
}

/**
 * The counts in an order of their own, without what came back to nothing: equal counts are then equal to the last
 * digit of what is worked out of them, whichever way they came about.
 */
export function inOrder(learned: Learned): Learned {
	const numbers = (map: ReadonlyMap<string, number>) =>
		sorted(
			map,
			(count) => count,
			(count) => count !== 0
		);
	const pairs = (map: ReadonlyMap<string, [number, number]>) =>
		sorted(
			map,
			([a, b]): [number, number] => [a, b],
			([agreed, all]) => agreed !== 0 || all !== 0
		);
	const full = (map: ReadonlyMap<unknown, unknown>) => map.size > 0;
	const counts = ({ signs, answers }: AnswerCounts): AnswerCounts => ({
		signs: sorted(signs, pairs, full),
		answers: sorted(answers, (bySet) => sorted(bySet, numbers, full), full)
	});
	return {
		...learned,
		...counts(learned),
		sizes: [...learned.sizes],
		faults: numbers(learned.faults),
		pairs: numbers(learned.pairs),
		named: numbers(learned.named),
		opinions: pairs(learned.opinions),
		harm: pairs(learned.harm),
		broke: numbers(learned.broke),
		operations: pairs(learned.operations),
		comebacks: sorted(learned.comebacks, numbers, full),
		doubted: sorted(
			learned.doubted,
			([doubt, times]): [Doubt, number] => [doubt, times],
			([, times]) => times !== 0
		),
		models: sorted(
			learned.models,
			(model) => ({ ...model, ...counts(model), periods: sorted(model.periods, numbers, full) }),
			({ tickets }) => tickets !== 0
		)
	};
}

function sorted<Key extends string | number, From, To>(
	map: ReadonlyMap<Key, From>,
	copy: (value: From) => To,
	keep: (value: To) => boolean
): Map<Key, To> {
	const entries = [...map].map(([key, value]): [Key, To] => [key, copy(value)]);
	return new Map(entries.filter(([, value]) => keep(value)).sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0)));
}

/** What the odds learn of closed tickets. */
export const LESSONS: Learner<Learned, Lesson> = {
	empty: emptyLearned,
	add: (learned, lesson) => addLesson(learned, lesson),
	remove: (learned, lesson) => addLesson(learned, lesson, -1),
	settled: inOrder
};

export function learn(lessons: Iterable<Lesson>): Learned {
	const learned = emptyLearned();
	for (const lesson of lessons) addLesson(learned, lesson);
	return inOrder(learned);
}

function ensure<Key, Value>(map: Map<Key, Value>, key: Key, make: () => Value): Value {
	const found = map.get(key);
	if (found !== undefined) return found;
	const made = make();
	map.set(key, made);
	return made;
}

const bump = (map: Map<string, number>, key: string, amount: number) => {
	map.set(key, (map.get(key) ?? 0) + amount);
};
