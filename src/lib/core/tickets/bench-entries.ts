import { z } from 'zod';
import { codeSchema } from '../units/code';
import { moment, renamed } from '../units/codec';
import { remark, stamp } from '../evidence/entry-fields';

/** What is entered while hands work: steps, heat, joints, screws, a look through the bench supply, pictures. */

export const STEP_DONE = ['begun', 'done', 'skipped', 'ended'] as const;
/** One step of a procedure as it was followed. A run begins with `begun` at its first step and is over with `ended`. */
export const stepRecord = z.strictObject({
	procedure: codeSchema,
	/** the version that was followed */
	version: z.int().min(1).max(100_000),
	/** its place in the procedure, from 0 */
	step: z.int().min(0).max(99),
	did: z.enum(STEP_DONE),
	technician: codeSchema.optional(),
	/** of hands, as the clock ran */
	minutes: z.number().min(0).max(100_000).optional(),
	/** of a step that was left out */
	why: remark.optional(),
	...stamp
});

/** Heat on the board, on or off; when it went off, how long it was on as the bench counted it. */
export const heatRecord = z
	.strictObject({
		on: z.boolean(),
		seconds: z.number().min(0).max(36_000).optional(),
		...stamp
	})
	.refine(({ on: isOn, seconds }) => !(isOn && seconds !== undefined), {
		error: 'stands where heat goes on; how long it was on is said when it goes off',
		path: ['seconds']
	});

export const SCREW_MOVES = ['out', 'in', 'missing', 'left-over'] as const;
/** A screw, plug or shield of the model's map: taken out, put back, not there at all, or one too many. */
export const screwRecord = z.strictObject({ place: codeSchema, did: z.enum(SCREW_MOVES), ...stamp });

export const PHOTO_OF = ['intake', 'before', 'after', 'board'] as const;
/** A picture, kept beside the database under the hash of what it holds. */
export const photoRecord = z.strictObject({
	photo: z
		.string()
		.regex(/^[0-9a-f]{64}$/, 'is no hash; pictures are named by the SHA-256 of what they hold'),
	of: z.enum(PHOTO_OF),
	width: z.int().min(1).max(10_000),
	height: z.int().min(1).max(10_000),
	says: remark.optional(),
	/** its customer sees it on the page of their device */
	released: z.literal(true).optional(),
	...stamp
});

/** A task that somebody has put in its place in the day: who does the next work on this ticket, and when it begins. */
export const pinnedRecord = renamed(z.strictObject({ technician: codeSchema, start_at: moment }), {
	start_at: 'startAt'
});
