import { z } from 'zod';
import { codeSchema } from '../units/code';
import { instantTextSchema } from '../units/instant';
import { amountSchema } from '../units/money';
import { ticketRecord } from '../tickets/ticket-record';

const chance = z.number().min(0).max(1);

/** Evidence as in a ticket; only the model is required. */
export const oddsBody = z.strictObject({
	model: codeSchema,
	signs: ticketRecord.shape.signs,
	inspection: ticketRecord.shape.inspection,
	observations: ticketRecord.shape.observations,
	meter: ticketRecord.shape.meter,
	battery: ticketRecord.shape.battery,
	readings: ticketRecord.shape.readings,
	attempts: ticketRecord.shape.attempts,
	as_of: instantTextSchema.optional()
});

export const quoteBody = oddsBody.extend({
	faults: z.array(codeSchema).max(20).optional(),
	price: amountSchema.optional(),
	technician: codeSchema.optional()
});

export const oddsAnswer = z.object({
	learned_from: z.number(),
	learned_from_model: z.number().meta({ description: 'closed tickets of this model' }),
	faults: z.array(
		z.object({
			code: z.string(),
			label: z.string(),
			probability: chance,
			low: chance.meta({ description: '80 % interval, from how few tickets the beliefs rest on' }),
			high: chance,
			from: z.number().meta({ description: 'closed tickets with this fault' }),
			reasons: z.array(z.object({ evidence: z.string(), factor: z.number() }))
		})
	),
	sets: z.array(z.object({ faults: z.array(z.string()), probability: chance })),
	none: chance,
	next: z.array(
		z.object({
			kind: z.enum(['test', 'operation']),
			code: z.string(),
			expected_cost: z.number().optional().meta({ description: 'manager tokens only' }),
			expected_minutes: z.number(),
			why: z.string()
		})
	)
});

const spread = z.object({ p10: z.number(), p50: z.number(), p90: z.number(), mean: z.number() });

/** Costs and profit are for manager tokens only; others get the answer without them. */
export const quoteAnswer = z.object({
	minutes: spread,
	cost: spread.optional(),
	chance_fixed: chance,
	comeback_chance: chance,
	floor: z.number().optional(),
	price: z.number(),
	ceiling: z.number().nullable().meta({ description: 'null where the model has no value' }),
	expected_profit: z.number().optional(),
	chance_of_loss: chance.optional(),
	chance_accepted: chance.nullable(),
	from: z.number().meta({ description: 'past jobs behind the minutes' }),
	verdict: z.enum(['quote', 'diagnose-first', 'not-worth-it']),
	reasons: z.array(z.string())
});

export const importAnswer = z.object({
	accepted: z.record(z.string(), z.number()),
	rejected: z.array(z.object({ line: z.number(), path: z.string(), message: z.string() }))
});

export const problemAnswer = z.object({
	type: z.string(),
	title: z.string(),
	status: z.number(),
	detail: z.string(),
	errors: z.array(z.object({ line: z.number().optional(), path: z.string(), message: z.string() })).optional()
});
