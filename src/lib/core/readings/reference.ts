import { z } from 'zod';
import { codeSchema, ticketNumberSchema } from '../units/code';
import { trusted } from '../units/codec';
import { instantTextSchema } from '../units/instant';
import { MODES, placed, placeFields } from '../units/probed-place';

const fields = z
	.strictObject({
		record: z.literal('reference'),
		model: codeSchema,
		...placeFields,
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

/** A known-good reading of one contact, or of one point of the board, of one model. */
export const referenceRecord = placed(fields);

/** Reads one that was checked when it was saved. */
export const referenceFromRecord = trusted(referenceRecord).read;

export type ReferenceOnWire = z.input<typeof referenceRecord>;
export type ReferenceRecord = z.output<typeof referenceRecord>;
export type Grade = ReferenceRecord['grade'];
export type Mode = ReferenceRecord['mode'];
