import type { Knex } from 'knex';
import { buildCatalog, type Catalog } from '$lib/core/catalog/catalog';
import type { CatalogRecord } from '$lib/core/catalog/records';
import { checkReferences, type KnownKeys } from '$lib/core/exchange/check-references';
import { readLines, type LineError, type LineRecord } from '$lib/core/exchange/read-lines';
import type { ReferenceRecord } from '$lib/core/readings/reference';
import { ticketFromRecord, type Customer, type TicketRecord } from '$lib/core/tickets/ticket-record';
import { recordAudit } from '../audit/commands';
import { putCatalogRecords, putReferences } from '../catalog/commands';
import { allCatalogRecords } from '../catalog/queries';
import { inTransaction, type Database } from '../database/connection';
import { advanceCounter, holdCounter, raiseCounter } from '../database/counters';
import { knownKeysOf } from './known-keys';
import { customerDigest, isHistory, putCustomers, ticketColumns } from '../tickets/rows';

export interface ImportAnswer {
	/** records taken, by kind */
	accepted: Record<string, number>;
	rejected: LineError[];
}

const CHUNK = 500;

/**
 * Imports JSON Lines in one transaction. All or nothing by default: with any error nothing is kept and
 * all errors are listed. Lenient: every good line is kept, the others are listed.
 */
export async function importLines(
	db: Database,
	actor: string,
	now: number,
	input: string,
	mode: 'strict' | 'lenient' = 'strict'
): Promise<ImportAnswer> {
	const read = readLines(input);
	return inTransaction(db, async (trx) => {
		const stored = await allCatalogRecords(trx);
		const { good, rejected } = await keepSound(trx, stored, read.records, read.errors, mode);
		if (mode === 'strict' && rejected.length > 0) return { accepted: {}, rejected };
		await write(trx, stored, good);
		const accepted = countKinds(good);
		await recordAudit(trx, {
			at: now,
			actor,
			subject: 'import',
			key: mode,
			verb: 'import',
			detail: { accepted, rejected: rejected.length }
		});
		return { accepted, rejected };
	});
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
	const known = await storedKeys(trx, stored, records);
	const rejected = [...errors];
	let good = [...records];
	for (;;) {
		const found = checkReferences(good, known);
		rejected.push(...found);
		const bad = new Set(found.map(({ line }) => line));
		good = good.filter(({ line }) => !bad.has(line));
		if (found.length === 0 || mode === 'strict') break;
	}
	rejected.sort((a, b) => a.line - b.line);
	return { good, rejected };
}

async function storedKeys(
	trx: Knex.Transaction,
	stored: readonly CatalogRecord[],
	records: readonly LineRecord[]
): Promise<KnownKeys> {
	const catalog = knownKeysOf(buildCatalog(stored));
	const tickets = new Set<string>();
	const firsts = records.flatMap(({ record }) =>
		record.record === 'ticket' && record.comeback_of ? [record.comeback_of] : []
	);
	for (let start = 0; start < firsts.length; start += CHUNK) {
		const rows = (await trx('tickets')
			.whereIn('number', firsts.slice(start, start + CHUNK))
			.select('number')) as { number: string }[];
		for (const { number } of rows) tickets.add(number);
	}
	return { ...catalog, has: (kind, key) => (kind === 'ticket' ? tickets.has(key) : catalog.has(kind, key)) };
}

async function write(
	trx: Knex.Transaction,
	stored: readonly CatalogRecord[],
	good: readonly LineRecord[]
): Promise<void> {
	const catalogRecords: CatalogRecord[] = [];
	const references: ReferenceRecord[] = [];
	const tickets: TicketRecord[] = [];
	for (const { record } of good) {
		if (record.record === 'ticket') tickets.push(record);
		else if (record.record === 'reference') references.push(record);
		else catalogRecords.push(record);
	}
	await putCatalogRecords(trx, catalogRecords);
	await putReferences(trx, references);
	await putTickets(trx, tickets, buildCatalog([...stored, ...catalogRecords]));
}

const COLUMNS_MERGED = [
	'customer_id',
	'model',
	'serial',
	'opened_at',
	'closed_at',
	'promised_at',
	'outcome',
	'assigned_to',
	'waiting_for',
	'comeback_of',
	'paid_minor',
	'parts_minor',
	'labour_minor',
	'minutes',
	'record',
	'history_seq'
];

async function putTickets(
	trx: Knex.Transaction,
	records: readonly TicketRecord[],
	catalog: Catalog
): Promise<void> {
	if (records.length === 0) return;
	await holdCounter(trx, 'ticket');
	const latest = new Map(records.map((record) => [record.number, record]));
	const customers = [...latest.values()].flatMap(({ customer }) => (customer ? [customer as Customer] : []));
	const ids = await putCustomers(trx, customers);
	const seq = await advanceCounter(trx, 'history');
	const merge = Object.fromEntries(COLUMNS_MERGED.map((column) => [column, trx.raw(`VALUES(${column})`)]));
	const numbers = [...latest.keys()];
	for (let start = 0; start < numbers.length; start += CHUNK) {
		const rows = numbers.slice(start, start + CHUNK).map((number) => {
			const ticket = ticketFromRecord(latest.get(number) as TicketRecord);
			const customerId = ticket.customer ? (ids.get(customerDigest(ticket.customer)) ?? null) : null;
			return {
				...ticketColumns(ticket, customerId, catalog),
				history_seq: isHistory(ticket) ? seq : 0
			};
		});
		// A replaced ticket keeps the higher place in history: it may have taught before and must be unlearnt.
		await trx('tickets')
			.insert(rows)
			.onConflict('number')
			.merge({
				...merge,
				history_seq: seq,
				passcode: trx.raw('IF(VALUES(closed_at) IS NULL, tickets.passcode, NULL)'),
				version: trx.raw('tickets.version + 1')
			});
	}
	const highest = Math.max(0, ...numbers.map((number) => Number(/^K-(\d{1,15})$/.exec(number)?.[1] ?? 0)));
	await raiseCounter(trx, 'ticket', highest);
}

function countKinds(records: readonly LineRecord[]): Record<string, number> {
	const counts: Record<string, number> = {};
	for (const { record } of records) counts[record.record] = (counts[record.record] ?? 0) + 1;
	return counts;
}
