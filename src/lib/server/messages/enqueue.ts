import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import type { Catalog } from '$lib/core/catalog/catalog';
import type { Channel, MessageKind } from '$lib/core/catalog/kinds-of-returns';
import type { CalledFor } from '$lib/core/messages/called-for';
import { compose, type Message } from '$lib/core/messages/compose';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { warrantyOf } from '$lib/core/tickets/warranty';
import type { Instant } from '$lib/core/units/instant';
import { shopFormat } from '$lib/core/units/shop-format';
import { customerLanguage } from '$lib/core/words/customer-language';
import { ownLink } from './links';

/** How a customer agreed to be written to, and where; null where they are called, or not at all. */
export function reachedBy(customer: Ticket['customer']): { channel: Channel; to: string } | null {
	if (!customer) return null;
	const { hears_by, email, phone } = customer;
	if (hears_by === 'mail' && email) return { channel: 'mail', to: email };
	if (hears_by === 'text' && phone) return { channel: 'text', to: phone };
	return null;
}

const factsOf = (ticket: Ticket, { shop, models, operations, parts }: Catalog, locale: string) => {
	const format = shopFormat({ ...shop, locale });
	const warranty = warrantyOf(ticket, { shop, operations, parts });
	return {
		name: ticket.customer?.name ?? null,
		device: models.get(ticket.model)?.label ?? ticket.model,
		number: ticket.number,
		shop: shop.name,
		promised: ticket.promisedAt === null ? null : format.moment(ticket.promisedAt),
		price: ticket.quotedMinor === null ? null : format.money(ticket.quotedMinor),
		link: ownLink(ticket.number),
		warranty: warranty && format.date(warranty.workUntil)
	};
};

/** What has not left yet is not sent any more: what it tells of is no longer so. */
export const dropWaiting = (
	trx: Knex.Transaction,
	ticketId: number,
	kind: MessageKind,
	problem: string
): Promise<number> =>
	trx('messages')
		.where({ ticket_id: ticketId, about: kind })
		.whereIn('state', ['waiting', 'failed'])
		.update({ state: 'dropped', next_at: null, problem });

/** A message on a ticket as it stands. */
export function written(ticket: Ticket, message: Parameters<typeof compose>[0], catalog: Catalog): Message {
	const { language, locale } = customerLanguage(message.language, catalog.shop.locale);
	return compose(message, catalog.records.template.values(), factsOf(ticket, catalog, locale), language);
}

/**
 * Puts messages into the queue, in the transaction of what they tell of: each once, whoever asks for it again. A customer who is called,
 * or wants to hear nothing, gets none.
 */
export async function enqueue(
	trx: Knex.Transaction,
	{ id, ticket }: { id: number; ticket: Ticket },
	messages: readonly CalledFor[],
	{ catalog, now }: { catalog: Catalog; now: Instant }
): Promise<number> {
	const reached = messages.length === 0 ? null : reachedBy(ticket.customer);
	if (!reached) return 0;
	const language = ticket.customer?.language;
	const rows = messages.map(({ about: kind, mark }) => {
		const { subject, text } = written(ticket, { about: kind, channel: reached.channel, language }, catalog);
		return {
			ticket_id: id,
			about: kind,
			channel: reached.channel,
			once: createHash('sha256').update(`${ticket.number} ${kind} ${mark}`).digest('hex'),
			recipient: reached.to,
			subject,
			body: text,
			language: language ?? '',
			state: 'waiting' as const,
			next_at: new Date(now),
			created_at: new Date(now)
		};
	});
	await trx('messages').insert(rows).onConflict('once').ignore();
	return rows.length;
}
