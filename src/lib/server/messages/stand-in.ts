import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import type { AddressInfo } from 'node:net';
import type { Database } from '../database/connection';
import type { Transport } from './transport';

/** A small server for mail and text messages that keeps what it gets: for the demo shop and the tests. On loopback only. */
export interface StandIn {
	port: number;
	text: Transport;
	close(): Promise<void>;
}

const cache = new WeakMap<Database, Promise<StandIn>>();
/** Addresses at this host are refused, so that a failure can be seen. */
const REFUSED = /@refused\.example$/i;

/** The stand-in of a shop, begun where it is first needed. */
export function standIn(db: Database): Promise<StandIn> {
	const cached = cache.get(db);
	if (cached) return cached;
	const begun = begin(db);
	cache.set(db, begun);
	begun.catch(() => cache.delete(db));
	return begun;
}

async function begin(db: Database): Promise<StandIn> {
	const server = new SMTPServer({
		authOptional: true,
		disabledCommands: ['STARTTLS', 'AUTH'],
		size: 200_000,
		logger: false,
		onRcptTo({ address }, _, callback) {
			callback(REFUSED.test(address) ? new Error('550 nobody of this name') : null);
		},
		onData(stream, session, callback) {
			simpleParser(stream)
				.then(async (mail) => {
					await keep(db, {
						channel: 'mail',
						sender: session.envelope.mailFrom ? session.envelope.mailFrom.address : '',
						recipient: session.envelope.rcptTo.map(({ address }) => address).join(', '),
						message_id: mail.messageId ?? '',
						subject: mail.subject ?? null,
						body: mail.text ?? ''
					});
					callback();
				})
				.catch((error: unknown) => callback(error instanceof Error ? error : new Error('not read')));
		}
	});
	await new Promise<void>((resolve, reject) => {
		server.once('error', reject);
		server.listen(0, '127.0.0.1', resolve);
	});
	server.on('error', () => undefined);
	return {
		port: (server.server.address() as AddressInfo).port,
		text: ({ id, to, text }) =>
			keep(db, { channel: 'text', sender: 'shop', recipient: to, message_id: id, subject: null, body: text }),
		close: () => new Promise((resolve) => server.close(() => resolve()))
	};
}

interface Caught {
	channel: 'mail' | 'text';
	sender: string;
	recipient: string;
	message_id: string;
	subject: string | null;
	body: string;
}
const keep = async (db: Database, caught: Caught): Promise<void> => {
	await db('caught_messages').insert({ ...caught, at: new Date() });
};
