import type { Catalog } from '../catalog/catalog';
import { readFeatures, withoutSimulated, type Evidence, type Features, type KnownGood } from './evidence';

/** What the engine keeps of one closed ticket. */
export interface Lesson {
	model: string;
	faults: readonly string[];
	features: Features;
}

/** Counts over closed tickets. Several faults on a ticket share it equally, so counts can be fractions. */
export interface Learned {
	tickets: number;
	/** tickets with no, one, two or more confirmed faults */
	sizes: [number, number, number];
	faults: Map<string, number>;
	models: Map<string, { tickets: number; faults: Map<string, number> }>;
	signs: Map<string, BySubject<[present: number, asked: number]>>;
	answers: Map<string, BySubject<Map<string, number>>>;
	/** per operation: worked and tried, where it addressed all that was confirmed */
	operations: Map<string, [worked: number, tried: number]>;
}

/** `all` tickets, those without any fault (`none`), and by fault. */
export interface BySubject<Count> {
	all: Count;
	none: Count;
	faults: Map<string, Count>;
}

export const emptyLearned = (): Learned => ({
	tickets: 0,
	sizes: [0, 0, 0],
	faults: new Map(),
	models: new Map(),
	signs: new Map(),
	answers: new Map(),
	operations: new Map()
});

/** A closed ticket as a lesson; null where nothing was confirmed either way (declined, still open). */
export function lessonOf(
	ticket: Evidence & { faults: readonly string[] | null; closedAt: number | null },
	catalog: Catalog,
	known?: KnownGood
): Lesson | null {
	if (ticket.closedAt === null || ticket.faults === null) return null;
	const features = readFeatures(withoutSimulated(ticket), catalog, known);
	return { model: ticket.model, faults: ticket.faults, features };
}

/**
 * Adds a lesson to the counts, or takes it out again with `times` = -1. Changes `learned` in place:
 * one more closed ticket must not cost a relearning of all. The order of lessons has no effect.
 */
export function addLesson(learned: Learned, lesson: Lesson, catalog: Catalog, times: 1 | -1 = 1): void {
	const { faults, features } = lesson;
	const share = faults.length === 0 ? 0 : times / faults.length;
	learned.tickets += times;
	learned.sizes[Math.min(2, faults.length) as 0 | 1 | 2] += times;
	const model = ensure(learned.models, lesson.model, () => ({ tickets: 0, faults: new Map() }));
	model.tickets += times;
	for (const fault of faults) {
		bump(learned.faults, fault, times);
		bump(model.faults, fault, times);
	}
	for (const [sign, present] of features.signs) {
		const counts = ensure(learned.signs, sign, () => subjects<[number, number]>(() => [0, 0]));
		const add = (count: [number, number], by: number) => {
			count[0] += present ? by : 0;
			count[1] += by;
		};
		add(counts.all, times);
		if (faults.length === 0) add(counts.none, times);
		for (const fault of faults)
			add(
				ensure(counts.faults, fault, () => [0, 0]),
				share
			);
	}
	for (const { question, answer } of features.answers) {
		const counts = ensure(learned.answers, question, () => subjects(() => new Map<string, number>()));
		bump(counts.all, answer, times);
		if (faults.length === 0) bump(counts.none, answer, times);
		for (const fault of faults)
			bump(
				ensure(counts.faults, fault, () => new Map()),
				answer,
				share
			);
	}
	addAttempts(learned, lesson, catalog, times);
}

function addAttempts(learned: Learned, lesson: Lesson, catalog: Catalog, times: 1 | -1): void {
	const open = new Set(lesson.faults);
	if (open.size === 0) return;
	for (const { operation, resolved } of lesson.features.attempts) {
		const fixes = catalog.operations.get(operation)?.fixes ?? [];
		const addressed = [...open].every((fault) => fixes.includes(fault));
		if (addressed) {
			const counts = ensure(learned.operations, operation, () => [0, 0] as [number, number]);
			counts[0] += resolved ? times : 0;
			counts[1] += times;
		} else {
			for (const fault of fixes) open.delete(fault);
		}
		if (resolved) return;
	}
}

export function learn(lessons: Iterable<Lesson>, catalog: Catalog): Learned {
	const learned = emptyLearned();
	for (const lesson of lessons) addLesson(learned, lesson, catalog);
	return learned;
}

const subjects = <Count>(empty: () => Count): BySubject<Count> => ({
	all: empty(),
	none: empty(),
	faults: new Map()
});

function ensure<Value>(map: Map<string, Value>, key: string, make: () => Value): Value {
	const found = map.get(key);
	if (found !== undefined) return found;
	const made = make();
	map.set(key, made);
	return made;
}

const bump = (map: Map<string, number>, key: string, by: number) => {
	map.set(key, (map.get(key) ?? 0) + by);
};
