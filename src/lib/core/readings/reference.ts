import { z } from 'zod';
import { codeSchema } from '../units/code';
import { instantTextSchema } from '../units/instant';

/** A known-good reading of one contact of one model. */
export const referenceRecord = z
	.strictObject({
		record: z.literal('reference'),
		model: codeSchema,
		pin: z.string().min(1).max(16),
		mode: z.enum(['diode', 'ohms', 'volts']),
		value: z.number().min(-1000).max(1e9).optional(),
		overload: z.boolean().optional(),
		grade: z.enum(['verified', 'provisional']),
		taken_at: instantTextSchema.optional(),
		meter: z.string().min(1).max(64).optional()
	})
	.refine(({ value, overload }) => (value === undefined) === (overload === true), {
		error: 'needs either a value or "overload": true',
		path: ['value']
	});

export type ReferenceRecord = z.output<typeof referenceRecord>;
export type Grade = ReferenceRecord['grade'];
export type Mode = ReferenceRecord['mode'];
