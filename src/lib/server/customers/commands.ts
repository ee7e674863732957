import type { Knex } from 'knex';
import { z } from 'zod';
import { customerFields, tidyCustomer } from '$lib/core/tickets/customer';
import type { Instant } from '$lib/core/units/instant';
import { recordAudit } from '../audit/commands';
import { inTransaction, type Database } from '../database/connection';
import { advanceCounter } from '../database/counters';
import { customerDigest } from '../tickets/rows';

export type CustomerAnswer = { ok: true } | { ok: false; field: string; message: string };
export const refuse = (field: string, message: string): CustomerAnswer => ({ ok: false, field, message });

const idField = z.coerce.number().int().min(1).max(Number.MAX_SAFE_INTEGER);
export const saveBody = z.object({ id: idField, ...customerFields.shape });

export interface Held {
	id: number;
	name: string;
	phone: string | null;
	email: string | null;
}
export const lockCustomers = (trx: Knex.Transaction, ids: readonly number[]) =>
	trx('customers')
		.whereIn('id', [...ids])
		.whereNull('erased_at')
		.orderBy('id')
		.forUpdate()
		.select('id', 'name', 'phone', 'email');

/** Tickets of a customer are read again by who keeps them in memory, and by who looks at one. */
export async function touchTickets(
	trx: Knex.Transaction,
	customerId: number,
	change: Record<string, unknown>
): Promise<void> {
	const history = await advanceCounter(trx, 'history');
	await trx('tickets')
		.where({ customer_id: customerId })
		.update({
			...change,
			version: trx.raw('version + 1'),
			history_seq: trx.raw('IF(history_seq > 0, ?, history_seq)', [history])
		});
}

/** Writes a customer anew: name, how they are reached, how they want to hear. */
export async function saveCustomer(
	db: Database,
	actor: string,
	now: Instant,
	{ id, ...fields }: z.output<typeof saveBody>
): Promise<CustomerAnswer> {
	const customer = tidyCustomer(fields);
	if (customer.hears_by === 'mail' && !customer.email) {
		return refuse('email', 'is empty. Messages by email need an address.');
	}
	if (customer.hears_by === 'text' && !customer.phone) {
		return refuse('phone', 'is empty; who wants text messages needs a telephone');
	}
	return inTransaction(db, async (trx): Promise<CustomerAnswer> => {
		const [known] = await lockCustomers(trx, [id]);
		if (!known) return refuse('id', 'is no customer any more; go back to the list');
		const digest = customerDigest(customer);
		const duplicate = await trx('customers').where({ digest }).andWhereNot({ id }).first('id');
		if (duplicate) {
			return refuse('name', `${customer.name} with this telephone and mail is there already; merge the two`);
		}
		const { name, kind, phone, email, language, hears_by } = customer;
		await trx('customers')
			.where({ id })
			.update({
				name,
				kind,
				phone: phone ?? null,
				email: email ?? null,
				language: language ?? null,
				hears_by: hears_by ?? null,
				digest
			});
		await touchTickets(trx, id, {});
		await noted(trx, actor, now, id, 'save', { hearsBy: hears_by ?? 'call' });
		return { ok: true };
	});
}

export const mergeBody = z.object({ id: idField, into: idField });

/** Makes two entries of one person one: the tickets go to the other, the entry goes. */
export async function mergeCustomers(
	db: Database,
	actor: string,
	now: Instant,
	{ id, into }: z.output<typeof mergeBody>
): Promise<CustomerAnswer> {
	if (id === into) return refuse('into', 'is the customer itself; choose the other one');
	return inTransaction(db, async (trx): Promise<CustomerAnswer> => {
		const customers = await lockCustomers(trx, [id, into]);
		if (customers.length < 2) return refuse('into', 'is no customer any more; reload the page');
		await touchTickets(trx, id, { customer_id: into });
		await trx('customers').where({ id }).delete();
		await noted(trx, actor, now, into, 'merge', { merged: id });
		return { ok: true };
	});
}

export const noted = (
	trx: Knex.Transaction,
	actor: string,
	at: Instant,
	id: number,
	verb: string,
	detail: Record<string, unknown>
) => recordAudit(trx, { at, actor, subject: 'customer', key: String(id), version: 1, verb, detail });
