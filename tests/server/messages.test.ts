import { createServer } from 'node:http';
import { createServer as createMailServer, type AddressInfo } from 'node:net';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { saveCatalogRecord } from '$lib/server/catalog/commands';
import { DAY_MS } from '$lib/core/units/instant';
import { findTicket } from '$lib/server/tickets/queries';
import { enqueueToday, messagesRound } from '$lib/server/messages/daily-round';
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
	it('a price that is asked anew is a message anew; the same one is none', async () => {
		const number = await arrived(db, mailed('Runa Twiceasked'));
		await changed(db, number, { verb: 'quote', priceMinor: 8900 });
		await changed(db, number, { verb: 'quote', priceMinor: 7900 });
		const quotes = (await messagesOf(db, number)).filter(({ about }) => about === 'quote');
		expect(quotes).toHaveLength(2);
		await changed(db, number, { verb: 'note', text: 'still thinking' });
		expect((await messagesOf(db, number)).filter(({ about }) => about === 'quote')).toHaveLength(2);
	});
	it('what waits keeps its words however old it is; what has left loses them after its time', async () => {
		const number = await arrived(db, mailed('Vigdis Slowpost'));
		const old = new Date(NOW - 4000 * DAY_MS);
		await db('messages')
			.whereIn('ticket_id', db('tickets').where({ number }).select('id'))
			.update({ created_at: old, next_at: new Date(NOW + 40 * DAY_MS) });
		await messagesRound(db, NOW);
		expect((await messagesOf(db, number)).map(({ state, body }) => [state, body !== ''])).toEqual([
			['waiting', true]
		]);
		await db('messages')
			.whereIn('ticket_id', db('tickets').where({ number }).select('id'))
			.update({ next_at: new Date(NOW) });
		await messagesRound(db, NOW);
		expect((await messagesOf(db, number)).map(({ state, body }) => [state, body !== ''])).toEqual([
			['sent', false]
		]);
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
		expect(ticket?.dealings.filter(({ kind }) => kind === 'told')).toMatchObject([
			{ how: 'message', by: 'messages' }
		]);
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
	it('without a way to send they wait, which counts as no try', async () => {
		const number = await arrived(db, mailed('Oda Shingle'));
		for (let round = 0; round < 8; round++)
			await sendDue(db, NOW + round * 60 * 60_000, () => Promise.resolve(null));
		expect(await messagesOf(db, number)).toMatchObject([
			{ state: 'waiting', tries: 0, problem: expect.stringContaining('set up') as string }
		]);
		await messagesRound(db, NOW + DAY_MS);
		expect(await messagesOf(db, number)).toMatchObject([{ state: 'sent', tries: 1, problem: null }]);
	});
	it('a warranty that an offer gave longer than the shop’s brings its message', async () => {
		const number = await arrived(db, mailed('Lisbet Fenn'));
		const offered = [
			{ label: 'New port', operations: ['replace-port'], priceMinor: 8900, warrantyDays: 400 }
		];
		await changed(db, number, { verb: 'offer', options: offered });
		await changed(db, number, { verb: 'answer', accepted: true, option: 0, how: 'counter' });
		await handedOver(db, number);
		const about = async () =>
			(await messagesOf(db, number)).filter((message) => message.about === 'warranty-ends');
		await enqueueToday(db, NOW + 100 * DAY_MS);
		expect(await about()).toEqual([]);
		await enqueueToday(db, NOW + 394 * DAY_MS);
		await enqueueToday(db, NOW + 395 * DAY_MS);
		expect(await about()).toHaveLength(1);
		await enqueueToday(db, NOW + 401 * DAY_MS);
		expect(await about()).toHaveLength(1);
	});
});

describe('in the moment of sending', () => {
	const carried: Outgoing[] = [];
	const carry = () =>
		Promise.resolve((message: Outgoing) => {
			carried.push(message);
			return Promise.resolve();
		});
	const customer = (number: string, change: object) =>
		db('customers').whereIn('id', db('tickets').where({ number }).select('customer_id')).update(change);
	const round = async () => {
		carried.length = 0;
		await messagesRound(db, NOW + DAY_MS, carry);
		return carried;
	};
	it('who agrees no more gets nothing, and it is said', async () => {
		await round();
		const numbers = [await arrived(db, mailed('Arne Spit')), await arrived(db, mailed('Bodil Spit'))];
		await customer(numbers[0] ?? '', { hears_by: 'none' });
		await customer(numbers[1] ?? '', { email: null });
		expect(await round()).toEqual([]);
		expect(await messagesOf(db, numbers[0] ?? '')).toMatchObject([
			{ state: 'dropped', problem: expect.stringContaining('no longer agrees') as string }
		]);
		expect(await messagesOf(db, numbers[1] ?? '')).toMatchObject([
			{ state: 'dropped', problem: expect.stringContaining('address was taken out') as string }
		]);
	});
	it('it goes to the address of now, in the language and the way of now', async () => {
		const german = {
			record: 'template' as const,
			code: 'da-de',
			about: 'taken-in' as const,
			channel: 'mail' as const,
			language: 'de',
			subject: 'Angenommen: {number}',
			text: 'Ihr Gerät ist als {number} bei uns.'
		};
		expect(await saveCatalogRecord(db, 'test', NOW, german, null)).toEqual({ ok: true });
		const moved = await arrived(db, mailed('Cilla Weir'));
		await customer(moved, { email: 'new@example.net' });
		const speaks = await arrived(db, mailed('Dagny Weir'));
		await customer(speaks, { language: 'de' });
		const texted = await arrived(db, { ...mailed('Egon Weir'), phone: '0555 77' });
		await customer(texted, { hears_by: 'text' });
		const sent = await round();
		const of = (number: string) => sent.filter(({ text }) => text.includes(number));
		expect(of(moved)).toMatchObject([{ to: 'new@example.net' }]);
		expect(of(speaks)).toMatchObject([
			{ subject: `Angenommen: ${speaks}`, text: `Ihr Gerät ist als ${speaks} bei uns.` }
		]);
		expect(of(texted)).toMatchObject([{ to: '0555 77', subject: null }]);
		expect(await messagesOf(db, texted)).toMatchObject([{ channel: 'text', state: 'sent' }]);
	});
	it('one is claimed at a time: a process that dies leaves one unsure, not all', async () => {
		for (let i = 0; i < 4; i++) await arrived(db, mailed(`Finn Weir${i}`));
		const states = async () => (await db('messages').where({ state: 'sending' }).pluck('id')) as number[];
		const seen: number[] = [];
		await sendDue(db, NOW, () =>
			Promise.resolve(async () => {
				seen.push((await states()).length);
			})
		);
		expect(seen).toEqual([1, 1, 1, 1]);
	});
	it('the claim of a process that lives is renewed', async () => {
		const number = await arrived(db, mailed('Gerd Weir'));
		vi.useFakeTimers({ toFake: ['setInterval'] });
		try {
			await sendDue(db, NOW, () =>
				Promise.resolve(async () => {
					await vi.advanceTimersByTimeAsync(61_000);
					const renewed = async () =>
						(await db('messages')
							.whereIn('ticket_id', db('tickets').where({ number }).select('id'))
							.first('claimed_at')) as { claimed_at: Date };
					await vi.waitFor(async () =>
						expect((await renewed()).claimed_at.getTime()).toBeGreaterThan(NOW + DAY_MS)
					);
				})
			);
		} finally {
			vi.useRealTimers();
		}
		expect(await messagesOf(db, number)).toMatchObject([{ state: 'sent' }]);
	});
});

describe('a mail server', () => {
	/** One that breaks off at a word of the client's, or after it had a mail's text. */
	async function mute(at: 'greeting' | 'MAIL' | 'text' | 'refused') {
		let texts = 0;
		const server = createMailServer((socket) => {
			let inText = false;
			const say = (line: string) => socket.write(`${line}\r\n`);
			socket.on('error', () => undefined);
			if (at !== 'greeting') say('220 here');
			socket.on('data', (chunk: Buffer) => {
				const words = chunk.toString();
				if (inText) {
					if (!words.endsWith('\r\n.\r\n')) return;
					inText = false;
					texts += 1;
					if (at === 'refused') say('552 too much');
				} else if (/^(EHLO|HELO)/.test(words)) say('250 here');
				else if (/^MAIL/.test(words) && at === 'MAIL') return;
				else if (/^(MAIL|RCPT)/.test(words)) say('250 ok');
				else if (/^DATA/.test(words)) {
					inText = true;
					say('354 go ahead');
				} else if (/^QUIT/.test(words)) say('221 bye');
			});
		});
		await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
		return {
			url: `smtp://127.0.0.1:${(server.address() as AddressInfo).port}`,
			texts: () => texts,
			close: () => server.close()
		};
	}
	beforeEach(() => {
		process.env.TAVREK_SEND_SECONDS = '0.5';
		delete process.env.TAVREK_MESSAGES;
	});
	afterEach(() => {
		process.env.TAVREK_MESSAGES = 'stand-in';
		delete process.env.TAVREK_SMTP;
		delete process.env.TAVREK_SEND_SECONDS;
	});
	it.each([
		['that had all of it and never answers leaves it unsure, and gets it once', 'text', 'unsure', 1],
		['that refuses what it had is asked again later', 'refused', 'waiting', 1],
		['that says nothing at all had nothing: it is tried again', 'greeting', 'waiting', 0],
		['that stops before the text had nothing: it is tried again', 'MAIL', 'waiting', 0]
	] as const)('%s', async (_, at, state, texts) => {
		const server = await mute(at);
		process.env.TAVREK_SMTP = server.url;
		const number = await arrived(db, mailed(`Hedda ${at}`));
		await messagesRound(db, NOW);
		expect(await messagesOf(db, number)).toMatchObject([{ state, tries: 1 }]);
		await messagesRound(db, NOW + 30_000);
		expect(server.texts()).toBe(texts);
		await db('messages').update({ state: 'dropped' });
		server.close();
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
