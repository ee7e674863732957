import { z } from 'zod';
import { codeRecord, codeSchema, ticketNumberSchema } from '../units/code';
import {
	listOf,
	type ListField,
	moment,
	money,
	orNull,
	trusted,
	withNames,
	type Renamed
} from '../units/codec';
import { EARLIEST_INSTANT, formatInstant, LATEST_INSTANT, type Instant } from '../units/instant';
import { ALL_MEASUREMENTS, type MeasuredList, type MEASUREMENTS } from '../evidence/measurements';
import { pinnedRecord } from './bench-entries';
import { dealingsRecord } from './dealings';
import {
	cameFromRecord,
	correctionRecord,
	gateRecord,
	MATTERS,
	OUTCOMES,
	reopeningRecord,
	STRIKABLE,
	struckRecord,
	text,
	timerRecord,
	WAITS,
	waitRecord
} from './ticket-entries';

/** How a customer agreed to be told; `none`: not at all. */
export const HEARS_BY = ['mail', 'text', 'call', 'none'] as const;

export const customerRecord = z.strictObject({
	name: z.string().trim().min(1).max(200),
	kind: z.enum(['private', 'trade']).default('private'),
	phone: z.string().max(64).optional(),
	email: z.string().max(200).optional(),
	/** as two or three letters */
	language: z
		.string()
		.regex(/^[a-z]{2,3}$/, 'is no language; write it as two or three letters, such as en')
		.optional(),
	/** how they agreed to hear of their device; without, they are called */
	hears_by: z.enum(HEARS_BY).optional()
});

/** Signs in the order of their codes, so that equal tickets are written alike. */
const signs = z.codec(codeRecord(z.boolean()).optional(), z.custom<Record<string, boolean>>(), {
	decode: (stored) => stored ?? {},
	encode: (record) => Object.fromEntries(Object.entries(record).sort(([a], [b]) => (a < b ? -1 : 1)))
});

/** What an entry list of a ticket may hold at most. */
const MOST = {
	opinions: 20,
	observations: 1000,
	attempts: 500,
	continuity: 100,
	parts: 500,
	steps: 2000,
	heat: 1000,
	screws: 2000,
	photos: 60,
	notes: 1000
} as const;

/** Lists of what was seen and measured. */
export const measuredLists = Object.fromEntries(
	ALL_MEASUREMENTS.map(({ list, entry, most: limit }) => [list, listOf(entry, limit)])
) as unknown as {
	[List in MeasuredList]: (typeof MEASUREMENTS)[List]['entry'] extends infer Entry extends z.ZodType
		? ListField<Entry>
		: never;
};

/** The fields of a ticket in the order in which they are written. */
export const ticketFields = {
	record: z.literal('ticket'),
	number: ticketNumberSchema,
	opened_at: moment,
	closed_at: orNull(moment),
	promised_at: orNull(moment),
	/** of keeping it, as it was foretold when it was given */
	promised_chance: z.number().min(0).max(1).optional(),
	model: codeSchema,
	serial: z.codec(z.string().max(64).nullish(), z.custom<string | null>(), {
		decode: (serial) => serial || null,
		encode: (serial) => serial ?? undefined
	}),
	customer: orNull(customerRecord),
	reported: text.optional(),
	condition: text.optional(),
	accessories: text.optional(),
	matters: z.enum(MATTERS).optional(),
	/** what this very device is worth when it works, where that is not what its model is */
	worth: money.optional(),
	/** the year that it is from */
	year: z.int().min(1950).max(2200).optional(),
	signs,
	opinions: listOf(STRIKABLE.opinions, MOST.opinions),
	observations: listOf(STRIKABLE.observations, MOST.observations),
	...measuredLists,
	attempts: listOf(STRIKABLE.attempts, MOST.attempts),
	continuity: listOf(STRIKABLE.continuity, MOST.continuity),
	/** what was confirmed; null where nothing was said */
	faults: orNull(z.array(codeSchema).max(20)),
	/** those of them that the repair itself made */
	own_faults: z.array(codeSchema).max(20).optional(),
	/** what it was, in words, where the catalog has no code for it */
	fault_words: z.string().trim().min(1).max(500).optional(),
	outcome: orNull(z.enum(OUTCOMES)),
	parts: listOf(STRIKABLE.parts, MOST.parts),
	/** steps of procedures as they were followed */
	steps: listOf(STRIKABLE.steps, MOST.steps),
	heat: listOf(STRIKABLE.heat, MOST.heat),
	screws: listOf(STRIKABLE.screws, MOST.screws),
	photos: listOf(STRIKABLE.photos, MOST.photos),
	gates: listOf(gateRecord, 500),
	notes: listOf(STRIKABLE.notes, MOST.notes),
	running: listOf(timerRecord, 20),
	/** entries that were struck out, in the order of it, as the exchange format writes them */
	struck: listOf(struckRecord, 2000),
	corrections: listOf(correctionRecord, 2000),
	reopenings: listOf(reopeningRecord, 100),
	assigned_to: orNull(codeSchema),
	/** where somebody has put its next work in the day */
	pinned: pinnedRecord.optional(),
	/** what is waited for; the first of `waits` that has not ended */
	waiting_for: orNull(z.enum(WAITS)),
	/** in the order of their beginning, the ended ones too */
	waits: listOf(waitRecord, 200),
	/** prices, offers, answers, payments and hand-overs, in the order in which they were made */
	dealings: dealingsRecord,
	quoted: orNull(money),
	accepted: orNull(z.boolean()),
	paid: orNull(money),
	/** why it came back, once that was found */
	cause: codeSchema.optional(),
	/** what of the earlier job it came from, and who pays for it */
	came_from: cameFromRecord.optional(),
	/** written where there is none as well */
	comeback_of: z.codec(ticketNumberSchema.nullish(), z.custom<string | null>(), {
		decode: (first) => first ?? null,
		encode: (first) => first
	})
};

const NAMES = {
	opened_at: 'openedAt',
	closed_at: 'closedAt',
	promised_at: 'promisedAt',
	promised_chance: 'promisedChance',
	own_faults: 'ownFaults',
	fault_words: 'faultWords',
	came_from: 'cameFrom',
	assigned_to: 'assignedTo',
	quoted: 'quotedMinor',
	paid: 'paidMinor',
	worth: 'worthMinor',
	comeback_of: 'comebackOf'
} as const;
const WIRE_NAMES = Object.fromEntries(Object.entries(NAMES).map(([wire, name]) => [name, wire]));

const fieldsRecord = z.strictObject(ticketFields);
type Fields = z.output<typeof fieldsRecord>;
/** A ticket as the program thinks of it: moments as numbers, money in hundredths. */
export type Ticket = Renamed<Omit<Fields, 'record' | 'waiting_for'>, typeof NAMES>;
/** A ticket as the exchange format and the store write it. */
export type TicketRecord = z.input<typeof ticketRecord>;

type OneOf<List extends keyof Ticket> = Ticket[List] extends (infer Item)[] ? Item : never;
export type Customer = NonNullable<Ticket['customer']>;
export type PlugIn = OneOf<'meter'>;
export type PinReading = OneOf<'readings'>;
export type TraceSummary = OneOf<'traces'>;
export type PartUse = OneOf<'parts'>;
export type Struck = OneOf<'struck'>;
export type Correction = OneOf<'corrections'>;
export type StepEntry = OneOf<'steps'>;
export type Waiting = OneOf<'waits'>;

/** Every ticket of the shop, as it is written and as it is thought of. */
export const ticketRecord = z.codec(fieldsRecord.check(agrees), z.custom<Ticket>(), {
	decode: fromFields,
	encode: toFields
});

/** Reader and writer of stored tickets, which were checked when they were saved. */
const stored = trusted(ticketRecord);
export const ticketFromRecord = (record: unknown): Ticket => stored.read(record);
/** The ticket as a line of the exchange format: always the same keys in the same order, empty lists left out. */
export const ticketToRecord = (ticket: Ticket): TicketRecord => stored.write(ticket);

function fromFields(fields: Fields): Ticket {
	const { record: _, waiting_for, waits, own_faults, ...fieldsLeft } = fields;
	const ticket = withNames(fieldsLeft, NAMES);
	ticket.waits = waits.length === 0 && waiting_for ? [{ for: waiting_for }] : waits;
	if (own_faults?.length) ticket.ownFaults = own_faults;
	return ticket as Ticket;
}

function toFields(ticket: Ticket): Fields {
	const fields = withNames(ticket, WIRE_NAMES) as unknown as Fields;
	const [firstWait, second] = ticket.waits;
	fields.record = 'ticket';
	fields.waiting_for = ticket.waits.find(({ endedAt }) => endedAt === undefined)?.for ?? null;
	// left out where `waiting_for` says all there is
	if (firstWait && !second && Object.keys(firstWait).length === 1) fields.waits = [];
	return fields;
}

/** What the fields of a ticket say of each other. */
function agrees(context: z.core.ParsePayload<Fields>): void {
	const ticket = context.value;
	const fail = (path: string, message: string) =>
		context.issues.push({ code: 'custom', message, path: [path], input: ticket });
	const { closed_at: closedAt, outcome } = ticket;
	if (closedAt !== null && outcome === null) fail('outcome', 'is missing; a closed ticket has an outcome');
	if (closedAt === null && outcome !== null) {
		fail('closed_at', 'is missing; a ticket with an outcome is closed');
	}
	const needsFaults = ['fixed', 'not-fixed', 'no-fault-found'].includes(outcome ?? '');
	if (needsFaults && ticket.faults === null) {
		fail('faults', `is missing; outcome ${outcome} says what was confirmed, [] where nothing was`);
	}
	const faults = ticket.faults ?? [];
	if (new Set(faults).size !== faults.length) fail('faults', 'names a fault twice');
	const odd = ticket.own_faults?.find((fault) => !faults.includes(fault));
	if (odd !== undefined) fail('own_faults', `names ${odd}, which faults does not name`);
	// a moment that is none was told already, and stands here as it was written
	const isMoment = (at: unknown) => typeof at === 'number' && at >= EARLIEST_INSTANT && at <= LATEST_INSTANT;
	if (closedAt !== null && isMoment(closedAt) && isMoment(ticket.opened_at) && closedAt < ticket.opened_at) {
		const [closed, opened] = [closedAt, ticket.opened_at].map(formatInstant);
		fail('closed_at', `is ${closed}, before opened_at ${opened}`);
	}
	const waiting = ticket.waits.find(({ endedAt }) => endedAt === undefined)?.for;
	if (ticket.waits.length > 0 && (ticket.waiting_for ?? waiting) !== waiting) {
		fail(
			'waiting_for',
			`is ${ticket.waiting_for}; the first of waits that has not ended is ${waiting ?? 'none'}`
		);
	}
	if (ticket.cause !== undefined && ticket.comeback_of === null) {
		fail('cause', `is ${ticket.cause}, but comeback_of names no ticket; only what came back has a cause`);
	}
	if (ticket.came_from !== undefined && ticket.comeback_of === null) {
		fail('came_from', 'says what a comeback came from, but comeback_of names no ticket');
	}
	if (ticket.comeback_of === ticket.number) fail('comeback_of', 'names the ticket itself');
}

/** A ticket as it begins: nothing seen, measured, tried or agreed yet. */
export const openedTicket = (number: string, openedAt: Instant, model: string): Ticket => ({
	...ticketFromRecord({ number, opened_at: '1970-01-01T00:00:00Z', model }),
	openedAt
});
