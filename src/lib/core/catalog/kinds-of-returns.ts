import { z } from 'zod';
import { codeSchema, ticketNumberSchema } from '../units/code';
import { instantTextSchema } from '../units/instant';
import { amountSchema } from '../units/money';
import { choice, field, maybe, PROSE, TEXT } from './form-fields';
import { kind } from './kind';
import { CODE } from './record-fields';

/** What follows a job that was handed over: claims on suppliers, alarms that somebody cleared, words to customers. */

const remark = z.string().trim().min(1).max(500);

export const CLAIM_STATES = ['open', 'granted', 'refused'] as const;
/** What the shop asks of a supplier for a part that failed. */
const claim = kind({
	schema: z.strictObject({
		record: z.literal('claim'),
		/** on which the device came back */
		ticket: ticketNumberSchema,
		sku: codeSchema,
		supplier: codeSchema.optional(),
		lot: codeSchema.optional(),
		/** asked for: the part, and the work where the supplier bears it */
		amount: amountSchema,
		at: instantTextSchema,
		state: z.enum(CLAIM_STATES),
		/** what the supplier gave */
		granted: amountSchema.optional(),
		settled_at: instantTextSchema.optional(),
		note: remark.optional(),
		by: z.string().max(64).optional()
	}),
	about:
		'what is asked of a supplier for a part that failed: the ticket on which the device came back, the part and its lot, the `amount`, its `state` (open, granted, refused) and what was `granted`',
	key: ({ ticket, sku }) => `${ticket} ${sku}`,
	refers({ sku, supplier, lot }, need) {
		need.code('sku', 'part', sku);
		need.code('supplier', 'supplier', supplier);
		need.code('lot', 'lot', lot);
	},
	form: null,
	relearns: 'never',
	order: 21
});

export const WATCHED_KINDS = ['operation', 'lot', 'technician', 'method'] as const;
/** An early warning that somebody looked into and put away. */
const clearedAlarm = kind({
	schema: z.strictObject({
		record: z.literal('cleared-alarm'),
		of: z.enum(WATCHED_KINDS),
		/** the operation, lot, technician or procedure */
		row: codeSchema,
		/** the comeback that made it ring */
		ticket: ticketNumberSchema,
		at: instantTextSchema,
		reason: remark,
		by: z.string().max(64).optional()
	}),
	about:
		'an early warning of comebacks that somebody looked into and put away, with the `reason`: what the chart had summed until `at` counts no more',
	key: ({ of: kind, row, ticket }) => `${kind} ${row} ${ticket}`,
	form: null,
	relearns: 'never',
	order: 22
});

/** What a customer is told about, in the order of a job. */
export const MESSAGE_KINDS = [
	'taken-in',
	'quote',
	'waits-for-part',
	'ready',
	'how-is-it',
	'warranty-ends'
] as const;
export type MessageKind = (typeof MESSAGE_KINDS)[number];
const CHANNELS = ['mail', 'text'] as const;
export type Channel = (typeof CHANNELS)[number];

/** What may stand in braces in a template: what is true of the ticket. */
export const PLACEHOLDERS = [
	'name',
	'device',
	'number',
	'shop',
	'promised',
	'price',
	'link',
	'warranty'
] as const;

const languageSchema = z
	.string()
	.regex(/^[a-z]{2,3}$/, 'is no language; write it as two or three letters, such as en or de');

const template = kind({
	schema: z.strictObject({
		record: z.literal('template'),
		code: codeSchema,
		about: z.enum(MESSAGE_KINDS),
		channel: z.enum(CHANNELS),
		language: languageSchema.optional(),
		/** of a mail */
		subject: z.string().trim().min(1).max(200).optional(),
		text: z
			.string()
			.trim()
			.min(1)
			.max(2000)
			.superRefine((text, { addIssue }) => {
				for (const [, word = ''] of text.matchAll(/\{([^{}]*)\}/g)) {
					if ((PLACEHOLDERS as readonly string[]).includes(word)) continue;
					addIssue({
						code: 'custom',
						message: `holds {${word}}, which nothing fills in; use ${PLACEHOLDERS.map((name) => `{${name}}`).join(' ')}`
					});
				}
			})
	}),
	about:
		'words to a customer by mail or text message: what they are `about`, their `language` (without: any), `{name}`, `{device}`, `{number}`, `{shop}`, `{promised}`, `{price}`, `{link}` and `{warranty}` are filled in with what is true of the ticket; the program has English ones where the shop has none',
	key: ({ code }) => code,
	form: {
		title: 'Message templates',
		fields: [
			CODE,
			field('about', 'When', choice(MESSAGE_KINDS)),
			field('channel', 'By', choice(CHANNELS)),
			maybe('language', 'Language', TEXT, 'two letters, such as de. Default: all customers.'),
			maybe('subject', 'Subject of a mail', TEXT),
			field(
				'text',
				'Text',
				PROSE,
				'filled in: {name} {device} {number} {shop} {promised} {price} {link} {warranty}'
			)
		]
	},
	relearns: 'never',
	most: 200,
	order: 23
});

export const KINDS_OF_RETURNS = { claim, 'cleared-alarm': clearedAlarm, template };
