import { z } from 'zod';
import { codeSchema, ticketNumberSchema } from '../units/code';
import { EARLIEST_INSTANT, LATEST_INSTANT } from '../units/instant';
import { MODES } from '../readings/reference';
import {
	CONTACT_STATES,
	instrumentName,
	MATTERS,
	OPINIONS_FROM,
	OUTCOMES,
	STAGES,
	STRIKABLE_LISTS,
	ticketRecord,
	WAITS
} from './ticket-record';

const minor = z.int().min(0).max(9_999_999_999);
const instant = z.int().min(EARLIEST_INSTANT).max(LATEST_INSTANT);
const stage = z.enum(STAGES).default('diagnosis');
const text = z.string().trim().max(4000);
/** Who brings a device, as counter and correction write it. */
export const customerFields = z.strictObject({
	name: z.string().trim().min(1, 'is empty; write the customer’s name').max(200),
	kind: z.enum(['private', 'trade']),
	phone: z.string().trim().max(64).optional(),
	email: z.string().trim().max(200).optional()
});
const used = z
	.array(z.strictObject({ sku: codeSchema, quantity: z.number().positive().max(10_000) }))
	.max(20)
	.default([]);
const verb = <Verb extends string, Shape extends z.ZodRawShape>(name: Verb, shape: Shape) =>
	z.strictObject({ verb: z.literal(name), ...shape });

/** Everything that can be done to a ticket. One schema for screens, server and tests. */
export const ticketChangeSchema = z.discriminatedUnion('verb', [
	verb('correct', {
		customer: customerFields.optional(),
		model: codeSchema.optional(),
		serial: z.string().trim().max(64).optional(),
		reported: text.optional(),
		condition: text.optional(),
		accessories: text.optional(),
		matters: z.enum(MATTERS).optional(),
		promisedAt: instant.nullable().optional()
	}),
	verb('sign', { sign: codeSchema, present: z.boolean().nullable() }),
	verb('opinion', { from: z.enum(OPINIONS_FROM), fault: codeSchema }),
	verb('look', { places: z.array(z.string().min(1).max(16)).min(1).max(200), state: z.enum(CONTACT_STATES) }),
	verb('plug-in', {
		stage,
		orientation: z.enum(['a', 'b']),
		volts: z.number().min(0).max(60),
		amps: z.number().min(0).max(20),
		seconds: z.number().min(0).max(1_000_000).optional(),
		on: z.boolean().optional(),
		contract: z.number().min(0).max(60).optional(),
		meter: instrumentName.optional()
	}),
	verb('battery', { stage, volts: z.number().min(0).max(100), meter: instrumentName.optional() }),
	verb('read-pins', {
		stage,
		mode: z.enum(MODES),
		meter: instrumentName.optional(),
		board: z.string().trim().min(1).max(64).optional(),
		readings: z
			.array(
				z
					.strictObject({
						pin: z.string().min(1).max(16),
						value: z.number().min(-1000).max(1e9).optional(),
						overload: z.boolean().optional()
					})
					.refine(({ value, overload }) => (value === undefined) === (overload === true), {
						error: 'needs either a value or overload'
					})
			)
			.min(1)
			.max(200)
	}),
	verb('keep-provisional', { mode: z.enum(MODES) }),
	verb('probe-node', {
		stage,
		node: codeSchema,
		volts: z.number().min(0).max(100),
		meter: instrumentName.optional()
	}),
	verb('keep-trace', {
		stage,
		trace: ticketRecord.shape.traces.unwrap().element.omit({ stage: true, at: true, by: true })
	}),
	verb('continuity', {
		misses: z.array(z.tuple([z.string().min(1).max(16), z.string().min(1).max(16)])).max(2000),
		probes: z.int().min(1).max(100_000)
	}),
	verb('soak', { minutes: z.number().min(0).max(100_000), percent: z.number().min(0).max(100) }),
	verb('observe', { stage, test: codeSchema, outcome: codeSchema }),
	verb('quote', { priceMinor: minor }),
	verb('answer', { accepted: z.boolean() }),
	verb('start-timer', { operation: codeSchema, technician: codeSchema }),
	verb('cancel-timer', { operation: codeSchema, technician: codeSchema }),
	verb('stop-timer', { operation: codeSchema, technician: codeSchema, resolved: z.boolean(), parts: used }),
	verb('attempt', {
		operation: codeSchema,
		technician: codeSchema,
		minutes: z.number().min(0).max(100_000),
		resolved: z.boolean(),
		parts: used
	}),
	verb('use-part', { sku: codeSchema, quantity: z.number().positive().max(10_000) }),
	verb('gate', { gate: codeSchema, passed: z.boolean() }),
	verb('note', { text: text.min(1) }),
	verb('hand-over', { to: codeSchema.nullable() }),
	verb('wait', { for: z.enum(WAITS) }),
	verb('end-wait', { for: z.enum(WAITS) }),
	verb('comeback', { of: ticketNumberSchema.nullable() }),
	verb('withdraw', { list: z.enum(STRIKABLE_LISTS), index: z.int().min(0).max(10_000) }),
	verb('put-back', { index: z.int().min(0).max(10_000) }),
	verb('close', {
		outcome: z.enum(OUTCOMES),
		faults: z.array(codeSchema).max(20),
		ownFaults: z.array(codeSchema).max(20).default([]),
		paidMinor: minor
	}),
	verb('reopen', {}),
	verb('close-again', {})
]);

export type TicketChange = z.output<typeof ticketChangeSchema>;
export type TicketChangeInput = z.input<typeof ticketChangeSchema>;

export type ChangeOf<Verb extends TicketChange['verb']> = Extract<TicketChange, { verb: Verb }>;
export type Verb = TicketChange['verb'];
export const VERBS: readonly Verb[] = ticketChangeSchema.options.map(({ shape }) => shape.verb.value);
