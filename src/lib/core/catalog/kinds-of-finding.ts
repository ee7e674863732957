import { z } from 'zod';
import { codeRecord, codeSchema } from '../units/code';
import { amountSchema } from '../units/money';
import { choice, CODES, FACTORS, field, maybe, MONEY, NUMBER, TEXT, WORDS, YES_NO } from './form-fields';
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

/** Words of what a model carries: a record that names some is for models that carry one of them. */
export const carriesSchema = z.array(z.string().trim().min(1).max(40)).max(20).optional();
export const CARRIES_HINT = 'words that its model must carry one of: wireless, picture';
/** Where a model's port sits. */
export const PORT_PLACES_OF_MODELS = ['board', 'flex'] as const;
const portFactor = z.number().positive().max(100).optional();

/** What a shop knows how to see: faults, signs, tests, and what they are believed to tell. */

const fault = kind({
	schema: z.strictObject({
		record: z.literal('fault'),
		code: codeSchema,
		label: labelSchema,
		group: z.string().max(64).optional(),
		prior: shareSchema.optional(),
		/** how many times its share counts where a model's port sits there */
		port_on: z.strictObject({ board: portFactor, flex: portFactor }).optional(),
		/** only on models that carry one of these */
		carries: carriesSchema,
		/** stands for whatever the catalog has no fault for: learnt as a share and nothing else */
		catch_all: z.boolean().optional()
	}),
	about:
		'what can be wrong; `prior` is its expected share of tickets, a starting belief; `port_on`: how many times its share counts where a model’s port sits on the `board`, or on a `flex`; `carries`: only on models that carry one of these; `catch_all`: it stands for whatever has no code of its own, at most one in a catalog; its tickets say in words (`fault_words`) what it was',
	key: ({ code }) => code,
	refers({ code, catch_all: isCatchAll }, need) {
		if (isCatchAll) need.onlyCatchAll(code);
	},
	form: {
		title: 'Faults',
		fields: [
			CODE,
			LABEL,
			maybe('group', 'Group', TEXT),
			maybe('prior', 'Expected share of tickets, 0 to 1', NUMBER),
			maybe('port_on', 'Share by place of the port', FACTORS, 'how many times it counts: board 0.1 flex 2'),
			maybe('carries', 'Only on models that carry', WORDS, CARRIES_HINT),
			maybe('catch_all', 'Stands for any other fault', YES_NO)
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
	form: { title: 'Symptoms and history', fields: [CODE, LABEL, field('kind', 'Kind', choice(SIGN_KINDS))] },
	relearns: 'added or changed',
	most: 200,
	order: 3
});

/** What must be so before a test or a measurement is done. */
export const NEEDS = ['plugged', 'opened', 'port-off', 'battery-out'] as const;
export type TestNeed = (typeof NEEDS)[number];

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
		/** nothing: done from outside, with nothing plugged in */
		needs: z.array(z.enum(NEEDS)).max(4).optional(),
		carries: carriesSchema,
		/** tests or questions of measurements that ask the same: once one is answered the others are no step */
		repeats: z.array(z.string().min(1).max(70)).max(10).optional(),
		caution: cautionSchema.optional()
	}),
	about:
		'a check with 2 to 12 outcomes; `risk` is the chance that it harms the device; `needs`: what must be true before it (nothing: from outside, nothing plugged in; `port-off`: after the old port came off); `carries`: only for models that carry one of these; `repeats`: tests or questions of measurements that ask the same',
	key: ({ code }) => code,
	refers({ code, repeats = [] }, need) {
		repeats.forEach((question, i) => need.question(`repeats.${i}`, question, code));
	},
	form: {
		title: 'Tests',
		fields: [
			CODE,
			LABEL,
			MINUTES,
			maybe('cost', 'Extra cost', MONEY),
			field('outcomes', 'Outcomes', CODES, '2 to 12 codes, separated by spaces'),
			maybe('risk', 'Risk of harm, 0 to 1', NUMBER),
			maybe('needs', 'Needs', CODES, `what must be true before it: ${NEEDS.join(' ')}`),
			maybe('carries', 'Only for models that carry', WORDS, CARRIES_HINT),
			maybe('repeats', 'Same question as', CODES, 'tests or measurements: port-joint-push look:joints'),
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
			/** holds instead of the plain belief where another question was answered so */
			where: z
				.strictObject({
					test: codeSchema.optional(),
					measured: z.string().max(70).optional(),
					outcomes: z.array(codeSchema).min(1).max(12)
				})
				.refine(({ test, measured }) => (test === undefined) !== (measured === undefined), {
					error: 'needs either test or measured'
				})
				.optional(),
			/** not doubted as other beliefs are: what is seen is the fault. The shop's own record still outweighs it */
			sure: z.boolean().optional(),
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
		'a starting belief: how likely a sign, or each outcome of a test or of a measurement (`measured`), is under a fault, or usually where no fault is given; `where`: it holds where another question was answered so; `sure`: it is not doubted as other beliefs are; `weight` in tickets',
	key: ({ given: fault, sign, test, measured, where }) =>
		[
			fault ?? '',
			sign !== undefined ? `sign|${sign}` : test !== undefined ? `test|${test}` : `measured|${measured}`,
			...(where ? [`${where.test ?? where.measured}=${where.outcomes.join(',')}`] : [])
		].join('|'),
	refers({ given: fault, sign, test, measured, outcomes = {}, where }, need) {
		need.code('given', 'fault', fault);
		if (where?.measured !== undefined) need.measured(where.measured, where.outcomes);
		need.code('where.test', 'test', where?.test);
		if (where?.test !== undefined)
			for (const outcome of where.outcomes) need.outcome('where.outcomes', where.test, outcome);
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

const returned = kind({
	schema: z.strictObject({
		record: z.literal('comeback-belief'),
		/** what the shop had done before */
		operation: codeSchema,
		/** by fault, what is found when the same complaint comes back; the rest goes to all others by their shares */
		faults: codeRecord(shareSchema).refine(
			(shares) => Object.values(shares).reduce((sum, share) => sum + share, 0) <= 1 + 1e-9,
			'sums to more than 1; what is left over goes to all other faults'
		),
		weight: z.number().min(0).max(1_000_000).optional()
	}),
	about:
		'a starting belief: what is found when a device comes back with the same complaint within thirty days of the shop’s own `operation`, as shares by fault; what they leave goes to all others by their usual shares; `weight` in tickets',
	key: ({ operation }) => operation,
	refers({ operation, faults }, need) {
		need.code('operation', 'operation', operation);
		for (const fault of Object.keys(faults)) need.code(`faults.${fault}`, 'fault', fault);
	},
	form: null,
	relearns: 'never',
	order: 7.5
});

export const KINDS_OF_FINDING = { fault, sign, test, expectation, 'comeback-belief': returned };
