import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DAY_MS } from '$lib/core/units/instant';
import { matchCustomers, findTicket } from '$lib/server/tickets/queries';
import { callsDue, heldWhenAsked } from '$lib/server/customers/calls';
import { eraseCustomer, mergeCustomers, saveBody, saveCustomer } from '$lib/server/customers/commands';
import { customerData } from '$lib/server/customers/export';
import { answerOnPage, ownPage } from '$lib/server/customers/own-page';
import { customerPage, findCustomers, mayBeErased } from '$lib/server/customers/queries';
import { enqueueToday, messagesRound } from '$lib/server/customers/tick';
import type { Database } from '$lib/server/database/connection';
import { ownPath } from '$lib/server/messages/links';
import { caughtMessages, decideMessage, queuedMessages } from '$lib/server/messages/queries';
import { sendDue } from '$lib/server/messages/send';
import { standIn } from '$lib/server/messages/stand-in';
import type { Outgoing } from '$lib/server/messages/transport';
import { takeIn, takeInBody } from '$lib/server/tickets/take-in';
import { changed, ines, NOW, smallShop } from './small-shop';

let db: Database;
beforeAll(async () => {
	process.env.TAVREK_KEY = 'a key of the tests alone, long enough';
	process.env.TAVREK_MESSAGES = 'stand-in';
	db = await smallShop();
});
afterAll(async () => {
	await (await standIn(db)).close();
	await db.destroy();
});

type Who = { name: string; phone?: string; email?: string; hears_by?: 'mail' | 'text' | 'none' };
async function arrived(customer: Who, more: object = {}): Promise<string> {
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
const mailed = (name = 'Runa Kelpmoor'): Who => ({
	name,
	email: `${name.toLowerCase().replace(' ', '.')}@example.net`,
	hears_by: 'mail'
});
const of = async (number: string) =>
	(await queuedMessages(db)).filter((message) => message.number === number);
const idOf = async (number: string) => (await findTicket(db, number))?.customerId ?? 0;

/** Fixed, closed and handed over at a moment. */
async function handedOver(number: string, at = NOW): Promise<void> {
	await changed(
		db,
		number,
		{ verb: 'attempt', operation: 'replace-port', technician: 'ines', minutes: 5, resolved: true },
		at
	);
	for (const gate of (await db('catalog').where({ kind: 'gate' }).pluck('code')) as string[]) {
		await changed(db, number, { verb: 'gate', gate, passed: true }, at);
	}
	await changed(db, number, { verb: 'close', outcome: 'fixed', faults: ['port-contacts'], paidMinor: 0 }, at);
	await changed(db, number, { verb: 'collect' }, at);
}

describe('messages', () => {
	it('are queued with what they tell of, to who agreed alone', async () => {
		const number = await arrived(mailed());
		expect((await of(number)).map(({ about, channel, state }) => [about, channel, state])).toEqual([
			['taken-in', 'mail', 'waiting']
		]);
		expect((await of(number))[0]?.body).toContain(number);
		for (const silent of [
			{ name: 'A B' },
			{ name: 'C D', hears_by: 'none' as const },
			{ name: 'E F', hears_by: 'mail' as const }
		]) {
			expect(await of(await arrived(silent))).toEqual([]);
		}
		await changed(db, number, { verb: 'quote', priceMinor: 8900 });
		await changed(db, number, { verb: 'note', text: 'hums' });
		expect((await of(number)).map(({ about }) => about).sort()).toEqual(['quote', 'taken-in']);
	});
	it('leave by SMTP and as text messages, arrive once, and who reads that it is ready is told', async () => {
		const number = await arrived(mailed('Siv Hythe'));
		const other = await arrived({ name: 'Ulv Merrow', phone: '0555 000111', hears_by: 'text' });
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
		const numbers = await Promise.all(Array.from({ length: 8 }, (_, i) => arrived(mailed(`Nils Nr${i}`))));
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
		for (const number of numbers) expect(await of(number)).toMatchObject([{ state: 'sent' }]);
	});
	it('one that is refused is tried again with growing pauses, then shown; a person decides', async () => {
		const number = await arrived({ name: 'Falk Gone', email: 'falk@refused.example', hears_by: 'mail' });
		await messagesRound(db, NOW);
		expect(await of(number)).toMatchObject([
			{ state: 'waiting', tries: 1, problem: expect.stringMatching(/550|refused|nobody/i) as string }
		]);
		let at = NOW;
		for (let tries = 2; tries <= 6; tries++) {
			at += DAY_MS;
			await messagesRound(db, at);
		}
		const [failed] = await of(number);
		expect(failed).toMatchObject({ state: 'failed', tries: 6, nextAt: null });
		expect(await decideMessage(db, 'Odile', at, { id: failed?.id ?? 0, again: true })).toBe(true);
		expect(await of(number)).toMatchObject([{ state: 'waiting', tries: 0 }]);
		expect(await decideMessage(db, 'Odile', at, { id: failed?.id ?? 0, again: false })).toBe(true);
		expect(await decideMessage(db, 'Odile', at, { id: failed?.id ?? 0, again: true })).toBe(false);
	});
	it('what a process held that died is unsure, and not sent again by itself', async () => {
		const number = await arrived(mailed('Tove Lanyard'));
		await db('messages')
			.whereIn('ticket_id', db('tickets').where({ number }).select('id'))
			.update({ state: 'sending', claimed_at: new Date(NOW - 6 * 60_000) });
		await messagesRound(db, NOW);
		expect(await of(number)).toMatchObject([{ state: 'unsure' }]);
		expect((await caughtMessages(db)).some(({ body }) => body.includes(number))).toBe(false);
	});
	it('some days after a device was handed over its customer is asked, once', async () => {
		const number = await arrived(mailed('Pell Reedham'));
		await handedOver(number);
		const about = async () =>
			(await of(number)).map((message) => message.about).filter((each) => each === 'how-is-it');
		await enqueueToday(db, NOW + 2 * DAY_MS);
		expect(await about()).toEqual([]);
		await enqueueToday(db, NOW + 3 * DAY_MS);
		await enqueueToday(db, NOW + 4 * DAY_MS);
		expect(await about()).toEqual(['how-is-it']);
	});
	it('a shop’s own words, and none without a way to send', async () => {
		const number = await arrived(mailed('Oda Shingle'));
		await sendDue(db, NOW, () => Promise.resolve(null));
		expect(await of(number)).toMatchObject([
			{ state: 'waiting', problem: expect.stringContaining('set up') as string }
		]);
	});
});

describe('the page of a device', () => {
	const sealOf = (number: string) => ownPath(number)?.split('/').at(-1) ?? '';
	const look = (number: string, now = NOW) => ownPage(db, { number, seal: sealOf(number), now });
	it('opens with its own seal alone, and says where it stands without cost, name or passcode', async () => {
		const number = await arrived({ name: 'Kell Dunmarsh' }, { passcode: '4711' });
		const page = await look(number);
		expect(page?.title).toBe('Taken in');
		const text = JSON.stringify(page);
		for (const secret of ['4711', 'Kell', 'ines', 'Ines', 'cost']) expect(text).not.toContain(secret);
		const other = await arrived({ name: 'Kell Dunmarsh' });
		expect(await ownPage(db, { number, seal: sealOf(other), now: NOW })).toBeNull();
		expect(await ownPage(db, { number, seal: `${sealOf(number).slice(0, -1)}_`, now: NOW })).toBeNull();
		expect(await ownPage(db, { number, seal: '', now: NOW })).toBeNull();
		expect(await ownPage(db, { number: 'K-99999', seal: sealOf('K-99999'), now: NOW })).toBeNull();
	});
	it('takes an answer to its offer once, of the way that was chosen', async () => {
		const number = await arrived({ name: 'Edda Gullstrand' });
		await changed(db, number, {
			verb: 'offer',
			options: [
				{ label: 'A new port', priceMinor: 8900 },
				{ label: 'The data alone', priceMinor: 4500 }
			]
		});
		const page = await look(number);
		expect(page?.offer?.options.map(({ priceMinor }) => priceMinor)).toEqual([8900, 4500]);
		const say = (option: number | null, version = page?.version ?? 0, once = page?.once ?? '') =>
			answerOnPage(db, page as NonNullable<typeof page>, NOW, { once, version, accepted: true, option });
		expect(await say(null)).toMatch(/Choose/);
		expect(await say(1, 1)).toMatch(/changed meanwhile/);
		expect(await say(1)).toBeNull();
		expect(await say(1)).toBeNull();
		const { ticket } = (await findTicket(db, number)) ?? {};
		expect(ticket).toMatchObject({ accepted: true, quotedMinor: 4500 });
		expect(ticket?.dealings.filter(({ accepted }) => accepted)).toMatchObject([
			{ option: 1, how: 'page', by: 'customer' }
		]);
		const after = await look(number);
		expect(after?.offer).toBeNull();
		expect(after?.answered).toEqual({ accepted: true, label: 'The data alone', priceMinor: 4500 });
	});
	it('shows pictures that were released alone, and ends some days after handing over', async () => {
		const number = await arrived({ name: 'Hauk Ashdown' });
		await handedOver(number);
		await db('tickets')
			.where({ number })
			.update({
				record: db.raw(
					"JSON_SET(record, '$.photos', JSON_ARRAY(JSON_OBJECT('photo', ?, 'of', 'board', 'width', 9, 'height', 9)))",
					['ab'.repeat(32)]
				)
			});
		expect((await look(number))?.photos).toEqual([]);
		await changed(db, number, { verb: 'release', index: 0, released: true });
		expect((await look(number))?.photos).toEqual([{ hash: 'ab'.repeat(32), says: null }]);
		expect((await look(number))?.warrantyUntil).toBeGreaterThan(NOW);
		expect(await look(number, NOW + 30 * DAY_MS)).not.toBeNull();
		expect(await look(number, NOW + 30.1 * DAY_MS)).toBeNull();
	});
});

describe('calls', () => {
	it('a device some days after, its answer takes it off the list and counts', async () => {
		const number = await arrived({ name: 'Gisla Weirstone', phone: '0555 123123' });
		await handedOver(number);
		const due = async (days: number) =>
			(await callsDue(db, NOW + days * DAY_MS)).find((call) => call.number === number);
		expect(await due(2)).toBeUndefined();
		expect(await due(3.1)).toMatchObject({ kind: 'follow-up', phone: '0555 123123', tried: 0 });
		const before = await heldWhenAsked(db, NOW + 4 * DAY_MS, 30);
		await changed(db, number, { verb: 'follow-up', found: 'not-reached' }, NOW + 3.1 * DAY_MS);
		expect(await due(3.2)).toBeUndefined();
		expect(await due(4.2)).toMatchObject({ tried: 1 });
		await changed(db, number, { verb: 'follow-up', found: 'holds' }, NOW + 4.2 * DAY_MS);
		expect(await due(5)).toBeUndefined();
		const after = await heldWhenAsked(db, NOW + 5 * DAY_MS, 30);
		expect([after.asked - before.asked, after.held - before.held]).toEqual([1, 1]);
	});
	it('who wants to hear nothing is not called', async () => {
		const number = await arrived({ name: 'Mika Brakewell', phone: '0555 321321', hears_by: 'none' });
		await handedOver(number);
		expect((await callsDue(db, NOW + 4 * DAY_MS)).some((call) => call.number === number)).toBe(false);
	});
});

describe('customers', () => {
	it('are found by name, mail and telephone, however it is typed', async () => {
		await arrived({ name: 'Jorun Eelwick', phone: '0555 77 88 99', email: 'jorun@example.net' });
		for (const typed of ['Jorun', 'Eelwick', '0555778899', '0555-77-88-99', 'jorun@ex']) {
			expect((await findCustomers(db, typed)).map(({ name }) => name)).toContain('Jorun Eelwick');
		}
		expect(await findCustomers(db, '%')).toEqual([]);
		expect((await matchCustomers(db, 'Jorun Eel'))[0]).toMatchObject({ name: 'Jorun Eelwick', tickets: 1 });
	});
	it('doubles are merged: the tickets go along, the entry goes, the books count on', async () => {
		const one = await arrived({ name: 'Lune Cordray', phone: '0555 100 200' });
		const two = await arrived({ name: 'L. Cordray', phone: '0555100200' });
		const [id, into] = [await idOf(one), await idOf(two)];
		expect((await customerPage(db, id, true))?.doubles.map((other) => other.id)).toContain(into);
		expect(await mergeCustomers(db, 'Odile', NOW, { id, into: id })).toMatchObject({ ok: false });
		expect(await mergeCustomers(db, 'Odile', NOW, { id, into })).toEqual({ ok: true });
		expect(await idOf(one)).toBe(into);
		expect((await customerPage(db, into, true))?.visits.map(({ number }) => number).sort()).toEqual(
			[one, two].sort()
		);
		expect(await customerPage(db, id, true)).toBeNull();
		expect(await mergeCustomers(db, 'Odile', NOW, { id, into })).toMatchObject({ ok: false, field: 'into' });
	});
	it('are saved with how they want to hear; two alike are refused', async () => {
		const number = await arrived({ name: 'Dagny Pebblet' });
		await arrived({ name: 'Dagny Second' });
		const id = await idOf(number);
		const save = (fields: object) =>
			saveCustomer(db, 'Odile', NOW, saveBody.parse({ id, kind: 'private', ...fields }));
		expect(await save({ name: 'Dagny Pebblet', hears_by: 'mail' })).toMatchObject({ field: 'email' });
		expect(await save({ name: 'Dagny Second' })).toMatchObject({ field: 'name' });
		expect(await save({ name: 'Dagny P', email: 'd@example.net', hears_by: 'mail', language: 'de' })).toEqual(
			{ ok: true }
		);
		expect((await findTicket(db, number))?.ticket.customer).toEqual({
			name: 'Dagny P',
			kind: 'private',
			email: 'd@example.net',
			hears_by: 'mail',
			language: 'de'
		});
	});
	it('take their data along: all of it, without what the shop’s costs were', async () => {
		const number = await arrived(mailed('Cato Farrowby'));
		await handedOver(number);
		const data = await customerData(db, 'Odile', NOW, await idOf(number));
		expect(data?.customer.name).toBe('Cato Farrowby');
		expect(data?.tickets.map((ticket) => ticket.number)).toEqual([number]);
		expect(data?.messages.length).toBeGreaterThan(0);
		expect(JSON.stringify(data)).not.toMatch(/unit_cost|hourly_cost/);
	});
	it('are erased: nobody is found by them, the books and jobs stay', async () => {
		const number = await arrived({ ...mailed('Zenobia Quill'), phone: '0555 909090' });
		const id = await idOf(number);
		expect(await eraseCustomer(db, 'Odile', NOW, id)).toMatchObject({ ok: false, field: 'id' });
		await changed(db, number, {
			verb: 'correct',
			customer: { kind: 'private', name: 'Zenobia Quill', email: 'zenobia@example.net' }
		});
		const later = await idOf(number);
		await handedOver(number);
		const sums = async () =>
			db('tickets').sum({ paid: 'paid_minor', labour: 'labour_minor' }).first() as Promise<object>;
		const before = await sums();
		for (const each of [id, later]) expect(await eraseCustomer(db, 'Odile', NOW, each)).toEqual({ ok: true });
		expect(await sums()).toEqual(before);
		expect(await findCustomers(db, 'Zenobia')).toEqual([]);
		expect(await findCustomers(db, '0555909090')).toEqual([]);
		const { ticket } = (await findTicket(db, number)) ?? {};
		expect(JSON.stringify(ticket)).not.toMatch(/zenobia/i);
		expect(ticket?.attempts).toHaveLength(1);
		expect((await of(number)).every(({ body, recipient }) => body === '' && recipient === '')).toBe(true);
		expect(await eraseCustomer(db, 'Odile', NOW, id)).toMatchObject({ ok: false });
	});
	it('who was not here for long may be erased, who has something here not', async () => {
		const number = await arrived({ name: 'Idun Oakum' });
		const id = await idOf(number);
		const old = async (before: number) => (await mayBeErased(db, before)).some((each) => each.id === id);
		expect(await old(NOW + DAY_MS)).toBe(false);
		await handedOver(number);
		expect(await old(NOW + DAY_MS)).toBe(true);
		expect(await old(NOW - DAY_MS)).toBe(false);
	});
});
