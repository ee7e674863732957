import { z } from 'zod';
import { codeSchema, ticketNumberSchema } from '../units/code';
import { instantTextSchema } from '../units/instant';

export const MODES = ['diode', 'ohms', 'volts'] as const;

/** A known-good reading of one contact of one model. */
export const referenceRecord = z
	.strictObject({
		record: z.literal('reference'),
		model: codeSchema,
		pin: z.string().min(1).max(16),
		mode: z.enum(MODES),
		value: z.number().min(-1000).max(1e9).optional(),
		overload: z.boolean().optional(),
		grade: z.enum(['verified', 'provisional']),
		taken_at: instantTextSchema.optional(),
		meter: z.string().min(1).max(64).optional(),
		/** revision of the board it was read on */
		board: z.string().min(1).max(64).optional(),
		/** ticket of the device it was read on */
		ticket: ticketNumberSchema.optional(),
		/** it proved wrong: kept, and no longer leaned on */
		withdrawn: z.strictObject({ at: instantTextSchema, because: z.string().min(1).max(500) }).optional()
	})
	.refine(({ value, overload }) => (value === undefined) === (overload === true), {
		error: 'needs either a value or "overload": true',
		path: ['value']
	});

export type ReferenceRecord = z.output<typeof referenceRecord>;
export type Grade = ReferenceRecord['grade'];
export type Mode = ReferenceRecord['mode'];
