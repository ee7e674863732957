import { z } from 'zod';
import { codeSchema } from '../units/code';
import { amountSchema } from '../units/money';
import { weekHours } from './bench-hours';
import {
	choice,
	CODES,
	COUNT_RANGE,
	field,
	FOUND,
	HOURS,
	HOURS_HINT,
	maybe,
	MONEY,
	NUMBER,
	PARTS,
	PER,
	TEXT,
	WORDS,
	YES_NO
} from './form-fields';
import { kind } from './kind';
import { CARRIES_HINT, carriesSchema, NEEDS } from './kinds-of-finding';
import {
	CAUTION,
	cautionSchema,
	CODE,
	LABEL,
	labelSchema,
	MINUTES,
	minutesSchema,
	shareSchema
} from './record-fields';

/** What a shop knows how to do, who does it, and why work comes back. */

const INSTEAD = ['device', 'data'] as const;
const operation = kind({
	schema: z.strictObject({
		record: z.literal('operation'),
		code: codeSchema,
		label: labelSchema,
		minutes: minutesSchema,
		skill: z.string().max(64).optional(),
		fixes: z.array(codeSchema).max(200),
		success: shareSchema.optional(),
		parts: z
			.array(z.strictObject({ sku: codeSchema, quantity: z.number().positive().max(10_000) }))
			.max(50)
			.optional(),
		/** checks that are to be passed again after it; all of them without */
		undoes: z.array(codeSchema).max(60).optional(),
		/** what its minutes depend on: `minutes` are those of the `usual` number, each one more or fewer takes `each` */
		per: z
			.strictObject({
				count: codeSchema,
				usual: z.number().min(0).max(1000),
				each: z.number().positive().max(1000)
			})
			.optional(),
		/** place of the bench that it needs */
		station: codeSchema.optional(),
		/** what it is in a customer's words */
		says: labelSchema.optional(),
		/** what can go wrong, in the same */
		risks: z.string().trim().min(1).max(500).optional(),
		/** days of warranty; the shop's without */
		warranty_days: z.int().min(0).max(3650).optional(),
		/** price for trade customers, from the shop's list */
		trade_price: amountSchema.optional(),
		/** mends nothing: the device is used otherwise, or its data is saved; offered beside the repairs */
		instead: z.enum(INSTEAD).optional(),
		/** its price, where it has one of its own */
		price: amountSchema.optional(),
		/** models that it is for; all without */
		models: z.array(codeSchema).max(200).optional(),
		carries: carriesSchema,
		/** it is offered only while the ticket's count lies there; nobody counted: offered */
		when: z
			.strictObject({
				count: codeSchema,
				least: z.number().min(0).max(1000).optional(),
				most: z.number().min(0).max(1000).optional()
			})
			.optional(),
		/** it is not offered once one of these was found */
		unless: z
			.array(
				z
					.strictObject({
						test: codeSchema.optional(),
						measured: z.string().max(70).optional(),
						outcome: codeSchema
					})
					.refine(({ test, measured }) => (test === undefined) !== (measured === undefined), {
						error: 'needs either test or measured'
					})
			)
			.max(20)
			.optional(),
		/** faults that it fixes beside where the model's port sits on a flex */
		fixes_on_flex: z.array(codeSchema).max(20).optional(),
		/** tests become possible by it: it is a look as well as a step of the work */
		opens: z.array(z.enum(NEEDS)).max(4).optional(),
		/** the operation that it is the first part of: its minutes are saved there */
		part_of: codeSchema.optional(),
		caution: cautionSchema.optional()
	}),
	about:
		'a repair: the faults that it fixes, its chance of success (a starting belief), the parts it takes and the gates that it undoes; `per`: what its minutes depend on (a count: pads, wires, contacts), so that `minutes` + `each` for every one more than `usual`; `station`: the place of the bench that it needs; `says`, `risks`, `warranty_days`, `trade_price`: as it is offered; `instead`: it mends nothing, but stands beside the repairs (the `device` is used otherwise, its `data` is saved) at its `price`, for its `models`; `carries`: only for models that carry one of these; `when`: offered while a count lies there, or nobody counted; `unless`: not offered once one of these was found; `fixes_on_flex`: faults that it fixes beside where the port sits on a flex; `opens`: tests that become possible by it; `part_of`: its minutes are saved in that operation',
	key: ({ code }) => code,
	refers(
		{
			fixes,
			parts = [],
			undoes = [],
			models = [],
			station,
			unless = [],
			part_of: whole,
			fixes_on_flex: onFlex = []
		},
		need
	) {
		onFlex.forEach((fault, i) => need.code(`fixes_on_flex.${i}`, 'fault', fault));
		need.code('station', 'station', station);
		need.code('part_of', 'operation', whole);
		unless.forEach(({ test, measured, outcome }, i) => {
			need.code(`unless.${i}.test`, 'test', test);
			if (test !== undefined) need.outcome(`unless.${i}.outcome`, test, outcome);
			if (measured !== undefined) need.measured(measured, [outcome]);
		});
		models.forEach((model, i) => need.code(`models.${i}`, 'model', model));
		fixes.forEach((fault, i) => need.code(`fixes.${i}`, 'fault', fault));
		undoes.forEach((gate, i) => need.code(`undoes.${i}`, 'gate', gate));
		parts.forEach(({ sku }, i) => need.code(`parts.${i}.sku`, 'part', sku));
	},
	form: {
		title: 'Operations',
		fields: [
			CODE,
			LABEL,
			MINUTES,
			maybe('skill', 'Skill', TEXT),
			field('fixes', 'Fixes', CODES, 'fault codes, separated by spaces'),
			maybe('success', 'Chance of success, 0 to 1', NUMBER),
			maybe('parts', 'Parts needed', PARTS, 'stock code and quantity: port-smd 1'),
			maybe(
				'undoes',
				'Final checks to repeat after it',
				CODES,
				'codes, separated by spaces. Default: all of them.'
			),
			maybe('per', 'Minutes depend on', PER, 'what, how many are usual, minutes for each one more: pads 1 8'),
			maybe('station', 'Station', TEXT, 'place of the bench that it needs: its code'),
			maybe('says', 'In the customer’s own words', TEXT),
			maybe('risks', 'What can go wrong', TEXT),
			maybe('warranty_days', 'Warranty, days', NUMBER, 'Default: the shop’s.'),
			maybe('trade_price', 'Price for trade', MONEY),
			maybe(
				'instead',
				'Alternative to a repair',
				choice(INSTEAD),
				'device: another use of it; data: only the data is saved'
			),
			maybe('price', 'Fixed price', MONEY),
			maybe('models', 'Only for models', CODES, 'model codes, separated by spaces'),
			maybe('carries', 'Only for models that carry', WORDS, CARRIES_HINT),
			maybe(
				'when',
				'Only for a count of',
				COUNT_RANGE,
				'what, least, most: pads 1 2; a dash leaves one open'
			),
			maybe('unless', 'Not after this was found', FOUND, 'one per line: test or measurement, outcome'),
			maybe(
				'fixes_on_flex',
				'Also fixes if the port is on a flex',
				CODES,
				'fault codes, separated by spaces'
			),
			maybe('opens', 'Makes tests possible', CODES, `what is true after it: ${NEEDS.join(' ')}`),
			maybe('part_of', 'First part of', TEXT, 'code of the operation that its minutes are saved in'),
			CAUTION
		]
	},
	relearns: 'added or changed',
	most: 120,
	order: 5
});

const WHEN = ['before-sealing', 'after-sealing'] as const;
const SHOWN_BY = ['current', 'continuity', 'soak'] as const;
/** A check that a device passes before it is sealed or handed back. */
const gate = kind({
	schema: z.strictObject({
		record: z.literal('gate'),
		code: codeSchema,
		label: labelSchema,
		when: z.enum(WHEN),
		minutes: z.number().positive().max(600).optional(),
		/** measurements of the repaired device that answer it, where they were taken */
		shown_by: z.enum(SHOWN_BY).optional(),
		/** only after these operations; after any without */
		operations: z.array(codeSchema).max(120).optional(),
		/** only for these models; for all without */
		models: z.array(codeSchema).max(200).optional(),
		carries: carriesSchema,
		/** answered for each word that the model carries apart */
		each: z.boolean().optional()
	}),
	about:
		'a check that a device passes before it is sealed, or before it is handed back; `shown_by`: measurements that answer it; `operations`, `models`: only after these, only for these; `carries`: only for models that carry one of these; `each`: answered for each word that the model carries apart (`of` on the ticket), passed when all are',
	key: ({ code }) => code,
	refers({ operations = [], models = [] }, need) {
		operations.forEach((code, i) => need.code(`operations.${i}`, 'operation', code));
		models.forEach((code, i) => need.code(`models.${i}`, 'model', code));
	},
	form: {
		title: 'Final checks',
		fields: [
			CODE,
			LABEL,
			field('when', 'When', choice(WHEN)),
			maybe('minutes', 'Minutes', NUMBER),
			maybe(
				'shown_by',
				'Answered by',
				choice(SHOWN_BY),
				'measurements of the repaired device that answer it'
			),
			maybe('operations', 'Only after operations', CODES, 'operation codes. Default: after any.'),
			maybe('models', 'Only for models', CODES, 'model codes. Default: all models.'),
			maybe('carries', 'Only for models that carry', WORDS, CARRIES_HINT),
			maybe('each', 'Ask for each function of the model', YES_NO, 'Default: no')
		]
	},
	relearns: 'never',
	most: 60,
	order: 6
});

const technician = kind({
	schema: z.strictObject({
		record: z.literal('technician'),
		code: codeSchema,
		name: labelSchema,
		skills: z.array(z.string().min(1).max(64)).max(50).optional(),
		hourly_cost: amountSchema.optional(),
		/** working hours of their own; the shop's without */
		hours: weekHours.optional()
	}),
	about:
		'who works at the bench, with skills, the cost of an hour and working hours, where they are not the shop’s',
	key: ({ code }) => code,
	form: {
		title: 'Technicians',
		fields: [
			CODE,
			field('name', 'Name', TEXT),
			maybe('skills', 'Skills', CODES, 'words, separated by spaces'),
			maybe('hourly_cost', 'Cost an hour', MONEY),
			maybe('hours', 'Working hours', HOURS, HOURS_HINT)
		]
	},
	relearns: 'changed',
	order: 11
});

/** Why a device came back. */
const cause = kind({
	schema: z.strictObject({
		record: z.literal('cause'),
		code: codeSchema,
		label: labelSchema,
		/** such a comeback speaks against the earlier work; it does where nothing is said */
		counts: z.boolean().optional(),
		/** the customer pays for it; not where nothing is said */
		charged: z.boolean().optional(),
		/** what was confirmed at first was wrong: true; it was right, and this is another: false. Default: both are possible */
		wrong_fault: z.boolean().optional(),
		/** what is found broken was broken by the repair before */
		made: z.boolean().optional(),
		/** the supplier of the part may have to pay */
		claimed: z.boolean().optional()
	}),
	about:
		'why a device came back: whether it `counts` against the earlier work (default true), whether it is `charged` (default false), `wrong_fault`: whether what was confirmed at first was wrong, `made`: the repair before broke it, `claimed`: the supplier of the part may have to pay',
	key: ({ code }) => code,
	form: {
		title: 'Causes',
		fields: [
			CODE,
			LABEL,
			maybe('counts', 'Counts as a comeback of the earlier repair', YES_NO, 'Default: yes'),
			maybe('charged', 'The customer pays for it', YES_NO, 'Default: no'),
			maybe('wrong_fault', 'The first diagnosis was wrong', YES_NO, 'Default: may be'),
			maybe('made', 'The earlier repair broke it', YES_NO, 'Default: no'),
			maybe('claimed', 'The part’s supplier may have to pay', YES_NO, 'Default: no')
		]
	},
	relearns: 'changed',
	most: 60,
	order: 12
});

export const KINDS_OF_WORK = { operation, gate, technician, cause };
