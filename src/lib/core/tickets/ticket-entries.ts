import { z } from 'zod';
import { codeSchema } from '../units/code';
import { moment, money, renamed } from '../units/codec';
import { stage } from '../evidence/instrument-fields';
import { MEASURED_ENTRIES } from '../evidence/measurements';
import { heatRecord, photoRecord, screwRecord, stepRecord } from './bench-entries';
import { place, remark, stamp, text, actorName } from '../evidence/entry-fields';

export { text };

export const OUTCOMES = ['fixed', 'not-fixed', 'not-worth-it', 'declined', 'no-fault-found'] as const;
/** Why a price was declined. */
export const DECLINES = ['too-dear', 'too-slow', 'buys-new', 'other'] as const;
/** How money comes in; on an invoice it is owed first. */
export const PAID_BY = ['cash', 'card', 'transfer', 'invoice'] as const;
/** How an invoice is settled. */
export const SETTLED_BY = ['cash', 'card', 'transfer'] as const;
/** How a customer is asked, and answers. */
export const ASKED_BY = ['counter', 'telephone', 'message', 'page'] as const;
export const WAITS = [
	'customer',
	'part',
	'cooling',
	'cure',
	'adhesive',
	'charge',
	'soak',
	'pick-up'
] as const;
/** What a call after the pick-up found. */
export const FOUND_AFTER = ['holds', 'trouble', 'not-reached'] as const;
export const MATTERS = ['device', 'data', 'both'] as const;

export type Outcome = (typeof OUTCOMES)[number];
export type Wait = (typeof WAITS)[number];

export const OPINIONS_FROM = ['customer', 'technician'] as const;
/** What somebody takes the fault for before it is found: a customer's claim, a technician's first guess. */
const opinionRecord = z.strictObject({ from: z.enum(OPINIONS_FROM), fault: codeSchema, ...stamp });
const observationRecord = z.strictObject({
	test: codeSchema,
	outcome: codeSchema,
	stage: stage.optional(),
	...stamp
});
/** After a repair: the pairs that were found otherwise than the nets say; none where all was as it must be. */
const continuityRecord = z.strictObject({
	misses: z.array(z.tuple([place, place])).max(2000),
	probes: z.int().min(0).max(100_000),
	...stamp
});
const attemptRecord = renamed(
	z
		.strictObject({
			operation: codeSchema,
			resolved: z.boolean(),
			/** a step of a longer repair: the complaint was not looked at after it */
			part: z.boolean().optional(),
			technician: codeSchema.optional(),
			minutes: z.number().min(0).max(100_000).optional(),
			hourly_cost: money.optional(),
			...stamp
		})
		.refine(({ part, resolved }) => !(part && resolved), {
			error: 'is true on an attempt that resolved; what makes the complaint go ends the work, leave part out',
			path: ['part']
		}),
	{ hourly_cost: 'hourlyCostMinor' }
);

const partRecord = renamed(
	z.strictObject({
		sku: codeSchema,
		quantity: z.number().positive().max(10_000),
		unit_cost: money.optional(),
		/** the lot that they were taken from */
		lot: codeSchema.optional(),
		...stamp
	}),
	{ unit_cost: 'unitCostMinor' }
);
export const gateRecord = z
	.strictObject({
		gate: codeSchema,
		passed: z.boolean(),
		/** what of all that the model carries; all of it without */
		of: z.string().trim().min(1).max(40).optional(),
		/** it has nothing to say of this device, and why */
		not_applicable: remark.optional(),
		...stamp
	})
	.refine(({ passed, not_applicable }) => passed || not_applicable === undefined, {
		error: 'stands at a check that failed; what does not apply stands in nobody’s way, passed is true',
		path: ['not_applicable']
	});
export const timerRecord = renamed(
	z.strictObject({ operation: codeSchema, technician: codeSchema, started_at: moment }),
	{ started_at: 'startedAt' }
);
const noteRecord = z.strictObject({ text: text.min(1), ...stamp });

/** The lists of a ticket whose entries can be struck out, and put back. */
export const STRIKABLE = {
	opinions: opinionRecord,
	observations: observationRecord,
	...MEASURED_ENTRIES,
	attempts: attemptRecord,
	continuity: continuityRecord,
	parts: partRecord,
	steps: stepRecord,
	heat: heatRecord,
	screws: screwRecord,
	photos: photoRecord,
	notes: noteRecord
} as const;
export type StrikableList = keyof typeof STRIKABLE;
export const STRIKABLE_LISTS = Object.keys(STRIKABLE) as [StrikableList, ...StrikableList[]];

/** An entry that was struck out: as the exchange format writes it, where, and by whom it was taken out. Nothing counts it any more. */
export const struckRecord = z
	.strictObject({
		list: z.enum(STRIKABLE_LISTS),
		index: z.int().min(0).max(10_000),
		entry: z.record(z.string(), z.unknown()),
		...stamp
	})
	.check(({ value, issues }) => {
		const parsed = STRIKABLE[value.list].safeParse(value.entry);
		for (const { path, message } of parsed.error?.issues ?? [])
			issues.push({ code: 'custom', path: ['entry', ...path], message, input: value.entry });
	});
/** Who bears what a comeback costs. */
export const PAYS = ['shop', 'supplier', 'customer'] as const;
/** What of the earlier job a comeback came from, and who pays for it. */
export const cameFromRecord = z.strictObject({
	operation: codeSchema.optional(),
	sku: codeSchema.optional(),
	lot: codeSchema.optional(),
	/** a step of the procedure that was followed */
	step: z
		.strictObject({
			procedure: codeSchema,
			version: z.int().min(1).max(100_000),
			step: z.int().min(0).max(99)
		})
		.optional(),
	pays: z.enum(PAYS).optional()
});
/** What was corrected on the ticket's head after it was taken in. */
export const correctionRecord = z.strictObject({
	field: z.string().min(1).max(100),
	from: text.nullable(),
	to: text.nullable(),
	...stamp
});
export const reopeningRecord = renamed(
	z.strictObject({
		closed_at: moment,
		outcome: z.enum(OUTCOMES),
		/** attempts that stood when it was reopened: with more of them the old closing does not hold any more */
		attempts: z.int().min(0).max(500).default(0),
		/** the reopening itself was taken back */
		undone_at: moment.optional(),
		undone_by: actorName.optional(),
		...stamp
	}),
	{ closed_at: 'closedAt', undone_at: 'undoneAt', undone_by: 'undoneBy' }
);
export const waitRecord = renamed(
	z.strictObject({
		for: z.enum(WAITS),
		/** when it ends by itself */
		until: moment.optional(),
		/** what it is in words, where more is to be said */
		note: remark.optional(),
		ended_at: moment.optional(),
		ended_by: actorName.optional(),
		...stamp
	}),
	{ ended_at: 'endedAt', ended_by: 'endedBy' }
);
