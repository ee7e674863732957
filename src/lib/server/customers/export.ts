import type { Instant } from '$lib/core/units/instant';
import { ticketToRecord } from '$lib/core/tickets/ticket-record';
import { recordAudit } from '../audit/commands';
import type { Database } from '../database/connection';
import { queuedMessages } from '../messages/queries';
import { selectTickets, toStoredTicket } from '../tickets/rows';
import { findCustomer } from './queries';

/** What is kept of a customer: who they are, their tickets without what the shop's costs were, what was written to them. */
export async function customerData(db: Database, actor: string, now: Instant, id: number) {
	const customer = await findCustomer(db, id);
	if (!customer) return null;
	const rows = await selectTickets(db).where('tickets.customer_id', id).orderBy('tickets.id');
	const messages = await queuedMessages(db, id);
	await recordAudit(db, {
		at: now,
		actor,
		subject: 'customer',
		key: String(id),
		version: 1,
		verb: 'take-out',
		detail: { tickets: rows.length }
	});
	const { id: _, tickets: __, lastAt: ___, ...customerFields } = customer;
	return {
		customer: customerFields,
		tickets: rows.map((row) => {
			const record = ticketToRecord(toStoredTicket(row).ticket);
			return {
				...record,
				parts: record.parts?.map(({ unit_cost: ____, ...use }) => use),
				attempts: record.attempts?.map(({ hourly_cost: ____, ...attempt }) => attempt)
			};
		}),
		messages: messages.map(({ about: kind, channel, subject, body, state, createdAt, sentAt }) => ({
			about: kind,
			channel,
			subject,
			text: body,
			state,
			at: new Date(sentAt ?? createdAt).toISOString()
		}))
	};
}
