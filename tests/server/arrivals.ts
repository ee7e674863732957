import { attempt } from '$worlds/changed-tickets';
import type { Database } from '$lib/server/database/connection';
import { queuedMessages } from '$lib/server/messages/queries';
import { standIn } from '$lib/server/messages/stand-in';
import { findTicket } from '$lib/server/tickets/queries';
import { takeIn, takeInBody } from '$lib/server/tickets/take-in';
import { changed, ines, NOW, smallShop } from './small-shop';

/** Devices that customers bring, with how they want to hear of them. */

/** A shop with a key of its own, whose messages end at the stand-in. */
export async function shopThatWrites(): Promise<Database> {
	process.env.TAVREK_KEY = 'a key of the tests alone, long enough';
	process.env.TAVREK_MESSAGES = 'stand-in';
	return smallShop();
}

export async function endWriting(db: Database): Promise<void> {
	await (await standIn(db)).close();
	await db.destroy();
}

export type Who = { name: string; phone?: string; email?: string; hears_by?: 'mail' | 'text' | 'none' };

export async function arrived(db: Database, customer: Who, more: object = {}): Promise<string> {
	const body = takeInBody.parse({
		once: crypto.randomUUID(),
		customer: { kind: 'private', ...customer },
		model: { code: 'pelagic-40' },
		matters: 'device',
		promisedAt: null,
		signs: { 'no-charge': true },
		comebackOf: null,
		...more
	});
	const answer = await takeIn(db, ines, NOW, body);
	if (!answer.ok) throw new Error(answer.refusal.message);
	return answer.number;
}

export const mailed = (name = 'Runa Kelpmoor'): Who => ({
	name,
	email: `${name.toLowerCase().replace(' ', '.')}@example.net`,
	hears_by: 'mail'
});

export const messagesOf = async (db: Database, number: string) =>
	(await queuedMessages(db)).filter((message) => message.number === number);

export const customerIdOf = async (db: Database, number: string) =>
	(await findTicket(db, number))?.customerId ?? 0;

/** Fixed, closed and handed over at a moment. */
export async function handedOver(db: Database, number: string, at = NOW): Promise<void> {
	await changed(db, number, attempt, at);
	for (const gate of (await db('catalog').where({ kind: 'gate' }).pluck('code')) as string[]) {
		await changed(db, number, { verb: 'gate', gate, passed: true }, at);
	}
	await changed(db, number, { verb: 'close', outcome: 'fixed', faults: ['port-contacts'], paidMinor: 0 }, at);
	await changed(db, number, { verb: 'collect' }, at);
}
