import { z } from 'zod';
import { codeSchema } from '../units/code';
import { amountSchema } from '../units/money';

/**
 * The catalog records of the exchange format, version 1: what a shop knows how to see and do.
 * The same schemas check an imported line, an API body and an edited form.
 */
const labelSchema = z.string().trim().min(1).max(200);
const shareSchema = z.number().min(0).max(1);
const minutesSchema = z.number().min(0).max(10_000);
const weightSchema = z.number().min(0).max(1_000_000);
const pinNameSchema = z.string().regex(/^[A-Za-z0-9+_.-]{1,16}$/, {
	error: (issue) => `is ${JSON.stringify(issue.input)}; a contact is 1 to 16 letters, digits or + _ . -`
});

export const faultRecord = z.strictObject({
	record: z.literal('fault'),
	code: codeSchema,
	label: labelSchema,
	group: z.string().max(64).optional(),
	prior: shareSchema.optional()
});

export const signRecord = z.strictObject({
	record: z.literal('sign'),
	code: codeSchema,
	label: labelSchema,
	kind: z.enum(['symptom', 'history', 'visual'])
});

export const testRecord = z.strictObject({
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
	caution: z.string().max(500).optional()
});

export const operationRecord = z.strictObject({
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
	caution: z.string().max(500).optional()
});

/** A check that a device passes before it is sealed or handed back. */
export const gateRecord = z.strictObject({
	record: z.literal('gate'),
	code: codeSchema,
	label: labelSchema,
	when: z.enum(['before-sealing', 'after-sealing'])
});

export const expectationRecord = z
	.strictObject({
		record: z.literal('expectation'),
		given: codeSchema,
		sign: codeSchema.optional(),
		chance: shareSchema.optional(),
		test: codeSchema.optional(),
		outcomes: z.record(codeSchema, shareSchema).optional(),
		weight: weightSchema.optional()
	})
	.check((context) => {
		const { sign, chance, test, outcomes } = context.value;
		const ofSign = sign !== undefined && chance !== undefined;
		const ofTest = test !== undefined && outcomes !== undefined;
		const mixed =
			(sign !== undefined || chance !== undefined) && (test !== undefined || outcomes !== undefined);
		if (mixed || ofSign === ofTest) {
			context.issues.push({
				code: 'custom',
				message: 'needs either sign with chance, or test with outcomes',
				path: [],
				input: context.value
			});
			return;
		}
		const total = Object.values(outcomes ?? { all: 1 }).reduce((sum, share) => sum + share, 0);
		if (Math.abs(total - 1) > 1e-6) {
			context.issues.push({
				code: 'custom',
				message: `sums to ${Number(total.toFixed(6))}; the chances of a test's outcomes sum to 1`,
				path: ['outcomes'],
				input: outcomes
			});
		}
	});

export const connectorRecord = z.strictObject({
	record: z.literal('connector'),
	code: codeSchema,
	label: labelSchema,
	pins: z
		.array(
			z.strictObject({
				pin: pinNameSchema,
				net: z.string().min(1).max(32),
				side: z.string().max(16).optional()
			})
		)
		.min(1)
		.max(200)
		.refine((pins) => new Set(pins.map(({ pin }) => pin)).size === pins.length, 'names a contact twice'),
	/** pairs of nets that read alike; without it the names tell (d+ and d-, cc1 and cc2) */
	alike: z
		.array(z.tuple([z.string().min(1).max(32), z.string().min(1).max(32)]))
		.max(100)
		.optional()
});

/** A point of the charging path that a probe can reach, in order from the supply. */
const pathNode = z.strictObject({
	node: codeSchema,
	label: labelSchema,
	/** what it reads when all is well */
	volts: z.strictObject({ low: z.number().min(0).max(100), high: z.number().min(0).max(100) }),
	/** what lies between the node before and this one */
	through: z.string().min(1).max(64).optional(),
	/** faults that lose the supply between the node before and this one */
	faults: z.array(codeSchema).max(20).optional(),
	minutes: z.number().min(0).max(1000).optional()
});

export const modelRecord = z.strictObject({
	record: z.literal('model'),
	code: codeSchema,
	label: labelSchema,
	family: z.string().max(64).optional(),
	connector: codeSchema.optional(),
	value: amountSchema.optional(),
	battery: z
		.strictObject({
			chemistry: z.string().min(1).max(32),
			cells: z.int().min(1).max(100),
			capacity_mah: z.number().positive().max(1_000_000)
		})
		.optional(),
	charge: z
		.strictObject({ volts: z.number().positive().max(1000), amps: z.number().positive().max(1000) })
		.optional(),
	path: z
		.array(pathNode)
		.max(40)
		.refine((nodes) => new Set(nodes.map(({ node }) => node)).size === nodes.length, 'names a node twice')
		.optional(),
	/** what a healthy one loses while it is used, in per cent of its battery an hour */
	drain: z.strictObject({ percent_per_hour: z.number().positive().max(100) }).optional()
});

export const partRecord = z.strictObject({
	record: z.literal('part'),
	sku: codeSchema,
	label: labelSchema,
	unit_cost: amountSchema,
	source: z.enum(['new', 'pulled', 'donor', 'aftermarket']).optional()
});

export const technicianRecord = z.strictObject({
	record: z.literal('technician'),
	code: codeSchema,
	name: labelSchema,
	skills: z.array(z.string().min(1).max(64)).max(50).optional(),
	hourly_cost: amountSchema.optional()
});

export const shopRecord = z.strictObject({
	record: z.literal('shop'),
	name: labelSchema,
	currency: z.string().regex(/^[A-Z]{3}$/, 'is a three-letter currency code such as EUR'),
	time_zone: z.string().max(64).refine(isTimeZone, 'is not a time zone; write one such as Europe/Berlin'),
	locale: z.string().max(35).refine(isLocale, 'is not a language tag; write one such as en-GB')
});

function isTimeZone(zone: string): boolean {
	try {
		new Intl.DateTimeFormat('en', { timeZone: zone });
		return true;
	} catch {
		return false;
	}
}

function isLocale(tag: string): boolean {
	try {
		return Intl.getCanonicalLocales(tag).length === 1;
	} catch {
		return false;
	}
}

export const catalogRecords = {
	shop: shopRecord,
	fault: faultRecord,
	sign: signRecord,
	test: testRecord,
	operation: operationRecord,
	gate: gateRecord,
	expectation: expectationRecord,
	connector: connectorRecord,
	model: modelRecord,
	part: partRecord,
	technician: technicianRecord
} as const;

export type CatalogKind = keyof typeof catalogRecords;
export type CatalogRecordOf<Kind extends CatalogKind> = z.output<(typeof catalogRecords)[Kind]>;
export type CatalogRecord = { [Kind in CatalogKind]: CatalogRecordOf<Kind> }[CatalogKind];

/** The stable key of a record within its kind: its code, where it has one. */
export function catalogKey(record: CatalogRecord): string {
	switch (record.record) {
		case 'shop':
			return 'shop';
		case 'part':
			return record.sku;
		case 'expectation':
			return `${record.given}|${record.sign !== undefined ? `sign|${record.sign}` : `test|${record.test}`}`;
		default:
			return record.code;
	}
}
