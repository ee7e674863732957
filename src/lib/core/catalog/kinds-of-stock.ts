import { z } from 'zod';
import { codeSchema } from '../units/code';
import { amountSchema } from '../units/money';
import { choice, field, maybe, NUMBER, TEXT, YIELDS } from './form-fields';
import { kind } from './kind';
import { CODE, LABEL, labelSchema, shareSchema } from './record-fields';

/** What lies on the shelf, and where it comes from. */

const supplier = kind({
	schema: z.strictObject({
		record: z.literal('supplier'),
		code: codeSchema,
		label: labelSchema,
		/** days from order to arrival, as the supplier states them */
		lead_days: z.number().min(0).max(1000).optional(),
		/** shipping and handling of one order */
		order_cost: amountSchema.optional(),
		/** the least amount of one order */
		minimum: amountSchema.optional()
	}),
	about: 'where parts come from: stated days to arrival, cost and least amount of one order',
	key: ({ code }) => code,
	form: {
		title: 'Suppliers',
		fields: [
			CODE,
			LABEL,
			maybe('lead_days', 'Days to arrival, as stated', NUMBER),
			maybe('order_cost', 'Cost of one order', NUMBER, 'shipping and handling'),
			maybe('minimum', 'Least amount of an order', NUMBER)
		]
	},
	relearns: 'never',
	order: 13
});

const SOURCES = ['new', 'pulled', 'donor', 'aftermarket'] as const;
const part = kind({
	schema: z.strictObject({
		record: z.literal('part'),
		sku: codeSchema,
		label: labelSchema,
		unit_cost: amountSchema,
		source: z.enum(SOURCES).optional(),
		supplier: codeSchema.optional(),
		/** ordered in multiples of it */
		pack: z.int().min(1).max(100_000).optional(),
		/** a donor: what one of it gives, and which share of its cost each takes, else even */
		yields: z
			.array(
				z.strictObject({
					sku: codeSchema,
					quantity: z.number().positive().max(10_000),
					share: shareSchema.optional()
				})
			)
			.max(50)
			.refine(
				(yields) => yields.reduce((sum, { share = 0 }) => sum + share, 0) <= 1 + 1e-9,
				'has shares of more than the whole; together they are 1 at most'
			)
			.optional()
	}),
	about:
		'what a repair uses, at `unit_cost`; `source` new, pulled (genuine, from another device), donor (from another product), aftermarket',
	key: ({ sku }) => sku,
	refers({ sku, supplier, yields = [] }, need) {
		need.code('supplier', 'supplier', supplier);
		yields.forEach((given, i) => {
			if (given.sku !== sku) need.code(`yields.${i}.sku`, 'part', given.sku);
		});
	},
	form: {
		title: 'Parts',
		fields: [
			field('sku', 'Stock code', TEXT, CODE.hint),
			LABEL,
			field('unit_cost', 'Unit cost', NUMBER),
			maybe('source', 'Source', choice(SOURCES)),
			maybe('supplier', 'Supplier code', TEXT),
			maybe('pack', 'Ordered in packs of', NUMBER),
			maybe('yields', 'A donor gives', YIELDS, 'stock code, quantity and share of its cost: port-smd 1 0.4')
		]
	},
	relearns: 'changed',
	order: 10
});

export const KINDS_OF_STOCK = { supplier, part };
