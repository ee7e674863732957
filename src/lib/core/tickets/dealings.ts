import { z } from 'zod';
import { codeSchema } from '../units/code';
import { moment, money, renamed, signedMoney } from '../units/codec';
import { remark, stamp } from '../evidence/entry-fields';
import { ASKED_BY, DECLINES, FOUND_AFTER, PAID_BY } from './ticket-entries';

/**
 * What was agreed of a job and with whom, one thing an entry: a price or an offer, its answer, money, whose hands the device is in.
 * The exchange format tells the sorts apart by the field that each must have; the program by `kind`.
 */

/** One way to do the job, as the customer is offered it. */
const offerRecord = renamed(
	z.strictObject({
		/** in the customer's words */
		label: z.string().trim().min(1).max(200),
		operations: z.array(codeSchema).max(20).optional(),
		price: money,
		/** what it may come to in the end without asking again, where the price is for finding out */
		cap: money.optional(),
		warranty_days: z.int().min(0).max(3650).optional(),
		ready_at: moment.optional(),
		/** what can go wrong */
		risks: z.string().trim().min(1).max(500).optional()
	}),
	{ price: 'priceMinor', cap: 'capMinor', warranty_days: 'warrantyDays', ready_at: 'readyAt' }
);

/** A line drawn by hand, as the path of a picture 600 wide and 200 high; no more than moves and lines. */
export const signatureSchema = z
	.string()
	.max(20_000)
	.regex(/^M[ML0-9 .,]*$/, 'is no drawn line; a signature is a path of moves and lines');

const wireFields = {
	quoted: money.optional(),
	/** what the price is for, where it was said */
	operations: z.array(codeSchema).max(20).optional(),
	/** options to choose one of */
	offered: z.array(offerRecord).min(1).max(8).optional(),
	/** a price or an offer holds until then */
	valid_until: moment.optional(),
	/** asked for before the work begins */
	deposit: money.optional(),
	accepted: z.boolean().optional(),
	/** the option that was chosen: its place in what was offered last, from 0 */
	option: z.int().min(0).max(7).optional(),
	/** of a price that was declined */
	why: z.enum(DECLINES).optional(),
	/** what was asked before it, and not answered yet, holds no more */
	taken_back: z.literal(true).optional(),
	how: z.enum(ASKED_BY).optional(),
	signature: signatureSchema.optional(),
	/** money that came in, or is owed on an invoice; below nothing where it was given back */
	paid: signedMoney.optional(),
	/** of an invoice that was owed */
	settled: money.optional(),
	paid_by: z.enum(PAID_BY).optional(),
	/** an invoice is due then */
	due_at: moment.optional(),
	/** tax that is in what was paid */
	tax: signedMoney.optional(),
	/** the customer has the device back */
	collected: z.literal(true).optional(),
	/** closed up, what is proved before it behind it */
	sealed: z.literal(true).optional(),
	/** the customer knows that the device is ready */
	told: z.literal(true).optional(),
	/** what the customer said some days after */
	followed_up: z.enum(FOUND_AFTER).optional(),
	handed_to: codeSchema.nullable().optional(),
	/** of a hand-over: why, what was done, where parts and screws are */
	reason: remark.optional(),
	done: remark.optional(),
	left_at: remark.optional(),
	...stamp
};
type WireField = keyof typeof wireFields;

/** The sorts of dealing: the field that each must have as it is written, and those that may stand beside it. */
const KINDS = {
	quote: ['quoted', 'operations', 'valid_until', 'deposit', 'how'],
	offer: ['offered', 'valid_until', 'deposit', 'how'],
	answer: ['accepted', 'option', 'why', 'how', 'signature'],
	'take-back': ['taken_back'],
	payment: ['paid', 'paid_by', 'due_at', 'tax'],
	settlement: ['settled', 'paid_by'],
	seal: ['sealed'],
	told: ['told', 'how'],
	'pick-up': ['collected'],
	'follow-up': ['followed_up', 'reason'],
	'hand-over': ['handed_to', 'reason', 'done', 'left_at']
} as const satisfies Record<string, readonly [WireField, ...WireField[]]>;
export type DealingKind = keyof typeof KINDS;
export const DEALING_KINDS = Object.keys(KINDS) as readonly DealingKind[];

const NAMES = {
	quoted: 'quotedMinor',
	valid_until: 'validUntil',
	deposit: 'depositMinor',
	taken_back: 'takenBack',
	paid: 'paidMinor',
	settled: 'settledMinor',
	paid_by: 'paidBy',
	due_at: 'dueAt',
	tax: 'taxMinor',
	followed_up: 'followedUp',
	handed_to: 'handedTo',
	left_at: 'leftAt'
} as const;
type Names = typeof NAMES;
type NameOf<Field extends WireField> = Field extends keyof Names ? Names[Field] : Field;
const nameOf = (field: WireField): string => (NAMES as Partial<Record<WireField, string>>)[field] ?? field;

/** Every entry as it is written must be one sort or several, and hold nothing that goes with none of these. */
const wireDealing = renamed(
	z.strictObject(wireFields).check(({ value, issues }) => {
		const present = (Object.keys(wireFields) as WireField[]).filter((field) => value[field] !== undefined);
		const kinds = DEALING_KINDS.filter((kind) => present.includes(KINDS[kind][0]));
		if (kinds.length === 0) {
			const fields = DEALING_KINDS.map((kind) => KINDS[kind][0]).join(', ');
			issues.push({
				code: 'custom',
				input: value,
				path: [],
				message: `says nothing that was agreed; an entry of dealings has one of ${fields}`
			});
			return;
		}
		const fitting = new Set<WireField>(['at', 'by', ...kinds.flatMap((kind) => [...KINDS[kind]])]);
		for (const field of present.filter((name) => !fitting.has(name))) {
			const matching = DEALING_KINDS.filter((kind) => (KINDS[kind] as readonly WireField[]).includes(field));
			issues.push({
				code: 'custom',
				input: value[field],
				path: [field],
				message: `stands beside ${kinds.map((kind) => KINDS[kind][0]).join(' and ')}; it goes with ${matching.map((kind) => KINDS[kind][0]).join(' or ')}`
			});
		}
	}),
	NAMES
);
type Flat = z.output<typeof wireDealing>;

/** Sorts whose own field says no more than that it is there. */
type Mark = 'take-back' | 'seal' | 'told' | 'pick-up';
const MARKS: ReadonlySet<DealingKind> = new Set<Mark>(['take-back', 'seal', 'told', 'pick-up']);

type Head<Kind extends DealingKind> = NameOf<(typeof KINDS)[Kind][0]>;
type Beside<Kind extends DealingKind> = Exclude<NameOf<(typeof KINDS)[Kind][number]>, Head<Kind>>;
export type DealingOf<Kind extends DealingKind> = Kind extends DealingKind
	? { kind: Kind } & (Kind extends Mark
			? unknown
			: { [Name in Head<Kind>]: Exclude<Flat[Name], undefined> }) &
			Pick<Flat, Beside<Kind> | 'at' | 'by'>
	: never;
/** One thing that was agreed. */
export type Dealing = DealingOf<DealingKind>;

/** Every sort that an entry as it is written holds, by itself: what the program writes holds one. */
function dealingsIn(flat: Flat): Dealing[] {
	return DEALING_KINDS.filter((kind) => valueOf(flat, KINDS[kind][0]) !== undefined).map((kind) => {
		const fields = [...KINDS[kind].slice(MARKS.has(kind) ? 1 : 0), 'at', 'by'] as readonly WireField[];
		const entries = fields.flatMap((field): [string, unknown][] => {
			const value = valueOf(flat, field);
			return value === undefined ? [] : [[nameOf(field), value]];
		});
		return { kind, ...Object.fromEntries(entries) } as unknown as Dealing;
	});
}
const valueOf = (flat: Flat, field: WireField): unknown => flat[nameOf(field) as keyof Flat];

function flatOf({ kind, ...fields }: Dealing): Flat {
	return (MARKS.has(kind) ? { ...fields, [nameOf(KINDS[kind][0])]: true } : fields) as Flat;
}

/** All that was agreed on a ticket, in the order in which it was; left out of the record where there is nothing. */
export const dealingsRecord = z.codec(z.array(wireDealing).max(500).optional(), z.custom<Dealing[]>(), {
	decode: (entries) => (entries ?? []).flatMap(dealingsIn),
	encode: (dealings) => (dealings.length === 0 ? undefined : dealings.map(flatOf))
});

interface Dealt {
	dealings: readonly Dealing[];
}

/** The last entry of a sort, of those that a test lets through; null where there is none. */
export function lastDealing<Kind extends DealingKind>(
	{ dealings }: Dealt,
	kind: Kind,
	counts: (dealing: DealingOf<Kind>) => boolean = () => true
): DealingOf<Kind> | null {
	return (
		dealings.findLast((dealing): dealing is DealingOf<Kind> => isOf(dealing, kind) && counts(dealing)) ?? null
	);
}

/** Entries of a sort, in their order. */
export const dealingsOf = <Kind extends DealingKind>({ dealings }: Dealt, kind: Kind): DealingOf<Kind>[] =>
	dealings.filter((dealing): dealing is DealingOf<Kind> => isOf(dealing, kind));

const isOf = <Kind extends DealingKind>(dealing: Dealing, kind: Kind): dealing is DealingOf<Kind> =>
	dealing.kind === kind;
