import type { Catalog } from '../../catalog/catalog';
import { measuredAnswers } from '../../catalog/measured-questions';
import { packState } from '../../charging/cell-limits';
import { batteryOfLook, type Taken } from '../../charging/battery-of-look';
import { judgeLooks, type PlugLook } from '../../charging/judge-looks';
import { contractLevel, isRaised } from '../../charging/healthy-draw';
import { judgePlugIn, plugContext } from '../../charging/judge-plug-in';
import { judgeNode } from '../../charging/power-path';
import { verdictsAlone } from '../../readings/compare';
import { isSimulatedMeter } from '../../readings/instrument';
import { opinionsOf, type Opinion } from './opinions';
import { EMPTY_BOOK, type KnownGoodBook } from '../../readings/known-good-book';
import { SHORT_BELOW } from '../../readings/verdict';
import { PORT_PLACES, type ContactState } from '../../units/seen-codes';
import { beforeRepair } from '../../units/stage';

/** What the engine reads of a ticket. A ticket of the exchange room fits it as it is. */
export interface Evidence {
	model: string;
	signs: Readonly<Record<string, boolean>>;
	customer?: { name: string; kind: 'private' | 'trade' } | null | undefined;
	opinions?:
		readonly { from: 'customer' | 'technician'; fault: string; by?: string | undefined }[] | undefined;
	inspection: readonly { place: string; state: string; at?: number | undefined }[];
	observations: readonly {
		test: string;
		outcome: string;
		stage?: string | undefined;
		at?: number | undefined;
	}[];
	meter: readonly (PlugLook & { stage: string; meter?: string | undefined })[];
	battery: readonly {
		stage: string;
		volts: number;
		/** of the cells */
		celsius?: number | undefined;
		meter?: string | undefined;
		at?: number | undefined;
	}[];
	readings: readonly {
		stage: string;
		pin: string;
		mode: 'diode' | 'ohms' | 'volts';
		value?: number | undefined;
		overload?: boolean | undefined;
		meter?: string | undefined;
		board?: string | undefined;
		at?: number | undefined;
	}[];
	/** volts at nodes of the charging path */
	path?:
		| readonly {
				stage: string;
				node: string;
				volts: number;
				meter?: string | undefined;
				at?: number | undefined;
		  }[]
		| undefined;
	attempts: readonly {
		operation: string;
		resolved: boolean;
		/** a step of a longer repair, after which nobody looked at the complaint */
		part?: boolean | undefined;
		at?: number | undefined;
	}[];
}

/** The answer to one question with more than two answers: a test's outcome, or a class of a measurement. */
export interface Answer {
	question: string;
	answer: string;
}

/** Answers that were taken after so many attempts, all of which failed. */
export interface Since {
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
}

/** A measurement that a plan may ask for, by the question of it that tells most. */
export interface Measure {
	code: string;
	label: string;
	/** a question, or the beginning of several */
	question: string;
	minutes: number;
	caution: string | null;
}
/** Minutes and cautions: common practice, no source. */
export const MEASURES: readonly Measure[] = [
	{ code: 'look', label: 'Look into the port', question: 'look:contacts', minutes: 2, caution: null },
	{
		code: 'plug-in',
		label: 'Plug in the meter',
		question: 'meter:draw',
		minutes: 3,
		caution: 'Look into the port before anything is plugged in.'
	},
	{
		code: 'battery',
		label: 'Measure the battery',
		question: 'battery:state',
		minutes: 5,
		caution: 'A swollen, leaking or hot pack is not probed.'
	},
	{ code: 'read-pins', label: 'Read the contacts', question: 'pins:', minutes: 8, caution: null },
	{
		code: 'path',
		label: 'Walk the power path',
		question: 'path:',
		minutes: 7,
		caution: 'The board is live: one slip of the probe shorts the supply to its neighbour.'
	}
];

/** Possible answers to a question; empty where neither the catalog nor the program knows it. */
export const answersOf = (catalog: Catalog, question: string): readonly string[] =>
	measuredAnswers(question) ?? catalog.tests.get(question)?.outcomes ?? [];

/** Where a model's known-good readings are looked up. */
export type KnownGood = (model: string) => KnownGoodBook;
const NOTHING_KNOWN: KnownGood = () => EMPTY_BOOK;

/** What was measured on the real device: readings of the stand-in instruments teach nothing. */
export function withoutSimulated<Measured extends Evidence>(evidence: Measured): Measured {
	const real = ({ meter }: { meter?: string | undefined }) => !isSimulatedMeter(meter);
	const { meter, battery, readings, path = [] } = evidence;
	if (
		[meter, battery, readings, path].every((all: readonly { meter?: string | undefined }[]) =>
			all.every(real)
		)
	)
		return evidence;
	return {
		...evidence,
		meter: meter.filter(real),
		battery: battery.filter(real),
		readings: readings.filter(real),
		path: path.filter(real)
	};
}

/**
 * Turns evidence into features. What was not asked, not tested and not measured leaves no trace.
 * Evidence of unknown codes is left out: the catalog may have changed since.
 * @param read as a ticket holds it: volts, amperes, ohms, seconds; what was taken after attempts that failed speaks of
 *   what these left, what was taken after one that worked says nothing
 * @param known where the model's known-good readings are looked up; none without
 * @example readFeatures({ ...nothing, battery: [{ stage: 'intake', volts: 1.4 }] }, catalog).answers
 *   // [{ question: 'battery:state', answer: 'discard' }]
 */
export function readFeatures(read: Evidence, catalog: Catalog, known: KnownGood = NOTHING_KNOWN): Features {
	const evidence = { ...read, attempts: read.attempts.filter(({ part }) => !part) };
	const opinions = opinionsOf(evidence, catalog);
	const since = failuresOf(evidence).flatMap((attempts): Since[] => {
		const answers = answersAt(evidence, catalog, known, attempts);
		return answers.length > 0 ? [{ attempts, answers }] : [];
	});
	return {
		signs: Object.entries(evidence.signs).filter(([sign]) => catalog.signs.has(sign)),
		answers: answersAt(evidence, catalog, known, 0),
		attempts: evidence.attempts,
		...(since.length > 0 ? { since } : {}),
		...(opinions.length > 0 ? { opinions } : {})
	};
}

/** 1, 2 … for each attempt before which none, and which itself did not, make the complaint go. */
function failuresOf({ attempts }: Evidence): number[] {
	const worked = attempts.findIndex(({ resolved }) => resolved);
	return attempts.slice(0, worked < 0 ? attempts.length : worked).map((_, i) => i + 1);
}

/** What was taken after so many attempts: by its stage, and by its moment where it has one; all of a stage last without. */
function takenAfter({ attempts }: Evidence, wanted: number) {
	const before = (at: number) => attempts.filter((attempt) => (attempt.at ?? Infinity) <= at).length;
	return ({ stage, at }: { stage?: string | undefined; at?: number | undefined }): boolean => {
		if (beforeRepair(stage)) return wanted === 0;
		// taken after a repair that nobody entered: nothing is known of it
		return wanted > 0 && wanted === (at === undefined ? attempts.length : Math.max(1, before(at)));
	};
}

function answersAt(evidence: Evidence, catalog: Catalog, known: KnownGood, attempts: number): Answer[] {
	const taken = takenAfter(evidence, attempts);
	const late = ({ at }: { at?: number | undefined }) =>
		at !== undefined && evidence.attempts.some((attempt) => (attempt.at ?? Infinity) <= at);
	const { model, observations, meter, battery, readings, path = [], inspection } = evidence;
	const moment = {
		model,
		observations: observations.filter(taken),
		meter: meter.filter(taken),
		battery: battery.filter(taken),
		readings: readings.filter(taken),
		path: path.filter(taken),
		// a look names no stage: its moment tells
		inspection: inspection.filter((seen) => taken({ ...seen, stage: late(seen) ? 'after-repair' : 'intake' }))
	};
	const latest = new Map<string, string>();
	for (const seen of moment.observations) latest.set(seen.test, seen.outcome);
	return [
		...[...latest].map(([question, answer]) => ({ question, answer })),
		...plugInAnswers(moment, catalog),
		...batteryAnswers(moment, catalog),
		...pinAnswers(moment, catalog, known),
		...lookAnswers(moment),
		...pathAnswers(moment, catalog)
	].filter(({ question, answer }) => answersOf(catalog, question).includes(answer));
}

type Moment = Required<
	Pick<Evidence, 'model' | 'observations' | 'meter' | 'battery' | 'readings' | 'path' | 'inspection'>
>;

/** The strongest draw as it is judged with model, battery and contract; whether the sides agree; whether it holds. */
function plugInAnswers({ meter: seen, battery, model }: Moment, catalog: Catalog): Answer[] {
	const [first] = seen;
	if (!first) return [];
	const contextOf = (look: Taken) => plugContext(catalog, model, batteryOfLook(battery, look));
	const strongest = seen.reduce(
		(most, moment) => (Math.abs(moment.amps) > Math.abs(most.amps) ? moment : most),
		first
	);
	const together = judgeLooks(seen, contextOf).map(({ kind }) => kind);
	const answers = [
		{ question: 'meter:draw', answer: judgePlugIn(strongest, contextOf(strongest)).kind as string }
	];
	const on = (side: 'a' | 'b') => seen.filter(({ orientation }) => orientation === side).length;
	if (on('a') > 0 && on('b') > 0) {
		answers.push({ question: 'meter:sides', answer: together.includes('one-side') ? 'one-only' : 'alike' });
	}
	if (Math.max(on('a'), on('b')) >= 3) {
		answers.push({ question: 'meter:hold', answer: together.includes('pulsing') ? 'pulsing' : 'steady' });
	}
	const profile = contextOf(strongest);
	if (!profile.fixed) {
		const raised = seen.some((look) => isRaised(contractLevel(look, profile), profile));
		answers.push({ question: 'meter:contract', answer: raised ? 'raised' : 'base' });
	}
	return answers;
}

function batteryAnswers({ battery, model }: Moment, catalog: Catalog): Answer[] {
	const last = battery.at(-1);
	if (!last) return [];
	const known = catalog.models.get(model)?.battery;
	return [
		{ question: 'battery:state', answer: packState(last.volts, known?.cells ?? 1, known?.chemistry).state }
	];
}

/**
 * Each net by its worst contact, judged against the model's known good: what deviates with a fault again and again is
 * that fault's signature, and is learnt here as P(answer | fault). Only diode mode, in which references are taken.
 */
function pinAnswers({ readings, model }: Moment, catalog: Catalog, known: KnownGood): Answer[] {
	const connector = catalog.connectors.get(catalog.models.get(model)?.connector ?? '');
	const read = readings.filter(({ mode }) => mode === 'diode');
	if (!connector || read.length === 0) return [];
	const { pins, nets } = verdictsAlone(connector, read, known(model));
	return nets.map(({ net, verdict, agree }) => {
		const members = pins.filter((pin) => pin.net === net);
		const judged = verdict !== 'no-reference';
		const plain = members.every(({ overload }) => overload)
			? 'open'
			: members.every(({ value }) => Math.abs(value ?? 0) < SHORT_BELOW.diode)
				? 'short'
				: 'value';
		return { question: `pins:${net}`, answer: !agree ? 'mixed' : judged ? verdict : plain };
	});
}

/** Worse than the state before it, as far as charging goes. A choice. */
const WORSE: readonly ContactState[] = [
	'straight',
	'corroded',
	'bent',
	'touching',
	'folded',
	'burnt',
	'missing'
];

/** The contacts by the worst of them, every other place by itself. A place that was looked at again counts as seen last. */
function lookAnswers({ inspection }: Moment): Answer[] {
	const latest = new Map(inspection.map(({ place, state }) => [place, state as ContactState]));
	const worst = new Map<string, ContactState>();
	for (const [place, state] of latest) {
		const question = (PORT_PLACES as readonly string[]).includes(place) ? `look:${place}` : 'look:contacts';
		const before = worst.get(question) ?? 'straight';
		worst.set(question, WORSE.indexOf(state) > WORSE.indexOf(before) ? state : before);
	}
	return [...worst].map(([question, answer]) => ({ question, answer }));
}

/** Every node that was probed, as it was read last. */
function pathAnswers({ path, model }: Moment, catalog: Catalog): Answer[] {
	const nodes = new Map((catalog.models.get(model)?.path ?? []).map((node) => [node.node, node]));
	const latest = new Map(path.map(({ node, volts }) => [node, volts]));
	return [...latest].flatMap(([code, volts]) => {
		const node = nodes.get(code);
		return node ? { question: `path:${code}`, answer: judgeNode(volts, node) } : [];
	});
}
