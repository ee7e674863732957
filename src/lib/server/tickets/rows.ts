import { offeredWarrantyDays } from '$lib/core/tickets/warranty';
import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import type { Catalog } from '$lib/core/catalog/catalog';
import type { AcceptedJob } from '$lib/core/stock/reserved';
import { agreedOperations } from '$lib/core/tickets/agreed';
import { saidHowItDoes } from '$lib/core/tickets/life';
import { jobBooks } from '$lib/core/ledger/ticket-profit';
import { describeIssue } from '$lib/core/exchange/read-lines';
import type { Changed, Refusal } from '$lib/core/tickets/refusal';
import { collectedAt, dueOf, owedOf, taxOf } from '$lib/core/tickets/money';
import {
	ticketFromRecord,
	ticketRecord,
	ticketToRecord,
	type Customer,
	type Ticket
} from '$lib/core/tickets/ticket-record';
import { nextEndOf, waitsOf } from '$lib/core/tickets/waits';
import { inPieces } from '../database/chunks';
import type { Queryable } from '../database/connection';
import { asJson } from '../database/json';
import type { Row } from '../database/tables';

/** A ticket's record joined with its customer, as `selectTickets` reads it. */
export interface TicketRow extends Pick<
	Row<'tickets'>,
	'id' | 'number' | 'record' | 'version' | 'customer_id'
> {
	customer_name: string | null;
	customer_kind: Customer['kind'] | null;
	customer_phone: string | null;
	customer_email: string | null;
	customer_language: string | null;
	customer_hears_by: Row<'customers'>['hears_by'];
	has_passcode: number;
}

/** A ticket with what the store knows beside it. */
export interface StoredTicket {
	id: number;
	ticket: Ticket;
	version: number;
	customerId: number | null;
	hasPasscode: boolean;
}

/** Tickets joined with their customers: the one select that `toStoredTicket` reads. */
export const selectTickets = (db: Queryable) =>
	db('tickets')
		.leftJoin('customers', 'customers.id', 'tickets.customer_id')
		.select<TicketRow[]>(
			'tickets.id',
			'tickets.number',
			'tickets.record',
			'tickets.version',
			'tickets.customer_id',
			'customers.name as customer_name',
			'customers.kind as customer_kind',
			'customers.phone as customer_phone',
			'customers.email as customer_email',
			'customers.language as customer_language',
			'customers.hears_by as customer_hears_by',
			db.raw('tickets.passcode IS NOT NULL AS has_passcode')
		);

export function toStoredTicket(row: TicketRow): StoredTicket {
	const ticket = ticketFromRecord(asJson(row.record));
	return {
		id: row.id,
		ticket: { ...ticket, customer: toCustomer(row) },
		version: row.version,
		customerId: row.customer_id,
		hasPasscode: Boolean(row.has_passcode)
	};
}

function toCustomer(row: TicketRow): Customer | null {
	if (row.customer_name === null) return null;
	return {
		name: row.customer_name,
		kind: row.customer_kind ?? 'private',
		...(row.customer_phone ? { phone: row.customer_phone } : {}),
		...(row.customer_email ? { email: row.customer_email } : {}),
		...(row.customer_language ? { language: row.customer_language } : {}),
		...(row.customer_hears_by ? { hears_by: row.customer_hears_by } : {})
	};
}

/** The columns of a ticket: its record, and what is searched and summed drawn from it. */
export function ticketColumns(ticket: Ticket, customerId: number | null, catalog: Catalog) {
	const moment = (at: number | null) => (at === null ? null : new Date(at));
	const books = jobBooks(ticket, catalog);
	return {
		number: ticket.number,
		customer_id: customerId,
		model: ticket.model,
		serial: ticket.serial,
		opened_at: new Date(ticket.openedAt),
		closed_at: moment(ticket.closedAt),
		promised_at: moment(ticket.promisedAt),
		promised_chance: ticket.promisedChance ?? null,
		outcome: ticket.outcome,
		assigned_to: ticket.assignedTo,
		running_by: runningBy(ticket),
		waiting_for: waitsOf(ticket)[0] ?? null,
		wait_until: moment(nextEndOf(ticket)),
		comeback_of: ticket.comebackOf,
		cause: ticket.cause ?? null,
		methods: methodsOf(ticket),
		agreed: agreedOf(ticket),
		quoted_minor: ticket.quotedMinor,
		accepted: ticket.accepted,
		paid_minor: ticket.paidMinor,
		tax_minor: taxOf(ticket),
		owed_minor: owedOf(ticket),
		due_at: moment(dueOf(ticket)),
		collected_at: moment(collectedAt(ticket)),
		offered_warranty: offeredWarrantyDays(ticket) ?? null,
		...askedAfter(ticket),
		harmed: (ticket.ownFaults?.length ?? 0) > 0,
		parts_minor: books.partsMinor,
		labour_minor: books.labourMinor,
		minutes: books.minutes.toFixed(2),
		// as bytes: the driver escapes a text of some kilobytes at five times the cost
		record: Buffer.from(JSON.stringify(ticketToRecord({ ...ticket, customer: null })))
	};
}

/** When somebody last said how it does since it was handed over, and whether it held. */
function askedAfter(ticket: Ticket): { asked_at: Date | null; held: boolean | null } {
	const back = collectedAt(ticket);
	const followUp = back === null ? undefined : saidHowItDoes(ticket, back);
	return {
		asked_at: followUp?.at === undefined ? null : new Date(followUp.at),
		held: followUp ? followUp.followedUp === 'holds' : null
	};
}

/** The procedures that were followed, as a list of codes; null where none was. */
function methodsOf({ steps }: Ticket): string | null {
	const codes = [
		...new Set(steps.filter(({ did: action }) => action === 'done').map(({ procedure }) => procedure))
	];
	return codes.length === 0 ? null : JSON.stringify(codes);
}

/** Whose timers run, each between spaces; null where none does. */
const runningBy = ({ running }: Ticket): string | null =>
	running.length === 0 ? null : ` ${running.map(({ technician }) => technician).join(' ')} `;

/** What an open ticket with an accepted price still needs parts for; null where nothing is agreed. */
function agreedOf(ticket: Ticket): string | null {
	if (ticket.closedAt !== null || !ticket.accepted) return null;
	const parts = ticket.parts.map(({ sku, quantity }) => ({ sku, quantity }));
	const agreed: AcceptedJob = { operations: agreedOperations(ticket), faults: ticket.faults ?? [], parts };
	return JSON.stringify(agreed);
}

/** Sums of one ticket beyond this are a slip of the keys, and would not fit the books: a hundred million. */
const LARGEST_SUM_MINOR = 10_000_000_000;

/**
 * A ticket as it may be stored: as the exchange format takes it, in its order, its sums within what the books hold.
 * @returns what is wrong where it is not
 */
export function soundTicket(ticket: Ticket, catalog: Catalog): Changed {
	const parsed = ticketRecord.safeParse(JSON.parse(JSON.stringify(ticketToRecord(ticket))));
	const [issue] = parsed.error?.issues ?? [];
	if (issue) {
		const { path, message } = describeIssue(issue);
		return { field: path, message: issue.code === 'too_big' ? `is full or too large: ${message}` : message };
	}
	const sound = parsed.data as Ticket;
	return sumsTooLarge(sound, catalog) ?? sound;
}

/** Where parts or labour of a ticket come to more than the books hold. */
export function sumsTooLarge(ticket: Ticket, catalog: Catalog): Refusal | null {
	const { partsMinor, labourMinor } = jobBooks(ticket, catalog);
	const words = (minor: number) =>
		`come to ${(minor / 100).toFixed(2)}; one ticket holds 100000000.00 at most`;
	if (partsMinor > LARGEST_SUM_MINOR) return { field: 'parts', message: words(partsMinor) };
	return labourMinor > LARGEST_SUM_MINOR ? { field: 'attempts', message: words(labourMinor) } : null;
}

/** Finds or adds customers; the same name, kind, phone and address is the same customer. Ids by digest. */
export async function putCustomers(
	trx: Knex.Transaction,
	customers: readonly Customer[]
): Promise<Map<string, number>> {
	const byDigest = new Map(customers.map((customer) => [customerDigest(customer), customer]));
	const ids = new Map<string, number>();
	for (const chunk of inPieces([...byDigest.keys()], 500)) {
		const rows = chunk.map((digest) => {
			const { name, kind, phone, email, language, hears_by } = byDigest.get(digest) as Customer;
			return {
				name,
				kind,
				phone: phone ?? null,
				email: email ?? null,
				language: language ?? null,
				hears_by: hears_by ?? null,
				digest
			};
		});
		// what they said last of how they want to hear holds; what is not said leaves it
		await trx('customers')
			.insert(rows)
			.onConflict('digest')
			.merge({
				language: trx.raw('COALESCE(VALUES(language), customers.language)'),
				hears_by: trx.raw('COALESCE(VALUES(hears_by), customers.hears_by)')
			});
		const stored = await trx('customers').whereIn('digest', chunk).select('id', 'digest');
		for (const { id, digest } of stored) ids.set(digest, id);
	}
	return ids;
}

export const customerDigest = ({ name, kind, phone, email }: Customer): string =>
	createHash('sha256')
		.update(JSON.stringify([name, kind, phone ?? '', email ?? '']))
		.digest('hex');

/** Writes whole rows: new tickets are added, known ones replaced. A passcode stays while the ticket is open. */
export async function putRows(
	trx: Knex.Transaction,
	rows: readonly ReturnType<typeof ticketColumns>[]
): Promise<void> {
	const merged = Object.keys(rows[0] ?? {}).filter((column) => column !== 'number');
	await trx('tickets')
		.insert(rows)
		.onConflict('number')
		.merge({
			...Object.fromEntries(merged.map((column) => [column, trx.raw(`VALUES(${column})`)])),
			passcode: trx.raw('IF(VALUES(closed_at) IS NULL, tickets.passcode, NULL)'),
			version: trx.raw('tickets.version + 1')
		});
}
