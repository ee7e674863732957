import type { Catalog } from '$lib/core/catalog/catalog';
import { sameCharge, withLearntCharges } from '$lib/core/charging/learnt-charges';
import { engineOf, type Engine } from '$lib/core/diagnosis/engine';
import { fitInSteps } from '$lib/core/diagnosis/learn/fit';
import type { Learned } from '$lib/core/diagnosis/learn/learn';
import type { PastCase } from '$lib/core/diagnosis/record/foretell';
import type { Past } from '$lib/core/quoting/past';
import {
	allReferences,
	knownGoodShelf,
	sistersOf,
	type KnownGoodShelf,
	type StoredReference
} from '../catalog/known-good';
import { catalogNow } from '../catalog/queries';
import type { Database } from '../database/connection';
import { rowCount } from '../database/row-count';
import { readCounters, type Counters } from '../database/counters';
import { thisBuild } from '../database/this-build';
import { aMoment, inTurns, NEVER, type Stop } from '../database/in-turns';
import { historyOf, type HistoryTicket } from './history';
import { readLearnt, writeLearnt, type LearntTicket } from './kept-learning';
import { addShares, emptySums, removeShares, settledSums, sharesOf, type Sums } from './learners';

/** What the shop knows, as of the counters that it was read at. A view to read from, never to write. */
export interface ShopMemory {
	catalog: Catalog;
	/** catalog and what closed tickets taught: the odds */
	engine: Engine;
	/** what past jobs took and brought: the prices */
	past: Past;
	/** tickets that came in and are still being learnt from; what is answered meanwhile leans on the others */
	behind: number;
	/** everything again, from tickets closed before a moment only */
	asOf(moment: number, stop: Stop): Promise<{ engine: Engine; past: Past }>;
	/** closed tickets that teach something, in the order of closing */
	cases(): ClosedCase[];
	/** what fixed the device on a closed ticket, by its number; null where nothing did */
	fixedOn(number: string): { operations: readonly string[]; closedAt: number } | null;
	/** what is known good, model by model */
	shelf: KnownGoodShelf;
	/** counts that stand for all of this: equal ones, equal memory */
	counters: Readonly<Counters>;
}

/** What was known at a moment; all that is known now where none is named. */
export const knownAt = async (
	memory: ShopMemory,
	moment: number | null,
	stop: Stop = NEVER
): Promise<ShopMemory> => (moment === null ? memory : { ...memory, ...(await memory.asOf(moment, stop)) });

/** A closed ticket as the track record foretells it. */
export interface ClosedCase extends PastCase {
	id: number;
}

interface Memory {
	counters: Counters;
	/** as the shop wrote it */
	named: Catalog;
	/** with what its closed tickets taught of charges that it does not name */
	catalog: Catalog;
	sums: Sums;
	tickets: Map<number, LearntTicket>;
	/** known-good readings in the order of entry */
	references: StoredReference[];
	shelf: KnownGoodShelf;
	behind: number;
}

/**
 * A copy of what the database holds, per pool: it only saves reading it again. Every use compares the
 * counters first, so a second process's changes are never missed, and a lost copy is only slow.
 */
const memories = new WeakMap<Database, Promise<Memory>>();
/** The memory as it was last brought up to date. */
const latest = new WeakMap<Database, Memory>();
/** A memory that is being learnt beside the one that answers. */
const learning = new WeakMap<Database, Promise<unknown>>();
/** More new tickets than this are learnt while others are answered from what was learnt before. */
const AT_ONCE = 2000;
/** Tickets learnt without a pause, some ten milliseconds of work. */
const SLICE = 50;

/** @param whole waits until everything is learnt; without, many new tickets are learnt beside */
export async function shopMemory(db: Database, { whole = false } = {}): Promise<ShopMemory> {
	const previous = memories.get(db);
	const updated = (previous ?? Promise.resolve(null)).catch(() => null).then((memory) => refresh(db, memory));
	memories.set(db, updated);
	const memory = await updated;
	latest.set(db, memory);
	if (whole && memory.behind > 0) {
		await learning.get(db);
		return shopMemory(db, { whole });
	}
	return {
		catalog: memory.catalog,
		engine: engineOf(memory.catalog, memory.sums.learned),
		past: memory.sums.past,
		behind: memory.behind,
		asOf: (moment, stop) => pastAsOf(memory, moment, stop),
		cases: () => closedCases(memory),
		fixedOn: (number) => fixedOn(memory, number),
		shelf: memory.shelf,
		counters: memory.counters
	};
}

/** So often the beliefs are begun anew where tickets close meanwhile; then they are worked out in one go. A choice. */
const MOST_FITS = 3;
/** Beliefs that are being worked out, by the counts that they rest on: who asks meanwhile waits for the same. */
const fitting = new WeakMap<Learned, { catalog: Catalog; changes: number; fitted: Promise<boolean> }>();

/**
 * The shop's memory with its beliefs worked out, which takes most of a second where a ticket has closed since: in slices, so that
 * others in this thread are heard meanwhile.
 */
export async function fittedMemory(db: Database): Promise<ShopMemory> {
	for (let round = 1; ; round++) {
		const memory = await shopMemory(db);
		if ((await fitBeside(memory.engine)) || round === MOST_FITS) return memory;
	}
}

function fitBeside({ catalog, learned }: Engine): Promise<boolean> {
	const { changes } = learned;
	const underWay = fitting.get(learned);
	if (underWay?.catalog === catalog && underWay.changes === changes) return underWay.fitted;
	const fitted = inTurns(fitInSteps(catalog, learned)).finally(() => {
		if (fitting.get(learned)?.fitted === fitted) fitting.delete(learned);
	});
	fitting.set(learned, { catalog, changes, fitted });
	return fitted;
}

/**
 * The shop's catalog without waiting for what is learnt of its tickets: after a start pages stand at once. What closed tickets taught
 * of charges is in it as far as that is known by then.
 */
export async function shopCatalog(db: Database): Promise<Catalog> {
	const { catalog: now } = await readCounters(db);
	const learnt = latest.get(db);
	if (learnt?.counters.catalog === now) return learnt.catalog;
	const named = await catalogNow(db, now);
	return learnt ? withLearntCharges(named, learnt.sums.charges) : named;
}

/**
 * Keeps what is learnt for the next start, where it has changed since it was kept last.
 * @returns false where there is nothing to keep, or the shop moved on meanwhile
 */
export async function keepLearning(db: Database, build = thisBuild()): Promise<boolean> {
	if (build === '') return false;
	await shopMemory(db, { whole: true });
	const memory = latest.get(db);
	if (!memory || memory.behind > 0) return false;
	const { counters, sums, tickets } = memory;
	const { history, relearn, reference } = counters;
	const mark = [history, relearn, reference].join('.');
	if (keptMarks.get(db) === mark) return false;
	const kept = await writeLearnt(db, build, { counters: { history, relearn, reference }, sums, tickets });
	if (kept) keptMarks.set(db, mark);
	return kept;
}
/** What the memory was when it was kept last, by this process. */
const keptMarks = new WeakMap<Database, string>();

async function refresh(db: Database, memory: Memory | null): Promise<Memory> {
	const counters = await readCounters(db);
	if (!memory) {
		const kept = await keptMemory(db, counters);
		return kept ? refresh(db, kept) : readAll(db, counters);
	}
	const { catalog, reference, history, relearn } = memory.counters;
	// what is learnt beside comes in its place when it is done
	const behind = memory.behind > 0 && learning.has(db);
	if (catalog !== counters.catalog || (behind && relearn !== counters.relearn)) {
		memory.named = await catalogNow(db, counters.catalog);
		memory.catalog = withLearntCharges(memory.named, memory.sums.charges);
		memory.shelf = knownGoodShelf(memory.references, memory.catalog);
	}
	if (behind) {
		if (reference !== counters.reference) await readShelf(db, memory);
		memory.counters = { ...counters, history, relearn };
		return memory;
	}
	if (relearn !== counters.relearn || history !== counters.history) {
		const since = relearn === counters.relearn ? history : 0;
		const due = await countSince(db, since);
		if (due > AT_ONCE) {
			if (reference !== counters.reference) await readShelf(db, memory);
			return learnBeside(db, memory, counters, since, due);
		}
		if (since === 0) return readAll(db, counters);
	}
	if (reference !== counters.reference) await readReferences(db, memory);
	if (history !== counters.history) await readSince(db, memory, history);
	memory.counters = counters;
	return memory;
}

const countSince = (db: Database, since: number): Promise<number> =>
	rowCount(db('tickets').where('history_seq', '>', since));

/** Answers go on from what was learnt, while a copy learns what is new. */
function learnBeside(db: Database, memory: Memory, counters: Counters, since: number, due: number): Memory {
	const { named, references, shelf } = memory;
	const next: Memory =
		since === 0
			? {
					counters,
					named,
					catalog: named,
					references,
					shelf,
					sums: emptySums(),
					tickets: new Map(),
					behind: 0
				}
			: { ...memory, counters, sums: settledSums(memory.sums), tickets: new Map(memory.tickets), behind: 0 };
	const learnt = readSince(db, next, since).then(
		() => memories.set(db, Promise.resolve(next)),
		// the next look tries again
		() => memories.delete(db)
	);
	learning.set(
		db,
		learnt.finally(() => learning.delete(db))
	);
	return { ...memory, counters: { ...counters, history: memory.counters.history }, behind: due };
}

async function readShelf(db: Database, memory: Memory): Promise<void> {
	memory.references = await allReferences(db);
	memory.shelf = knownGoodShelf(memory.references, memory.catalog);
}

/** Reads what is known good anew; tickets of models whose known good changed are judged and learnt again. */
async function readReferences(db: Database, memory: Memory): Promise<void> {
	const previousMarks = memory.shelf.marks;
	await readShelf(db, memory);
	const currentMarks = memory.shelf.marks;
	const changed = [...new Set([...previousMarks.keys(), ...currentMarks.keys()])].filter(
		(model) => currentMarks.get(model) !== previousMarks.get(model)
	);
	const leaning = [...new Set(changed.flatMap((model) => [model, ...sistersOf(model, memory.catalog)]))];
	if (leaning.length === 0) return;
	await remember(
		memory,
		historyOf(db, (query) => query.whereIn('model', leaning).andWhere('history_seq', '>', 0))
	);
}

/** The memory as it was kept before the start, to be brought up to date; null where it would have to be learnt anew. */
async function keptMemory(db: Database, counters: Counters): Promise<Memory | null> {
	const build = thisBuild();
	const learnt = build === '' ? null : await readLearnt(db, build);
	if (learnt?.counters.relearn !== counters.relearn || learnt.counters.reference !== counters.reference)
		return null;
	const { history } = learnt.counters;
	const [named, references] = await Promise.all([catalogNow(db, counters.catalog), allReferences(db)]);
	const { sums, tickets } = learnt;
	const catalog = withLearntCharges(named, sums.charges);
	keptMarks.set(db, [history, counters.relearn, counters.reference].join('.'));
	return {
		counters: { ...counters, history },
		named,
		catalog,
		sums,
		tickets,
		references,
		shelf: knownGoodShelf(references, catalog),
		behind: 0
	};
}

async function readAll(db: Database, counters: Counters): Promise<Memory> {
	const catalog = await catalogNow(db, counters.catalog);
	const references = await allReferences(db);
	const memory: Memory = {
		counters,
		named: catalog,
		catalog,
		sums: emptySums(),
		tickets: new Map(),
		references,
		shelf: knownGoodShelf(references, catalog),
		behind: 0
	};
	await readSince(db, memory, 0);
	return memory;
}

/** Reads the tickets that changed after a point of history. */
async function readSince(db: Database, memory: Memory, since: number): Promise<void> {
	const changed = historyOf(db, (query) =>
		since === 0
			? query.where('history_seq', '>', since)
			: query.where((changed) =>
					changed
						.where('history_seq', '>', since)
						// what comes back from a ticket says something of its work
						.orWhereIn('comeback_of', db('tickets').where('history_seq', '>', since).select('number'))
				)
	);
	await remember(memory, changed);
	await judgeByLearntCharges(db, memory);
}

/** Tickets of models whose learnt charge changed are judged and learnt again. */
async function judgeByLearntCharges(db: Database, memory: Memory): Promise<void> {
	const previousCatalog = memory.catalog;
	memory.catalog = withLearntCharges(memory.named, memory.sums.charges);
	const changed = [...memory.catalog.models.keys()].filter(
		(model) => !sameCharge(previousCatalog.models.get(model), memory.catalog.models.get(model))
	);
	if (changed.length === 0) return;
	await remember(
		memory,
		historyOf(db, (query) => query.whereIn('model', changed).andWhere('history_seq', '>', 0))
	);
}

/** Puts tickets in the place of what they were, slice by slice. */
async function remember(memory: Memory, history: AsyncIterable<HistoryTicket[]>): Promise<void> {
	for await (const tickets of history) {
		for (let at = 0; at < tickets.length; at += SLICE) {
			if (at > 0) await aMoment();
			for (const ticket of tickets.slice(at, at + SLICE)) rememberOne(memory, ticket);
		}
	}
	// one order whichever way the counts came about: what is worked out of them is then the same to the last digit
	memory.sums = settledSums(memory.sums);
}

function rememberOne(memory: Memory, ticket: HistoryTicket): void {
	const previous = memory.tickets.get(ticket.id);
	if (previous) {
		removeShares(memory.sums, previous.shares);
		memory.tickets.delete(ticket.id);
	}
	if (!ticket.teaches) return;
	const { closedAt, outcome, attempts } = ticket.job;
	const shares = sharesOf(ticket, memory);
	memory.tickets.set(ticket.id, {
		number: ticket.number,
		closedAt,
		shares,
		fixedBy: closedAt !== null && outcome === 'fixed' ? attempts.map(({ operation }) => operation) : null
	});
	addShares(memory.sums, shares);
}

function fixedOn({ tickets }: Memory, wanted: string): ReturnType<ShopMemory['fixedOn']> {
	for (const { number, closedAt, fixedBy } of tickets.values())
		if (number === wanted)
			return closedAt === null || fixedBy === null ? null : { operations: fixedBy, closedAt };
	return null;
}

function closedCases({ tickets }: Memory): ClosedCase[] {
	const cases: ClosedCase[] = [];
	for (const [id, { number, closedAt, shares, fixedBy }] of tickets) {
		const lesson = shares.learned;
		if (closedAt !== null && lesson !== null) cases.push({ id, number, closedAt, lesson, fixedBy });
	}
	return cases.sort((a, b) => a.closedAt - b.closedAt || a.id - b.id);
}

async function pastAsOf(
	{ catalog, tickets }: Memory,
	moment: number,
	stop: Stop
): Promise<{ engine: Engine; past: Past }> {
	const sums = emptySums();
	let added = 0;
	// a copy: the memory goes on learning while others are heard
	for (const { closedAt, shares } of [...tickets.values()]) {
		if (closedAt === null || closedAt >= moment) continue;
		if (++added % SLICE === 0) await aMoment(stop);
		addShares(sums, shares);
	}
	const { learned, past } = settledSums(sums);
	await inTurns(fitInSteps(catalog, learned), stop);
	return { engine: engineOf(catalog, learned), past };
}
