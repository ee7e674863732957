import { z } from 'zod';
import { MODES } from '../../readings/reference';
import { codeSchema } from '../../units/code';
import { refuse } from '../refusal';
import { CONTACT_STATES, PORT_PLACES } from '../../units/seen-codes';
import { celsius, instrumentName, place, STRIKABLE } from '../ticket-entries';
import type { Ticket } from '../ticket-record';
import { ALL, BENCH, minutesField, stageField, verb, withEntries, type ChangeContext } from './verb';

/** What is seen and measured. Entries are appended: a place seen or a contact read again stands beside its first; the latest counts. */

const meter = instrumentName.optional();
const reading = z
	.strictObject({
		pin: place,
		value: z.number().min(-1000).max(1e9).optional(),
		overload: z.boolean().optional()
	})
	.refine(({ value, overload }) => (value === undefined) === (overload === true), {
		error: 'needs either a value or overload'
	});

/** Contacts can only be named where the model says which port it has. */
function withPort(ticket: Ticket, { catalog }: ChangeContext, field: string, changed: Ticket) {
	const connector = catalog.models.get(ticket.model)?.connector ?? '';
	return catalog.models.has(ticket.model) && !catalog.connectors.has(connector)
		? refuse(field, `cannot be taken: model ${ticket.model} names no connector`)
		: changed;
}

export const VERBS_OF_EVIDENCE = {
	look: verb({
		shape: { places: z.array(place).min(1).max(200), state: z.enum(CONTACT_STATES) },
		roles: ALL,
		makes: 'inspection',
		refers: ({ places }, need, { model }) =>
			places.forEach((place) => need.place('places', model, place, PORT_PLACES)),
		apply: (ticket, { places, state }, stamp, context) =>
			withPort(
				ticket,
				context,
				'places',
				withEntries(ticket, 'inspection', ...places.map((place) => ({ place, state, ...stamp })))
			)
	}),
	'plug-in': verb({
		shape: {
			stage: stageField,
			orientation: z.enum(['a', 'b']),
			volts: z.number().min(0).max(60),
			amps: z.number().min(0).max(20),
			seconds: z.number().min(0).max(1_000_000).optional(),
			on: z.boolean().optional(),
			contract: z.number().min(0).max(60).optional(),
			meter
		},
		roles: ALL,
		makes: 'meter',
		apply: (ticket, reading, stamp) => withEntries(ticket, 'meter', { ...reading, ...stamp })
	}),
	battery: verb({
		shape: { stage: stageField, volts: z.number().min(0).max(100), celsius: celsius.optional(), meter },
		roles: ALL,
		makes: 'battery',
		apply: (ticket, reading, stamp) => withEntries(ticket, 'battery', { ...reading, ...stamp })
	}),
	'read-pins': verb({
		shape: {
			stage: stageField,
			mode: z.enum(MODES),
			meter,
			board: z.string().trim().min(1).max(64).optional(),
			readings: z.array(reading).min(1).max(200)
		},
		roles: BENCH,
		makes: 'readings',
		refers: ({ readings }, need, { model }) =>
			readings.forEach(({ pin }) => need.place('readings', model, pin)),
		apply: (ticket, { readings, stage, mode, meter, board }, stamp, context) => {
			const taken = { ...(meter === undefined ? {} : { meter }), ...(board === undefined ? {} : { board }) };
			const read = readings.map((reading) => ({ stage, mode, ...reading, ...taken, ...stamp }));
			return withPort(ticket, context, 'readings', withEntries(ticket, 'readings', ...read));
		}
	}),
	'keep-provisional': verb({
		// contacts that somebody stands for; all that show nothing wrong without
		shape: { mode: z.enum(MODES), pins: z.array(place).min(1).max(200).optional() },
		roles: BENCH,
		refers: ({ pins = [] }, need, { model }) => pins.forEach((pin) => need.place('pins', model, pin)),
		apply: (ticket, { mode, pins = [] }) => {
			const read = new Set(ticket.readings.filter((one) => one.mode === mode).map(({ pin }) => pin));
			if (read.size === 0)
				return refuse('mode', `${mode}: nothing was read in it yet; read the contacts first`);
			const unread = pins.find((pin) => !read.has(pin));
			return unread === undefined
				? { ...ticket }
				: refuse('pins', `names ${unread}, which was not read in ${mode}; read it first, or leave it out`);
		},
		effects: ['provisional readings']
	}),
	'probe-node': verb({
		shape: { stage: stageField, node: codeSchema, volts: z.number().min(0).max(100), meter },
		roles: BENCH,
		makes: 'path',
		refers: ({ node }, need, { model }) => need.node('node', model, node),
		apply: (ticket, reading, stamp) => withEntries(ticket, 'path', { ...reading, ...stamp })
	}),
	'keep-trace': verb({
		shape: { stage: stageField, trace: STRIKABLE.traces.omit({ stage: true, at: true, by: true }) },
		roles: BENCH,
		makes: 'traces',
		apply: (ticket, { stage, trace }, stamp) => withEntries(ticket, 'traces', { stage, ...trace, ...stamp })
	}),
	continuity: verb({
		shape: {
			misses: z.array(z.tuple([place, place])).max(2000),
			probes: z.int().min(1).max(100_000)
		},
		roles: BENCH,
		makes: 'continuity',
		refers: ({ misses }, need, { model }) => misses.flat().forEach((pin) => need.place('misses', model, pin)),
		apply: (ticket, { misses, probes }, stamp, context) =>
			withPort(ticket, context, 'misses', withEntries(ticket, 'continuity', { misses, probes, ...stamp }))
	}),
	soak: verb({
		shape: { minutes: minutesField, percent: z.number().min(0).max(100) },
		roles: BENCH,
		makes: 'soak',
		apply: (ticket, reading, stamp) => withEntries(ticket, 'soak', { ...reading, ...stamp })
	}),
	observe: verb({
		shape: { stage: stageField, test: codeSchema, outcome: codeSchema },
		roles: BENCH,
		makes: 'observations',
		refers: ({ test, outcome }, need) => {
			need.code('test', 'test', test);
			need.outcome('outcome', test, outcome);
		},
		apply: (ticket, seen, stamp) => withEntries(ticket, 'observations', { ...seen, ...stamp })
	})
};
