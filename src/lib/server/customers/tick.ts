import { calledForToday } from '$lib/core/messages/called-for';
import { followUpOf, TOO_LATE_DAYS } from '$lib/core/messages/follow-up';
import { warrantyOf } from '$lib/core/tickets/warranty';
import { DAY_MS, type Instant } from '$lib/core/units/instant';
import { inChunks } from '../database/chunks';
import { inTransaction, type Database } from '../database/connection';
import { enqueue } from '../messages/enqueue';
import { sendDue, type Sent } from '../messages/send';
import type { Transport } from '../messages/transport';
import { transportOf } from '../messages/transports';
import { shopMemory } from '../memory/shop-memory';
import { changeTicket } from '../tickets/change-ticket';
import { findTicket } from '../tickets/queries';
import { selectTickets, toStoredTicket, type TicketRow } from '../tickets/rows';
import type { Channel } from '$lib/core/catalog/kinds-of-returns';

const CHUNK = 200;
/** Texts that went out are kept so long; that and when they left is kept on. Days; a choice. */
const KEPT_DAYS = 90;

/** What the day calls for: questions some days after, warranties that end. Each once, however often it is looked for. */
export async function enqueueToday(db: Database, now: Instant): Promise<number> {
	const { catalog } = await shopMemory(db);
	const longest = Math.max(
		catalog.shop.warrantyDays,
		...[...catalog.operations.values()].map(({ warranty_days }) => warranty_days ?? 0)
	);
	const read = (after: number) =>
		selectTickets(db)
			.where('tickets.id', '>', after)
			.where('tickets.outcome', 'fixed')
			.whereIn('customers.hears_by', ['mail', 'text'])
			.whereBetween('tickets.collected_at', [
				new Date(now - Math.max(longest, TOO_LATE_DAYS) * DAY_MS),
				new Date(now)
			])
			.orderBy('tickets.id')
			.limit(CHUNK) as Promise<TicketRow[]>;
	let queued = 0;
	for await (const rows of inChunks(CHUNK, read)) {
		for (const { id, ticket } of rows.map(toStoredTicket)) {
			const followUpAt = followUpOf(ticket, catalog, now)?.dueAt ?? null;
			const warrantyUntil = warrantyOf(ticket, catalog)?.workUntil ?? null;
			const messages = calledForToday(ticket, { followUpAt, warrantyUntil, now });
			if (messages.length === 0) continue;
			queued += await inTransaction(db, (trx) => enqueue(trx, { id, ticket }, messages, { catalog, now }));
		}
	}
	return queued;
}

/** Who was written to that a device is ready knows it. */
async function markTold(db: Database, now: Instant, sent: readonly Sent[]): Promise<void> {
	for (const { ticket, about, id } of sent) {
		if (about !== 'ready') continue;
		const stored = await findTicket(db, ticket);
		if (!stored) continue;
		await changeTicket(db, { by: 'messages', name: 'Messages', role: 'manager' }, now, ticket, {
			version: stored.version,
			once: onceOf(id),
			change: { verb: 'tell', how: 'message' }
		});
	}
}
/** The same for the same message: told once. */
const onceOf = (id: number) => `00000000-0000-4000-8000-${id.toString(16).padStart(12, '0')}`;

/** One round: what is due to leave, what has been kept long enough. What the day calls for comes before it, less often. */
export async function messagesRound(
	db: Database,
	now: Instant,
	transport: (channel: Channel) => Promise<Transport | null> = (channel) => transportOf(db, channel)
): Promise<Sent[]> {
	const sent = await sendDue(db, now, transport);
	await markTold(db, now, sent);
	await db('messages')
		.whereIn('state', ['sent', 'dropped'])
		.andWhere('created_at', '<', new Date(now - KEPT_DAYS * DAY_MS))
		.andWhereNot('body', '')
		.limit(500)
		.update({ body: '', subject: null, recipient: '' });
	return sent;
}
