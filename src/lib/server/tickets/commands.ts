import type { Knex } from 'knex';
import { z } from 'zod';
import type { Catalog } from '$lib/core/catalog/catalog';
import type { ModelRecordInput } from '$lib/core/catalog/new-model';
import { modelFromWords } from '$lib/core/catalog/new-model';
import { compareReadings } from '$lib/core/readings/compare';
import {
	promoteProvisional,
	provenReferences,
	provisionalReferences
} from '$lib/core/tickets/proven-references';
import type { Mode } from '$lib/core/readings/reference';
import { applyChange } from '$lib/core/tickets/apply-change';
import { tidyCustomer } from '$lib/core/tickets/corrections';
import { isRefusal, type Refusal } from '$lib/core/tickets/refusal';
import { customerFields, ticketChangeSchema, type TicketChange } from '$lib/core/tickets/ticket-change';
import { mayMake, notYours } from '$lib/core/tickets/verb-roles';
import { beforeRepair, MATTERS, openedTicket, type Ticket } from '$lib/core/tickets/ticket-record';
import { codeSchema, isTicketNumber, ticketNumberSchema } from '$lib/core/units/code';
import { DAY_MS, LATEST_INSTANT } from '$lib/core/units/instant';
import type { Role } from '$lib/core/units/role';
import { recordAudit } from '../audit/commands';
import { changesSince, type AuditLine } from '../audit/queries';
import { putCatalogRecords, putReferences } from '../catalog/commands';
import { allReferences, knownGoodShelf, provisionalOf, settleProvisional } from '../catalog/known-good';
import { loadCatalog } from '../catalog/queries';
import { inTransaction, type Database } from '../database/connection';
import { advanceCounter, holdCounter } from '../database/counters';
import { sealPasscode, openPasscode } from './passcodes';
import {
	customerDigest,
	isHistory,
	putCustomers,
	soundTicket,
	selectTickets,
	ticketColumns,
	toStoredTicket,
	type StoredTicket,
	type TicketRow
} from './rows';

export interface Actor {
	/** technician code where the user is one, else the sign-in name */
	by: string;
	name: string;
	role: Role;
}

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
	| { ok: true; version: number; repeated: boolean }
	| { ok: false; code: 'missing'; message: string }
	| { ok: false; code: 'not-yours'; refusal: Refusal }
	| { ok: false; code: 'refused'; refusal: Refusal; elsewhere?: OtherTimer }
	| { ok: false; code: 'stale'; version: number; changes: ChangeByOther[] };

/** What somebody did meanwhile. No more than this: the trail's detail may hold what a role must not see. */
export type ChangeByOther = Pick<AuditLine, 'at' | 'actor' | 'verb'>;

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

/**
 * One change of one ticket, in one transaction: the row is held, the version compared, the change
 * applied by core, saved, and noted in the audit trail. The same `once` again answers as before.
 */
export async function changeTicket(
	db: Database,
	actor: Actor,
	now: number,
	number: string,
	{ version, once, change, waitedMs = 0 }: z.input<typeof changeBody> & { change: TicketChange }
): Promise<ChangeAnswer> {
	return inTransaction(db, async (trx): Promise<ChangeAnswer> => {
		const stored = await holdTicket(trx, number);
		if (!stored) return { ok: false, code: 'missing', message: `there is no ticket ${number}` };
		const before = await earlierAnswer(trx, once);
		if (before !== null) return { ok: true, version: stored.version, repeated: true };
		if (stored.version !== version) {
			const lines = await changesSince(trx, 'ticket', number, version);
			const changes = lines.map(({ at, actor, verb }) => ({ at, actor, verb }));
			return { ok: false, code: 'stale', version: stored.version, changes };
		}
		if (!mayMake(actor.role, change, stored.ticket)) {
			const refusal = { field: 'role', message: notYours(actor.role, change.verb) };
			return { ok: false, code: 'not-yours', refusal };
		}
		const catalog = await loadCatalog(trx);
		const missing = await missingFirstTicket(trx, change);
		if (missing) return { ok: false, code: 'refused', refusal: missing };
		const at = Math.max(stored.ticket.openedAt, now - waitedMs);
		const changed = applyChange(stored.ticket, change, { now: at, by: actor.by, catalog });
		if (isRefusal(changed)) return { ok: false, code: 'refused', refusal: changed };
		const elsewhere = await timerElsewhere(trx, change, number, catalog);
		if (elsewhere) return elsewhere;
		const unsound = await saveTicket(trx, stored, changed, catalog);
		if (unsound) return { ok: false, code: 'refused', refusal: unsound };
		if (change.verb === 'close') await proveReferences(trx, changed, now);
		if (change.verb === 'keep-provisional') await keepProvisional(trx, changed, change.mode, catalog);
		await noteAnswer(trx, once, now, number);
		await recordAudit(trx, {
			at: now,
			actor: actor.name,
			subject: 'ticket',
			key: number,
			version: stored.version + 1,
			verb: change.verb,
			detail: { ...change, ...(waitedMs > 0 ? { waitedMs } : {}), ...struckOut(stored.ticket, change) }
		});
		return { ok: true, version: stored.version + 1, repeated: false };
	});
}

/** What a device that passed every gate makes known good: its last readings, and its own provisional ones if they hold. */
async function proveReferences(trx: Knex.Transaction, ticket: Ticket, now: number): Promise<void> {
	const proven = provenReferences(ticket);
	if (proven.length === 0) return;
	const provisional = await provisionalOf(trx, ticket.model, ticket.number);
	const settled = promoteProvisional(
		provisional.map(({ reference }) => reference),
		proven
	);
	await settleProvisional(trx, provisional, settled, now);
	// a reading that was promoted is that board already: it must not count twice
	const there = new Set(settled.promoted.map(({ pin, mode }) => `${pin} ${mode}`));
	await putReferences(
		trx,
		proven.filter(({ pin, mode }) => !there.has(`${pin} ${mode}`))
	);
}

async function keepProvisional(
	trx: Knex.Transaction,
	ticket: Ticket,
	mode: Mode,
	catalog: Catalog
): Promise<void> {
	const connector = catalog.connectors.get(catalog.models.get(ticket.model)?.connector ?? '');
	if (!connector) return;
	const early = ticket.readings.filter(({ stage }) => beforeRepair(stage));
	const { book } = knownGoodShelf(await allReferences(trx), catalog);
	const { pins, nets } = compareReadings(connector, early, book(ticket.model));
	const dissenting = new Set(nets.flatMap(({ dissenting }) => dissenting));
	const there = new Set(
		(await provisionalOf(trx, ticket.model, ticket.number)).map(
			({ reference }) => `${reference.pin} ${reference.mode}`
		)
	);
	const kept = provisionalReferences(ticket, mode, pins, dissenting);
	await putReferences(
		trx,
		kept.filter((reference) => !there.has(`${reference.pin} ${reference.mode}`))
	);
}

async function holdTicket(trx: Knex.Transaction, number: string): Promise<StoredTicket | null> {
	if (!isTicketNumber(number)) return null;
	const row = (await selectTickets(trx).where('tickets.number', number).forUpdate('tickets').first()) as
		TicketRow | undefined;
	return row ? toStoredTicket(row) : null;
}

/** Saves a ticket; a change that makes it unsound (a full list, a sum too large) is refused and leaves nothing. */
async function saveTicket(
	trx: Knex.Transaction,
	stored: StoredTicket,
	changed: Ticket,
	catalog: Catalog
): Promise<Refusal | null> {
	const sound = soundTicket(changed, catalog);
	if (isRefusal(sound)) return sound;
	const { customer } = changed;
	const customerId =
		customer === null || JSON.stringify(customer) === JSON.stringify(stored.ticket.customer)
			? stored.customerId
			: ((await putCustomers(trx, [customer])).get(customerDigest(customer)) ?? null);
	const history =
		isHistory(changed) || isHistory(stored.ticket)
			? { history_seq: await advanceCounter(trx, 'history') }
			: {};
	await trx('tickets')
		.where({ id: stored.id })
		.update({
			...ticketColumns(sound, customerId, catalog),
			...history,
			...(changed.closedAt === null ? {} : { passcode: null }),
			version: stored.version + 1
		});
	return null;
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
	if (change.verb !== 'start-timer') return null;
	const { technician } = change;
	await trx('catalog').where({ kind: 'technician', code: technician }).forUpdate().first('id');
	const rows = (await selectTickets(trx)
		.whereNull('tickets.closed_at')
		.andWhereNot('tickets.number', number)
		.andWhereRaw("JSON_CONTAINS_PATH(tickets.record, 'one', '$.running')")) as TicketRow[];
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

/** What an entry said that is taken back: the trail keeps it. */
function struckOut(ticket: Ticket, change: TicketChange): { struckOut?: unknown } {
	return change.verb === 'withdraw' ? { struckOut: ticket[change.list][change.index] } : {};
}

async function missingFirstTicket(trx: Knex.Transaction, change: TicketChange): Promise<Refusal | null> {
	if (change.verb !== 'comeback' || change.of === null) return null;
	const first = await trx('tickets').where({ number: change.of }).first('id');
	return first ? null : { field: 'of', message: `names ${change.of}, which is no ticket of this shop` };
}

/** What a form that was sent twice was answered the first time; null the first time. */
async function earlierAnswer(trx: Knex.Transaction, once: string): Promise<string | null> {
	const row = (await trx('submissions').where({ once }).first('answer')) as { answer: string } | undefined;
	return row?.answer ?? null;
}

async function noteAnswer(trx: Knex.Transaction, once: string, now: number, answer: string) {
	await trx('submissions').insert({ once, at: new Date(now), answer });
}

export const takeInBody = z.strictObject({
	once: z.uuid(),
	customer: customerFields,
	/** a known model, or words for a new one */
	model: z.union([
		z.strictObject({ code: codeSchema }),
		z.strictObject({
			label: z.string().trim().min(2, 'is too short; write maker and model').max(200),
			connector: codeSchema.nullable()
		})
	]),
	serial: z.string().trim().max(64).optional(),
	reported: z.string().trim().max(4000).optional(),
	condition: z.string().trim().max(4000).optional(),
	accessories: z.string().trim().max(4000).optional(),
	matters: z.enum(MATTERS),
	promisedAt: z.int().min(0).max(LATEST_INSTANT).nullable(),
	signs: z.record(codeSchema, z.boolean()),
	/** the fault that the customer claims */
	claim: codeSchema.nullable().default(null),
	passcode: z.string().max(100).optional(),
	comebackOf: ticketNumberSchema.nullable()
});
export type TakeIn = z.input<typeof takeInBody>;

export type TakeInAnswer = { ok: true; number: string } | { ok: false; refusal: Refusal };

/** Takes a device in: customer, model where it is new, ticket. One number however often it is sent. */
export async function takeIn(
	db: Database,
	actor: Actor,
	now: number,
	body: z.output<typeof takeInBody>
): Promise<TakeInAnswer> {
	return inTransaction(db, async (trx): Promise<TakeInAnswer> => {
		await holdCounter(trx, 'ticket');
		const before = await earlierAnswer(trx, body.once);
		if (before !== null) return { ok: true, number: before };
		const catalog = await loadCatalog(trx);
		const odd = Object.keys(body.signs).find((sign) => !catalog.signs.has(sign));
		if (odd) return refuseTakeIn('signs', `names ${odd}, which the catalog does not hold`);
		if (body.claim !== null && !catalog.faults.has(body.claim)) {
			return refuseTakeIn('claim', `is ${body.claim}, which the catalog does not hold`);
		}
		const model = resolveModel(catalog, body.model);
		if ('field' in model) return { ok: false, refusal: model };
		if (body.comebackOf && !(await trx('tickets').where({ number: body.comebackOf }).first('id'))) {
			return refuseTakeIn('comebackOf', `names ${body.comebackOf}, which is no ticket of this shop`);
		}
		if ('record' in model) await putCatalogRecords(trx, [model]);
		const customer = tidyCustomer(body.customer);
		const customers = await putCustomers(trx, [customer]);
		const serial = await advanceCounter(trx, 'ticket');
		const ticket = newTicket(
			`K-${String(serial).padStart(5, '0')}`,
			model.code,
			customer,
			body,
			now,
			actor.by
		);
		const sound = soundTicket(ticket, catalog);
		if (isRefusal(sound)) return { ok: false, refusal: sound };
		await trx('tickets').insert({
			...ticketColumns(sound, customers.get(customerDigest(customer)) ?? null, catalog),
			passcode: body.passcode ? sealPasscode(body.passcode, ticket.number) : null
		});
		await noteAnswer(trx, body.once, now, ticket.number);
		await recordAudit(trx, {
			at: now,
			actor: actor.name,
			subject: 'ticket',
			key: ticket.number,
			version: 1,
			verb: 'take-in',
			detail: { model: ticket.model, promisedAt: ticket.promisedAt }
		});
		return { ok: true, number: ticket.number };
	});
}

const refuseTakeIn = (field: string, message: string): TakeInAnswer => ({
	ok: false,
	refusal: { field, message }
});

function resolveModel(
	catalog: Catalog,
	asked: z.output<typeof takeInBody>['model']
): ModelRecordInput | { code: string } | Refusal {
	if ('code' in asked) {
		return catalog.models.has(asked.code)
			? { code: asked.code }
			: { field: 'model', message: `is ${asked.code}, which the catalog does not hold` };
	}
	if (asked.connector !== null && !catalog.connectors.has(asked.connector)) {
		return { field: 'connector', message: `is ${asked.connector}, which the catalog does not hold` };
	}
	return modelFromWords(asked.label, asked.connector, catalog);
}

function newTicket(
	number: string,
	model: string,
	customer: Ticket['customer'],
	body: z.output<typeof takeInBody>,
	now: number,
	by: string
): Ticket {
	const { reported, condition, accessories } = body;
	return {
		...openedTicket(number, now, model),
		promisedAt: body.promisedAt,
		serial: body.serial || null,
		customer,
		...(reported ? { reported } : {}),
		...(condition ? { condition } : {}),
		...(accessories ? { accessories } : {}),
		matters: body.matters,
		signs: body.signs,
		opinions: body.claim === null ? [] : [{ from: 'customer', fault: body.claim, at: now, by }],
		comebackOf: body.comebackOf
	};
}

export type PasscodeAnswer =
	{ ok: true; passcode: string } | { ok: false; code: 'none' | 'unreadable' | 'not-yours' };

/**
 * Shows the passcode of an open ticket to who works on it, the technician who has the ticket, or to the
 * manager, and notes that it was shown.
 */
export async function showPasscode(
	db: Database,
	viewer: Actor & { technician: string | null },
	now: number,
	number: string
): Promise<PasscodeAnswer> {
	if (!isTicketNumber(number)) return { ok: false, code: 'none' };
	return inTransaction(db, async (trx): Promise<PasscodeAnswer> => {
		const row = (await trx('tickets')
			.where({ number })
			.whereNull('closed_at')
			.first('passcode', 'version', 'assigned_to')) as
			{ passcode: Buffer | null; version: number; assigned_to: string | null } | undefined;
		if (!row?.passcode) return { ok: false, code: 'none' };
		const works = viewer.technician !== null && viewer.technician === row.assigned_to;
		if (viewer.role !== 'manager' && !works) return { ok: false, code: 'not-yours' };
		const passcode = openPasscode(row.passcode, number);
		await recordAudit(trx, {
			at: now,
			actor: viewer.name,
			subject: 'ticket',
			key: number,
			version: row.version,
			verb: 'show-passcode',
			detail: { readable: passcode !== null }
		});
		return passcode === null ? { ok: false, code: 'unreadable' } : { ok: true, passcode };
	});
}
