import { NEVER } from '$lib/server/database/in-turns';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { TicketChangeInput } from '$lib/core/tickets/ticket-change';
import { ticketChangeSchema } from '$lib/core/tickets/ticket-change';
import { STARTER_CATALOG } from '$lib/core/catalog/starter-catalog';
import type { Database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { exportLines } from '$lib/server/exchange/export';
import { importLines } from '$lib/server/exchange/import';
import { changeTicket } from '$lib/server/tickets/change-ticket';
import { showPasscode } from '$lib/server/tickets/passcodes';
import { takeIn, takeInBody } from '$lib/server/tickets/take-in';
import { earlierVisits, findTicket, matchCustomers, resolveNumber } from '$lib/server/tickets/queries';
import { ticketView } from '$lib/server/tickets/view';
import { freshDatabase } from './fresh-database';

const NOW = Date.UTC(2026, 10, 24, 10);
const ines = { by: 'ines', name: 'Ines', role: 'manager' as const };
const viewer = { ...ines, role: 'technician' as const, technician: 'ines' };
const odile = { by: 'odile', name: 'Odile', role: 'manager' as const, technician: null };
const once = () => crypto.randomUUID();
let db: Database;

beforeAll(async () => {
	db = await freshDatabase();
	const people = [
		{ record: 'technician', code: 'ines', name: 'Ines', hourly_cost: 31 },
		{ record: 'model', code: 'tern-6', label: 'Tern 6', connector: 'micro-b', value: 120 }
	];
	const lines = [...STARTER_CATALOG, ...people].map((record) => JSON.stringify(record)).join('\n');
	expect((await importLines(db, 'test', NOW, lines)).rejected).toEqual([]);
});
afterAll(() => db.destroy());

const device = (more: Partial<Parameters<typeof takeInBody.parse>[0] & object> = {}) =>
	takeInBody.parse({
		once: once(),
		customer: { name: 'Vida Oakum', kind: 'private', phone: '0555 1' },
		model: { code: 'tern-6' },
		serial: 'TE-1',
		matters: 'device',
		promisedAt: null,
		signs: { 'no-charge': true },
		comebackOf: null,
		...more
	});
async function taken(more = {}): Promise<string> {
	const answer = await takeIn(db, ines, NOW, device(more));
	if (!answer.ok) throw new Error(answer.refusal.message);
	return answer.number;
}
const change = (number: string, version: number, input: TicketChangeInput, mark = once()) =>
	changeTicket(db, ines, NOW, number, { version, once: mark, change: ticketChangeSchema.parse(input) });

describe('what was entered while the server was away', () => {
	it('stands at the moment of its entry, and never before the ticket', async () => {
		const number = await taken();
		const at = async (version: number, waitedMs: number, now: number) => {
			const change = ticketChangeSchema.parse({ verb: 'note', text: `waited ${waitedMs}` });
			const answer = await changeTicket(db, ines, now, number, { version, once: once(), change, waitedMs });
			expect(answer).toMatchObject({ ok: true });
			return (await findTicket(db, number))?.ticket.notes.at(-1)?.at;
		};
		expect(await at(1, 60_000, NOW + 600_000)).toBe(NOW + 540_000);
		// a clock of the browser that goes wrong
		expect(await at(2, 86_400_000, NOW + 600_000)).toBe(NOW);
	});
});

describe('what people say', () => {
	it('a trade customer’s claim is learnt by name once the ticket closes; an unknown fault is refused', async () => {
		const trade = { name: 'Quay Repairs', kind: 'trade' as const };
		const number = await taken({ customer: trade, claim: 'battery-worn' });
		expect((await findTicket(db, number))?.ticket.opinions).toMatchObject([
			{ from: 'customer', fault: 'battery-worn', by: 'ines' }
		]);
		await change(number, 1, { verb: 'opinion', from: 'technician', fault: 'input-fuse' });
		await change(number, 2, { verb: 'close', outcome: 'not-fixed', faults: ['battery-worn'], paidMinor: 0 });
		const { learned } = (await shopMemory(db)).engine;
		expect(learned.opinions.get('customer:Quay Repairs')).toEqual([1, 1]);
		expect(learned.opinions.get('technician:ines')).toEqual([0, 1]);
		await change(number, 3, { verb: 'reopen' });
		const after = (await shopMemory(db)).engine.learned.opinions;
		expect(after.get('customer:Quay Repairs')).toBeUndefined();
		expect(await takeIn(db, ines, NOW, device({ claim: 'gremlin' }))).toMatchObject({
			ok: false,
			refusal: { field: 'claim' }
		});
	});
});

describe('taking in', () => {
	it('gives numbers one after another, and one only for a form that is sent twice', async () => {
		const body = device();
		const [first, again, other] = [
			await takeIn(db, ines, NOW, body),
			await takeIn(db, ines, NOW, body),
			await takeIn(db, ines, NOW, device())
		];
		expect(first).toEqual(again);
		if (!first.ok || !other.ok) throw new Error('refused');
		expect(Number(other.number.slice(2))).toBe(Number(first.number.slice(2)) + 1);
	});
	it('counts once even when both sendings arrive at the same moment', async () => {
		const before = Number((await db('tickets').count({ n: '*' }).first())?.n);
		const body = device();
		const answers = await Promise.all([1, 2, 3].map(() => takeIn(db, ines, NOW, body)));
		expect(new Set(answers.map((answer) => JSON.stringify(answer))).size).toBe(1);
		expect(Number((await db('tickets').count({ n: '*' }).first())?.n)).toBe(before + 1);
	});
	it('adds a new model from words, and the same customer only once', async () => {
		const number = await taken({ model: { label: 'Gannet D camera', connector: 'type-c-16' } });
		expect((await findTicket(db, number))?.ticket.model).toBe('gannet-d-camera');
		expect((await matchCustomers(db, 'oak')).map(({ name }) => name)).toEqual(['Vida Oakum']);
	});
	it('refuses an unknown sign and an unknown first ticket, and leaves no trace', async () => {
		const before = Number((await db('tickets').count({ n: '*' }).first())?.n);
		expect(await takeIn(db, ines, NOW, device({ signs: { nope: true } }))).toMatchObject({
			ok: false,
			refusal: { field: 'signs' }
		});
		expect(await takeIn(db, ines, NOW, device({ comebackOf: 'K-99999' }))).toMatchObject({
			ok: false,
			refusal: { field: 'comebackOf' }
		});
		expect(Number((await db('tickets').count({ n: '*' }).first())?.n)).toBe(before);
	});
	it('finds a ticket by its number as typed or scanned, and earlier visits by serial and customer', async () => {
		const number = await taken({ serial: 'TE-77' });
		expect(await resolveNumber(db, ` ${Number(number.slice(2))} `)).toBe(number);
		expect(await resolveNumber(db, number.toLowerCase())).toBe(number);
		expect(await resolveNumber(db, 'x; drop')).toBeNull();
		const visits = await earlierVisits(db, { serial: 'TE-77', customer: null, model: null });
		expect(visits).toEqual([expect.objectContaining({ number, why: 'serial' })]);
	});
});

describe('changing', () => {
	let number: string;
	beforeEach(async () => {
		number = await taken();
	});
	it('moves the version on and writes the audit trail in the same transaction', async () => {
		expect(await change(number, 1, { verb: 'note', text: 'seen' })).toMatchObject({
			ok: true,
			version: 2,
			repeated: false
		});
		const audit = await db('audit').where({ subject: 'ticket', subject_key: number }).orderBy('id');
		expect(audit.map(({ verb, version, actor }) => [verb, version, actor])).toEqual([
			['take-in', 1, 'Ines'],
			['note', 2, 'Ines']
		]);
	});
	it('keeps in the trail what an entry said that is struck out', async () => {
		await change(number, 1, { verb: 'battery', volts: 3.7 });
		await change(number, 2, { verb: 'withdraw', list: 'battery', index: 0 });
		expect((await findTicket(db, number))?.ticket.battery).toEqual([]);
		const row = await db('audit').where({ subject_key: number, verb: 'withdraw' }).first('detail');
		expect(JSON.stringify(row?.detail)).toContain('3.7');
	});
	it('refuses a stale save, tells what changed, and changes nothing', async () => {
		await change(number, 1, { verb: 'sign', sign: 'got-wet', present: true });
		const stale = await change(number, 1, { verb: 'note', text: 'mine' });
		expect(stale).toMatchObject({
			ok: false,
			code: 'stale',
			version: 2,
			changes: [{ verb: 'sign', actor: 'Ines' }]
		});
		expect((await findTicket(db, number))?.ticket.notes).toEqual([]);
	});
	it('of two at once one is made and the other refused', async () => {
		const answers = await Promise.all([
			change(number, 1, { verb: 'note', text: 'a' }),
			change(number, 1, { verb: 'note', text: 'b' })
		]);
		expect(answers.map((answer) => (answer.ok ? 'made' : answer.code)).sort()).toEqual(['made', 'stale']);
		expect((await findTicket(db, number))?.ticket.notes).toHaveLength(1);
	});
	it('the same mark twice at once: both are told that it is kept, and it stands once', async () => {
		for (let round = 0; round < 10; round++) {
			const other = await taken();
			const mark = once();
			const answers = await Promise.all(
				[1, 2, 3].map(() => change(other, 1, { verb: 'note', text: 'once' }, mark))
			);
			expect(answers.map(({ ok }) => ok)).toEqual([true, true, true]);
			expect(answers.filter((answer) => answer.ok && answer.repeated)).toHaveLength(2);
			expect((await findTicket(db, other))?.ticket.notes).toHaveLength(1);
		}
	});
	it('a mark that was used for another ticket is refused, one after the other and at once', async () => {
		const [one, two] = [await taken(), await taken()];
		const mark = once();
		expect((await change(one, 1, { verb: 'note', text: 'a' }, mark)).ok).toBe(true);
		expect(await change(two, 1, { verb: 'note', text: 'a' }, mark)).toMatchObject({
			ok: false,
			code: 'refused',
			refusal: { field: 'once', message: expect.stringContaining(one) as string }
		});
		expect((await findTicket(db, two))?.ticket.notes).toEqual([]);
		const again = once();
		const both = await Promise.all([
			change(one, 2, { verb: 'note', text: 'b' }, again),
			change(two, 1, { verb: 'note', text: 'b' }, again)
		]);
		expect(both.filter(({ ok }) => ok)).toHaveLength(1);
		expect(both.find(({ ok }) => !ok)).toMatchObject({ code: 'refused', refusal: { field: 'once' } });
		// nor is it a device that comes in
		const came = await takeIn(db, ines, NOW + 1, device({ once: mark }));
		expect(came).toMatchObject({ ok: false, refusal: { field: 'once' } });
	});
	it('a change that is sent again under the version that it made is told to be kept, also one that cannot be made twice', async () => {
		const number = await taken();
		expect((await change(number, 1, { verb: 'quote', priceMinor: 500 })).ok).toBe(true);
		const mark = once();
		expect(await change(number, 2, { verb: 'take-back' }, mark)).toMatchObject({ ok: true, repeated: false });
		expect(await change(number, 3, { verb: 'take-back' }, mark)).toEqual({
			ok: true,
			repeated: true,
			version: 3
		});
		expect(await change(number, 3, { verb: 'take-back' })).toMatchObject({ ok: false, code: 'refused' });
		const note = once();
		expect(await change(number, 3, { verb: 'note', text: 'a' }, note)).toMatchObject({
			ok: true,
			repeated: false
		});
		expect(await change(number, 4, { verb: 'note', text: 'a' }, note)).toMatchObject({
			ok: true,
			repeated: true
		});
		expect((await findTicket(db, number))?.ticket.notes).toHaveLength(1);
	});
	it('counts a change once that is sent twice, even under its old version', async () => {
		const mark = once();
		await change(number, 1, { verb: 'note', text: 'once' }, mark);
		expect(await change(number, 1, { verb: 'note', text: 'once' }, mark)).toEqual({
			ok: true,
			version: 2,
			repeated: true
		});
		expect((await findTicket(db, number))?.ticket.notes).toHaveLength(1);
	});
	it('answers for a ticket that is not there', async () =>
		expect(await change('K-99999', 1, { verb: 'note', text: 'x' })).toMatchObject({
			ok: false,
			code: 'missing'
		}));
});

describe('export of what was entered by hand', () => {
	it('is the same bytes again after an import elsewhere', async () => {
		const number = await taken({ reported: 'lies there dead', promisedAt: NOW + 1 });
		let version = 1;
		for (const input of [
			{ verb: 'look', places: ['1', 'tongue'], state: 'bent' },
			{ verb: 'plug-in', orientation: 'a', volts: 5.1, amps: 0.02, seconds: 20 },
			{
				verb: 'read-pins',
				mode: 'diode',
				readings: [
					{ pin: '1', value: 0.4 },
					{ pin: '2', overload: true }
				]
			},
			{ verb: 'observe', test: 'vbus-fuse', outcome: 'open' },
			{
				verb: 'attempt',
				operation: 'replace-fuse',
				technician: 'ines',
				minutes: 20.5,
				resolved: true,
				parts: [{ sku: 'fuse-smd', quantity: 1 }]
			},
			{ verb: 'start-timer', operation: 'clean-port', technician: 'ines' },
			{ verb: 'gate', gate: 'functions', passed: true }
		] satisfies TicketChangeInput[]) {
			expect(await change(number, version++, input)).toMatchObject({ ok: true });
		}
		const whole = async (from: Database) => {
			let text = '';
			for await (const lines of exportLines(from)) text += lines;
			return text;
		};
		const other = await freshDatabase();
		const bytes = await whole(db);
		expect((await importLines(other, 'test', NOW, bytes)).rejected).toEqual([]);
		expect(await whole(other)).toBe(bytes);
		await other.destroy();
	});
});

describe('passcodes', () => {
	it('are sealed in the store, shown while open, erased at closing', async () => {
		const number = await taken({ passcode: '2580#' });
		const row = await db('tickets').where({ number }).first('passcode', 'record');
		expect(JSON.stringify(row)).not.toContain('2580');
		expect(await showPasscode(db, viewer, NOW, number)).toEqual({ ok: false, code: 'not-yours' });
		await change(number, 1, { verb: 'hand-over', to: 'ines' });
		expect(await showPasscode(db, viewer, NOW, number)).toEqual({ ok: true, passcode: '2580#' });
		expect(await showPasscode(db, { ...odile, role: 'counter' }, NOW, number)).toMatchObject({
			code: 'not-yours'
		});
		await change(number, 2, { verb: 'close', outcome: 'not-worth-it', faults: [], paidMinor: 0 });
		expect(await showPasscode(db, odile, NOW, number)).toEqual({ ok: false, code: 'none' });
		expect((await db('tickets').where({ number }).first('passcode'))?.passcode).toBeNull();
		const audit = await db('audit').where({ subject_key: number, verb: 'show-passcode' });
		expect(audit).toHaveLength(1);
		expect(JSON.stringify(audit)).not.toContain('2580');
	});
	it('cannot be read with another key, nor moved to another ticket', async () => {
		const number = await taken({ passcode: '1234' });
		const other = await taken();
		const sealed = (await db('tickets').where({ number }).first('passcode'))?.passcode;
		await db('tickets').where({ number: other }).update({ passcode: sealed });
		expect(await showPasscode(db, odile, NOW, other)).toEqual({ ok: false, code: 'unreadable' });
		const key = process.env.TAVREK_KEY;
		process.env.TAVREK_KEY = 'another';
		expect(await showPasscode(db, odile, NOW, number)).toEqual({ ok: false, code: 'unreadable' });
		process.env.TAVREK_KEY = key;
	});
});

describe('what the shop remembers', () => {
	it('learns a ticket at its closing and unlearns it when it is reopened', async () => {
		const before = (await shopMemory(db)).engine.learned.tickets;
		const number = await taken();
		await change(number, 1, { verb: 'close', outcome: 'not-fixed', faults: ['input-fuse'], paidMinor: 0 });
		const after = await shopMemory(db);
		expect(after.engine.learned.tickets).toBe(before + 1);
		expect(after.engine.learned.faults.get('input-fuse')).toBe(1);
		await change(number, 2, { verb: 'reopen' });
		expect((await shopMemory(db)).engine.learned.tickets).toBe(before);
	});
	it('follows a change that another process made', async () => {
		const number = await taken();
		await shopMemory(db);
		const other = await import('knex').then(({ default: knex }) => knex(db.client.config));
		await changeTicket(other, ines, NOW, number, {
			version: 1,
			once: once(),
			change: { verb: 'close', outcome: 'not-fixed', faults: ['coil-open'], ownFaults: [], paidMinor: 0 }
		});
		await other.destroy();
		expect((await shopMemory(db)).engine.learned.faults.get('coil-open')).toBe(1);
	});
	it('knows only what was closed before, as of a moment', async () => {
		const memory = await shopMemory(db);
		expect((await memory.asOf(NOW, NEVER)).engine.learned.tickets).toBe(0);
		expect((await memory.asOf(NOW + 1, NEVER)).engine.learned.tickets).toBe(memory.engine.learned.tickets);
	});
	it('takes closing readings of a fixed device over as known good', async () => {
		const number = await taken();
		let version = 1;
		const then = async (input: TicketChangeInput) =>
			expect(await change(number, version++, input)).toMatchObject({ ok: true });
		await then({
			verb: 'read-pins',
			stage: 'closing',
			mode: 'diode',
			readings: [{ pin: '1', value: 0.471 }]
		});
		for (const gate of (await shopMemory(db)).catalog.gates.keys())
			await then({ verb: 'gate', gate, passed: true });
		await then({ verb: 'close', outcome: 'fixed', faults: ['port-debris'], paidMinor: 2000 });
		expect((await shopMemory(db)).shelf.byModel.get('tern-6')?.map(({ reference }) => reference)).toEqual([
			expect.objectContaining({ pin: '1', value: 0.471, grade: 'verified', ticket: number })
		]);
	});
});

describe('what a role may see', () => {
	const money = [
		'hourlyCostMinor',
		'unitCostMinor',
		'floorMinor',
		'costMinor',
		'meanMinor',
		'fixedCostQuantiles',
		'profit'
	];
	it('costs leave the server for the manager alone', async () => {
		const number = await taken();
		await change(number, 1, {
			verb: 'attempt',
			operation: 'replace-port',
			technician: 'ines',
			minutes: 41,
			resolved: true,
			parts: [{ sku: 'port-smd', quantity: 1 }]
		});
		for (const role of ['technician', 'counter'] as const) {
			const text = JSON.stringify(await ticketView(db, number, role, NOW));
			for (const word of money) expect(text).not.toContain(`"${word}"`);
		}
		const manager = JSON.stringify(await ticketView(db, number, 'manager', NOW));
		for (const word of money.filter((word) => word !== 'profit')) expect(manager).toContain(`"${word}"`);
	});
});
