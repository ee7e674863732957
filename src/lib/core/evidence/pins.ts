import { BENCH_ROLES } from '../units/role';
import { z } from 'zod';
import { verdictsAlone } from '../readings/compare';
import { EMPTY_BOOK } from '../readings/known-good-book';
import { MODES } from '../readings/reference';
import { formatReading } from '../readings/typed-reading';
import { SHORT_BELOW } from '../readings/verdict';
import type { Connector } from '../catalog/catalog';
import { PORT_OFF } from '../units/stage';
import { place, stamp } from './entry-fields';
import { groupByMinute } from './group-by-minute';
import { boardName, instrument, instrumentName, stage, stageField } from './instrument-fields';
import { measurement, type Answer, type Seen } from './measurement';

const NET_ANSWERS = ['agrees', 'value', 'short', 'open', 'low', 'high', 'mixed'] as const;
const OFF = 'off:';

const value = z.number().min(-1000).max(1e9).optional();
const overload = z.boolean().optional();
const isOne = (reading: { value?: number | undefined; overload?: boolean | undefined }) =>
	(reading.value === undefined) === (reading.overload === true);

const entry = z
	.strictObject({
		stage,
		pin: z.string().min(1).max(16),
		mode: z.enum(MODES),
		value,
		overload,
		...instrument,
		board: boardName.optional(),
		...stamp
	})
	.refine(isOne, { error: 'needs either a value or "overload": true', path: ['value'] });
type Reading = z.output<typeof entry>;

/** Contacts of the port read with a meter to ground. */
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
					.strictObject({ pin: place, value, overload })
					.refine(isOne, { error: 'needs either a value or overload' })
			)
			.min(1)
			.max(200)
	},
	roles: BENCH_ROLES,
	says: 'read pins',
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
	questions: { 'pins:NET': NET_ANSWERS, 'off:NET': NET_ANSWERS },
	answers: pinAnswers,
	words(question, answer) {
		const net = question.slice(question.indexOf(':') + 1).toUpperCase();
		const off = question.startsWith(OFF) ? ', port off' : '';
		if (answer === 'agrees') return `${net} reads as known good${off}`;
		return answer === 'mixed'
			? `contacts of ${net} read apart${off}`
			: `${net} reads ${answer === 'value' ? 'a value' : answer}${off}`;
	},
	asks: {
		code: 'read-pins',
		label: 'Read the contacts',
		question: 'pins:',
		minutes: 8,
		needs: [],
		caution: null
	},
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

/** Below it a line is short; a good board reads some hundred ohms. Common practice, no source. */
const SHORT_OHMS = 5;

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
			: [`${pin} ${formatReading(reading)}, before ${formatReading(earlierValue)}`]
	);
	const contacts = new Set(group.map(({ pin }) => pin)).size;
	const words = [
		`Read ${contacts} ${contacts === 1 ? 'contact' : 'contacts'}, ${group[0]?.mode}`,
		...oddContacts(group, seen)
	].join('; ');
	return repeated.length === 0 ? `${words}.` : `${words}; again ${repeated.join('; ')}.`;
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
