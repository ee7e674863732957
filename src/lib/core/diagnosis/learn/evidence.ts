import type { Catalog } from '../../catalog/catalog';
import { CELL_STATES, CELL_STATE_WORDS, packState } from '../../charging/cell-limits';
import { batteryOfLook, type Taken } from '../../charging/battery-of-look';
import { judgeLooks, type PlugLook } from '../../charging/judge-looks';
import { judgePlugIn, plugContext, PLUG_KINDS, PLUG_WORDS } from '../../charging/judge-plug-in';
import { verdictsAlone } from '../../readings/compare';
import { isSimulatedMeter } from '../../readings/instrument';
import { opinionsOf, opinionWords, type Opinion } from './opinions';
import { EMPTY_BOOK, type KnownGoodBook } from '../../readings/known-good-book';
import { SHORT_BELOW } from '../../readings/verdict';
import { beforeRepair } from '../../units/stage';

/** What the engine reads of a ticket. A ticket of the exchange room fits it as it is. */
export interface Evidence {
	model: string;
	signs: Readonly<Record<string, boolean>>;
	customer?: { name: string; kind: 'private' | 'trade' } | null | undefined;
	opinions?:
		readonly { from: 'customer' | 'technician'; fault: string; by?: string | undefined }[] | undefined;
	inspection: readonly { place: string; state: string }[];
	observations: readonly { test: string; outcome: string; stage?: string | undefined }[];
	meter: readonly (PlugLook & { stage: string; meter?: string | undefined })[];
	battery: readonly {
		stage: string;
		volts: number;
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
	}[];
	attempts: readonly { operation: string; resolved: boolean; at?: number | undefined }[];
}

/** The answer to one question with more than two answers: a test's outcome, or a class of a measurement. */
export interface Answer {
	question: string;
	answer: string;
}

/** Evidence as the model uses it. Measured values have become classes; attempts keep their order. */
export interface Features {
	signs: readonly (readonly [sign: string, present: boolean])[];
	answers: readonly Answer[];
	attempts: Evidence['attempts'];
	/** what was taken for the fault before it was found; the first of each source */
	opinions?: readonly Opinion[];
}

/** Questions that are derived from measurements, not from the catalog, with their possible answers. */
const DERIVED: Record<string, readonly string[]> = {
	'meter:draw': PLUG_KINDS,
	'meter:sides': ['alike', 'one-only'],
	'meter:hold': ['steady', 'pulsing'],
	'meter:contract': ['base', 'raised'],
	'battery:state': CELL_STATES,
	'port:look': ['sound', 'deformed', 'burnt-or-corroded', 'broken']
};
/** A net's reading: judged by its known good where there is any, else a plain value, short or open. */
const PIN_ANSWERS = ['agrees', 'value', 'short', 'open', 'low', 'high', 'mixed'];

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
	{ code: 'look', label: 'Look into the port', question: 'port:look', minutes: 2, caution: null },
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
	{ code: 'read-pins', label: 'Read the contacts', question: 'pins:', minutes: 8, caution: null }
];

/** Possible answers to a question; empty where neither the catalog nor the program knows it. */
export function answersOf(catalog: Catalog, question: string): readonly string[] {
	if (question.startsWith('pins:')) return PIN_ANSWERS;
	return (
		(Object.hasOwn(DERIVED, question) ? DERIVED[question] : undefined) ??
		catalog.tests.get(question)?.outcomes ??
		[]
	);
}

/** Only what was seen before the repair speaks of what was wrong. */
const speaks = ({ stage }: { stage?: string | undefined }) => beforeRepair(stage);

/** Where a model's known-good readings are looked up. */
export type KnownGood = (model: string) => KnownGoodBook;
const NOTHING_KNOWN: KnownGood = () => EMPTY_BOOK;

/** What was measured on the real device: readings of the stand-in instruments teach nothing. */
export function withoutSimulated<Measured extends Evidence>(evidence: Measured): Measured {
	const real = ({ meter }: { meter?: string | undefined }) => !isSimulatedMeter(meter);
	const { meter, battery, readings } = evidence;
	if (meter.every(real) && battery.every(real) && readings.every(real)) return evidence;
	return {
		...evidence,
		meter: meter.filter(real),
		battery: battery.filter(real),
		readings: readings.filter(real)
	};
}

/**
 * Turns evidence into features. What was not asked, not tested and not measured leaves no trace.
 * Evidence of unknown codes is left out: the catalog may have changed since.
 * @param evidence as a ticket holds it: volts, amperes, ohms, seconds; stages after the repair say nothing
 * @param known where the model's known-good readings are looked up; none without
 * @example readFeatures({ ...nothing, battery: [{ stage: 'intake', volts: 1.4 }] }, catalog).answers
 *   // [{ question: 'battery:state', answer: 'discard' }]
 */
export function readFeatures(
	evidence: Evidence,
	catalog: Catalog,
	known: KnownGood = NOTHING_KNOWN
): Features {
	const opinions = opinionsOf(evidence, catalog);
	const latest = new Map<string, string>();
	for (const seen of evidence.observations.filter(speaks)) latest.set(seen.test, seen.outcome);
	const answers = [...latest].map(([question, answer]) => ({ question, answer }));
	return {
		signs: Object.entries(evidence.signs).filter(([sign]) => catalog.signs.has(sign)),
		answers: [
			...answers,
			...plugInAnswers(evidence, catalog),
			...batteryAnswers(evidence, catalog),
			...pinAnswers(evidence, catalog, known),
			...lookAnswers(evidence)
		].filter(({ question, answer }) => answersOf(catalog, question).includes(answer)),
		attempts: evidence.attempts,
		...(opinions.length > 0 ? { opinions } : {})
	};
}

/** The strongest draw as it is judged with model, battery and contract; whether the sides agree; whether it holds. */
function plugInAnswers({ meter, battery, model }: Evidence, catalog: Catalog): Answer[] {
	const seen = meter.filter(speaks);
	const [first] = seen;
	if (!first) return [];
	const before = battery.filter(speaks);
	const contextOf = (look: Taken) => plugContext(catalog, model, batteryOfLook(before, look));
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
	const raised = seen.some(({ volts }) => volts > 5.6);
	answers.push({ question: 'meter:contract', answer: raised ? 'raised' : 'base' });
	return answers;
}

function batteryAnswers({ battery, model }: Evidence, catalog: Catalog): Answer[] {
	const last = battery.filter(speaks).at(-1);
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
function pinAnswers({ readings, model }: Evidence, catalog: Catalog, known: KnownGood): Answer[] {
	const connector = catalog.connectors.get(catalog.models.get(model)?.connector ?? '');
	const read = readings.filter((reading) => speaks(reading) && reading.mode === 'diode');
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

function lookAnswers({ inspection }: Evidence): Answer[] {
	if (inspection.length === 0) return [];
	// a place that was looked at again counts as it was seen last
	const latest = new Map(inspection.map(({ place, state }) => [place, state]));
	const states = new Set(latest.values());
	const tongue = (latest.get('tongue') ?? 'straight') !== 'straight';
	const has = (...wanted: string[]) => wanted.some((state) => states.has(state));
	if (tongue || has('missing')) return [{ question: 'port:look', answer: 'broken' }];
	if (has('burnt', 'corroded')) return [{ question: 'port:look', answer: 'burnt-or-corroded' }];
	const deformed = has('bent', 'folded', 'touching');
	return [{ question: 'port:look', answer: deformed ? 'deformed' : 'sound' }];
}

/** A piece of evidence in the trade's words, from its key as the odds report it ("vbus-fuse=open"). */
export function evidenceWords(catalog: Catalog, key: string): string {
	const at = key.lastIndexOf('=');
	const [subject, answer] = [key.slice(0, at), key.slice(at + 1)];
	const said = opinionWords(catalog, key);
	if (said) return said;
	const sign = catalog.signs.get(subject);
	if (sign) return answer === 'true' ? sign.label : `not: ${sign.label}`;
	const test = catalog.tests.get(subject);
	if (test) return `${test.label}: ${answer}`;
	const operation = catalog.operations.get(subject.replace(/^tried:/, ''));
	if (operation) {
		return `${operation.label}: ${answer === 'true' ? 'it helped' : 'it did not help'}`;
	}
	if (subject.startsWith('pins:')) {
		const net = subject.slice(5).toUpperCase();
		if (answer === 'agrees') return `${net} reads as known good`;
		return answer === 'mixed'
			? `contacts of ${net} read apart`
			: `${net} reads ${answer === 'value' ? 'a value' : answer}`;
	}
	return DERIVED_WORDS[key] ?? key;
}

/** An answer in words: of a test its own code, of a measurement what it says. */
export const answerWords = (catalog: Catalog, question: string, answer: string): string =>
	catalog.tests.has(question) ? answer : evidenceWords(catalog, `${question}=${answer}`);

const DERIVED_WORDS: Record<string, string> = {
	...Object.fromEntries(PLUG_KINDS.map((kind) => [`meter:draw=${kind}`, PLUG_WORDS[kind]])),
	...Object.fromEntries(
		CELL_STATES.map((state) => [`battery:state=${state}`, `battery ${CELL_STATE_WORDS[state]}`])
	),
	'meter:sides=alike': 'both sides alike',
	'meter:sides=one-only': 'one side only',
	'meter:hold=steady': 'the current holds',
	'meter:hold=pulsing': 'the current pulses',
	'meter:contract=base': 'stays at base voltage',
	'meter:contract=raised': 'higher voltage agreed',
	'port:look=sound': 'contacts straight',
	'port:look=deformed': 'contacts bent or touching',
	'port:look=burnt-or-corroded': 'contacts burnt or corroded',
	'port:look=broken': 'contact or tongue gone'
};
