import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { TicketChangeInput } from '$lib/core/tickets/ticket-change';
import { ticketFromRecord, ticketToRecord, type Ticket } from '$lib/core/tickets/ticket-record';
import { DEMO_CATALOG } from '$lib/core/simulation/demo-catalog';
import type { Database } from '$lib/server/database/connection';
import { migrate } from '$lib/server/database/migrate';
import { exportLines } from '$lib/server/exchange/export';
import { importLines } from '$lib/server/exchange/import';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { findTicket } from '$lib/server/tickets/queries';
import { freshDatabase, freshDatabaseUrl } from './fresh-database';
import { changed, jsonLines, NOW, records, smallShop, takenIn } from './small-shop';

let db: Database;

beforeAll(async () => {
	db = await smallShop();
});
afterAll(() => db.destroy());

const taken = (model?: string) => takenIn(db, model);
const change = (number: string, input: TicketChangeInput, now?: number) => changed(db, number, input, now);

describe('tables drawn at each save', () => {
	const drawn = async (shop: Database, number: string) => {
		const of = (table: string) =>
			shop(table)
				.join('tickets', 'tickets.id', `${table}.ticket_id`)
				.where('tickets.number', number)
				.orderBy('n')
				.select(`${table}.*`);
		const attempts = (await of('attempts')) as {
			operation: string;
			minutes: number;
			hourly_minor: number;
			resolved: unknown;
			at: Date | null;
		}[];
		const parts = (await of('part_uses')) as {
			sku: string;
			quantity: number;
			unit_minor: number;
			at: Date | null;
		}[];
		return {
			attempts: attempts.map(({ operation, minutes, hourly_minor, resolved, at }) => [
				operation,
				minutes,
				Number(hourly_minor),
				Boolean(resolved),
				at?.getTime()
			]),
			parts: parts.map(({ sku, quantity, unit_minor, at }) => [
				sku,
				quantity,
				Number(unit_minor),
				at?.getTime()
			])
		};
	};
	const told = ({ attempts, parts }: Ticket) => ({
		attempts: attempts.map(({ operation, minutes, hourlyCostMinor, resolved, at }) => [
			operation,
			minutes,
			hourlyCostMinor ?? 0,
			resolved,
			at
		]),
		parts: parts.map(({ sku, quantity, unitCostMinor, at }) => [sku, quantity, unitCostMinor ?? 0, at])
	});
	const check = async (shop: Database, number: string) => {
		const ticket = (await findTicket(shop, number))?.ticket as Ticket;
		expect(await drawn(shop, number)).toEqual(told(ticket));
	};
	it('say what the record says: saved, struck out, put back, imported, imported again', async () => {
		const number = await taken();
		await change(number, {
			verb: 'attempt',
			operation: 'replace-port',
			technician: 'ines',
			minutes: 41.5,
			resolved: false,
			parts: [{ sku: 'port-smd', quantity: 0.5 }]
		});
		await change(number, {
			verb: 'attempt',
			operation: 'clean-port',
			technician: 'bram',
			minutes: 3,
			resolved: true
		});
		await check(db, number);
		await change(number, { verb: 'withdraw', list: 'attempts', index: 0 });
		await check(db, number);
		await change(number, { verb: 'put-back', index: 0 });
		await check(db, number);
		const { ticket } = (await findTicket(db, number)) as { ticket: Ticket };
		await importLines(
			db,
			'test',
			NOW,
			JSON.stringify(ticketToRecord({ ...ticket, parts: [], attempts: ticket.attempts.slice(1) }))
		);
		await check(db, number);
		const imported = records
			.filter((record) => (record as { record: string }).record === 'ticket')
			.slice(0, 25) as { number: string }[];
		for (const { number } of imported) await check(db, number);
	});
	it('an upgrade fills them from what is stored, as a save would', async () => {
		const { db: old } = await freshDatabaseUrl();
		await migrate(old, '003-doors');
		const tickets = records
			.filter((record) => (record as { record: string }).record === 'ticket')
			.slice(0, 40) as Record<string, unknown>[];
		for (const record of tickets) {
			const { number, model, opened_at } = record as { number: string; model: string; opened_at: string };
			const row = {
				number,
				model,
				opened_at: new Date(opened_at),
				record: JSON.stringify({ ...record, customer: undefined }),
				parts_minor: 0,
				labour_minor: 0,
				minutes: '0'
			};
			await old('tickets').insert(row);
		}
		await migrate(old);
		for (const record of tickets) {
			const ticket = ticketFromRecord(record);
			expect(await drawn(old, ticket.number), ticket.number).toEqual(told(ticket));
			const row = (await old('tickets')
				.where({ number: ticket.number })
				.first('quoted_minor', 'accepted')) as { quoted_minor: number | null; accepted: unknown };
			expect(row.quoted_minor === null ? null : Number(row.quoted_minor)).toBe(ticket.quotedMinor);
			expect(row.accepted === null ? null : Boolean(row.accepted)).toBe(ticket.accepted);
		}
		await old.destroy();
	});
});

it('an upgrade from the version without steps of a repair keeps what is drawn, and a step is told from an attempt', async () => {
	const { db: old } = await freshDatabaseUrl();
	await migrate(old, '004-drawn-tables');
	const row = { ticket_id: 1, n: 1, operation: 'replace-port', minutes: 12, resolved: true };
	await old('tickets').insert({
		id: 1,
		number: 'K-1',
		model: 'tern-6',
		opened_at: new Date(NOW),
		record: '{}',
		parts_minor: 0,
		labour_minor: 0,
		minutes: '0'
	});
	await old('attempts').insert(row);
	await migrate(old);
	const kept = await old('attempts').where({ ticket_id: 1 }).first();
	expect([kept?.operation, kept?.minutes, kept?.resolved, kept?.part]).toEqual([
		'replace-port',
		12,
		true,
		false
	]);
	await old.destroy();

	const number = await taken();
	const work = { operation: 'replace-port', technician: 'ines', resolved: false } as const;
	await change(number, { verb: 'attempt', ...work, minutes: 9, part: true });
	await change(number, { verb: 'attempt', ...work, minutes: 30 });
	const drawn = (await db('attempts')
		.join('tickets', 'tickets.id', 'attempts.ticket_id')
		.where('tickets.number', number)
		.orderBy('n')
		.select('attempts.minutes as minutes', 'attempts.part as part')) as { minutes: number; part: unknown }[];
	expect(drawn.map(({ minutes, part }) => [minutes, Boolean(part)])).toEqual([
		[9, true],
		[30, false]
	]);
});

describe('many tickets at once', () => {
	it('are learnt beside the answers, which say how many are still to come; then all is as if read anew', async () => {
		const shop = await freshDatabase();
		await importLines(shop, 'test', NOW, jsonLines([...DEMO_CATALOG]));
		const first = {
			record: 'ticket',
			number: 'A-1',
			opened_at: '2026-01-01T00:00:00Z',
			closed_at: '2026-01-02T00:00:00Z',
			model: 'tern-6',
			outcome: 'not-fixed',
			faults: ['coil-open']
		};
		await importLines(shop, 'test', NOW, JSON.stringify(first));
		expect((await shopMemory(shop)).engine.learned.tickets).toBe(1);
		const many = Array.from({ length: 2001 }, (_, i) => ({
			...first,
			number: `B-${i}`,
			faults: ['input-fuse']
		}));
		await importLines(shop, 'test', NOW, jsonLines(many));
		const meanwhile = await shopMemory(shop);
		expect([meanwhile.behind, meanwhile.engine.learned.tickets]).toEqual([2001, 1]);
		const whole = await shopMemory(shop, { whole: true });
		expect([whole.behind, whole.engine.learned.tickets]).toEqual([0, 2002]);
		await importLines(shop, 'test', NOW, jsonLines([{ record: 'fault', code: 'new-fault', label: 'New' }]));
		// what is known is told with the new catalog, while everything is read anew
		const anew = await shopMemory(shop);
		expect([anew.behind, anew.catalog.faults.has('new-fault'), anew.engine.learned.tickets]).toEqual([
			2002,
			true,
			2002
		]);
		expect((await shopMemory(shop, { whole: true })).behind).toBe(0);
		await shop.destroy();
	});
});

describe('kinds that came in as one file', () => {
	it('travel: suppliers, causes, more of parts and models, refused where they name what is not there', async () => {
		const shop = await freshDatabase();
		const lines = [
			{ record: 'supplier', code: 'north', label: 'North', lead_days: 4, order_cost: 7.5, minimum: 20 },
			{ record: 'cause', code: 'misuse', label: 'Misuse', counts: false, charged: true },
			{
				record: 'part',
				sku: 'donor',
				label: 'Donor',
				unit_cost: 12,
				source: 'donor',
				supplier: 'north',
				pack: 2,
				yields: [{ sku: 'ic', quantity: 1, share: 0.7 }]
			},
			{ record: 'part', sku: 'ic', label: 'IC', unit_cost: 4 },
			{ record: 'model', code: 'm', label: 'M', charges: [{ volts: 9, amps: 2 }], supply: 'fixed' }
		];
		expect(await importLines(shop, 'test', NOW, jsonLines(lines))).toMatchObject({
			accepted: { supplier: 1, cause: 1, part: 2, model: 1 },
			rejected: []
		});
		let text = '';
		for await (const part of exportLines(shop)) text += part;
		const out = text
			.trim()
			.split('\n')
			.map((line) => JSON.parse(line) as { record: string });
		for (const line of lines) expect(out).toContainEqual(line);
		const odd = await importLines(
			shop,
			'test',
			NOW,
			jsonLines([
				{
					record: 'part',
					sku: 'x',
					label: 'X',
					unit_cost: 1,
					supplier: 'nobody',
					yields: [{ sku: 'gone', quantity: 1 }]
				}
			])
		);
		expect(odd.rejected.map(({ path }) => path)).toEqual(['supplier', 'yields.0.sku']);
		await shop.destroy();
	});
});

describe('an upgrade of a filled shop', () => {
	it('from the version that kept views plainly: they are worked out anew, what is learnt has its place', async () => {
		const { db: old } = await freshDatabaseUrl();
		await migrate(old, '012-left-behind');
		await old('shown_views').insert({ name: 'floor', view: '{"rate":null}', as_of: new Date(NOW) });
		await migrate(old);
		expect(await old('shown_views').select('name')).toEqual([]);
		await old('shown_views').insert({ name: 'floor', view: '{}', as_of: new Date(NOW), build: 'abc' });
		await old('learnt').insert({ piece: 1, pieces: 1, version: 'abc', body: Buffer.from('x') });
		expect(await old('learnt').first('piece', 'version')).toEqual({ piece: 1, version: 'abc' });
		await old.destroy();
	});
	it('from the version that read every open ticket for a timer: whose timers run stands in a column', async () => {
		const { db: old } = await freshDatabaseUrl();
		await migrate(old, '013-learnt');
		const insert = (number: string, record: object) =>
			old('tickets').insert({
				number,
				model: 'tern-6',
				opened_at: new Date(NOW),
				record: JSON.stringify(record),
				parts_minor: 0,
				labour_minor: 0,
				minutes: '0'
			});
		const timer = (technician: string) => ({
			operation: 'replace-port',
			technician,
			started_at: '2026-01-05T09:00:00Z'
		});
		await insert('K-1', { running: [timer('ines'), timer('bram')] });
		await insert('K-2', { running: [] });
		await insert('K-3', {});
		await migrate(old);
		expect(await old('tickets').orderBy('number').pluck('running_by')).toEqual([' ines bram ', null, null]);
		await old.destroy();
	});
});

it('whose timers run follows every start and stop', async () => {
	const number = await taken();
	const runningBy = async () => {
		const row = (await db('tickets').where({ number }).first('running_by')) as { running_by: string | null };
		return row.running_by;
	};
	expect(await runningBy()).toBeNull();
	await change(number, { verb: 'start-timer', operation: 'replace-port', technician: 'ines' });
	expect(await runningBy()).toBe(' ines ');
	await change(number, { verb: 'start-timer', operation: 'clean-port', technician: 'bram' });
	expect(await runningBy()).toBe(' ines bram ');
	await change(number, { verb: 'cancel-timer', operation: 'replace-port', technician: 'ines' });
	expect(await runningBy()).toBe(' bram ');
});
