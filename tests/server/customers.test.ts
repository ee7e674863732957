import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DAY_MS } from '$lib/core/units/instant';
import { matchCustomers, findTicket } from '$lib/server/tickets/queries';
import type { CatalogRecordOf } from '$lib/core/catalog/kinds';
import { saveCatalogRecord } from '$lib/server/catalog/commands';
import { catalogRecordsOf } from '$lib/server/catalog/queries';
import { callsDue, heldWhenAsked } from '$lib/server/customers/calls';
import { mergeCustomers, saveBody, saveCustomer } from '$lib/server/customers/commands';
import { eraseCustomer } from '$lib/server/customers/erase';
import { openOwnPage } from '$lib/server/customers/own-page-access';
import { customerData } from '$lib/server/customers/export';
import { answerOnPage, endOwnLink, ownPage } from '$lib/server/customers/own-page';
import { customerPage, findCustomers, mayBeErased } from '$lib/server/customers/queries';
import type { Database } from '$lib/server/database/connection';
import { asJson } from '$lib/server/database/json';
import { keepPhoto, photoIsKept } from '$lib/server/photos/store';
import { caughtMessages } from '$lib/server/messages/queries';
import { messagesRound } from '$lib/server/messages/daily-round';
import { noteUpload } from '$lib/server/tickets/orphan-photos';
import { ownPath } from '$lib/server/messages/links';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { causesOfOperation } from '$lib/server/returns/causes-at-steps';
import {
	arrived,
	customerIdOf,
	endWriting,
	handedOver,
	mailed,
	messagesOf,
	shopThatWrites
} from './arrivals';
import { changed, NOW } from './small-shop';

let db: Database;
let folder: string;
beforeAll(async () => {
	db = await shopThatWrites();
	folder = await mkdtemp(path.join(tmpdir(), 'tavrek-photos-'));
	process.env.TAVREK_PHOTOS = folder;
});
afterAll(async () => {
	await endWriting(db);
	await rm(folder, { recursive: true });
});

async function picture(background: string): Promise<string> {
	const bytes = await sharp({ create: { width: 40, height: 30, channels: 3, background } })
		.png()
		.toBuffer();
	const answer = await keepPhoto(bytes);
	if ('message' in answer) throw new Error(answer.message);
	return answer.photo;
}

describe('the page of a device', () => {
	const sealOf = (number: string) => ownPath(number)?.split('/').at(-1) ?? '';
	const look = (number: string, now = NOW) => ownPage(db, { number, seal: sealOf(number), now });
	it('opens with its own seal alone, and says where it stands without cost, name or passcode', async () => {
		const number = await arrived(db, { name: 'Kell Dunmarsh' }, { passcode: '4711' });
		const page = await look(number);
		expect(page?.title).toBe('Taken in');
		const text = JSON.stringify(page);
		for (const secret of ['4711', 'Kell', 'ines', 'Ines', 'cost']) expect(text).not.toContain(secret);
		const other = await arrived(db, { name: 'Kell Dunmarsh' });
		expect(await ownPage(db, { number, seal: sealOf(other), now: NOW })).toBeNull();
		expect(await ownPage(db, { number, seal: `${sealOf(number).slice(0, -1)}_`, now: NOW })).toBeNull();
		expect(await ownPage(db, { number, seal: '', now: NOW })).toBeNull();
		expect(await ownPage(db, { number: 'K-99999', seal: sealOf('K-99999'), now: NOW })).toBeNull();
	});
	it('names the holidays that are still to come by the shop’s own calendar', async () => {
		const number = await arrived(db, { name: 'Tove Farshore' });
		const before = await catalogRecordsOf(db, 'shop');
		const shop = before[0]?.record as CatalogRecordOf<'shop'>;
		const away = { ...shop, time_zone: 'Pacific/Auckland', closed_days: ['2026-11-24', '2026-11-25'] };
		expect(await saveCatalogRecord(db, 'test', NOW, away, before[0]?.version ?? null)).toMatchObject({
			ok: true
		});
		// noon on the 24th in UTC is one in the morning of the 25th there
		expect((await look(number, Date.UTC(2026, 10, 24, 12)))?.holidays).toEqual(['2026-11-25']);
		expect((await look(number, Date.UTC(2026, 10, 24, 10)))?.holidays).toEqual(['2026-11-24', '2026-11-25']);
		const [changed] = await catalogRecordsOf(db, 'shop');
		await saveCatalogRecord(db, 'test', NOW, shop, changed?.version ?? null);
	});
	it('takes an answer to its offer once, of the way that was chosen', async () => {
		const number = await arrived(db, { name: 'Edda Gullstrand' });
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
		expect(await say(1, 1)).toMatch(/Something has changed/);
		expect(await say(1)).toBeNull();
		expect(await say(1)).toBeNull();
		const { ticket } = (await findTicket(db, number)) ?? {};
		expect(ticket).toMatchObject({ accepted: true, quotedMinor: 4500 });
		expect(ticket?.dealings.filter(({ kind }) => kind === 'answer')).toMatchObject([
			{ accepted: true, option: 1, how: 'page', by: 'customer' }
		]);
		const after = await look(number);
		expect(after?.offer).toBeNull();
		// a double click whose second half looked at the page after the first was taken
		const late = { once: page?.once ?? '', version: page?.version ?? 0, accepted: true, option: 1 };
		expect(await answerOnPage(db, after as NonNullable<typeof after>, NOW, late)).toBeNull();
		const other = { ...late, once: crypto.randomUUID() };
		expect(await answerOnPage(db, after as NonNullable<typeof after>, NOW, other)).toMatch(
			/answered already/
		);
		expect(after?.answered).toEqual({ accepted: true, label: 'The data alone', priceMinor: 4500 });
	});
	it('an offer that is taken back is asked no more, and its message does not leave', async () => {
		const number = await arrived(db, mailed('Jorun Reedham'));
		await changed(db, number, { verb: 'quote', priceMinor: 8900 });
		expect((await look(number))?.offer).not.toBeNull();
		await changed(db, number, { verb: 'take-back' });
		const page = await look(number);
		expect([page?.offer, page?.answered]).toEqual([null, null]);
		expect((await messagesOf(db, number)).find(({ about }) => about === 'quote')).toMatchObject({
			state: 'dropped'
		});
		await expect(changed(db, number, { verb: 'take-back' })).rejects.toThrow('no price or offer');
	});
	it('one device’s link is ended by hand, of this customer alone', async () => {
		const number = await arrived(db, mailed('Kari Reedham'));
		const id = await customerIdOf(db, number);
		expect(await look(number)).not.toBeNull();
		expect(await endOwnLink(db, 'Odile', NOW, { id: id + 1, number })).toBe(false);
		expect(await look(number)).not.toBeNull();
		expect(await endOwnLink(db, 'Odile', NOW, { id, number })).toBe(true);
		expect(await look(number)).toBeNull();
		expect((await customerPage(db, id, false))?.visits).toMatchObject([{ number, linked: false }]);
	});
	it('shows pictures that were released alone, and ends some days after handing over', async () => {
		const number = await arrived(db, { name: 'Hauk Ashdown' });
		await handedOver(db, number);
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

describe('the door of a page', () => {
	it('counts looks and wrong seals by network', async () => {
		const number = await arrived(db, { name: 'Birk Guesser' });
		const guess = (address: string) => openOwnPage(db, { number, seal: 'A'.repeat(22) }, address, NOW);
		const statusOf = (error: unknown) => (error as { status?: number }).status;
		const statuses: (number | undefined)[] = [];
		for (let i = 0; i < 23; i++)
			await guess('203.0.113.9').catch((error: unknown) => statuses.push(statusOf(error)));
		expect(statuses.slice(0, 20).every((status) => status === 404)).toBe(true);
		expect(statuses.slice(20)).toEqual([429, 429, 429]);
		await expect(guess('203.0.113.10').catch((error: unknown) => statusOf(error))).resolves.toBe(404);
		const seal = ownPath(number)?.split('/').at(-1) ?? '';
		await expect(openOwnPage(db, { number, seal }, '203.0.113.11', NOW)).resolves.toMatchObject({
			number
		});
	});
});

describe('why jobs came back, at the step', () => {
	it('counts causes of an operation, and those of a step by its procedure', async () => {
		const first = await arrived(db, { name: 'Alva Stepson' });
		await handedOver(db, first);
		const { catalog } = await shopMemory(db);
		const before = await causesOfOperation(db, 'replace-port', catalog);
		const again = await arrived(db, { name: 'Alva Stepson' }, { comebackOf: first });
		const step = { procedure: 'port-hot-air', version: 1, step: 11 };
		await changed(db, again, {
			verb: 'cause',
			cause: 'joint-not-holding',
			from: { operation: 'replace-port', step }
		});
		const after = await causesOfOperation(db, 'replace-port', catalog);
		expect(after.comebacks).toBe(before.comebacks + 1);
		const label = catalog.records.cause.get('joint-not-holding')?.label;
		expect(after.steps['port-hot-air 11']).toEqual([{ label, comebacks: 1 }]);
		await changed(db, again, { verb: 'cause', cause: 'wet-again' });
		expect((await causesOfOperation(db, 'replace-port', catalog)).comebacks).toBe(before.comebacks);
		await changed(db, again, {
			verb: 'cause',
			cause: 'joint-not-holding',
			from: { operation: 'clean-port' }
		});
		expect((await causesOfOperation(db, 'replace-port', catalog)).comebacks).toBe(before.comebacks);
	});
});

describe('calls', () => {
	it('a device some days after, its answer takes it off the list and counts', async () => {
		const number = await arrived(db, { name: 'Gisla Weirstone', phone: '0555 123123' });
		await handedOver(db, number);
		const due = async (days: number) =>
			(await callsDue(db, NOW + days * DAY_MS)).find((call) => call.number === number);
		expect(await due(2)).toBeUndefined();
		expect(await due(3.1)).toMatchObject({ kind: 'follow-up', phone: '0555 123123', tried: 0 });
		const before = await heldWhenAsked(db, NOW + 4 * DAY_MS, 30);
		const asked = () => db('tickets').where({ number }).first('asked_at', 'held') as Promise<object>;
		await changed(db, number, { verb: 'follow-up', found: 'not-reached' }, NOW + 3.1 * DAY_MS);
		expect(await due(3.2)).toBeUndefined();
		expect(await due(4.2)).toMatchObject({ tried: 1 });
		expect(await asked()).toEqual({ asked_at: null, held: null });
		await changed(db, number, { verb: 'follow-up', found: 'holds' }, NOW + 4.2 * DAY_MS);
		expect(await due(5)).toBeUndefined();
		const after = await heldWhenAsked(db, NOW + 5 * DAY_MS, 30);
		expect([after.asked - before.asked, after.held - before.held]).toEqual([1, 1]);
		expect(await asked()).toEqual({ asked_at: new Date(NOW + 4.2 * DAY_MS), held: true });
		const later = await heldWhenAsked(db, NOW + 40 * DAY_MS, 30);
		expect(later.asked).toBe(0);
	});
	it('who left no telephone stands behind all who can be called', async () => {
		const silent = await arrived(db, { name: 'Nobody Toldme' });
		await handedOver(db, silent);
		const number = await arrived(db, { name: 'Berit Hearthstone', phone: '0555 424242' });
		await handedOver(db, number);
		const calls = await callsDue(db, NOW + 4 * DAY_MS);
		const withPhone = calls.map(({ phone }) => phone !== null);
		expect(calls.map(({ number: each }) => each)).toEqual(expect.arrayContaining([silent, number]));
		expect(withPhone).toEqual([...withPhone].sort((a, b) => Number(b) - Number(a)));
	});
	it('who wants to hear nothing is not called', async () => {
		const number = await arrived(db, { name: 'Mika Brakewell', phone: '0555 321321', hears_by: 'none' });
		await handedOver(db, number);
		expect((await callsDue(db, NOW + 4 * DAY_MS)).some((call) => call.number === number)).toBe(false);
	});
});

describe('customers', () => {
	it('are found by name, mail and telephone, however it is typed', async () => {
		await arrived(db, { name: 'Jorun Eelwick', phone: '0555 77 88 99', email: 'jorun@example.net' });
		for (const typed of ['Jorun', 'Eelwick', '0555778899', '0555-77-88-99', 'jorun@ex']) {
			expect((await findCustomers(db, typed)).map(({ name }) => name)).toContain('Jorun Eelwick');
		}
		expect(await findCustomers(db, '%')).toEqual([]);
		expect((await matchCustomers(db, 'Jorun Eel'))[0]).toMatchObject({ name: 'Jorun Eelwick', tickets: 1 });
	});
	it('doubles are merged: the tickets go along, the entry goes, the books count on', async () => {
		const one = await arrived(db, { name: 'Lune Cordray', phone: '0555 100 200' });
		const two = await arrived(db, { name: 'L. Cordray', phone: '0555100200' });
		const [id, into] = [await customerIdOf(db, one), await customerIdOf(db, two)];
		expect((await customerPage(db, id, true))?.doubles.map((other) => other.id)).toContain(into);
		expect(await mergeCustomers(db, 'Odile', NOW, { id, into: id })).toMatchObject({ ok: false });
		expect(await mergeCustomers(db, 'Odile', NOW, { id, into })).toEqual({ ok: true });
		expect(await customerIdOf(db, one)).toBe(into);
		expect((await customerPage(db, into, true))?.visits.map(({ number }) => number).sort()).toEqual(
			[one, two].sort()
		);
		expect(await customerPage(db, id, true)).toBeNull();
		expect(await mergeCustomers(db, 'Odile', NOW, { id, into })).toMatchObject({ ok: false, field: 'into' });
	});
	it('are saved with how they want to hear; two alike are refused', async () => {
		const number = await arrived(db, { name: 'Dagny Pebblet' });
		await arrived(db, { name: 'Dagny Second' });
		const id = await customerIdOf(db, number);
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
		const number = await arrived(db, mailed('Cato Farrowby'));
		await handedOver(db, number);
		const data = await customerData(db, 'Odile', NOW, await customerIdOf(db, number));
		expect(data?.customer.name).toBe('Cato Farrowby');
		expect(data?.tickets.map((ticket) => ticket.number)).toEqual([number]);
		expect(data?.messages.length).toBeGreaterThan(0);
		expect(JSON.stringify(data)).not.toMatch(/unit_cost|hourly_cost/);
	});
	it('erased, nothing is left of them in the stand-in’s box, behind their links, or of pictures that no change named', async () => {
		const number = await arrived(db, mailed('Yrsa Quill'));
		const id = await customerIdOf(db, number);
		await messagesRound(db, NOW);
		expect((await caughtMessages(db)).some(({ recipient }) => recipient === 'yrsa.quill@example.net')).toBe(
			true
		);
		const bytes = await sharp({ create: { width: 31, height: 17, channels: 3, background: '#123' } })
			.jpeg()
			.toBuffer();
		const sent = await keepPhoto(bytes);
		if ('message' in sent) throw new Error(sent.message);
		await noteUpload(db, sent.photo, (await findTicket(db, number))?.id ?? 0, NOW);
		await handedOver(db, number);
		const seal = ownPath(number)?.split('/').at(-1) ?? '';
		const look = () => ownPage(db, { number, seal, now: NOW });
		expect(await look()).not.toBeNull();
		expect(await eraseCustomer(db, 'Odile', NOW, id)).toEqual({ ok: true });
		expect((await caughtMessages(db)).some(({ recipient }) => recipient === 'yrsa.quill@example.net')).toBe(
			false
		);
		expect(await look()).toBeNull();
		expect(await photoIsKept(sent.photo)).toBe(false);
	});
	it('erased, what still waits to be sent is sent to nobody', async () => {
		const number = await arrived(db, mailed('Una Waitwell'));
		const id = await customerIdOf(db, number);
		await handedOver(db, number);
		expect((await messagesOf(db, number)).some(({ state }) => state === 'waiting')).toBe(true);
		expect(await eraseCustomer(db, 'Odile', NOW, id)).toEqual({ ok: true });
		const left = await messagesOf(db, number);
		expect(left.filter(({ state }) => state !== 'dropped' && state !== 'sent')).toEqual([]);
		const before = (await caughtMessages(db)).length;
		await messagesRound(db, NOW + DAY_MS);
		expect(await caughtMessages(db)).toHaveLength(before);
	});
	it('are erased: nobody is found by them, the books and jobs stay', async () => {
		const number = await arrived(db, { ...mailed('Zenobia Quill'), phone: '0555 909090' });
		const id = await customerIdOf(db, number);
		expect(await eraseCustomer(db, 'Odile', NOW, id)).toMatchObject({ ok: false, field: 'id' });
		await changed(db, number, {
			verb: 'correct',
			customer: { kind: 'private', name: 'Zenobia Quill', email: 'zenobia@example.net' }
		});
		const later = await customerIdOf(db, number);
		await handedOver(db, number);
		const sums = async () =>
			db('tickets').sum({ paid: 'paid_minor', labour: 'labour_minor' }).first() as Promise<object>;
		const before = await sums();
		const trail = async () => {
			const lines = (await db('audit').where({ subject_key: number }).select('detail')) as {
				detail: unknown;
			}[];
			return JSON.stringify(lines.map(({ detail }) => asJson(detail)));
		};
		expect(await trail()).toMatch(/zenobia/i);
		for (const each of [id, later]) expect(await eraseCustomer(db, 'Odile', NOW, each)).toEqual({ ok: true });
		expect(await sums()).toEqual(before);
		expect(await findCustomers(db, 'Zenobia')).toEqual([]);
		expect(await findCustomers(db, '0555909090')).toEqual([]);
		const { ticket } = (await findTicket(db, number)) ?? {};
		expect(JSON.stringify(ticket)).not.toMatch(/zenobia/i);
		expect(await trail()).not.toMatch(/zenobia/i);
		expect(ticket?.attempts).toHaveLength(1);
		expect(
			(await messagesOf(db, number)).every(({ body, recipient }) => body === '' && recipient === '')
		).toBe(true);
		expect(await eraseCustomer(db, 'Odile', NOW, id)).toMatchObject({ ok: false });
	});
	it('what others wrote of them goes too, in the trail as well, and their pictures; a picture of another’s ticket stays', async () => {
		const number = await arrived(db, { ...mailed('Oriel Tamsworth'), phone: '0555 121 313' });
		const id = await customerIdOf(db, number);
		const other = await arrived(db, { name: 'Bede Hollin' });
		const [own, shared] = [await picture('#684'), await picture('#468')];
		await changed(db, number, { verb: 'note', text: 'Mrs Tamsworth (0555121313): wet since Friday' });
		for (const [ticket, photo] of [
			[number, own],
			[number, shared],
			[other, shared]
		] as const)
			await changed(db, ticket, { verb: 'photo', photo, of: 'board', width: 40, height: 30 });
		await handedOver(db, number);
		expect(await eraseCustomer(db, 'Odile', NOW, id)).toEqual({ ok: true });
		const { ticket } = (await findTicket(db, number)) ?? {};
		expect(ticket?.notes.map(({ text }) => text)).toContain('Mrs … (…): wet since Friday');
		const trail = (await db('audit').select('detail')) as { detail: unknown }[];
		const told = trail.map(({ detail }) => JSON.stringify(asJson(detail)));
		expect(told.some((line) => line.includes('wet since Friday'))).toBe(true);
		for (const line of told) expect(line).not.toMatch(/tamsworth|0555 ?121|oriel/i);
		expect([await photoIsKept(own), await photoIsKept(shared)]).toEqual([false, true]);
		expect((await findTicket(db, other))?.ticket.photos).toHaveLength(1);
	});
	it('who has not been here for long may be erased, who has something here not', async () => {
		const number = await arrived(db, { name: 'Idun Oakum' });
		const id = await customerIdOf(db, number);
		const old = async (before: number) => (await mayBeErased(db, before)).some((each) => each.id === id);
		expect(await old(NOW + DAY_MS)).toBe(false);
		await handedOver(db, number);
		expect(await old(NOW + DAY_MS)).toBe(true);
		expect(await old(NOW - DAY_MS)).toBe(false);
	});
});
