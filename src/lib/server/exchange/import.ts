import { knownIn } from '$lib/core/evidence/known-codes';
import { setImmediate } from 'node:timers/promises';
import type { Knex } from 'knex';
import { buildCatalog, type Catalog } from '$lib/core/catalog/catalog';
import { catalogKey, fullOf, type CatalogRecord } from '$lib/core/catalog/kinds';
import type { Known } from '$lib/core/catalog/needs';
import { checkReferences } from '$lib/core/exchange/check-references';
import { MOST_ERRORS, readLines, type LineError } from '$lib/core/exchange/read-lines';
import { isCatalogLine, type LineRecord } from '$lib/core/exchange/record-kinds';
import type { ReferenceRecord } from '$lib/core/readings/reference';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { recordAudit } from '../audit/commands';
import { putCatalogRecords, putReferences } from '../catalog/commands';
import { allCatalogRecords } from '../catalog/queries';
import { besidePool, inTransaction, type Database } from '../database/connection';
import { inPieces } from '../database/chunks';
import { advanceCounter, raiseCounter } from '../database/counters';
import { drawTables, noteUses } from '../tickets/drawn-tables';
import { findLots } from '../tickets/find-lots';
import { customerDigest, putCustomers, putRows, sumsTooLarge, ticketColumns } from '../tickets/rows';

export interface ImportAnswer {
	/** records taken, by kind */
	accepted: Record<string, number>;
	rejected: LineError[];
}

/** How far an import has come: rows of a part of the work. */
export interface ImportProgress {
	part: 'reading' | 'checking' | 'writing';
	rows: number;
	of: number;
}

/** Hears how an import goes on, and may stop it by throwing: then nothing of it has happened. */
export type Watch = (progress: ImportProgress) => void;

export class ImportStopped extends Error {}

/** rows of an insert, and names of a question */
const CHUNK = 500;
const AT_ONCE = 5000;

/**
 * Imports JSON Lines in one transaction. All or nothing by default: with any error nothing is kept and
 * all errors are listed. Lenient: every good line is kept, the others are listed.
 *
 * It has connections beside the pool, and what others need to go on (counters) is held for the last moment only: while
 * ten thousand tickets come in, the counter takes in and technicians measure.
 */
export async function importLines(
	db: Database,
	actor: string,
	now: number,
	input: string | Uint8Array,
	mode: 'strict' | 'lenient' = 'strict',
	watch: Watch = () => {}
): Promise<ImportAnswer> {
	const lineCount = typeof input === 'string' ? input.split('\n').length : linesIn(input);
	const read = readLines(typeof input === 'string' ? input : lineTexts(input), (rows) =>
		watch({ part: 'reading', rows, of: lineCount })
	);
	const aside = besidePool(db);
	let customers: ReadonlyMap<string, number> = new Map();
	const imported = inTransaction(aside, async (trx) => {
		await takeTurns(trx);
		try {
			const stored = await allCatalogRecords(trx);
			watch({ part: 'checking', rows: 0, of: read.records.length });
			const { good, rejected } = await keepSound(trx, stored, read.records, read.errors, mode);
			if (mode === 'strict' && rejected.length > 0) return { accepted: {}, rejected: shortened(rejected) };
			customers = await prepare(aside, good);
			await write(trx, stored, good, customers, watch);
			const accepted = countKinds(good);
			await recordAudit(trx, {
				at: now,
				actor,
				subject: 'import',
				key: mode,
				verb: 'import',
				detail: { accepted, rejected: rejected.length }
			});
			return { accepted, rejected: shortened(rejected) };
		} finally {
			await trx.raw('SELECT RELEASE_LOCK(?)', [turn(trx)]).catch(() => undefined);
		}
	});
	return imported.catch(async (error: unknown) => {
		await forgetUnnamed(aside, [...customers.values()]).catch(() => undefined);
		throw error;
	});
}

/** Imports into one shop take turns, from whichever process they come. */
const turn = (trx: Knex.Transaction) =>
	`tavrek-import-${(trx.client.config.connection as { database: string }).database}`.slice(0, 64);

async function takeTurns(trx: Knex.Transaction): Promise<void> {
	const [rows] = (await trx.raw('SELECT GET_LOCK(?, 300) AS held', [turn(trx)])) as [{ held: number }[]];
	if (rows[0]?.held !== 1)
		throw new ImportStopped('another import is under way; send this one again when it is done');
}

/** So many errors are told one by one, and how many there are beside. */
function shortened(rejected: LineError[]): LineError[] {
	if (rejected.length <= MOST_ERRORS) return rejected;
	const overflow = {
		line: 0,
		path: '',
		message: `${rejected.length - MOST_ERRORS} more errors are not listed`
	};
	return [...rejected.slice(0, MOST_ERRORS), overflow];
}

const FEED = 10;

function linesIn(bytes: Uint8Array): number {
	let lines = 1;
	for (let at = bytes.indexOf(FEED); at >= 0; at = bytes.indexOf(FEED, at + 1)) lines++;
	return lines;
}

/** The lines of a body one after another: a text of half a gigabyte is never made. */
function* lineTexts(bytes: Uint8Array): Generator<string> {
	const decoder = new TextDecoder('utf-8', { ignoreBOM: true });
	for (let from = 0; from <= bytes.length;) {
		const at = bytes.indexOf(FEED, from);
		const to = at < 0 ? bytes.length : at;
		yield decoder.decode(bytes.subarray(from, to));
		from = to + 1;
	}
}

/**
 * Leaves out lines that name what is not defined; in lenient mode again and again, since a line left out
 * may have defined what another names.
 */
async function keepSound(
	trx: Knex.Transaction,
	stored: readonly CatalogRecord[],
	records: readonly LineRecord[],
	errors: readonly LineError[],
	mode: 'strict' | 'lenient'
): Promise<{ good: LineRecord[]; rejected: LineError[] }> {
	const storedIds = await storedKeys(trx, stored, records);
	const catalog = buildCatalog([
		...stored,
		...records.flatMap((line) => (isCatalogLine(line) ? [line.record] : []))
	]);
	const rejected = [...errors];
	let good = [...records];
	for (;;) {
		const found = [
			...beyondLimits(good, stored),
			...checkReferences(good, storedIds),
			...tooLarge(good, catalog)
		];
		const bad = new Set(found.map(({ line }) => line));
		rejected.push(...found, ...backOfRefused(good, bad, storedIds));
		good = good.filter(({ line }) => !bad.has(line));
		if (found.length === 0 || mode === 'strict') break;
	}
	rejected.sort((a, b) => a.line - b.line);
	return { good, rejected };
}

/**
 * Comebacks of refused first tickets, and those that come back from them: followed along the chain at once, not one link in
 * a look at everything.
 */
function backOfRefused(records: readonly LineRecord[], bad: Set<number>, catalog: Known): LineError[] {
	const defined = new Map<string, number>();
	const backOf = new Map<string, { line: number; number: string }[]>();
	const refused: string[] = [];
	for (const { line, kind, record } of records) {
		if (kind !== 'ticket') continue;
		const { number, comebackOf } = record;
		if (bad.has(line)) {
			refused.push(number);
			continue;
		}
		defined.set(number, (defined.get(number) ?? 0) + 1);
		if (comebackOf) backOf.set(comebackOf, [...(backOf.get(comebackOf) ?? []), { line, number }]);
	}
	const errors: LineError[] = [];
	for (let first = refused.pop(); first !== undefined; first = refused.pop()) {
		if ((defined.get(first) ?? 0) > 0 || catalog.has('ticket', first)) continue;
		for (const { line, number } of backOf.get(first) ?? []) {
			if (bad.has(line)) continue;
			bad.add(line);
			errors.push({ line, path: 'comeback_of', message: `names ${first}, whose line is refused` });
			defined.set(number, (defined.get(number) ?? 1) - 1);
			refused.push(number);
		}
	}
	return errors;
}

/** Lines that would make a catalog larger than what is computed with it allows. */
function beyondLimits(records: readonly LineRecord[], stored: readonly CatalogRecord[]): LineError[] {
	const keyOf = (record: CatalogRecord) => `${record.record} ${catalogKey(record)}`;
	const storedCodes = new Set(stored.map(keyOf));
	const counts = new Map<string, number>();
	for (const { record } of stored) counts.set(record, (counts.get(record) ?? 0) + 1);
	return records.flatMap((each) => {
		if (!isCatalogLine(each) || storedCodes.has(keyOf(each.record))) return [];
		const { line, record } = each;
		const count = counts.get(record.record) ?? 0;
		const message = fullOf(record.record, count);
		if (message) return [{ line, path: 'code', message }];
		storedCodes.add(keyOf(record));
		counts.set(record.record, count + 1);
		return [];
	});
}

/** Tickets whose sums the books could not hold. Worked out only where a line of it is large itself. */
function tooLarge(records: readonly LineRecord[], catalog: Catalog): LineError[] {
	return records.flatMap(({ line, kind, record }) => {
		if (kind !== 'ticket') return [];
		const suspect =
			record.parts.some(({ quantity, unitCostMinor = 1e6 }) => quantity * unitCostMinor > 1e7) ||
			record.attempts.some(({ minutes = 0, hourlyCostMinor = 1e6 }) => minutes * hourlyCostMinor > 6e8);
		const refusal = suspect ? sumsTooLarge(record, catalog) : null;
		return refusal ? [{ line, path: refusal.field, message: refusal.message }] : [];
	});
}

async function storedKeys(
	trx: Knex.Transaction,
	stored: readonly CatalogRecord[],
	records: readonly LineRecord[]
): Promise<Known> {
	const catalog = knownIn(buildCatalog(stored));
	const firsts = records.flatMap(({ kind, record }) =>
		kind === 'ticket' && record.comebackOf ? [record.comebackOf] : []
	);
	const tickets = await idsOf(trx, firsts);
	return { ...catalog, has: (kind, key) => (kind === 'ticket' ? tickets.has(key) : catalog.has(kind, key)) };
}

/** Tickets first, then what moves the shop's counters: those rows are held from there to the end alone. */
async function write(
	trx: Knex.Transaction,
	stored: readonly CatalogRecord[],
	good: readonly LineRecord[],
	customers: ReadonlyMap<string, number>,
	watch: Watch
): Promise<void> {
	const catalogRecords: CatalogRecord[] = [];
	const references: ReferenceRecord[] = [];
	const tickets: Ticket[] = [];
	for (const line of good) {
		if (line.kind === 'ticket') tickets.push(line.record);
		else if (line.kind === 'reference') references.push(line.record);
		else catalogRecords.push(line.record);
	}
	const seen = (rows: number) => watch({ part: 'writing', rows, of: good.length });
	seen(0);
	const catalog = buildCatalog([...stored, ...catalogRecords]);
	const withUses = await putTickets(trx, tickets, catalog, customers, seen);
	seen(tickets.length);
	await becomeHistory(trx, tickets);
	await putReferences(trx, references);
	await putCatalogRecords(trx, catalogRecords);
	const lots = catalogRecords.flatMap((record) => (record.record === 'lot' ? [record.sku] : []));
	const loose = tickets.flatMap(({ parts }) =>
		parts.flatMap(({ sku, lot }) => (lot === undefined ? [sku] : []))
	);
	const found = await findLots(trx, [...new Set([...lots, ...loose])], catalog);
	await noteUses(trx, [...new Set([...withUses, ...found])]);
	seen(good.length);
}

/** @returns ids of tickets whose parts may have changed */
async function putTickets(
	trx: Knex.Transaction,
	records: readonly Ticket[],
	catalog: Catalog,
	ids: ReadonlyMap<string, number>,
	seen: (rows: number) => void
): Promise<number[]> {
	const withUses: number[] = [];
	const latest = new Map(records.map((record) => [record.number, record]));
	const storedIds = await idsOf(trx, [...latest.keys()]);
	const rowOf = (ticket: Ticket) => {
		const customerId = ticket.customer ? (ids.get(customerDigest(ticket.customer)) ?? null) : null;
		return ticketColumns(ticket, customerId, catalog);
	};
	const pieces = inPieces([...latest.values()], CHUNK);
	let rows = pieces[0]?.map(rowOf) ?? [];
	for (const [piece, tickets] of pieces.entries()) {
		seen(piece * CHUNK);
		// the next rows are made while the database takes these, which have to be sent first
		const making = setImmediate(pieces[piece + 1]).then((next) => next?.map(rowOf) ?? []);
		[rows] = await Promise.all([making, putRows(trx, rows)]);
		const stored = await idsOf(
			trx,
			tickets.map(({ number }) => number)
		);
		const fresh = new Set([...stored].flatMap(([number, id]) => (storedIds.has(number) ? [] : [id])));
		await drawTables(
			trx,
			new Map(tickets.map((ticket) => [stored.get(ticket.number) as number, ticket])),
			fresh
		);
		for (const { number, parts } of tickets) {
			const id = stored.get(number) as number;
			if (parts.length > 0 || !fresh.has(id)) withUses.push(id);
		}
	}
	return withUses;
}

async function idsOf(trx: Knex.Transaction, numbers: readonly string[]): Promise<Map<string, number>> {
	const ids = new Map<string, number>();
	for (const chunk of inPieces(numbers, AT_ONCE)) {
		const rows = await trx('tickets').whereIn('number', chunk).select('id', 'number');
		for (const { id, number } of rows) ids.set(number, id);
	}
	return ids;
}

/**
 * Gives what was written its place in the shop's history. A replaced ticket gets one
 * too where it taught before: it must be unlearnt.
 */
async function becomeHistory(trx: Knex.Transaction, records: readonly Ticket[]): Promise<void> {
	if (records.length === 0) return;
	const numbers = [...new Set(records.map(({ number }) => number))];
	const seq = await advanceCounter(trx, 'history');
	for (const chunk of inPieces(numbers, AT_ONCE)) {
		await trx('tickets')
			.whereIn('number', chunk)
			.andWhere((either) =>
				either.whereNotNull('closed_at').orWhere('history_seq', '>', 0).orWhereRaw(ANSWERED)
			)
			.update({ history_seq: seq });
	}
}

const ANSWERED = "JSON_CONTAINS_PATH(record, 'one', '$.accepted')";
const OWN_NUMBER = /^K-(\d{1,9})$/;

/**
 * What others must not wait for, in transactions of its own: the shop's numbers go on behind those of the input, so that
 * nobody takes a device in under one of them, and its customers are there.
 */
async function prepare(db: Database, good: readonly LineRecord[]): Promise<ReadonlyMap<string, number>> {
	const tickets = good.flatMap(({ kind, record }) => (kind === 'ticket' ? [record] : []));
	const highest = tickets.reduce(
		(maximum, { number }) => Math.max(maximum, Number(OWN_NUMBER.exec(number)?.[1] ?? 0)),
		0
	);
	const customers = tickets.flatMap(({ customer }) => (customer ? [customer] : []));
	if (highest > 0) await inTransaction(db, (trx) => raiseCounter(trx, 'ticket', highest));
	return inTransaction(db, (trx) => putCustomers(trx, customers));
}

/** Customers that no ticket names, after an import that did not come to its end. */
async function forgetUnnamed(db: Database, ids: readonly number[]): Promise<void> {
	for (const chunk of inPieces(ids, AT_ONCE)) {
		await db('customers')
			.whereIn('id', chunk)
			.whereNotExists(db('tickets').whereRaw('tickets.customer_id = customers.id'))
			.delete();
	}
}

function countKinds(records: readonly LineRecord[]): Record<string, number> {
	const counts: Record<string, number> = {};
	for (const { kind } of records) counts[kind] = (counts[kind] ?? 0) + 1;
	return counts;
}
