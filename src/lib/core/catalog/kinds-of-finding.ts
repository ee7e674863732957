import { z } from 'zod';
import { codeRecord, codeSchema } from '../units/code';
import { amountSchema } from '../units/money';
import { choice, CODES, field, maybe, MONEY, NUMBER, TEXT } from './form-fields';
import { kind } from './kind';
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

/** What a shop knows how to see: faults, signs, tests, and what they are believed to tell. */

const fault = kind({
	schema: z.strictObject({
		record: z.literal('fault'),
		code: codeSchema,
		label: labelSchema,
		group: z.string().max(64).optional(),
		prior: shareSchema.optional()
	}),
	about: 'what can be wrong; `prior` is its expected share of tickets, a starting belief',
	key: ({ code }) => code,
	form: {
		title: 'Faults',
		fields: [
			CODE,
			LABEL,
			maybe('group', 'Group', TEXT),
			maybe('prior', 'Expected share of tickets, 0 to 1', NUMBER)
		]
	},
	relearns: 'added or changed',
	most: 80,
	order: 2
});

const SIGN_KINDS = ['symptom', 'history', 'visual'] as const;
const sign = kind({
	schema: z.strictObject({
		record: z.literal('sign'),
		code: codeSchema,
		label: labelSchema,
		kind: z.enum(SIGN_KINDS)
	}),
	about: 'what the customer reports (`symptom`), what happened before (`history`), what is seen (`visual`)',
	key: ({ code }) => code,
	form: { title: 'Signs', fields: [CODE, LABEL, field('kind', 'Kind', choice(SIGN_KINDS))] },
	relearns: 'added or changed',
	most: 200,
	order: 3
});

const test = kind({
	schema: z.strictObject({
		record: z.literal('test'),
		code: codeSchema,
		label: labelSchema,
		minutes: minutesSchema,
		cost: amountSchema.optional(),
		outcomes: z
			.array(codeSchema)
			.min(2)
			.max(12)
			.refine((outcomes) => new Set(outcomes).size === outcomes.length, 'names an outcome twice'),
		risk: shareSchema.optional(),
		caution: cautionSchema.optional()
	}),
	about: 'a check with 2 to 12 outcomes; `risk` is the chance that it harms the device',
	key: ({ code }) => code,
	form: {
		title: 'Checks',
		fields: [
			CODE,
			LABEL,
			MINUTES,
			maybe('cost', 'Cost beside the minutes', MONEY),
			field('outcomes', 'Outcomes', CODES, '2 to 12 codes, separated by spaces'),
			maybe('risk', 'Risk of harm, 0 to 1', NUMBER),
			CAUTION
		]
	},
	relearns: 'added or changed',
	most: 120,
	order: 4
});

const expectation = kind({
	schema: z
		.strictObject({
			record: z.literal('expectation'),
			/** left out: what is usual, whatever is wrong */
			given: codeSchema.optional(),
			sign: codeSchema.optional(),
			chance: shareSchema.optional(),
			test: codeSchema.optional(),
			/** a question that a measurement answers, as docs/exchange.md lists them */
			measured: z.string().max(70).optional(),
			outcomes: codeRecord(shareSchema).optional(),
			weight: z.number().min(0).max(1_000_000).optional()
		})
		.check((context) => {
			const { sign, chance, test, measured, outcomes } = context.value;
			const question = test ?? measured;
			const ofSign = sign !== undefined && chance !== undefined;
			const ofAnswers = question !== undefined && outcomes !== undefined;
			const mixed =
				((sign !== undefined || chance !== undefined) &&
					(question !== undefined || outcomes !== undefined)) ||
				(test !== undefined && measured !== undefined);
			if (mixed || ofSign === ofAnswers) {
				context.issues.push({
					code: 'custom',
					message: 'needs either sign with chance, or test or measured with outcomes',
					path: [],
					input: context.value
				});
				return;
			}
			const total = Object.values(outcomes ?? { all: 1 }).reduce((sum, share) => sum + share, 0);
			if (Math.abs(total - 1) > 1e-6) {
				context.issues.push({
					code: 'custom',
					message: `sums to ${Number(total.toFixed(6))}; the chances of all outcomes sum to 1`,
					path: ['outcomes'],
					input: outcomes
				});
			}
		}),
	about:
		'a starting belief: how likely a sign, or each outcome of a test or of a measurement (`measured`), is under a fault, or usually where no fault is given; `weight` in tickets',
	key: ({ given: fault, sign, test, measured }) =>
		`${fault ?? ''}|${sign !== undefined ? `sign|${sign}` : test !== undefined ? `test|${test}` : `measured|${measured}`}`,
	refers({ given: fault, sign, test, measured, outcomes = {} }, need) {
		need.code('given', 'fault', fault);
		need.code('sign', 'sign', sign);
		need.code('test', 'test', test);
		if (measured !== undefined) need.measured(measured, Object.keys(outcomes));
		if (test === undefined) return;
		for (const outcome of Object.keys(outcomes)) need.outcome(`outcomes.${outcome}`, test, outcome);
	},
	form: null,
	relearns: 'never',
	order: 7
});

export const KINDS_OF_FINDING = { fault, sign, test, expectation };
