import { BENCH_ROLES } from '../units/role';
import { z } from 'zod';
import { verdictsAlone } from '../readings/compare';
import { EMPTY_BOOK } from '../readings/known-good-book';
import {
	judgeChips,
	judgePoints,
	POINT_VERDICTS,
	SHORT_OHMS,
	type PointVerdict
} from '../readings/board-points';
import { formatReading } from '../readings/typed-reading';
import { SHORT_BELOW } from '../readings/verdict';
import type { Connector } from '../catalog/catalog';
import { MODES, placed, placeFields, pointOf, pointPlace, probedPlace } from '../units/probed-place';
import { PORT_OFF } from '../units/stage';
import { remark, stamp } from './entry-fields';
import { groupByMinute } from './group-by-minute';
import { boardName, instrument, instrumentName, stage, stageField } from './instrument-fields';
import { measurement, type Answer, type Seen } from './measurement';

const NET_ANSWERS = ['agrees', 'value', 'short', 'open', 'low', 'high', 'mixed'] as const;
const OFF = 'off:';
const CHIP = 'chip:';

const value = z.number().min(-1000).max(1e9).optional();
const overload = z.boolean().optional();
const isOne = (reading: { value?: number | undefined; overload?: boolean | undefined }) =>
	(reading.value === undefined) === (reading.overload === true);

const entry = placed(
	z
		.strictObject({
			stage,
			...placeFields,
			mode: z.enum(MODES),
			value,
			overload,
			/** written by hand: "0.61 = this chip" */
			note: remark.optional(),
			...instrument,
			board: boardName.optional(),
			...stamp
		})
		.refine(isOne, { error: 'needs either a value or "overload": true', path: ['value'] })
);
type Reading = z.output<typeof entry>;

/** Contacts of the port, and points of the board, read with a meter to ground. */
export const PINS = measurement({
	list: 'readings',
	entry,
	most: 5000,
	step: 'pins',
	verb: 'read-pins',
	shape: {
		stage: stageField,
		mode: z.enum(MODES),
		meter: instrumentName.optional(),
		board: boardName.optional(),
		readings: z
			.array(
				z
					.strictObject({ pin: probedPlace, value, overload, note: remark.optional() })
					.refine(isOne, { error: 'needs either a value or overload' })
			)
			.min(1)
			.max(200)
	},
	roles: BENCH_ROLES,
	says: 'record pin readings',
	refers: ({ readings }, need, model) => readings.forEach(({ pin }) => need.place('readings', model, pin)),
	namesContacts: 'readings',
	entries({ readings, stage: at, mode, meter, board }) {
		const conditions = {
			...(meter === undefined ? {} : { meter }),
			...(board === undefined ? {} : { board })
		};
		return readings.map((reading) => ({ stage: at, mode, ...reading, ...conditions }));
	},
	moment: 'stage',
	// judged by its known good where there is any, else a plain value, short or open; mixed: its contacts read apart
	// off: the same with the old port off
	questions: {
		'pins:NET': NET_ANSWERS,
		'off:NET': NET_ANSWERS,
		'point:CODE': POINT_VERDICTS,
		'chip:WORD': ['sound', 'short']
	},
	answers: (readings, seen) => [...pinAnswers(readings, seen), ...pointAnswers(readings, seen)],
	words(question, answer, { models }) {
		if (question.startsWith(CHIP))
			return `${question.slice(CHIP.length).replaceAll('-', ' ')} reads ${answer}`;
		const point = pointOf(question);
		if (point !== null) return `${pointLabel(models, point)} ${POINT_WORDS[answer as PointVerdict]}`;
		const net = question.slice(question.indexOf(':') + 1).toUpperCase();
		const off = question.startsWith(OFF) ? ', port off' : '';
		if (answer === 'agrees') return `${net} reads as known good${off}`;
		return answer === 'mixed'
			? `contacts of ${net} read apart${off}`
			: `${net} reads ${answer === 'value' ? 'a value' : answer}${off}`;
	},
	asks: [
		{
			code: 'read-pins',
			label: 'Read the contacts',
			question: 'pins:',
			minutes: 8,
			needs: [],
			caution: null
		},
		{
			code: 'points',
			label: 'Read the points of the board',
			question: 'point:',
			minutes: 10,
			needs: ['opened'],
			caution: null
		}
	],
	trail: (readings, seen) =>
		groupByMinute(withBefore(readings), 30).map((group) => ({
			kind: 'measured',
			text: readingWords(group, seen),
			stamp: group[0]
		}))
});

const connectorOf = ({ model, catalog }: Seen) =>
	catalog.connectors.get(catalog.models.get(model)?.connector ?? '');

/**
 * Each net by its worst contact, judged against the model's known good: what deviates with a fault again and again is
 * that fault's signature, and is learnt here as P(answer | fault). Only diode mode, in which references are taken.
 */
function pinAnswers(readings: readonly Reading[], seen: Seen): Answer[] {
	const connector = connectorOf(seen);
	if (!connector) return [];
	return [false, true].flatMap((isOff) => {
		const taken = readings.filter(({ stage }) => (stage === PORT_OFF) === isOff);
		const diode = taken.filter(({ mode }) => mode === 'diode');
		const answers = diode.length > 0 ? diodeAnswers(connector, diode, seen) : [];
		const told = new Set(answers.map(({ net }) => net));
		const ohms = ohmsAnswers(connector, taken).filter(({ net }) => !told.has(net));
		return [...answers, ...ohms].map(({ net, answer }) => ({
			question: `${isOff ? OFF : 'pins:'}${net}`,
			answer
		}));
	});
}

const pointsOf = ({ model, catalog }: Seen) => catalog.models.get(model)?.points ?? [];

/**
 * Each point by its latest readings. Points of one chip, or of one line, that are at ground together are one short: the first of them
 * says so.
 */
function pointAnswers(readings: readonly Reading[], seen: Seen): Answer[] {
	const points = pointsOf(seen);
	if (points.length === 0) return [];
	const verdicts = judgePoints(points, readings, seen.knownGood);
	const shorted = new Set<string>();
	const answers = points.flatMap(({ code, chip, net, with: otherEnd }): Answer[] => {
		const answer = verdicts.get(code);
		if (answer === undefined) return [];
		if (answer === 'short') {
			const line = chip ?? net ?? code;
			if (shorted.has(line) || shorted.has(otherEnd ?? '')) return [];
			shorted.add(line).add(code);
		}
		return [{ question: pointPlace(code), answer }];
	});
	const chips = [...judgeChips(points, verdicts)];
	return [...answers, ...chips.map(([chip, answer]) => ({ question: `${CHIP}${chip}`, answer }))];
}

const POINT_WORDS: Record<PointVerdict, string> = {
	agrees: 'reads good',
	value: 'reads a value',
	short: 'is at ground',
	open: 'is open',
	low: 'reads low',
	high: 'reads high'
};

/** A point by its label on any board that has it. */
function pointLabel(models: Seen['catalog']['models'], code: string): string {
	for (const { points = [] } of models.values()) {
		const point = points.find((point) => point.code === code);
		if (point) return point.label;
	}
	return code;
}

interface NetAnswer {
	net: string;
	answer: string;
}

function diodeAnswers(connector: Connector, read: readonly Reading[], { knownGood }: Seen): NetAnswer[] {
	const { pins, nets } = verdictsAlone(connector, read, knownGood);
	return nets.map(({ net, verdict, agree }) => {
		const members = pins.filter((pin) => pin.net === net);
		const judged = verdict !== 'no-reference';
		const plain = members.every((pin) => pin.overload)
			? 'open'
			: members.every((pin) => Math.abs(pin.value ?? 0) < SHORT_BELOW.diode)
				? 'short'
				: 'value';
		return { net, answer: !agree ? 'mixed' : judged ? verdict : plain };
	});
}

/** Ohms are judged by themselves: a short, or a value; of a net the contact that reads least. */
function ohmsAnswers({ pins }: Connector, readings: readonly Reading[]): NetAnswer[] {
	const least = new Map<string, number>();
	for (const { mode, pin, value, overload } of readings) {
		const net = pins.find((contact) => contact.pin === pin)?.net;
		if (mode !== 'ohms' || net === undefined) continue;
		least.set(net, Math.min(least.get(net) ?? Infinity, overload ? Infinity : Math.abs(value ?? Infinity)));
	}
	return [...least].map(([net, ohms]) => ({ net, answer: ohms < SHORT_OHMS ? 'short' : 'value' }));
}

type Reread = Reading & { before?: Reading };

/** Each reading with the one of the same contact, stage and mode that it was taken after. */
function withBefore(readings: readonly Reading[]): Reread[] {
	const last = new Map<string, Reading>();
	return readings.map((reading) => {
		const key = `${reading.stage} ${reading.mode} ${reading.pin}`;
		const previous = last.get(key);
		last.set(key, reading);
		return previous === undefined ? reading : { ...reading, before: previous };
	});
}

function readingWords(group: readonly Reread[], seen: Seen): string {
	const repeated = group.flatMap(({ pin, before: earlierValue, ...reading }) =>
		earlierValue === undefined
			? []
			: [`${pointOf(pin) ?? pin} ${formatReading(reading)}, before ${formatReading(earlierValue)}`]
	);
	const places = [...new Set(group.map(({ pin }) => pin))];
	const points = places.filter((place) => pointOf(place) !== null).length;
	const contacts = places.length - points;
	const read = [
		...(contacts > 0 ? [`${contacts} ${contacts === 1 ? 'contact' : 'contacts'}`] : []),
		...(points > 0 ? [`${points} ${points === 1 ? 'point' : 'points'} of the board`] : [])
	].join(' and ');
	const words = [
		`Read ${read}, ${group[0]?.mode}`,
		...oddContacts(group, seen),
		...oddPoints(group, seen)
	].join('; ');
	return repeated.length === 0 ? `${words}.` : `${words}; again ${repeated.join('; ')}.`;
}

/** Points that read as they should not, and what was written beside one. */
function oddPoints(group: readonly Reread[], seen: Seen): string[] {
	const points = pointsOf(seen);
	const odd = [...judgePoints(points, group, seen.knownGood)].filter(
		([, verdict]) => verdict !== 'agrees' && verdict !== 'value'
	);
	const label = (code: string) => points.find((point) => point.code === code)?.label ?? code;
	return [
		...odd.map(([code, verdict]) => `${label(code)} ${POINT_WORDS[verdict]}`),
		...group.flatMap(({ pin, note }) =>
			note === undefined ? [] : [`${label(pointOf(pin) ?? pin)}: “${note}”`]
		)
	];
}

/** What the contacts show by themselves, whatever is known good: "A4, A9 short". */
function oddContacts(group: readonly Reread[], seen: Seen): string[] {
	const connector = connectorOf(seen);
	if (!connector) return [];
	const { pins, nets } = verdictsAlone(connector, group, EMPTY_BOOK);
	const short = pins.filter(({ verdict }) => verdict === 'short').map(({ pin }) => pin);
	const apart = nets.flatMap(({ dissenting }) => dissenting);
	const open = pins.filter((pin) => pin.overload && apart.includes(pin.pin)).map(({ pin }) => pin);
	return [
		...(short.length > 0 ? [`${short.join(', ')} short`] : []),
		...(open.length > 0 ? [`${open.join(', ')} open`] : [])
	];
}
