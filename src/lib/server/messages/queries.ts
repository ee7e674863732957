import type { Channel, MessageKind } from '$lib/core/catalog/kinds-of-returns';
import type { Instant } from '$lib/core/units/instant';
import { recordAudit } from '../audit/commands';
import { inTransaction, type Database, type Queryable } from '../database/connection';
import { rowCount } from '../database/row-count';
import type { MessageState, Row } from '../database/tables';

export interface QueuedMessage {
	id: number;
	number: string;
	about: MessageKind;
	channel: Channel;
	recipient: string;
	subject: string | null;
	body: string;
	state: MessageState;
	tries: number;
	nextAt: number | null;
	problem: string | null;
	createdAt: number;
	sentAt: number | null;
}

const SHOWN = 100;

/** The last messages, those that somebody has to look at first; of one customer where it is said. */
export async function queuedMessages(db: Queryable, customerId?: number): Promise<QueuedMessage[]> {
	const rows = await db('messages')
		.join('tickets', 'tickets.id', 'messages.ticket_id')
		.modify((query) => {
			if (customerId !== undefined) void query.where('tickets.customer_id', customerId);
		})
		.orderByRaw("FIELD(state, 'unsure', 'failed') DESC, messages.id DESC")
		.limit(SHOWN)
		.select<(Row<'messages'> & Pick<Row<'tickets'>, 'number'>)[]>('messages.*', 'tickets.number');
	return rows.map((row) => ({
		id: Number(row.id),
		number: row.number,
		about: row.about,
		channel: row.channel,
		recipient: row.recipient,
		subject: row.subject,
		body: row.body,
		state: row.state,
		tries: row.tries,
		nextAt: row.next_at?.getTime() ?? null,
		problem: row.problem,
		createdAt: row.created_at.getTime(),
		sentAt: row.sent_at?.getTime() ?? null
	}));
}

/** How many messages somebody has to look at. */
export const stuckMessages = (db: Queryable): Promise<number> =>
	rowCount(db('messages').whereIn('state', ['failed', 'unsure']));

/** Sends a message again that failed, or that may have been sent; or lets it go. */
export async function decideMessage(
	db: Database,
	actor: string,
	now: Instant,
	{ id, again: retry }: { id: number; again: boolean }
): Promise<boolean> {
	return inTransaction(db, async (trx) => {
		const changed = await trx('messages')
			.where({ id })
			.whereIn('state', retry ? ['failed', 'unsure'] : ['failed', 'unsure', 'waiting'])
			.update(
				retry
					? { state: 'waiting', next_at: new Date(now), tries: 0, problem: null }
					: { state: 'dropped', next_at: null }
			);
		if (changed === 0) return false;
		await recordAudit(trx, {
			at: now,
			actor,
			subject: 'message',
			key: String(id),
			version: 1,
			verb: retry ? 'send-again' : 'drop',
			detail: {}
		});
		return true;
	});
}

export interface CaughtMessage {
	id: number;
	channel: Channel;
	recipient: string;
	subject: string | null;
	body: string;
	at: number;
}

/** What the stand-in took, the last first. */
export async function caughtMessages(db: Queryable): Promise<CaughtMessage[]> {
	const rows = await db('caught_messages').orderBy('id', 'desc').limit(SHOWN);
	return rows.map(({ id, channel, recipient, subject, body, at }) => ({
		id: Number(id),
		channel,
		recipient,
		subject,
		body,
		at: at.getTime()
	}));
}
