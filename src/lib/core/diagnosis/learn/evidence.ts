import type { Catalog } from '../../catalog/catalog';
import type { Answer, Stamped } from '../../evidence/measurement';
import {
	ALL_MEASUREMENTS,
	measuredAnswers,
	type AnyMeasurement,
	type MeasuredEntry,
	type MeasuredList
} from '../../evidence/measurements';
import { isSimulatedMeter } from '../../readings/instrument';
import { opinionsOf, type Opinion } from './opinions';
import { EMPTY_BOOK, type KnownGoodBook } from '../../readings/known-good-book';
import { beforeRepair } from '../../units/stage';
import type { EarlierWork } from './earlier-work';

export type { Answer };

/** What the engine reads of a ticket, with the lists of every measurement. A ticket of the exchange room fits it as it is. */
export interface Evidence extends Partial<MeasuredLists> {
	model: string;
	signs: Readonly<Record<string, boolean>>;
	customer?: { name: string; kind: 'private' | 'trade' } | null | undefined;
	opinions?:
		readonly { from: 'customer' | 'technician'; fault: string; by?: string | undefined }[] | undefined;
	observations: readonly {
		test: string;
		outcome: string;
		stage?: string | undefined;
		at?: number | undefined;
	}[];
	/** what this shop did on this device before */
	earlier?: readonly EarlierWork[] | undefined;
	attempts: readonly {
		operation: string;
		resolved: boolean;
		/** a step of a longer repair, after which nobody looked at the complaint */
		part?: boolean | undefined;
		at?: number | undefined;
	}[];
}
/** Codes are any text here: what a record no longer knows says nothing. */
type AnyCode<Entry> = {
	readonly [Field in keyof Entry]: Entry[Field] extends string | undefined
		? string | undefined
		: Entry[Field];
};
type MeasuredLists = { [List in MeasuredList]: readonly AnyCode<MeasuredEntry<List>>[] };

/** Answers that were taken after so many attempts, all of which failed. */
interface Since {
	attempts: number;
	answers: readonly Answer[];
}

/** Evidence as the model uses it. Measured values have become classes; attempts keep their order. */
export interface Features {
	signs: readonly (readonly [sign: string, present: boolean])[];
	answers: readonly Answer[];
	/** without the steps of longer repairs: these tell nothing of the complaint */
	attempts: Evidence['attempts'];
	/** what was seen after attempts that failed: it speaks of what these left */
	since?: readonly Since[];
	/** what was taken for the fault before it was found; the first of each source */
	opinions?: readonly Opinion[];
	/** what the shop did on the device before */
	earlier?: readonly EarlierWork[];
}

/** Possible answers to a question; empty where neither the catalog nor the program knows it. */
export const answersOf = (catalog: Catalog, question: string): readonly string[] =>
	measuredAnswers(question) ?? catalog.tests.get(question)?.outcomes ?? [];

/** Where a model's known-good readings are looked up. */
export type KnownGood = (model: string) => KnownGoodBook;
const NOTHING_KNOWN: KnownGood = () => EMPTY_BOOK;

/** Entries of a measurement, of whatever sort they are. */
const entriesOf = (evidence: Evidence, { list }: AnyMeasurement): readonly (Stamped & Staged)[] =>
	evidence[list as MeasuredList] ?? [];
interface Staged {
	stage?: string | undefined;
	meter?: string | undefined;
}

/** What was measured on the real device: readings of the stand-in instruments teach nothing. */
export function withoutSimulated<Measured extends Evidence>(evidence: Measured): Measured {
	const real = ({ meter }: Staged) => !isSimulatedMeter(meter);
	const unreal = ALL_MEASUREMENTS.filter((measurement) => !entriesOf(evidence, measurement).every(real));
	if (unreal.length === 0) return evidence;
	const lists = unreal.map((measurement) => [
		measurement.list,
		entriesOf(evidence, measurement).filter(real)
	]);
	return { ...evidence, ...(Object.fromEntries(lists) as Partial<Measured>) };
}

/**
 * Turns evidence into features. What was not asked, not tested and not measured leaves no trace.
 * Evidence of unknown codes is left out: the catalog may have changed since.
 * @param read as a ticket holds it: volts, amperes, ohms, seconds; what was taken after attempts that failed speaks of
 *   what these left, what was taken after one that worked says nothing
 * @param knownGood where the model's known-good readings are looked up; none without
 * @example readFeatures({ ...nothing, battery: [{ stage: 'intake', volts: 1.4 }] }, catalog).answers
 *   // [{ question: 'battery:state', answer: 'discard' }]
 */
export function readFeatures(
	read: Evidence,
	catalog: Catalog,
	knownGood: KnownGood = NOTHING_KNOWN
): Features {
	const evidence = { ...read, attempts: read.attempts.filter(({ part }) => !part) };
	const opinions = opinionsOf(evidence, catalog);
	const since = failuresOf(evidence).flatMap((attempts): Since[] => {
		const answers = answersAt(evidence, catalog, knownGood, attempts);
		return answers.length > 0 ? [{ attempts, answers }] : [];
	});
	return {
		signs: Object.entries(evidence.signs).filter(([sign]) => catalog.signs.has(sign)),
		answers: answersAt(evidence, catalog, knownGood, 0),
		attempts: evidence.attempts,
		...(since.length > 0 ? { since } : {}),
		...(opinions.length > 0 ? { opinions } : {}),
		...(read.earlier && read.earlier.length > 0 ? { earlier: read.earlier } : {})
	};
}

/** 1, 2 … for each attempt before which none, and which itself did not, make the complaint go. */
function failuresOf({ attempts }: Evidence): number[] {
	const resolvedAt = attempts.findIndex(({ resolved }) => resolved);
	return attempts.slice(0, resolvedAt < 0 ? attempts.length : resolvedAt).map((_, i) => i + 1);
}

/** What was taken after so many attempts: by its stage, and by its moment where it has one; all of a stage last without. */
function takenAfter({ attempts }: Evidence, attemptIndex: number) {
	const attemptsBefore = (at: number) => attempts.filter((attempt) => (attempt.at ?? Infinity) <= at).length;
	return ({ stage, at }: { stage?: string | undefined; at?: number | undefined }): boolean => {
		if (beforeRepair(stage)) return attemptIndex === 0;
		// taken after a repair that nobody entered: nothing is known of it
		return (
			attemptIndex > 0 &&
			attemptIndex === (at === undefined ? attempts.length : Math.max(1, attemptsBefore(at)))
		);
	};
}

function answersAt(evidence: Evidence, catalog: Catalog, knownGood: KnownGood, attempts: number): Answer[] {
	const reached = takenAfter(evidence, attempts);
	const { model } = evidence;
	const ofMoment = (measurement: AnyMeasurement) =>
		entriesOf(evidence, measurement).filter((entry) =>
			reached({ ...entry, stage: stageOf(evidence, measurement, entry) })
		);
	const battery = (evidence.battery ?? []).filter(reached);
	const seen = { model, catalog, battery, knownGood: knownGood(model) };
	const latest = new Map<string, string>();
	for (const { test, outcome } of evidence.observations.filter(reached)) latest.set(test, outcome);
	const answers = [
		...[...latest].map(([question, answer]) => ({ question, answer })),
		...ALL_MEASUREMENTS.flatMap((measurement) => measurement.answers(ofMoment(measurement), seen))
	].filter(({ question, answer }) => answersOf(catalog, question).includes(answer));
	return withoutRepeats(worstOfEach(answers, catalog), catalog);
}

/** Where several measurements answer one question the worst answer counts: answers stand from good to bad. */
function worstOfEach(answers: readonly Answer[], catalog: Catalog): Answer[] {
	const worst = new Map<string, Answer>();
	for (const answer of answers) {
		const { question } = answer;
		const worstSoFar = worst.get(question);
		const rank = (each: Answer) => answersOf(catalog, question).indexOf(each.answer);
		if (!worstSoFar || rank(answer) > rank(worstSoFar)) worst.set(question, answer);
	}
	return [...worst.values()];
}

/**
 * Of a test and what it repeats one answer counts, the one that speaks of something wrong where either does: two looks at one thing are one
 * piece of evidence.
 */
function withoutRepeats(answers: readonly Answer[], catalog: Catalog): Answer[] {
	const answerByQuestion = new Map(answers.map(({ question, answer }) => [question, answer]));
	const isSound = (question: string) =>
		answersOf(catalog, question)[0] === answerByQuestion.get(question) ||
		answerByQuestion.get(question) === 'value';
	const dropped = new Set<string>();
	for (const { code, repeats = [] } of catalog.tests.values()) {
		if (!answerByQuestion.has(code)) continue;
		for (const repeated of repeats.filter((each) => answerByQuestion.has(each) && !dropped.has(each)))
			dropped.add(isSound(code) || !isSound(repeated) ? code : repeated);
	}
	return answers.filter(({ question }) => !dropped.has(question));
}

/** The stage of an entry; of a measurement whose entries name none, what their moment says of the repairs. */
function stageOf({ attempts }: Evidence, { moment }: AnyMeasurement, { stage, at }: Stamped & Staged) {
	if (moment === 'stage') return stage;
	const late =
		at === undefined
			? moment === 'after' && attempts.length > 0
			: attempts.some((attempt) => (attempt.at ?? Infinity) <= at);
	return late ? 'after-repair' : 'intake';
}
