import { z } from 'zod';
import { instantTextSchema } from '../units/instant';
import { amountSchema, signedAmountSchema } from '../units/money';
import { kind } from './kind';

/** What was settled of the shop's books. */

const monthSchema = z.string().regex(/^\d{4}-(0[1-9]|1[0-2])$/, {
	error: ({ input }) => `is ${String(input)}; a month is written as 2026-03`
});

/** A closed month: its figures as they stood, which later corrections do not move. */
const month = kind({
	schema: z.strictObject({
		record: z.literal('month'),
		month: monthSchema,
		closed_at: instantTextSchema,
		by: z.string().max(64).optional(),
		tickets: z.int().min(-1_000_000).max(10_000_000),
		minutes: z.number().min(-1e9).max(1e9),
		paid: signedAmountSchema,
		tax: signedAmountSchema,
		parts: signedAmountSchema,
		labour: signedAmountSchema,
		profit: signedAmountSchema,
		/** how it stood at the month's end */
		deposits: amountSchema.optional(),
		owed: amountSchema.optional(),
		promised: amountSchema.optional(),
		stock: amountSchema.optional(),
		reserve: amountSchema.optional()
	}),
	about:
		'a closed month of the books: the figures that it was closed with, and how it stood then: `deposits` on open tickets, `owed` on invoices, `promised` by accepted prices, the value of the `stock`, the warranty `reserve`',
	key: ({ month }) => month,
	form: null,
	relearns: 'never',
	order: 17
});

export const KINDS_OF_BOOKS = { month };
