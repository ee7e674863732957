import { createServer } from 'node:http';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { DAY_MS } from '$lib/core/units/instant';
import { findTicket } from '$lib/server/tickets/queries';
import { enqueueToday, messagesRound } from '$lib/server/customers/tick';
import type { Database } from '$lib/server/database/connection';
import { caughtMessages, decideMessage } from '$lib/server/messages/queries';
import { transportOf } from '$lib/server/messages/transports';
import { sendDue } from '$lib/server/messages/send';
import type { Outgoing } from '$lib/server/messages/transport';
import { arrived, endWriting, handedOver, mailed, messagesOf, shopThatWrites } from './arrivals';
import { changed, NOW } from './small-shop';

let db: Database;
beforeAll(async () => {
	db = await shopThatWrites();
});
afterAll(() => endWriting(db));

describe('messages', () => {
	it('are queued with what they tell of, to who agreed alone', async () => {
		const number = await arrived(db, mailed());
		expect(
			(await messagesOf(db, number)).map(({ about, channel, state }) => [about, channel, state])
		).toEqual([['taken-in', 'mail', 'waiting']]);
		expect((await messagesOf(db, number))[0]?.body).toContain(number);
		for (const silent of [
			{ name: 'A B' },
			{ name: 'C D', hears_by: 'none' as const },
			{ name: 'E F', hears_by: 'mail' as const }
		]) {
			expect(await messagesOf(db, await arrived(db, silent))).toEqual([]);
		}
		await changed(db, number, { verb: 'quote', priceMinor: 8900 });
		await changed(db, number, { verb: 'note', text: 'hums' });
		expect((await messagesOf(db, number)).map(({ about }) => about).sort()).toEqual(['quote', 'taken-in']);
	});
	it('leave by SMTP and as text messages, arrive once, and who reads that it is ready is told', async () => {
		const number = await arrived(db, mailed('Siv Hythe'));
		const other = await arrived(db, { name: 'Ulv Merrow', phone: '0555 000111', hears_by: 'text' });
		await messagesRound(db, NOW);
		const arrivedNow = await caughtMessages(db);
		const own = arrivedNow.filter(({ body }) => body.includes(number));
		expect(own).toMatchObject([{ channel: 'mail', recipient: 'siv.hythe@example.net' }]);
		expect(own[0]?.subject).toContain('taken in as');
		expect(arrivedNow.filter(({ body }) => body.includes(other))).toMatchObject([
			{ channel: 'text', recipient: '0555 000111' }
		]);
		await messagesRound(db, NOW + 1000);
		expect(await caughtMessages(db)).toHaveLength(arrivedNow.length);

		await changed(db, number, { verb: 'close', outcome: 'declined', faults: [], paidMinor: 0 });
		await messagesRound(db, NOW + 2000);
		const { ticket } = (await findTicket(db, number)) ?? {};
		expect(ticket?.dealings.filter(({ told }) => told)).toMatchObject([{ how: 'message', by: 'messages' }]);
	});
	it('two processes at once send each message once', async () => {
		const numbers = await Promise.all(
			Array.from({ length: 8 }, (_, i) => arrived(db, mailed(`Nils Nr${i}`)))
		);
		const carried: Outgoing[] = [];
		const carry = () =>
			Promise.resolve(async (message: Outgoing) => {
				await new Promise((resolve) => setTimeout(resolve, 5));
				carried.push(message);
			});
		await Promise.all([1, 2, 3].map(() => sendDue(db, NOW, carry)));
		await sendDue(db, NOW, carry);
		const ids = carried.map(({ id }) => id);
		expect(new Set(ids).size).toBe(ids.length);
		for (const number of numbers) expect(await messagesOf(db, number)).toMatchObject([{ state: 'sent' }]);
	});
	it('one that is refused is tried again with growing pauses, then shown; a person decides', async () => {
		const number = await arrived(db, { name: 'Falk Gone', email: 'falk@refused.example', hears_by: 'mail' });
		await messagesRound(db, NOW);
		expect(await messagesOf(db, number)).toMatchObject([
			{ state: 'waiting', tries: 1, problem: expect.stringMatching(/550|refused|nobody/i) as string }
		]);
		let at = NOW;
		for (let tries = 2; tries <= 6; tries++) {
			at += DAY_MS;
			await messagesRound(db, at);
		}
		const [failed] = await messagesOf(db, number);
		expect(failed).toMatchObject({ state: 'failed', tries: 6, nextAt: null });
		expect(await decideMessage(db, 'Odile', at, { id: failed?.id ?? 0, again: true })).toBe(true);
		expect(await messagesOf(db, number)).toMatchObject([{ state: 'waiting', tries: 0 }]);
		expect(await decideMessage(db, 'Odile', at, { id: failed?.id ?? 0, again: false })).toBe(true);
		expect(await decideMessage(db, 'Odile', at, { id: failed?.id ?? 0, again: true })).toBe(false);
	});
	it('what a process held that died is unsure, and not sent again by itself', async () => {
		const number = await arrived(db, mailed('Tove Lanyard'));
		await db('messages')
			.whereIn('ticket_id', db('tickets').where({ number }).select('id'))
			.update({ state: 'sending', claimed_at: new Date(NOW - 6 * 60_000) });
		await messagesRound(db, NOW);
		expect(await messagesOf(db, number)).toMatchObject([{ state: 'unsure' }]);
		expect((await caughtMessages(db)).some(({ body }) => body.includes(number))).toBe(false);
	});
	it('some days after a device was handed over its customer is asked, once', async () => {
		const number = await arrived(db, mailed('Pell Reedham'));
		await handedOver(db, number);
		const about = async () =>
			(await messagesOf(db, number)).map((message) => message.about).filter((each) => each === 'how-is-it');
		await enqueueToday(db, NOW + 2 * DAY_MS);
		expect(await about()).toEqual([]);
		await enqueueToday(db, NOW + 3 * DAY_MS);
		await enqueueToday(db, NOW + 4 * DAY_MS);
		expect(await about()).toEqual(['how-is-it']);
		// a week before its warranty ends, once too
		await enqueueToday(db, NOW + 84 * DAY_MS);
		await enqueueToday(db, NOW + 85 * DAY_MS);
		expect(
			(await messagesOf(db, number)).filter((message) => message.about === 'warranty-ends')
		).toHaveLength(1);
	});
	it('a shop’s own words, and none without a way to send', async () => {
		const number = await arrived(db, mailed('Oda Shingle'));
		await sendDue(db, NOW, () => Promise.resolve(null));
		expect(await messagesOf(db, number)).toMatchObject([
			{ state: 'waiting', problem: expect.stringContaining('set up') as string }
		]);
	});
});

describe('ways out', () => {
	const set = (values: Record<string, string | undefined>) => {
		for (const [name, value] of Object.entries(values)) {
			if (value === undefined) delete process.env[name];
			else process.env[name] = value;
		}
	};
	afterEach(() =>
		set({ TAVREK_MESSAGES: 'stand-in', TAVREK_SMTP: undefined, TAVREK_TEXT_GATEWAY: undefined })
	);
	it('none is there where none is set up', async () => {
		set({ TAVREK_MESSAGES: undefined });
		expect(await transportOf(db, 'mail')).toBeNull();
		expect(await transportOf(db, 'text')).toBeNull();
	});
	it('text messages go to the gateway once each, and what it refuses is told', async () => {
		const got: { body: unknown; key: unknown }[] = [];
		const gateway = createServer((request, response) => {
			let text = '';
			request.on('data', (chunk: Buffer) => (text += chunk.toString()));
			request.on('end', () => {
				const body = JSON.parse(text) as { to: string };
				got.push({ body, key: request.headers['idempotency-key'] });
				response.writeHead(body.to === '0' ? 400 : 200).end();
			});
		});
		await new Promise<void>((resolve) => gateway.listen(0, '127.0.0.1', resolve));
		set({
			TAVREK_MESSAGES: undefined,
			TAVREK_TEXT_GATEWAY: `http://127.0.0.1:${(gateway.address() as { port: number }).port}`
		});
		const carry = await transportOf(db, 'text');
		await carry?.({ id: 'one', to: '0555', subject: null, text: 'ready' });
		expect(got).toEqual([{ body: { to: '0555', text: 'ready' }, key: 'one' }]);
		await expect(carry?.({ id: 'two', to: '0', subject: null, text: 'x' })).rejects.toThrow(/answered 400/);
		await new Promise((resolve) => gateway.close(resolve));
	});
	it('an address is one address, a subject is one line: nothing in them reaches anybody else', async () => {
		const carry = await transportOf(db, 'mail');
		const send = (id: string, to: string) =>
			carry?.({ id, to, subject: 's\r\nBcc: c@example.net', text: 't' });
		const before = await caughtMessages(db);
		await expect(send('list', 'a@example.net, b@example.net')).rejects.toThrow(/recipient/);
		expect(await caughtMessages(db)).toHaveLength(before.length);
		await send('one', 'a@example.net');
		const after = await caughtMessages(db);
		expect(after).toHaveLength(before.length + 1);
		expect(after[0]?.recipient).toBe('a@example.net');
	});
});
