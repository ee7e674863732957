import type { Knex } from 'knex';
import type { Catalog } from '$lib/core/catalog/catalog';
import {
	addLesson,
	emptyLearned,
	inOrder,
	learn,
	lessonOf,
	type Learned,
	type Lesson
} from '$lib/core/diagnosis/learn';
import type { PastCase } from '$lib/core/diagnosis/foretell';
import { addShare, emptyPast, shareOf, type JobShare, type Past, type PastJob } from '$lib/core/quoting/past';
import type { TicketRecord } from '$lib/core/tickets/ticket-record';
import { parseInstant } from '$lib/core/units/instant';
import { toMinor } from '$lib/core/units/money';
import {
	allReferences,
	knownGoodShelf,
	sistersOf,
	type KnownGoodShelf,
	type StoredReference
} from '../catalog/known-good';
import { loadCatalog } from '../catalog/queries';
import type { Database } from '../database/connection';
import { inChunks } from '../database/chunks';
import { readCounters, type Counters } from '../database/counters';
import { asJson } from '../database/json';

/** What the engine knows, as of the counters that it was read at. A view to read from, never to write. */
export interface ShopMemory {
	catalog: Catalog;
	learned: Learned;
	past: Past;
	/** everything again, from tickets closed before a moment only */
	asOf(moment: number): { learned: Learned; past: Past };
	/** closed tickets that teach something, in the order of closing */
	cases(): ClosedCase[];
	/** what is known good, model by model */
	shelf: KnownGoodShelf;
	/** counts that stand for all of this: equal ones, equal memory */
	counters: Readonly<Counters>;
}

/** What was known at a moment; all that is known now where none is named. */
export const knownAt = (memory: ShopMemory, moment: number | null): ShopMemory =>
	moment === null ? memory : { ...memory, ...memory.asOf(moment) };

/** A closed ticket as the track record foretells it. */
export interface ClosedCase extends PastCase {
	id: number;
}

interface Remembered {
	number: string;
	closedAt: number | null;
	lesson: Lesson | null;
	/** what it added to the sums, to be taken back as it was added */
	share: JobShare;
	/** operations that it was fixed by; null where it was not fixed */
	fixedBy: readonly string[] | null;
}

interface HistoryRow {
	id: number;
	record: unknown;
	/** whose claims are learnt by name */
	customer: string | null;
	customer_kind: 'private' | 'trade' | null;
}

interface Memory {
	counters: Counters;
	catalog: Catalog;
	learned: Learned;
	past: Past;
	tickets: Map<number, Remembered>;
	/** known-good readings in the order of entry */
	references: StoredReference[];
	shelf: KnownGoodShelf;
}

/**
 * A copy of what the database holds, per pool: it only saves reading it again. Every use compares the
 * counters first, so a second process's changes are never missed, and a lost copy is only slow.
 */
const memories = new WeakMap<Database, Promise<Memory>>();
/** Tickets of one piece: between two of them others are heard. */
const CHUNK = 500;

export async function shopMemory(db: Database): Promise<ShopMemory> {
	const before = memories.get(db);
	const updated = (before ?? Promise.resolve(null)).catch(() => null).then((memory) => refresh(db, memory));
	memories.set(db, updated);
	const memory = await updated;
	return {
		catalog: memory.catalog,
		learned: memory.learned,
		past: memory.past,
		asOf: (moment) => pastAsOf(memory, moment),
		cases: () => closedCases(memory),
		shelf: memory.shelf,
		counters: memory.counters
	};
}

async function refresh(db: Database, memory: Memory | null): Promise<Memory> {
	const counters = await readCounters(db);
	if (!memory || memory.counters.relearn !== counters.relearn) return readAll(db, counters);
	if (memory.counters.catalog !== counters.catalog) {
		memory.catalog = await loadCatalog(db);
		memory.shelf = knownGoodShelf(memory.references, memory.catalog);
	}
	if (memory.counters.reference !== counters.reference) await readReferences(db, memory);
	if (memory.counters.history !== counters.history) {
		await readSince(db, memory, memory.counters.history);
	}
	memory.counters = counters;
	return memory;
}

/** Reads what is known good anew; tickets of models whose known good changed are judged and learnt again. */
async function readReferences(db: Database, memory: Memory): Promise<void> {
	const before = memory.shelf.marks;
	memory.references = await allReferences(db);
	memory.shelf = knownGoodShelf(memory.references, memory.catalog);
	const after = memory.shelf.marks;
	const changed = [...new Set([...before.keys(), ...after.keys()])].filter(
		(model) => after.get(model) !== before.get(model)
	);
	const leaning = [...new Set(changed.flatMap((model) => [model, ...sistersOf(model, memory.catalog)]))];
	if (leaning.length === 0) return;
	await rememberWhere(db, memory, (query) => query.whereIn('model', leaning).andWhere('history_seq', '>', 0));
}

async function readAll(db: Database, counters: Counters): Promise<Memory> {
	const catalog = await loadCatalog(db);
	const references = await allReferences(db);
	const memory: Memory = {
		counters,
		catalog,
		learned: emptyLearned(),
		past: emptyPast(),
		tickets: new Map(),
		references,
		shelf: knownGoodShelf(references, catalog)
	};
	await readSince(db, memory, 0);
	return memory;
}

/** Reads the tickets that changed after a point of history. */
const readSince = (db: Database, memory: Memory, since: number) =>
	rememberWhere(db, memory, (query) => query.where('history_seq', '>', since));

/** Reads some tickets and puts them in the place of what they were. */
async function rememberWhere(
	db: Database,
	memory: Memory,
	narrow: (query: Knex.QueryBuilder) => Knex.QueryBuilder
): Promise<void> {
	const read = (after: number) =>
		narrow(db('tickets').leftJoin('customers', 'customers.id', 'tickets.customer_id'))
			.andWhere('tickets.id', '>', after)
			.orderBy('tickets.id')
			.limit(CHUNK)
			.select(
				'tickets.id',
				'tickets.record',
				'customers.name as customer',
				'customers.kind as customer_kind'
			) as Promise<HistoryRow[]>;
	for await (const rows of inChunks(CHUNK, read)) {
		for (const { id, record, customer, customer_kind } of rows) {
			const stored = asJson(record) as StoredRecord;
			if (stored.opinions && customer !== null) {
				stored.customer = { name: customer, kind: customer_kind ?? 'private' };
			}
			remember(memory, id, stored);
		}
	}
	// one order whichever way the counts came about: what is worked out of them is then the same to the last digit
	memory.learned = inOrder(memory.learned);
}

/** A ticket's record as it is stored: empty lists are left out of it. */
type StoredRecord = Pick<TicketRecord, 'model'> & Partial<TicketRecord>;

function remember(memory: Memory, id: number, record: StoredRecord): void {
	const before = memory.tickets.get(id);
	if (before) {
		if (before.lesson) addLesson(memory.learned, before.lesson, -1);
		addShare(memory.past, before.share, -1);
		memory.tickets.delete(id);
	}
	const closedAt = record.closed_at ? parseInstant(record.closed_at) : null;
	if (closedAt === null && record.accepted == null) return;
	const job = jobOf(record, closedAt);
	const remembered: Remembered = {
		number: record.number ?? '',
		closedAt,
		lesson: lessonOfRecord(record, closedAt, memory),
		share: shareOf(job, memory.catalog),
		fixedBy: job.outcome === 'fixed' ? job.attempts.map(({ operation }) => operation) : null
	};
	memory.tickets.set(id, remembered);
	if (remembered.lesson) addLesson(memory.learned, remembered.lesson);
	addShare(memory.past, remembered.share);
}

const NONE: never[] = [];

/**
 * Evidence has the same names in the record as in the program: a whole past is read without converting it. Field by field,
 * for a spread of so many different records takes longer than all else that is read of them.
 */
const lessonOfRecord = (
	record: StoredRecord,
	closedAt: number | null,
	{ catalog, shelf }: Memory
): Lesson | null =>
	lessonOf(
		{
			model: record.model,
			signs: record.signs ?? {},
			customer: record.customer,
			opinions: record.opinions,
			inspection: record.inspection ?? NONE,
			observations: record.observations ?? NONE,
			meter: record.meter ?? NONE,
			battery: record.battery ?? NONE,
			readings: record.readings ?? NONE,
			attempts: record.attempts ?? NONE,
			faults: record.faults ?? null,
			ownFaults: record.own_faults,
			closedAt
		},
		catalog,
		shelf.book
	);

const minorOf = (amount: number | null | undefined) => (amount == null ? null : toMinor(amount));

const jobOf = (record: StoredRecord, closedAt: number | null): PastJob => ({
	model: record.model,
	closedAt,
	outcome: record.outcome ?? null,
	quotedMinor: minorOf(record.quoted),
	accepted: record.accepted ?? null,
	paidMinor: minorOf(record.paid),
	comebackOf: record.comeback_of ?? null,
	attempts: (record.attempts ?? []).map(({ operation, minutes, technician, hourly_cost }) => ({
		operation,
		minutes,
		technician,
		hourlyCostMinor: minorOf(hourly_cost) ?? undefined
	})),
	parts: (record.parts ?? []).map(({ sku, quantity, unit_cost }) => ({
		sku,
		quantity,
		unitCostMinor: minorOf(unit_cost) ?? undefined
	}))
});

function closedCases({ tickets }: Memory): ClosedCase[] {
	const cases: ClosedCase[] = [];
	for (const [id, { number, closedAt, lesson, fixedBy }] of tickets) {
		if (closedAt === null || lesson === null) continue;
		cases.push({ id, number, closedAt, lesson, fixedBy });
	}
	return cases.sort((a, b) => a.closedAt - b.closedAt || a.id - b.id);
}

function pastAsOf(memory: Memory, moment: number): { learned: Learned; past: Past } {
	const closed = [...memory.tickets.values()].filter(
		({ closedAt }) => closedAt !== null && closedAt < moment
	);
	const past = emptyPast();
	for (const { share } of closed) addShare(past, share);
	return { learned: learn(closed.flatMap(({ lesson }) => lesson ?? [])), past };
}
