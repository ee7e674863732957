import type { Knex } from 'knex';
import { z } from 'zod';
import type { Catalog } from '$lib/core/catalog/catalog';
import { applyChange } from '$lib/core/tickets/apply-change';
import { isRefusal, type Refusal } from '$lib/core/tickets/refusal';
import { taughtBy } from '$lib/core/tickets/taught';
import { ticketChangeSchema, type TicketChange } from '$lib/core/tickets/ticket-change';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { mayMake, notYours } from '$lib/core/tickets/verb-roles';
import { isTicketNumber } from '$lib/core/units/code';
import { DAY_MS } from '$lib/core/units/instant';
import { recordAudit } from '../audit/commands';
import { changesSince, type AuditLine } from '../audit/queries';
import { catalogNow } from '../catalog/queries';
import { inTransaction, type Database } from '../database/connection';
import type { Sum } from '../database/tables';
import { advanceCounter } from '../database/counters';
import { photoIsKept } from '../photos/store';
import { takeFromShelf, type Short } from '../stock/take-from-shelf';
import type { Actor } from './actor';
import { drawTables, noteUses } from './drawn-tables';
import { calledFor } from '$lib/core/messages/called-for';
import { dropWaiting, enqueue } from '../messages/enqueue';
import { followUp } from './effects';
import {
	customerDigest,
	putCustomers,
	selectTickets,
	soundTicket,
	ticketColumns,
	toStoredTicket,
	type StoredTicket,
	type TicketRow
} from './rows';
import { isSameForm, MarkTaken, markUsed, noteSubmitted, submittedBefore } from './submissions';

/** A timer of the same technician that runs on another ticket: one of the two has to stop. */
export interface OtherTimer {
	number: string;
	version: number;
	operation: string;
	label: string;
	startedAt: number;
}

/** Nothing of a refused command has happened. */
export type ChangeAnswer =
	| { ok: true; repeated: true; version: number }
	/** the ticket before, and as it stands saved */
	| {
			ok: true;
			repeated: false;
			version: number;
			previous: Ticket;
			stored: StoredTicket;
			/** what it used that the shelf did not hold */
			short: Short[];
	  }
	| { ok: false; code: 'missing'; message: string }
	| { ok: false; code: 'not-yours'; refusal: Refusal }
	| { ok: false; code: 'refused'; refusal: Refusal; elsewhere?: OtherTimer }
	| { ok: false; code: 'stale'; version: number; changes: ChangeByOther[] };

/** What somebody did meanwhile. No more than this: the trail's detail may hold what a role must not see. */
type ChangeByOther = Pick<AuditLine, 'at' | 'actor' | 'verb'>;

export const changeBody = z.strictObject({
	version: z.int().min(1).max(4_000_000_000),
	once: z.uuid(),
	/** how long ago it was entered, where it had to wait for the line */
	waitedMs: z
		.int()
		.min(0)
		.max(30 * DAY_MS)
		.default(0),
	change: ticketChangeSchema
});

export type ChangeAsked = z.input<typeof changeBody> & { change: TicketChange };

/** One change of one ticket, in a transaction of its own. */
export async function changeTicket(
	db: Database,
	actor: Actor,
	now: number,
	number: string,
	request: ChangeAsked
): Promise<ChangeAnswer> {
	const make = (sentBefore: boolean) =>
		inTransaction(db, (trx) => changeTicketIn(trx, actor, now, number, request, sentBefore));
	// its mark is known: what it did is told instead
	const answer = await make(false).catch((error: unknown) => {
		if (error instanceof MarkTaken) return make(true);
		throw error;
	});
	if (answer.ok || answer.code !== 'refused') return answer;
	// refused perhaps because it was made already, and sent again with the version that it made
	return (await submittedBefore(db, request.once)) ? make(true) : answer;
}

/**
 * One change of one ticket: the row is held, the version compared, the change applied by core, saved, and noted in the audit trail.
 * The same `once` again answers as before, also where both come at once.
 * @param sentBefore its mark is known to be used; without, that is looked for where the version is an old one
 * @throws MarkTaken where the mark was used and the version is the ticket's: then nothing of it happened
 */
export async function changeTicketIn(
	trx: Knex.Transaction,
	actor: Actor,
	now: number,
	number: string,
	{ version, once, change, waitedMs = 0 }: ChangeAsked,
	sentBefore = false
): Promise<ChangeAnswer> {
	const lock = await holdTicket(trx, number);
	if (!lock) return { ok: false, code: 'missing', message: `there is no ticket ${number}` };
	const { stored } = lock;
	if (sentBefore || stored.version !== version) {
		// read after the row is held: whoever sent the same at the same moment has answered by then
		const earlier = await submittedBefore(trx, once);
		if (earlier && isSameForm(earlier, 'change', number))
			return { ok: true, version: stored.version, repeated: true };
		if (earlier) return { ok: false, code: 'refused', refusal: markUsed(earlier) };
	}
	if (stored.version !== version) return staleAnswer(trx, number, version, stored.version);
	if (!mayMake(actor.role, change, stored.ticket)) {
		const refusal = { field: 'role', message: notYours(actor.role, change.verb) };
		return { ok: false, code: 'not-yours', refusal };
	}
	const catalog = await catalogNow(trx, lock.catalogVersion);
	const missing = (await missingFirstTicket(trx, change)) ?? (await missingPhoto(change));
	if (missing) return { ok: false, code: 'refused', refusal: missing };
	const at = Math.max(stored.ticket.openedAt, now - waitedMs);
	const changed = applyChange(stored.ticket, change, { now: at, by: actor.by, catalog });
	if (isRefusal(changed)) return { ok: false, code: 'refused', refusal: changed };
	const elsewhere = await timerElsewhere(trx, change, number, catalog);
	if (elsewhere) return elsewhere;
	const stocked = await takeFromShelf(trx, stored.ticket, changed, at);
	if ('field' in stocked) return { ok: false, code: 'refused', refusal: stocked };
	const saved = await saveTicket(trx, stored, stocked.ticket, catalog);
	if ('field' in saved) return { ok: false, code: 'refused', refusal: saved };
	await followUp({ trx, previous: stored.ticket, after: saved.ticket, change, catalog, now });
	if (change.verb === 'take-back')
		await dropWaiting(trx, saved.id, 'quote', 'the price was taken back before it left');
	const words = calledFor(stored.ticket, saved.ticket);
	await enqueue(trx, saved, words, { catalog, now });
	await noteSubmitted(trx, once, now, { number, form: 'change' });
	await recordAudit(trx, {
		at: now,
		actor: actor.name,
		subject: 'ticket',
		key: number,
		version: saved.version,
		verb: change.verb,
		detail: {
			...withoutSignature(change),
			...(waitedMs > 0 ? { waitedMs } : {}),
			...struckOut(stored.ticket, change)
		}
	});
	return {
		ok: true,
		version: saved.version,
		repeated: false,
		previous: stored.ticket,
		stored: saved,
		short: stocked.short
	};
}

async function staleAnswer(
	trx: Knex.Transaction,
	number: string,
	seen: number,
	version: number
): Promise<ChangeAnswer> {
	const lines = await changesSince(trx, 'ticket', number, seen);
	const changes = lines.map(({ at, actor, verb }) => ({ at, actor, verb }));
	return { ok: false, code: 'stale', version, changes };
}

interface Held {
	stored: StoredTicket;
	catalogVersion: number;
}

/** Holds a ticket's row, with all that has to be known before it is changed, in one statement. */
async function holdTicket(trx: Knex.Transaction, number: string): Promise<Held | null> {
	if (!isTicketNumber(number)) return null;
	const row = await selectTickets(trx)
		.select<(TicketRow & { catalog_version: Sum })[]>(
			trx.raw("(SELECT value FROM counters WHERE name = 'catalog') AS catalog_version")
		)
		.where('tickets.number', number)
		.forUpdate('tickets')
		.first();
	if (!row) return null;
	return {
		stored: toStoredTicket(row),
		catalogVersion: Number(row.catalog_version)
	};
}

/** Saves a ticket; a change that makes it unsound (a full list, a sum too large) is refused and leaves nothing. */
async function saveTicket(
	trx: Knex.Transaction,
	stored: StoredTicket,
	changed: Ticket,
	catalog: Catalog
): Promise<StoredTicket | Refusal> {
	const sound = soundTicket(changed, catalog);
	if (isRefusal(sound)) return sound;
	const { id, ticket: previous } = stored;
	const customerId =
		JSON.stringify(changed.customer) === JSON.stringify(previous.customer)
			? stored.customerId
			: await customerIdOf(trx, changed.customer);
	// the shop's counter is held by who moves it: only for what is taught
	const taught = taughtBy(sound);
	const history = taught === taughtBy(previous) ? {} : { history_seq: await advanceCounter(trx, 'history') };
	await trx('tickets')
		.where({ id })
		.update({
			...ticketColumns(sound, customerId, catalog),
			...history,
			...(changed.closedAt === null ? {} : { passcode: null }),
			version: stored.version + 1
		});
	const drawn = (['attempts', 'parts', 'closedAt', 'paidMinor', 'dealings'] as const).some(
		(field) => changed[field] !== previous[field]
	);
	if (drawn) await drawTables(trx, new Map([[id, sound]]));
	const moved = changed.closedAt !== previous.closedAt && changed.parts.length > 0;
	if (changed.parts !== previous.parts || moved) await noteUses(trx, [id]);
	const hasPasscode = stored.hasPasscode && changed.closedAt === null;
	return { id, ticket: sound, version: stored.version + 1, customerId, hasPasscode };
}

async function customerIdOf(trx: Knex.Transaction, customer: Ticket['customer']): Promise<number | null> {
	if (customer === null) return null;
	return (await putCustomers(trx, [customer])).get(customerDigest(customer)) ?? null;
}

/**
 * A technician has one pair of hands: a timer is not started while one of theirs runs on another ticket. The row of the
 * technician is held, so that two starts at the same moment take turns.
 */
async function timerElsewhere(
	trx: Knex.Transaction,
	change: TicketChange,
	number: string,
	catalog: Catalog
): Promise<Extract<ChangeAnswer, { code: 'refused' }> | null> {
	const starts = change.verb === 'start-timer' || (change.verb === 'step' && change.did === 'begun');
	if (!starts) return null;
	const { technician } = change;
	await trx('catalog').where({ kind: 'technician', code: technician }).forUpdate().first('id');
	const rows = await selectTickets(trx)
		.whereNull('tickets.closed_at')
		.andWhereNot('tickets.number', number)
		.andWhere('tickets.running_by', 'like', `% ${technician} %`);
	for (const { ticket, version } of rows.map(toStoredTicket)) {
		const timer = ticket.running.find((running) => running.technician === technician);
		if (!timer) continue;
		const label = catalog.operations.get(timer.operation)?.label ?? timer.operation;
		const name = catalog.technicians.get(technician)?.name ?? technician;
		const message = `${name} has a timer running on ${ticket.number} (${label}); say which of the two stops`;
		return {
			ok: false,
			code: 'refused',
			refusal: { field: 'technician', message },
			elsewhere: { number: ticket.number, version, label, ...timer }
		};
	}
	return null;
}

/** A signature stands on its ticket; the trail says that there was one. */
const withoutSignature = (change: TicketChange) =>
	change.verb === 'answer' && change.signature ? { ...change, signature: 'signed' } : change;

/** What an entry said that is taken back: the trail keeps it. */
function struckOut(ticket: Ticket, change: TicketChange): { struckOut?: unknown } {
	return change.verb === 'withdraw' ? { struckOut: ticket[change.list][change.index] } : {};
}

/** A picture is named on a ticket once it is kept. */
async function missingPhoto(change: TicketChange): Promise<Refusal | null> {
	if (change.verb !== 'photo' || (await photoIsKept(change.photo))) return null;
	return { field: 'photo', message: 'names a picture that is not kept here; send it again' };
}

/** The earlier ticket, or the lot, that a change names, where it is not there. */
async function missingFirstTicket(trx: Knex.Transaction, change: TicketChange): Promise<Refusal | null> {
	if (change.verb === 'cause' && change.from?.lot !== undefined) {
		const { lot } = change.from;
		const lotRow = await trx('catalog').where({ kind: 'lot', code: lot }).first('id');
		return lotRow ? null : { field: 'from', message: `names the lot ${lot}, which was never on the shelf` };
	}
	if (change.verb !== 'comeback' || change.of === null) return null;
	const first = await trx('tickets').where({ number: change.of }).first('id');
	return first ? null : { field: 'of', message: `names ${change.of}, which is no ticket of this shop` };
}
