import { z } from 'zod';
import { codeSchema } from '../units/code';
import { instantTextSchema } from '../units/instant';
import { amountSchema } from '../units/money';
import { choice, CODES, field, maybe, MONEY, NUMBER, TEXT, YES_NO, YIELDS } from './form-fields';
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
			maybe('lead_days', 'Delivery, days (stated)', NUMBER),
			maybe('order_cost', 'Cost of one order', MONEY, 'shipping and handling'),
			maybe('minimum', 'Minimum order', MONEY)
		]
	},
	relearns: 'never',
	order: 13
});

export const SOURCES = ['new', 'pulled', 'donor', 'aftermarket'] as const;
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
		/** charged with each use and not counted: flux, alcohol, adhesive, wire, mask */
		consumable: z.boolean().optional(),
		/** parts in whose place it fits */
		stands_for: z.array(codeSchema).max(20).optional(),
		/** the part that it is one of: what operations name stands for whichever of them fits */
		kind: codeSchema.optional(),
		/** models that it is made for, and is taken for alone; without, it is taken where nothing is made for the model */
		fits: z.array(codeSchema).min(1).max(200).optional(),
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
		'what a repair uses, at `unit_cost`; `source` new, pulled (genuine, from another device), donor (from another product), aftermarket; a `consumable` is charged with each use and not counted; `stands_for`: parts in whose place it fits; `kind`: the part that it is one of, by which operations name it; `fits`: the models that it is taken for, before one that names none',
	key: ({ sku }) => sku,
	refers({ sku, supplier, yields = [], stands_for = [], kind: isOf, fits = [] }, need) {
		need.code('supplier', 'supplier', supplier);
		stands_for.forEach((sku, i) => need.code(`stands_for.${i}`, 'part', sku));
		if (isOf !== sku) need.code('kind', 'part', isOf);
		fits.forEach((model, i) => need.code(`fits.${i}`, 'model', model));
		yields.forEach((yielded, i) => {
			if (yielded.sku !== sku) need.code(`yields.${i}.sku`, 'part', yielded.sku);
		});
	},
	form: {
		title: 'Parts',
		fields: [
			field('sku', 'Stock code', TEXT, CODE.hint),
			LABEL,
			field('unit_cost', 'Unit cost', MONEY),
			maybe('source', 'Source', choice(SOURCES)),
			maybe('supplier', 'Supplier code', TEXT),
			maybe('pack', 'Pack size', NUMBER),
			maybe('consumable', 'Charged, not counted', YES_NO, 'flux, alcohol, adhesive, wire, mask'),
			maybe('stands_for', 'Replaces', CODES, 'stock codes, separated by spaces'),
			maybe('kind', 'Kind', TEXT, 'stock code that repairs name: battery-pack'),
			maybe('fits', 'Fits models', CODES, 'model codes, separated by spaces'),
			maybe(
				'yields',
				'Parts of a donor',
				YIELDS,
				'stock code, quantity and share of its cost: port-smd 1 0.4'
			)
		]
	},
	relearns: 'changed',
	order: 10
});

/** Pieces: whole or in parts (wire, adhesive). */
const quantitySchema = z.number().positive().max(1_000_000);

const lot = kind({
	schema: z.strictObject({
		record: z.literal('lot'),
		code: codeSchema,
		sku: codeSchema,
		received_at: instantTextSchema,
		quantity: quantitySchema,
		unit_cost: amountSchema,
		source: z.enum(SOURCES).optional(),
		supplier: codeSchema.optional(),
		ordered_at: instantTextSchema.optional(),
		/** the donor's lot that it was taken from */
		harvested_from: codeSchema.optional()
	}),
	about:
		'pieces of one part that came in together, at one cost; `ordered_at` says how long they took, `harvested_from` the donor’s lot',
	key: ({ code }) => code,
	refers({ sku, supplier, harvested_from }, need) {
		need.code('sku', 'part', sku);
		need.code('supplier', 'supplier', supplier);
		need.code('harvested_from', 'lot', harvested_from);
	},
	form: null,
	relearns: 'never',
	shelf: true,
	order: 14
});

export const MOVES = ['count', 'scrap', 'return', 'harvest'] as const;
export type Move = (typeof MOVES)[number];
const movement = kind({
	schema: z.strictObject({
		record: z.literal('movement'),
		lot: codeSchema,
		at: instantTextSchema,
		quantity: z
			.number()
			.min(-1_000_000)
			.max(1_000_000)
			.refine((quantity) => quantity !== 0, 'is 0; a movement moves something'),
		why: z.enum(MOVES),
		note: z.string().max(500).optional(),
		by: z.string().max(64).optional()
	}),
	about:
		'what changed a lot beside its use: `count` (what counting found more or less), `scrap`, `return` to the supplier, `harvest` (a donor taken apart)',
	key: ({ lot, at, why: reason }) => `${lot} ${new Date(at).toISOString()} ${reason}`,
	refers({ lot }, need) {
		need.code('lot', 'lot', lot);
	},
	form: null,
	relearns: 'never',
	shelf: true,
	order: 15
});

const order = kind({
	schema: z.strictObject({
		record: z.literal('order'),
		code: codeSchema,
		supplier: codeSchema,
		placed_at: instantTextSchema,
		expected_at: instantTextSchema.optional(),
		lines: z
			.array(
				z.strictObject({
					sku: codeSchema,
					quantity: quantitySchema,
					unit_cost: amountSchema.optional(),
					/** pieces that came in so far */
					received: z.number().min(0).max(1_000_000).optional()
				})
			)
			.min(1)
			.max(200),
		/** nothing more is expected */
		closed: z.boolean().optional()
	}),
	about: 'parts that were ordered, with what came in of each line so far',
	key: ({ code }) => code,
	refers({ supplier, lines }, need) {
		need.code('supplier', 'supplier', supplier);
		lines.forEach(({ sku }, i) => need.code(`lines.${i}.sku`, 'part', sku));
	},
	form: null,
	relearns: 'never',
	shelf: true,
	order: 16
});

export const KINDS_OF_STOCK = { supplier, part, lot, movement, order };
