import { z } from 'zod';
import { codeSchema } from '../units/code';
import { field, NUMBER } from './form-fields';
import { kind } from './kind';
import { CODE, LABEL, labelSchema } from './record-fields';
import { instantTextSchema, parseInstant } from '../units/instant';

/** How work is done, where, and when somebody is not there. */

export const STEP_KINDS = ['hands', 'heat', 'look', 'measure', 'wait', 'gate', 'part', 'caution'] as const;
export type StepKind = (typeof STEP_KINDS)[number];
/** Waits that a step can begin: those that end by themselves. */
export const STEP_WAITS = ['cooling', 'cure', 'adhesive', 'charge', 'soak'] as const;

const words = z.string().trim().min(1).max(500);
const short = z.string().trim().min(1).max(80);
export const procedureStep = z
	.strictObject({
		kind: z.enum(STEP_KINDS),
		says: words,
		/** of hands; of waiting in a step that waits */
		minutes: z.number().positive().max(10_000).optional(),
		/** °C that the station or the plate is set to */
		celsius: z.number().min(20).max(600).optional(),
		/** of the station, per cent */
		air: z.number().min(0).max(100).optional(),
		alloy: codeSchema.optional(),
		tool: short.optional(),
		skill: z.string().trim().min(1).max(64).optional(),
		station: codeSchema.optional(),
		/** what it protects against */
		protects: z.string().trim().min(1).max(200).optional(),
		/** gates to pass again after it */
		undoes: z.array(codeSchema).max(20).optional(),
		gate: codeSchema.optional(),
		sku: codeSchema.optional(),
		quantity: z.number().positive().max(1000).optional(),
		wait: z.enum(STEP_WAITS).optional(),
		/** cannot be left out */
		must: z.boolean().optional()
	})
	.check(({ value, issues }) => {
		const needs = { wait: 'wait', gate: 'gate', part: 'sku' } as const;
		const needed = needs[value.kind as keyof typeof needs];
		if (needed && value[needed] === undefined)
			issues.push({
				code: 'custom',
				path: [needed],
				message: `is missing; a step of the kind ${value.kind} names it`,
				input: value
			});
		if (value.kind === 'wait' && value.minutes === undefined)
			issues.push({
				code: 'custom',
				path: ['minutes'],
				message: 'is missing; a wait ends at a time',
				input: value
			});
	});
export type ProcedureStep = z.output<typeof procedureStep>;

const MOST_STEPS = 60;
const procedure = kind({
	schema: z.strictObject({
		record: z.literal('procedure'),
		code: codeSchema,
		version: z.int().min(1).max(100_000),
		label: labelSchema,
		/** the operation that it does */
		operation: codeSchema,
		/** the way of working: low melt, hot air alone, wires first */
		school: short.optional(),
		/** when to take this one and no other */
		about: words.optional(),
		models: z.array(codeSchema).max(200).optional(),
		steps: z.array(procedureStep).min(1).max(MOST_STEPS),
		/** the one that is taken for its operation where nobody says another */
		usual: z.boolean().optional(),
		/** not followed any more; what was done by it still names it */
		retired: z.boolean().optional()
	}),
	about:
		'how an operation is done, step by step, in one version: steps of the kinds hands, heat, look, measure, wait, gate, part, caution, with minutes, heat, alloy, tool, skill, station, what a step protects against, the gates that it undoes, and whether it must be answered; `usual`: the one that is taken where nobody says another; the highest version of a code is the one that is followed, the others stay for tickets that followed them',
	key: ({ code, version }) => procedureKey(code, version),
	refers({ operation, models = [], steps }, need) {
		need.code('operation', 'operation', operation);
		models.forEach((model, i) => need.code(`models.${i}`, 'model', model));
		steps.forEach(({ gate, sku, station, undoes = [] }, i) => {
			need.code(`steps.${i}.gate`, 'gate', gate);
			need.code(`steps.${i}.sku`, 'part', sku);
			need.code(`steps.${i}.station`, 'station', station);
			undoes.forEach((code, k) => need.code(`steps.${i}.undoes.${k}`, 'gate', code));
		});
	},
	form: null,
	relearns: 'never',
	most: 600,
	order: 19
});
/** The key of one version of a procedure. */
export const procedureKey = (code: string, version: number): string => `${code} ${version}`;

const station = kind({
	schema: z.strictObject({
		record: z.literal('station'),
		code: codeSchema,
		label: labelSchema,
		/** how many there are */
		count: z.int().min(1).max(50)
	}),
	about:
		'a place of the bench that one person uses at a time: microscope, hot air; `count`: how many there are',
	key: ({ code }) => code,
	form: { title: 'Stations', fields: [CODE, LABEL, field('count', 'How many', NUMBER)] },
	relearns: 'never',
	most: 20,
	order: 18
});

const absence = kind({
	schema: z
		.strictObject({
			record: z.literal('absence'),
			technician: codeSchema,
			from: instantTextSchema,
			to: instantTextSchema,
			why: short.optional(),
			/** did not come to be */
			cancelled: z.boolean().optional()
		})
		.refine(({ from, to }) => parseInstant(to) > parseInstant(from), {
			error: 'is not after from; an absence ends after it has begun',
			path: ['to']
		}),
	about: 'a time in which a technician is not there; `cancelled`: it did not come to be',
	key: ({ technician, from }) => `${technician} ${from}`,
	refers: ({ technician }, need) => need.code('technician', 'technician', technician),
	form: null,
	relearns: 'never',
	most: 2000,
	order: 20
});

export const KINDS_OF_BENCH = { station, procedure, absence };
