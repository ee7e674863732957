import type { Catalog } from '$lib/core/catalog/catalog';
import {
	addLesson,
	emptyLearned,
	learn,
	lessonOf,
	type Learned,
	type Lesson
} from '$lib/core/diagnosis/learn';
import type { ReferenceRecord } from '$lib/core/readings/reference';
import { addPastJob, emptyPast, type Past, type PastJob } from '$lib/core/quoting/past';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { loadCatalog, referencesOf } from '../catalog/queries';
import type { Database } from '../database/connection';
import { readCounters, type Counters } from '../database/counters';
import { isHistory, selectTickets, toStoredTicket, type TicketRow } from '../tickets/rows';

/** What the engine knows, as of the counters that it was read at. A view to read from, never to write. */
export interface ShopMemory {
	catalog: Catalog;
	learned: Learned;
	past: Past;
	/** everything again, from tickets closed before a moment only */
	asOf(moment: number): { learned: Learned; past: Past };
	references(model: string): Promise<ReferenceRecord[]>;
}

interface Remembered {
	number: string;
	closedAt: number | null;
	lesson: Lesson | null;
	job: PastJob;
}

interface Memory {
	counters: Counters;
	catalog: Catalog;
	learned: Learned;
	past: Past;
	tickets: Map<number, Remembered>;
	references: Map<string, ReferenceRecord[]>;
}

/**
 * A copy of what the database holds, per pool: it only saves reading it again. Every use compares the
 * counters first, so a second process's changes are never missed, and a lost copy is only slow.
 */
const memories = new WeakMap<Database, Promise<Memory>>();
const CHUNK = 5000;

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
		references: async (model) => {
			const known = memory.references.get(model);
			if (known) return known;
			const read = await referencesOf(db, model);
			memory.references.set(model, read);
			return read;
		}
	};
}

async function refresh(db: Database, memory: Memory | null): Promise<Memory> {
	const counters = await readCounters(db);
	if (!memory || memory.counters.relearn !== counters.relearn) return readAll(db, counters);
	if (memory.counters.catalog !== counters.catalog) memory.catalog = await loadCatalog(db);
	if (memory.counters.reference !== counters.reference) memory.references.clear();
	if (memory.counters.history !== counters.history) {
		await readSince(db, memory, memory.counters.history);
	}
	memory.counters = counters;
	return memory;
}

async function readAll(db: Database, counters: Counters): Promise<Memory> {
	const memory: Memory = {
		counters,
		catalog: await loadCatalog(db),
		learned: emptyLearned(),
		past: emptyPast(),
		tickets: new Map(),
		references: new Map()
	};
	await readSince(db, memory, 0);
	return memory;
}

/** Reads the tickets that changed after a point of history and puts them in the place of what they were. */
async function readSince(db: Database, memory: Memory, since: number): Promise<void> {
	let after = 0;
	for (;;) {
		const rows = (await selectTickets(db)
			.where('tickets.history_seq', '>', since)
			.andWhere('tickets.id', '>', after)
			.orderBy('tickets.id')
			.limit(CHUNK)) as TicketRow[];
		for (const row of rows) remember(memory, row.id, toStoredTicket(row).ticket);
		const last = rows.at(-1);
		if (!last || rows.length < CHUNK) return;
		after = last.id;
	}
}

function remember(memory: Memory, id: number, ticket: Ticket): void {
	const before = memory.tickets.get(id);
	if (before) {
		if (before.lesson) addLesson(memory.learned, before.lesson, memory.catalog, -1);
		addPastJob(memory.past, before.number, before.job, memory.catalog, -1);
		memory.tickets.delete(id);
	}
	if (!isHistory(ticket)) return;
	const { number, closedAt } = ticket;
	const remembered = { number, closedAt, lesson: lessonOf(ticket, memory.catalog), job: jobOf(ticket) };
	memory.tickets.set(id, remembered);
	if (remembered.lesson) addLesson(memory.learned, remembered.lesson, memory.catalog);
	addPastJob(memory.past, number, remembered.job, memory.catalog);
}

const jobOf = (ticket: Ticket): PastJob => ({
	model: ticket.model,
	closedAt: ticket.closedAt,
	outcome: ticket.outcome,
	quotedMinor: ticket.quotedMinor,
	accepted: ticket.accepted,
	paidMinor: ticket.paidMinor,
	comebackOf: ticket.comebackOf,
	attempts: ticket.attempts.map(({ operation, minutes, technician, hourlyCostMinor }) => ({
		operation,
		minutes,
		technician,
		hourlyCostMinor
	})),
	parts: ticket.parts.map(({ sku, quantity, unitCostMinor }) => ({ sku, quantity, unitCostMinor }))
});

function pastAsOf(memory: Memory, moment: number): { learned: Learned; past: Past } {
	const closed = [...memory.tickets.values()].filter(
		({ closedAt }) => closedAt !== null && closedAt < moment
	);
	const past = emptyPast();
	for (const { number, job } of closed) addPastJob(past, number, job, memory.catalog);
	return {
		learned: learn(
			closed.flatMap(({ lesson }) => lesson ?? []),
			memory.catalog
		),
		past
	};
}
