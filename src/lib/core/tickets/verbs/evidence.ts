import { BENCH_ROLES } from '../../units/role';
import { z } from 'zod';
import { place } from '../../evidence/entry-fields';
import { stageField } from '../../evidence/instrument-fields';
import {
	ALL_MEASUREMENTS,
	type AnyMeasurement,
	type MeasuredList,
	type MEASUREMENTS
} from '../../evidence/measurements';
import { MODES } from '../../units/probed-place';
import { codeSchema } from '../../units/code';
import { refuse } from '../refusal';
import type { StrikableList } from '../ticket-entries';
import type { Ticket } from '../ticket-record';
import { verb, withEntries, type ChangeContext, type VerbRule } from './verb';

/** What is seen and measured. Entries are appended: a place seen or a contact read again stands beside its first; the latest counts. */

/** Contacts can only be named where the model says which port it has. */
function withPort(ticket: Ticket, { catalog }: ChangeContext, field: string, changed: Ticket) {
	const connector = catalog.models.get(ticket.model)?.connector ?? '';
	return catalog.models.has(ticket.model) && !catalog.connectors.has(connector)
		? refuse(field, `cannot be taken: model ${ticket.model} names no connector`)
		: changed;
}

/** The row of the change that enters a measurement. */
function rowOf(measured: AnyMeasurement): VerbRule<z.ZodRawShape> {
	const { list, says, shape, roles, namesContacts } = measured;
	return verb({
		says,
		shown: 'at once',
		moves: null,
		shape,
		roles,
		makes: list as StrikableList,
		refers: (change, need, { model }) => measured.refers?.(change, need, model),
		apply(ticket, change, stamp, context) {
			const entries = measured.entries(change).map((entry) => ({ ...entry, ...stamp }));
			const changed = withEntries(ticket, list as 'notes', ...(entries as unknown as Ticket['notes']));
			return namesContacts === undefined ? changed : withPort(ticket, context, namesContacts, changed);
		}
	});
}

type Registry = typeof MEASUREMENTS;
type VerbsOfMeasurements = {
	[List in MeasuredList as Registry[List]['verb']]: VerbRule<Registry[List]['shape']>;
};
const VERBS_OF_MEASUREMENTS = Object.fromEntries(
	ALL_MEASUREMENTS.map((measured) => [measured.verb, rowOf(measured)])
) as unknown as VerbsOfMeasurements;

export const VERBS_OF_EVIDENCE = {
	...VERBS_OF_MEASUREMENTS,
	'keep-provisional': verb({
		says: 'keep readings as provisional',
		shown: 'when kept',
		moves: null,
		// contacts that somebody stands for; all that show nothing wrong without
		shape: { mode: z.enum(MODES), pins: z.array(place).min(1).max(200).optional() },
		roles: BENCH_ROLES,
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
	continuity: verb({
		says: 'record a continuity check',
		shown: 'at once',
		moves: null,
		shape: {
			misses: z.array(z.tuple([place, place])).max(2000),
			probes: z.int().min(1).max(100_000)
		},
		roles: BENCH_ROLES,
		makes: 'continuity',
		refers: ({ misses }, need, { model }) => misses.flat().forEach((pin) => need.place('misses', model, pin)),
		apply: (ticket, { misses, probes }, stamp, context) =>
			withPort(ticket, context, 'misses', withEntries(ticket, 'continuity', { misses, probes, ...stamp }))
	}),
	observe: verb({
		says: 'record a test',
		shown: 'at once',
		moves: null,
		shape: { stage: stageField, test: codeSchema, outcome: codeSchema },
		roles: BENCH_ROLES,
		makes: 'observations',
		refers: ({ test, outcome }, need) => {
			need.code('test', 'test', test);
			need.outcome('outcome', test, outcome);
		},
		apply: (ticket, seen, stamp) => withEntries(ticket, 'observations', { ...seen, ...stamp })
	})
};
