import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import { nextTry } from '$lib/core/messages/called-for';
import type { Message } from '$lib/core/messages/compose';
import type { Channel, MessageKind } from '$lib/core/catalog/kinds-of-returns';
import type { Instant } from '$lib/core/units/instant';
import { inTransaction, type Database } from '../database/connection';
import type { Row } from '../database/tables';
import { PerhapsTaken, type Transport } from './transport';

/** A message that was taken by who carries it. */
export interface Sent {
	id: number;
	ticket: string;
	about: MessageKind;
}

/** Writes a message anew: its customer reads another language by now, or is written to in another way. */
export type Rewrite = (
	ticket: string,
	message: { about: MessageKind; channel: Channel; language: string | undefined }
) => Promise<Message | null>;

type ClaimedRow = Pick<Row<'tickets'>, 'number'> &
	Pick<
		Row<'messages'>,
		'id' | 'about' | 'channel' | 'once' | 'recipient' | 'subject' | 'body' | 'language' | 'tries'
	>;
/** What its customer says by now. */
interface Reached extends Pick<Row<'customers'>, 'hears_by' | 'email' | 'phone'> {
	speaks: string | null;
}

/** So many leave in one round. */
const AT_ONCE = 20;
/** A process that died while it sent leaves its message so long; whether it left nobody knows then. */
const UNSURE_AFTER_MS = 5 * 60_000;
/** A claim is renewed as often while its process lives and sends. */
const RENEWED_MS = 60_000;
/** Without a way out a message is looked at again after so long; that is no try. */
const NO_WAY_MS = 10 * 60_000;

/**
 * Sends what is due, one message after the other. Each is claimed first, in a transaction of its own, so that two processes never send
 * one; consent, address and language are read again then. What was claimed by a process that died, and what was handed over without an
 * answer, is shown as unsure and not sent again by itself.
 */
export async function sendDue(
	db: Database,
	now: Instant,
	transport: (channel: Channel) => Promise<Transport | null>,
	rewrite?: Rewrite
): Promise<Sent[]> {
	await db('messages')
		.where({ state: 'sending' })
		.andWhere('claimed_at', '<', new Date(now - UNSURE_AFTER_MS))
		.update({ state: 'unsure', problem: 'the server stopped while it was sent; it may have been sent' });
	const sent: Sent[] = [];
	const since = Date.now();
	for (let tried = 0; tried < AT_ONCE; tried++) {
		const at = now + (Date.now() - since);
		const row = await claimNext(db, now, at, rewrite);
		if (row === null) break;
		if (row === 'dropped') continue;
		if (await sendOne(db, row, at, transport))
			sent.push({ id: row.id, ticket: row.number, about: row.about });
	}
	return sent;
}

async function sendOne(
	db: Database,
	row: ClaimedRow,
	now: Instant,
	transport: (channel: Channel) => Promise<Transport | null>
): Promise<boolean> {
	const carry = await transport(row.channel);
	if (!carry) {
		const problem = `no way to send ${row.channel === 'mail' ? 'mail' : 'text messages'} is set up`;
		await db('messages')
			.where({ id: row.id })
			.update({ state: 'waiting', next_at: new Date(now + NO_WAY_MS), problem });
		return false;
	}
	const renewed = setInterval(() => {
		// a claim that could not be renewed runs out: the message is shown as unsure, never sent twice
		void db('messages')
			.where({ id: row.id, state: 'sending' })
			.update({ claimed_at: new Date() })
			.catch(() => undefined);
	}, RENEWED_MS);
	try {
		await carry({ id: row.once, to: row.recipient, subject: row.subject, text: row.body });
	} catch (error) {
		const problem = error instanceof Error ? error.message : String(error);
		if (error instanceof PerhapsTaken) {
			await db('messages')
				.where({ id: row.id })
				.update({ state: 'unsure', tries: row.tries + 1, problem: problem.slice(0, 500) });
		} else await failed(db, row, now, problem);
		return false;
	} finally {
		clearInterval(renewed);
	}
	await db('messages')
		.where({ id: row.id })
		.update({ state: 'sent', sent_at: new Date(now), tries: row.tries + 1, problem: null });
	return true;
}

/** Takes the next due message for this process, or drops it where its customer agreed to it no more. */
async function claimNext(
	db: Database,
	due: Instant,
	now: Instant,
	rewrite: Rewrite | undefined
): Promise<ClaimedRow | 'dropped' | null> {
	return inTransaction(db, async (trx) => {
		const next = await trx('messages')
			.where({ state: 'waiting' })
			.andWhere('next_at', '<=', new Date(due))
			.orderBy(['next_at', 'id'])
			.forUpdate()
			.skipLocked()
			.first('id');
		if (!next) return null;
		const row = await trx('messages')
			.join('tickets', 'tickets.id', 'messages.ticket_id')
			.leftJoin('customers', 'customers.id', 'tickets.customer_id')
			.where('messages.id', next.id)
			.first<ClaimedRow & Reached>(
				'messages.id',
				'tickets.number',
				'about',
				'channel',
				'once',
				'recipient',
				'subject',
				'body',
				'messages.language',
				'tries',
				'customers.hears_by',
				'customers.email',
				'customers.phone',
				'customers.language as speaks'
			);
		const reached = reachedNow(row);
		if (!reached) return dropped(trx, row);
		const changed = await rewritten(row, reached, rewrite);
		await trx('messages')
			.where({ id: row.id })
			.update({ ...changed, state: 'sending', claimed_by: randomUUID(), claimed_at: new Date(now) });
		return { ...row, ...changed };
	});
}

/** How its customer agrees to be written to now; null: not any more. */
function reachedNow({ hears_by, email, phone }: Reached): Pick<ClaimedRow, 'channel' | 'recipient'> | null {
	if (hears_by === 'mail' && email) return { channel: 'mail', recipient: email };
	if (hears_by === 'text' && phone) return { channel: 'text', recipient: phone };
	return null;
}

async function dropped(trx: Knex.Transaction, { id, hears_by }: ClaimedRow & Reached): Promise<'dropped'> {
	const problem =
		hears_by === 'mail' || hears_by === 'text'
			? 'the customer’s address was taken out before it left'
			: 'the customer no longer agrees to be written to';
	await trx('messages').where({ id }).update({ state: 'dropped', next_at: null, problem });
	return 'dropped';
}

/** The message as it is to leave: to the address of now, in the language and the way of now. */
async function rewritten(
	row: ClaimedRow & Reached,
	reached: Pick<ClaimedRow, 'channel' | 'recipient'>,
	rewrite: Rewrite | undefined
): Promise<Pick<ClaimedRow, 'channel' | 'recipient' | 'subject' | 'body' | 'language'>> {
	const { subject, body, language } = row;
	const speaks = row.speaks ?? '';
	const isSame = row.channel === reached.channel && (language === null || language === speaks);
	const anew = isSame
		? null
		: await rewrite?.(row.number, {
				about: row.about,
				channel: reached.channel,
				language: row.speaks ?? undefined
			});
	return anew
		? { ...reached, subject: anew.subject, body: anew.text, language: speaks }
		: { ...reached, subject, body, language };
}

async function failed(db: Database, { id, tries }: ClaimedRow, now: Instant, problem: string): Promise<void> {
	const retryAt = nextTry(tries + 1, now);
	await db('messages')
		.where({ id })
		.update({
			state: retryAt === null ? 'failed' : 'waiting',
			next_at: retryAt === null ? null : new Date(retryAt),
			tries: tries + 1,
			problem: problem.slice(0, 500)
		});
}
