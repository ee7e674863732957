import { calledForToday } from '$lib/core/messages/called-for';
import { followUpOf, TOO_LATE_DAYS } from '$lib/core/messages/follow-up';
import { warrantyOf } from '$lib/core/tickets/warranty';
import { DAY_MS, type Instant } from '$lib/core/units/instant';
import { inChunks } from '../database/chunks';
import { inTransaction, type Database } from '../database/connection';
import { enqueue, written } from './enqueue';
import { sendDue, type Rewrite, type Sent } from './send';
import type { Transport } from './transport';
import { transportOf } from './transports';
import { log } from '../logging/log';
import { shopCatalog } from '../memory/shop-memory';
import { changeTicket } from '../tickets/change-ticket';
import { findTicket } from '../tickets/queries';
import { selectTickets, toStoredTicket } from '../tickets/rows';
import type { Channel } from '$lib/core/catalog/kinds-of-returns';

const CHUNK = 200;
/** Texts that went out are kept so long; that and when they left is kept on. Days; a choice. */
const KEPT_DAYS = 90;

/** What the day calls for: questions some days after, warranties that end. Each once, however often it is looked for. */
export async function enqueueToday(db: Database, now: Instant): Promise<number> {
	const catalog = await shopCatalog(db);
	const longest = Math.max(
		catalog.shop.warrantyDays,
		...[...catalog.operations.values()].map(({ warranty_days }) => warranty_days ?? 0)
	);
	const read = (afterId: number) =>
		selectTickets(db)
			.where('tickets.id', '>', afterId)
			.where('tickets.outcome', 'fixed')
			.whereIn('customers.hears_by', ['mail', 'text'])
			.andWhere('tickets.collected_at', '<=', new Date(now))
			.andWhere((inTime) =>
				inTime
					.where('tickets.collected_at', '>=', new Date(now - Math.max(longest, TOO_LATE_DAYS) * DAY_MS))
					// an offer may have given longer than the shop does
					.orWhereRaw('tickets.collected_at >= ? - INTERVAL tickets.offered_warranty DAY', [new Date(now)])
			)
			.orderBy('tickets.id')
			.limit(CHUNK);
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
	for (const { ticket, about: kind, id } of sent) {
		if (kind !== 'ready') continue;
		const problem = await tellOf(db, now, ticket, id);
		if (problem !== null)
			log.warn({ ticket, problem }, 'a message left, and the ticket does not say that its customer was told');
	}
}

/** Notes on a ticket that its customer was told. @returns why not, where it could not be noted */
async function tellOf(db: Database, now: Instant, number: string, message: number): Promise<string | null> {
	for (let tries = 0; tries < 5; tries++) {
		const stored = await findTicket(db, number);
		if (!stored) return 'there is no such ticket any more';
		const answer = await changeTicket(db, MESSAGES, now, number, {
			version: stored.version,
			once: onceOf(message),
			change: { verb: 'tell', how: 'message' }
		});
		if (answer.ok) return null;
		// somebody changed it at the same moment: it is read again
		if (answer.code !== 'stale') return 'refusal' in answer ? answer.refusal.message : answer.code;
	}
	return 'it was changed again and again meanwhile';
}
const MESSAGES = { by: 'messages', name: 'Messages', role: 'manager' } as const;

/** The same for the same message: told once. */
const onceOf = (id: number) => `00000000-0000-4000-8000-${id.toString(16).padStart(12, '0')}`;

/** A message in the language, or the way, that its customer wants by now. */
async function rewrite(db: Database, number: string, message: Parameters<Rewrite>[1]) {
	const [stored, catalog] = await Promise.all([findTicket(db, number), shopCatalog(db)]);
	return stored && written(stored.ticket, message, catalog);
}

/** One round: what is due to leave, what has been kept long enough. What the day calls for comes before it, less often. */
export async function messagesRound(
	db: Database,
	now: Instant,
	transport: (channel: Channel) => Promise<Transport | null> = (channel) => transportOf(db, channel)
): Promise<Sent[]> {
	const sent = await sendDue(db, now, transport, (number, message) => rewrite(db, number, message));
	await markTold(db, now, sent);
	await db('messages')
		.whereIn('state', ['sent', 'dropped'])
		.andWhere('created_at', '<', new Date(now - KEPT_DAYS * DAY_MS))
		.andWhereNot('body', '')
		.limit(500)
		.update({ body: '', subject: null, recipient: '' });
	return sent;
}
