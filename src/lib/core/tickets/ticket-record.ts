import { z } from 'zod';
import { PHASE_KINDS } from '../charging/trace-phases';
import { MODES } from '../readings/reference';
import { codeSchema, ticketNumberSchema } from '../units/code';
import { formatInstant, instantTextSchema, parseInstant, type Instant } from '../units/instant';
import { amountSchema, fromMinor, toMinor, type Minor } from '../units/money';

export const STAGES = ['intake', 'diagnosis', 'after-repair', 'closing'] as const;
export const OUTCOMES = ['fixed', 'not-fixed', 'not-worth-it', 'declined', 'no-fault-found'] as const;
export const CONTACT_STATES = [
	'straight',
	'bent',
	'folded',
	'touching',
	'missing',
	'burnt',
	'corroded'
] as const;
/** Places of a port that are looked at beside its contacts. */
export const PORT_PLACES = ['tongue', 'shell', 'joints'] as const;
export const WAITS = ['customer', 'part', 'cooling', 'cure', 'charge', 'soak', 'pick-up'] as const;
export const MATTERS = ['device', 'data', 'both'] as const;

export type Stage = (typeof STAGES)[number];
/** Stages that speak of what was wrong; the others come after a repair. */
export const beforeRepair = (stage: Stage) => stage === 'intake' || stage === 'diagnosis';
export type Outcome = (typeof OUTCOMES)[number];
export type ContactState = (typeof CONTACT_STATES)[number];
export type Wait = (typeof WAITS)[number];

const stage = z.enum(STAGES);
const volts = z.number().min(-1000).max(1000);
const place = z.string().min(1).max(16);
const text = z.string().max(4000);
const who = z.string().min(1).max(64);
const stamp = { at: instantTextSchema.optional(), by: who.optional() };
/** name of the instrument that it was read with */
export const instrumentName = z.string().trim().min(1).max(64);
const instrument = { meter: instrumentName.optional() };

export const OPINIONS_FROM = ['customer', 'technician'] as const;
/** What somebody takes the fault for before it is found: a customer's claim, a technician's first guess. */
const opinionRecord = z.strictObject({ from: z.enum(OPINIONS_FROM), fault: codeSchema, ...stamp });
const observationRecord = z.strictObject({
	test: codeSchema,
	outcome: codeSchema,
	stage: stage.optional(),
	...stamp
});
const meterRecord = z.strictObject({
	stage,
	orientation: z.enum(['a', 'b']).optional(),
	volts,
	amps: z.number().min(-100).max(100),
	seconds: z.number().min(0).max(1_000_000).optional(),
	/** the device was switched on */
	on: z.boolean().optional(),
	/** volts that supply and device agreed on, as the meter shows it */
	contract: z.number().min(0).max(60).optional(),
	...instrument,
	...stamp
});
const batteryRecord = z.strictObject({ stage, volts, ...instrument, ...stamp });
const readingRecord = z
	.strictObject({
		stage,
		pin: z.string().min(1).max(16),
		mode: z.enum(MODES),
		value: z.number().min(-1000).max(1e9).optional(),
		overload: z.boolean().optional(),
		...instrument,
		/** revision of the board */
		board: z.string().trim().min(1).max(64).optional(),
		...stamp
	})
	.refine(({ value, overload }) => (value === undefined) === (overload === true), {
		error: 'needs either a value or "overload": true',
		path: ['value']
	});
/** Volts at a node of the charging path. */
const nodeRecord = z.strictObject({ stage, node: codeSchema, volts, ...instrument, ...stamp });
const soakRecord = z.strictObject({
	minutes: z.number().min(0).max(100_000),
	percent: z.number().min(0).max(100),
	...stamp
});
/** After a repair: the pairs that were found otherwise than the nets say; none where all was as it must be. */
const continuityRecord = z.strictObject({
	misses: z.array(z.tuple([place, place])).max(2000),
	probes: z.int().min(0).max(100_000),
	...stamp
});
/** What a meter's log showed. The log itself stays with who took it. */
const traceRecord = z.strictObject({
	stage,
	name: z.string().trim().min(1).max(200),
	rows: z.int().min(0).max(10_000_000),
	rejected: z.int().min(0).max(10_000_000).default(0),
	charge_mah: z.number().min(-1e7).max(1e7),
	energy_mwh: z.number().min(-1e8).max(1e8),
	phases: z
		.array(
			z.strictObject({
				kind: z.enum(PHASE_KINDS),
				from_seconds: z.number(),
				to_seconds: z.number(),
				volts: z.number(),
				amps: z.number()
			})
		)
		.max(500),
	...stamp
});
const attemptRecord = z.strictObject({
	operation: codeSchema,
	resolved: z.boolean(),
	technician: codeSchema.optional(),
	minutes: z.number().min(0).max(100_000).optional(),
	hourly_cost: amountSchema.optional(),
	...stamp
});

const inspectionRecord = z.strictObject({ place, state: z.enum(CONTACT_STATES), ...stamp });
const partRecord = z.strictObject({
	sku: codeSchema,
	quantity: z.number().positive().max(10_000),
	unit_cost: amountSchema.optional(),
	...stamp
});
const noteRecord = z.strictObject({ text: text.min(1), ...stamp });

/** The lists of a ticket whose entries can be struck out, and put back. */
export const STRIKABLE = {
	opinions: opinionRecord,
	inspection: inspectionRecord,
	observations: observationRecord,
	meter: meterRecord,
	battery: batteryRecord,
	readings: readingRecord,
	path: nodeRecord,
	traces: traceRecord,
	attempts: attemptRecord,
	continuity: continuityRecord,
	soak: soakRecord,
	parts: partRecord,
	notes: noteRecord
} as const;
export type StrikableList = keyof typeof STRIKABLE;
export const STRIKABLE_LISTS = Object.keys(STRIKABLE) as [StrikableList, ...StrikableList[]];

/** An entry that was struck out: as it stood, where, and by whom it was taken out. Nothing counts it any more. */
const struckRecord = z
	.strictObject({
		list: z.enum(STRIKABLE_LISTS),
		index: z.int().min(0).max(10_000),
		entry: z.record(z.string(), z.unknown()),
		...stamp
	})
	.check(({ value, issues }) => {
		const parsed = STRIKABLE[value.list].safeParse(value.entry);
		for (const { path, message } of parsed.error?.issues ?? [])
			issues.push({ code: 'custom', path: ['entry', ...path], message, input: value.entry });
	});
/** What was corrected on the ticket's head after it was taken in. */
const correctionRecord = z.strictObject({
	field: z.string().min(1).max(100),
	from: text.nullable(),
	to: text.nullable(),
	...stamp
});
const reopeningRecord = z.strictObject({
	closed_at: instantTextSchema,
	outcome: z.enum(OUTCOMES),
	/** attempts that stood when it was reopened: with more of them the old closing does not hold any more */
	attempts: z.int().min(0).max(500).default(0),
	/** the reopening itself was taken back */
	undone_at: instantTextSchema.optional(),
	undone_by: who.optional(),
	...stamp
});
const waitRecord = z.strictObject({
	for: z.enum(WAITS),
	ended_at: instantTextSchema.optional(),
	ended_by: who.optional(),
	...stamp
});

export const ticketRecord = z
	.strictObject({
		record: z.literal('ticket'),
		number: ticketNumberSchema,
		opened_at: instantTextSchema,
		closed_at: instantTextSchema.nullish(),
		promised_at: instantTextSchema.nullish(),
		model: codeSchema,
		serial: z.string().max(64).nullish(),
		customer: z
			.strictObject({
				name: z.string().trim().min(1).max(200),
				kind: z.enum(['private', 'trade']).default('private'),
				phone: z.string().max(64).optional(),
				email: z.string().max(200).optional()
			})
			.nullish(),
		reported: text.optional(),
		condition: text.optional(),
		accessories: text.optional(),
		matters: z.enum(MATTERS).optional(),
		signs: z.record(codeSchema, z.boolean()).default({}),
		opinions: z.array(opinionRecord).max(20).default([]),
		inspection: z.array(inspectionRecord).max(1000).default([]),
		observations: z.array(observationRecord).max(1000).default([]),
		meter: z.array(meterRecord).max(1000).default([]),
		battery: z.array(batteryRecord).max(1000).default([]),
		readings: z.array(readingRecord).max(5000).default([]),
		path: z.array(nodeRecord).max(1000).default([]),
		traces: z.array(traceRecord).max(50).default([]),
		attempts: z.array(attemptRecord).max(500).default([]),
		continuity: z.array(continuityRecord).max(100).default([]),
		soak: z.array(soakRecord).max(1000).default([]),
		faults: z.array(codeSchema).max(20).optional(),
		/** those of them that the repair itself made */
		own_faults: z.array(codeSchema).max(20).optional(),
		outcome: z.enum(OUTCOMES).nullish(),
		parts: z.array(partRecord).max(500).default([]),
		gates: z
			.array(z.strictObject({ gate: codeSchema, passed: z.boolean(), ...stamp }))
			.max(500)
			.default([]),
		notes: z.array(noteRecord).max(1000).default([]),
		struck: z.array(struckRecord).max(2000).default([]),
		corrections: z.array(correctionRecord).max(2000).default([]),
		reopenings: z.array(reopeningRecord).max(100).default([]),
		running: z
			.array(
				z.strictObject({
					operation: codeSchema,
					technician: codeSchema,
					started_at: instantTextSchema
				})
			)
			.max(20)
			.default([]),
		assigned_to: codeSchema.nullish(),
		/** what is waited for; the first of `waits` that has not ended */
		waiting_for: z.enum(WAITS).nullish(),
		waits: z.array(waitRecord).max(200).default([]),
		quoted: amountSchema.nullish(),
		accepted: z.boolean().nullish(),
		paid: amountSchema.nullish(),
		comeback_of: ticketNumberSchema.nullish()
	})
	.check((context) => {
		const ticket = context.value;
		const closed = typeof ticket.closed_at === 'string';
		const fail = (path: string, message: string) =>
			context.issues.push({ code: 'custom', message, path: [path], input: ticket });
		if (closed !== (typeof ticket.outcome === 'string')) {
			if (closed) fail('outcome', 'is missing; a closed ticket has an outcome');
			else fail('closed_at', 'is missing; a ticket with an outcome is closed');
		}
		const needsFaults = ['fixed', 'not-fixed', 'no-fault-found'].includes(ticket.outcome ?? '');
		if (needsFaults && !ticket.faults) {
			fail('faults', `is missing; outcome ${ticket.outcome} says what was confirmed, [] where nothing was`);
		}
		if (new Set(ticket.faults).size !== (ticket.faults?.length ?? 0)) {
			fail('faults', 'names a fault twice');
		}
		const odd = ticket.own_faults?.find((fault) => !ticket.faults?.includes(fault));
		if (odd !== undefined) fail('own_faults', `names ${odd}, which faults does not name`);
		if (closed && Date.parse(ticket.closed_at as string) < Date.parse(ticket.opened_at)) {
			fail('closed_at', `is ${ticket.closed_at}, before opened_at ${ticket.opened_at}`);
		}
		const waiting = ticket.waits.filter(({ ended_at }) => ended_at === undefined);
		const named = ticket.waiting_for ?? waiting[0]?.for;
		if (ticket.waits.length > 0 && named !== waiting[0]?.for) {
			fail(
				'waiting_for',
				`is ${ticket.waiting_for}; the first of waits that has not ended is ${waiting[0]?.for ?? 'none'}`
			);
		}
		if (ticket.comeback_of === ticket.number) fail('comeback_of', 'names the ticket itself');
	});

export type TicketRecord = z.output<typeof ticketRecord>;

export interface Stamp {
	at?: Instant;
	by?: string;
}
export type Opinion = { from: (typeof OPINIONS_FROM)[number]; fault: string } & Stamp;
export type Observation = { test: string; outcome: string; stage?: Stage } & Stamp;
export type PlugIn = {
	stage: Stage;
	orientation?: 'a' | 'b';
	volts: number;
	amps: number;
	seconds?: number;
	on?: boolean;
	contract?: number;
	meter?: string;
} & Stamp;
export type BatteryReading = { stage: Stage; volts: number; meter?: string } & Stamp;
export type NodeReading = { stage: Stage; node: string; volts: number; meter?: string } & Stamp;
export type SoakReading = { minutes: number; percent: number } & Stamp;
export type ContinuityCheck = { misses: [string, string][]; probes: number } & Stamp;
export type TraceSummary = Omit<z.output<typeof traceRecord>, 'at' | 'by'> & Stamp;
export type PinReading = {
	stage: Stage;
	pin: string;
	mode: 'diode' | 'ohms' | 'volts';
	value?: number;
	overload?: boolean;
	meter?: string;
	board?: string;
} & Stamp;
export type Attempt = {
	operation: string;
	resolved: boolean;
	technician?: string;
	minutes?: number;
	hourlyCostMinor?: Minor;
} & Stamp;
export type PartUse = { sku: string; quantity: number; unitCostMinor?: Minor } & Stamp;
export type Inspected = { place: string; state: ContactState } & Stamp;
export type Struck = { list: StrikableList; index: number; entry: Record<string, unknown> } & Stamp;
export type Correction = { field: string; from: string | null; to: string | null } & Stamp;
export type Reopening = {
	closedAt: Instant;
	outcome: Outcome;
	attempts: number;
	undoneAt?: Instant;
	undoneBy?: string;
} & Stamp;
export type Waiting = { for: Wait; endedAt?: Instant; endedBy?: string } & Stamp;
export interface Customer {
	name: string;
	kind: 'private' | 'trade';
	phone?: string;
	email?: string;
}

/** A ticket as the program thinks of it: moments as numbers, money in hundredths. */
export interface Ticket {
	number: string;
	openedAt: Instant;
	closedAt: Instant | null;
	promisedAt: Instant | null;
	model: string;
	serial: string | null;
	customer: Customer | null;
	reported?: string;
	condition?: string;
	accessories?: string;
	matters?: (typeof MATTERS)[number];
	signs: Record<string, boolean>;
	opinions: Opinion[];
	inspection: Inspected[];
	observations: Observation[];
	meter: PlugIn[];
	battery: BatteryReading[];
	readings: PinReading[];
	path: NodeReading[];
	traces: TraceSummary[];
	attempts: Attempt[];
	continuity: ContinuityCheck[];
	soak: SoakReading[];
	faults: string[] | null;
	/** those of them that the repair itself made */
	ownFaults?: string[];
	outcome: Outcome | null;
	parts: PartUse[];
	gates: ({ gate: string; passed: boolean } & Stamp)[];
	notes: ({ text: string } & Stamp)[];
	/** entries that were struck out, in the order of it, as the exchange format writes them */
	struck: Struck[];
	corrections: Correction[];
	reopenings: Reopening[];
	running: { operation: string; technician: string; startedAt: Instant }[];
	assignedTo: string | null;
	/** in the order of their beginning, the ended ones too */
	waits: Waiting[];
	quotedMinor: Minor | null;
	accepted: boolean | null;
	paidMinor: Minor | null;
	comebackOf: string | null;
}

/** A ticket as it begins: nothing seen, measured, tried or agreed yet. */
export function openedTicket(number: string, openedAt: Instant, model: string): Ticket {
	return {
		number,
		openedAt,
		closedAt: null,
		promisedAt: null,
		model,
		serial: null,
		customer: null,
		signs: {},
		opinions: [],
		inspection: [],
		observations: [],
		meter: [],
		battery: [],
		readings: [],
		path: [],
		traces: [],
		attempts: [],
		continuity: [],
		soak: [],
		faults: null,
		outcome: null,
		parts: [],
		gates: [],
		notes: [],
		struck: [],
		corrections: [],
		reopenings: [],
		running: [],
		assignedTo: null,
		waits: [],
		quotedMinor: null,
		accepted: null,
		paidMinor: null,
		comebackOf: null
	};
}

/** A record as it is stored or as evidence comes, with the empty lists that it leaves out. */
export function withAllLists(record: Partial<TicketRecord>): TicketRecord {
	const seen = {
		opinions: [],
		inspection: [],
		observations: [],
		meter: [],
		battery: [],
		readings: [],
		path: [],
		traces: []
	};
	const done = { attempts: [], continuity: [], soak: [], parts: [], gates: [], notes: [], running: [] };
	const beside = { struck: [], corrections: [], reopenings: [], waits: [] };
	return { ...seen, ...done, ...beside, ...record } as unknown as TicketRecord;
}

type WireStamp = { at?: string | undefined; by?: string | undefined };

/** Drops keys without a value, so that absent stays absent in JSON. */
function present<Item extends object>(item: Item): Item {
	return Object.fromEntries(Object.entries(item).filter(([, value]) => value !== undefined)) as Item;
}

/** Hot where a shop's whole past is read: copies once, adds only what is there. */
function stampIn<Item extends WireStamp>({ at, by, ...item }: Item): Omit<Item, 'at' | 'by'> & Stamp {
	const stamped: Omit<Item, 'at' | 'by'> & Stamp = item;
	if (at !== undefined) stamped.at = parseInstant(at);
	if (by !== undefined) stamped.by = by;
	return stamped;
}

function stampOut<Item extends Stamp>({ at, by, ...item }: Item): Omit<Item, 'at' | 'by'> & WireStamp {
	const stamped: Omit<Item, 'at' | 'by'> & WireStamp = item;
	if (at !== undefined) stamped.at = formatInstant(at);
	if (by !== undefined) stamped.by = by;
	return stamped;
}

const momentIn = (text: string | null | undefined) => (text ? parseInstant(text) : null);
const momentOut = (at: Instant | null) => (at === null ? undefined : formatInstant(at));
const moneyIn = (amount: number | null | undefined) => (amount == null ? null : toMinor(amount));
const moneyOut = (minor: Minor | null | undefined) => (minor == null ? undefined : fromMinor(minor));

/** What is still waited for, longest first. */
export const waitsNow = ({ waits }: Pick<Ticket, 'waits'>): Waiting[] =>
	waits.filter(({ endedAt }) => endedAt === undefined);

/** All that a ticket waits for: what was named, and the customer's answer to a price. Nothing once it is closed. */
export function waitsOf(ticket: Pick<Ticket, 'waits' | 'closedAt' | 'quotedMinor' | 'accepted'>): Wait[] {
	if (ticket.closedAt !== null) return [];
	const unanswered = ticket.quotedMinor !== null && ticket.accepted === null;
	return [
		...new Set([...waitsNow(ticket).map((wait) => wait.for), ...(unanswered ? ['customer' as const] : [])])
	];
}

function waitsIn({ waits, waiting_for }: TicketRecord): Waiting[] {
	if (waits.length === 0) return waiting_for ? [{ for: waiting_for }] : [];
	return waits.map(({ ended_at, ended_by, ...wait }) => ({
		...stampIn(wait),
		...present({ endedAt: ended_at === undefined ? undefined : parseInstant(ended_at), endedBy: ended_by })
	})) as Waiting[];
}

/** Left out where `waiting_for` says all there is. */
function waitsOut({ waits }: Ticket) {
	if (waits.length === 0) return undefined;
	const [only] = waits;
	if (waits.length === 1 && only && Object.keys(only).length === 1) return undefined;
	return waits.map(({ endedAt, endedBy, for: what, ...stamp }) =>
		present({ for: what, ended_at: momentOut(endedAt ?? null), ended_by: endedBy, ...stampOut(stamp) })
	);
}

export function ticketFromRecord(record: TicketRecord): Ticket {
	return present({
		number: record.number,
		openedAt: parseInstant(record.opened_at),
		closedAt: momentIn(record.closed_at),
		promisedAt: momentIn(record.promised_at),
		model: record.model,
		serial: record.serial || null,
		customer: record.customer ? (present(record.customer) as Customer) : null,
		reported: record.reported,
		condition: record.condition,
		accessories: record.accessories,
		matters: record.matters,
		signs: record.signs,
		opinions: record.opinions.map(stampIn),
		inspection: record.inspection.map(stampIn),
		observations: record.observations.map(stampIn) as Observation[],
		meter: record.meter.map(stampIn) as PlugIn[],
		battery: record.battery.map(stampIn),
		readings: record.readings.map(stampIn) as PinReading[],
		path: record.path.map(stampIn) as NodeReading[],
		traces: record.traces.map(stampIn) as TraceSummary[],
		continuity: record.continuity.map(stampIn) as ContinuityCheck[],
		soak: record.soak.map(stampIn) as SoakReading[],
		attempts: record.attempts.map(({ hourly_cost, ...attempt }) =>
			present({
				...stampIn(attempt),
				hourlyCostMinor: hourly_cost === undefined ? undefined : toMinor(hourly_cost)
			})
		) as Attempt[],
		faults: record.faults ?? null,
		ownFaults: record.own_faults?.length ? record.own_faults : undefined,
		outcome: record.outcome ?? null,
		parts: record.parts.map(({ unit_cost, ...part }) =>
			present({
				...stampIn(part),
				unitCostMinor: unit_cost === undefined ? undefined : toMinor(unit_cost)
			})
		) as PartUse[],
		gates: record.gates.map(stampIn),
		notes: record.notes.map(stampIn),
		running: record.running.map(({ started_at, ...timer }) => ({
			...timer,
			startedAt: parseInstant(started_at)
		})),
		struck: record.struck.map(stampIn),
		corrections: record.corrections.map(stampIn),
		reopenings: record.reopenings.map(({ closed_at, undone_at, undone_by, ...reopening }) =>
			present({
				...stampIn(reopening),
				closedAt: parseInstant(closed_at),
				undoneAt: undone_at === undefined ? undefined : parseInstant(undone_at),
				undoneBy: undone_by
			})
		) as Reopening[],
		assignedTo: record.assigned_to ?? null,
		waits: waitsIn(record),
		quotedMinor: moneyIn(record.quoted),
		accepted: record.accepted ?? null,
		paidMinor: moneyIn(record.paid),
		comebackOf: record.comeback_of ?? null
	}) as Ticket;
}

/** The ticket as a line of the exchange format: always the same keys in the same order, empty lists left out. */
export function ticketToRecord(ticket: Ticket): Record<string, unknown> {
	const list = <Item>(items: Item[]) => (items.length === 0 ? undefined : items);
	const signs = Object.entries(ticket.signs).sort(([a], [b]) => (a < b ? -1 : 1));
	return present({
		record: 'ticket',
		number: ticket.number,
		opened_at: formatInstant(ticket.openedAt),
		closed_at: momentOut(ticket.closedAt),
		promised_at: momentOut(ticket.promisedAt),
		model: ticket.model,
		serial: ticket.serial ?? undefined,
		customer: ticket.customer ? customerToRecord(ticket.customer) : undefined,
		reported: ticket.reported,
		condition: ticket.condition,
		accessories: ticket.accessories,
		matters: ticket.matters,
		signs: Object.fromEntries(signs),
		opinions: list(ticket.opinions.map(stampOut)),
		inspection: list(ticket.inspection.map(stampOut)),
		observations: list(ticket.observations.map(stampOut)),
		meter: list(ticket.meter.map(stampOut)),
		battery: list(ticket.battery.map(stampOut)),
		readings: list(ticket.readings.map(stampOut)),
		path: list(ticket.path.map(stampOut)),
		traces: list(ticket.traces.map(stampOut)),
		attempts: list(
			ticket.attempts.map(({ hourlyCostMinor, ...attempt }) => ({
				...stampOut(attempt),
				...present({ hourly_cost: moneyOut(hourlyCostMinor) })
			}))
		),
		continuity: list(ticket.continuity.map(stampOut)),
		soak: list(ticket.soak.map(stampOut)),
		faults: ticket.faults ?? undefined,
		own_faults: ticket.ownFaults,
		outcome: ticket.outcome ?? undefined,
		parts: list(
			ticket.parts.map(({ unitCostMinor, ...part }) => ({
				...stampOut(part),
				...present({ unit_cost: moneyOut(unitCostMinor) })
			}))
		),
		gates: list(ticket.gates.map(stampOut)),
		notes: list(ticket.notes.map(stampOut)),
		running: list(
			ticket.running.map(({ startedAt, ...timer }) => ({
				...timer,
				started_at: formatInstant(startedAt)
			}))
		),
		struck: list(ticket.struck.map(stampOut)),
		corrections: list(ticket.corrections.map(stampOut)),
		reopenings: list(
			ticket.reopenings.map(({ closedAt, outcome, attempts, undoneAt, undoneBy, ...stamp }) =>
				present({
					closed_at: formatInstant(closedAt),
					outcome,
					attempts,
					undone_at: momentOut(undoneAt ?? null),
					undone_by: undoneBy,
					...stampOut(stamp)
				})
			)
		),
		assigned_to: ticket.assignedTo ?? undefined,
		waiting_for: waitsNow(ticket)[0]?.for,
		waits: waitsOut(ticket),
		quoted: moneyOut(ticket.quotedMinor),
		accepted: ticket.accepted ?? undefined,
		paid: moneyOut(ticket.paidMinor),
		comeback_of: ticket.comebackOf
	});
}

const customerToRecord = ({ name, kind, phone, email }: Customer) => present({ name, kind, phone, email });
