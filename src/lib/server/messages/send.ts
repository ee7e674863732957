import { randomUUID } from 'node:crypto';
import { nextTry } from '$lib/core/messages/called-for';
import type { Channel, MessageKind } from '$lib/core/catalog/kinds-of-returns';
import type { Instant } from '$lib/core/units/instant';
import { inTransaction, type Database } from '../database/connection';
import type { Transport } from './transport';

/** A message that was taken by who carries it. */
export interface Sent {
	id: number;
	ticket: string;
	about: MessageKind;
}

interface Row {
	id: number;
	number: string;
	about: MessageKind;
	channel: Channel;
	once: string;
	recipient: string;
	subject: string | null;
	body: string;
	tries: number;
}

const AT_ONCE = 20;
/** A process that died while it sent leaves its messages so long; whether they left nobody knows then. */
const UNSURE_AFTER_MS = 5 * 60_000;

/**
 * Sends what is due. Each message is claimed first, in a transaction of its own, so that two processes never send one; what was claimed by
 * a process that died is shown as unsure and not sent again by itself.
 */
export async function sendDue(
	db: Database,
	now: Instant,
	transport: (channel: Channel) => Promise<Transport | null>
): Promise<Sent[]> {
	await db('messages')
		.where({ state: 'sending' })
		.andWhere('claimed_at', '<', new Date(now - UNSURE_AFTER_MS))
		.update({ state: 'unsure', problem: 'the server stopped while it was sent; it may have left' });
	const sent: Sent[] = [];
	for (const row of await claim(db, now)) {
		const carry = await transport(row.channel);
		if (!carry) {
			const problem = `no way to send ${row.channel === 'mail' ? 'mail' : 'text messages'} is set up`;
			await failed(db, row, now, problem);
			continue;
		}
		try {
			await carry({ id: row.once, to: row.recipient, subject: row.subject, text: row.body });
		} catch (error) {
			await failed(db, row, now, error instanceof Error ? error.message : String(error));
			continue;
		}
		await db('messages')
			.where({ id: row.id })
			.update({ state: 'sent', sent_at: new Date(now), tries: row.tries + 1, problem: null });
		sent.push({ id: row.id, ticket: row.number, about: row.about });
	}
	return sent;
}

/** Takes due messages for this process: marked before any of them is sent. */
async function claim(db: Database, now: Instant): Promise<Row[]> {
	const mine = randomUUID();
	const claimed = await inTransaction(db, async (trx) => {
		const ids = (await trx('messages')
			.where({ state: 'waiting' })
			.andWhere('next_at', '<=', new Date(now))
			.orderBy('next_at')
			.limit(AT_ONCE)
			.forUpdate()
			.skipLocked()
			.pluck('id')) as number[];
		if (ids.length === 0) return 0;
		return trx('messages')
			.whereIn('id', ids)
			.update({ state: 'sending', claimed_by: mine, claimed_at: new Date(now) });
	});
	if (claimed === 0) return [];
	return (await db('messages')
		.join('tickets', 'tickets.id', 'messages.ticket_id')
		.where({ claimed_by: mine, state: 'sending' })
		.orderBy('messages.id')
		.select(
			'messages.id',
			'tickets.number',
			'about',
			'channel',
			'once',
			'recipient',
			'subject',
			'body',
			'tries'
		)) as Row[];
}

async function failed(db: Database, { id, tries }: Row, now: Instant, problem: string): Promise<void> {
	const again = nextTry(tries + 1, now);
	await db('messages')
		.where({ id })
		.update({
			state: again === null ? 'failed' : 'waiting',
			next_at: again === null ? null : new Date(again),
			tries: tries + 1,
			problem: problem.slice(0, 500)
		});
}
