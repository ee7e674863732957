import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { ticketChangeSchema, type TicketChangeInput } from '$lib/core/tickets/ticket-change';
import { DAY_MS, formatInstant } from '$lib/core/units/instant';
import { inTransaction, type Database } from '$lib/server/database/connection';
import { migrate } from '$lib/server/database/migrate';
import { exportLines } from '$lib/server/exchange/export';
import { importLines } from '$lib/server/exchange/import';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { closeOrder, harvestLot, moveLot, placeOrder, receiveLot } from '$lib/server/stock/commands';
import { shelfNow } from '$lib/server/stock/queries';
import { changeTicket } from '$lib/server/tickets/change-ticket';
import { endPartWaits } from '$lib/server/tickets/end-part-waits';
import { findTicket } from '$lib/server/tickets/queries';
import { DEMO_CATALOG } from '$lib/core/simulation/demo-catalog';
import { freshDatabase, freshDatabaseUrl } from './fresh-database';
import { changed, ines, jsonLines, NOW, records, takenIn } from './small-shop';

/** The shelf in a real database: what uses take, what commands of the shelf leave, what imports find. */

let db: Database;
const actor = { name: 'Odile', by: 'odile', now: NOW };
const PART = 'port-smd';
const at = (days: number) => formatInstant(NOW + days * DAY_MS);
const lot = (code: string, days: number, quantity: number, more: object = {}) => ({
	record: 'lot',
	code,
	sku: PART,
	received_at: at(days),
	quantity,
	unit_cost: 4,
	...more
});
const take = async (input: TicketChangeInput) => {
	const number = await takenIn(db);
	await changed(db, number, input);
	return { number, parts: (await findTicket(db, number))!.ticket.parts };
};
const use = (quantity: number, more: object = {}): TicketChangeInput => ({
	verb: 'use-part',
	sku: PART,
	quantity,
	...more
});
const shelfOf = async (sku = PART) => (await shelfNow(db, NOW, 0.95)).find((part) => part.sku === sku)!;
const bring = (...lines: object[]) => importLines(db, 'test', NOW, jsonLines(lines));

beforeEach(async () => {
	db = await freshDatabase();
	await bring(...DEMO_CATALOG);
	return () => db.destroy();
});

describe('a use at the bench', () => {
	it('takes from the oldest lot at what that cost, is split, and is short of what no lot has', async () => {
		await bring(lot('old', -9, 2, { unit_cost: 3 }), lot('new', -2, 2, { unit_cost: 5 }));
		const { parts } = await take(use(5));
		expect(parts.map(({ lot, quantity, unitCostMinor }) => [lot, quantity, unitCostMinor])).toEqual([
			['old', 2, 300],
			['new', 2, 500],
			[undefined, 1, 390]
		]);
		expect(await shelfOf()).toMatchObject({ onHand: 0, short: 1, valueMinor: 0 });
	});
	it('of two who take the last piece the second is told that the shelf is short, with its lot scanned or not', async () => {
		await bring(lot('last', -9, 1));
		const numbers = [await takenIn(db), await takenIn(db), await takenIn(db)];
		const asked = (number: string, more: object = {}) =>
			changeTicket(db, ines, NOW, number, {
				version: 1,
				once: crypto.randomUUID(),
				change: ticketChangeSchema.parse(use(1, more))
			});
		const answers = await Promise.all(numbers.slice(0, 2).map((number) => asked(number)));
		const short = answers.map((answer) => (answer.ok && !answer.repeated ? answer.short : null));
		expect(short).toContainEqual([]);
		expect(short).toContainEqual([{ sku: PART, quantity: 1 }]);
		expect(await asked(numbers[2] ?? '', { lot: 'last' })).toMatchObject({
			ok: true,
			short: [{ sku: PART, quantity: 1 }]
		});
	});
	it('takes from the lot that was scanned, and refuses one that is not of the part', async () => {
		await bring(
			lot('old', -9, 2),
			lot('new', -2, 2, { unit_cost: 5 }),
			lot('fuses', -2, 2, { sku: 'fuse-smd' })
		);
		const { parts, number } = await take(use(1, { lot: 'new' }));
		expect(parts).toMatchObject([{ lot: 'new', unitCostMinor: 500 }]);
		await expect(changed(db, number, use(1, { lot: 'fuses' }))).rejects.toThrow('holds no port-smd');
		await expect(changed(db, number, use(1, { lot: 'gone' }))).rejects.toThrow('scan it again');
	});
	it('of an operation as well; struck out it lies there again, put back it is taken again', async () => {
		await bring(lot('old', -9, 3));
		const { number, parts } = await take({
			verb: 'attempt',
			operation: 'replace-port',
			technician: 'ines',
			resolved: true,
			minutes: 30,
			parts: [{ sku: PART, quantity: 1 }]
		});
		expect(parts).toMatchObject([{ lot: 'old' }]);
		expect((await shelfOf()).onHand).toBe(2);
		await changed(db, number, { verb: 'withdraw', list: 'parts', index: 0 });
		expect((await shelfOf()).onHand).toBe(3);
		await changed(db, number, { verb: 'put-back', index: 0 });
		expect((await findTicket(db, number))!.ticket.parts).toMatchObject([{ lot: 'old' }]);
		expect((await shelfOf()).onHand).toBe(2);
	});
	it('without any lot stands as it did, and is short', async () => {
		const { parts } = await take(use(1));
		expect(parts).toMatchObject([{ unitCostMinor: 390 }]);
		expect(parts[0]).not.toHaveProperty('lot');
		expect(await shelfOf()).toMatchObject({ onHand: 0, short: 1 });
	});
	it('the last piece goes to one of two who take it at once', async () => {
		await bring(lot('old', -9, 1));
		const numbers = [await takenIn(db), await takenIn(db), await takenIn(db)];
		await Promise.all(numbers.map((number) => changed(db, number, use(1))));
		const lots = await Promise.all(
			numbers.map(async (number) => (await findTicket(db, number))!.ticket.parts[0]?.lot)
		);
		expect(lots.filter((code) => code === 'old')).toHaveLength(1);
	});
});

describe('what comes in and goes out', () => {
	it('a lot by its own number, counted, scrapped, sent back', async () => {
		await receiveLot(db, actor, { sku: PART, quantity: 10, unitMinor: 410 });
		expect(await shelfOf()).toMatchObject({ onHand: 10, valueMinor: 4100, supplier: 'tidewater' });
		const code = (await shelfOf()).lots[0]?.lot ?? '';
		expect(code).toBe('l-0001');
		const move = (why: 'count' | 'scrap' | 'return', quantity: number) =>
			moveLot(db, actor, { lot: code, why, quantity });
		expect(await move('count', 9)).toMatchObject({ ok: true });
		expect(await move('scrap', 2)).toMatchObject({ ok: true });
		// of the same moment and reason
		expect(await move('scrap', 1)).toMatchObject({ ok: true });
		expect((await shelfNow(db, NOW + 10, 0.95)).find(({ sku }) => sku === PART)).toMatchObject({ onHand: 6 });
		expect(await move('return', 7)).toMatchObject({ ok: false, refusal: { field: 'quantity' } });
		expect(await move('count', 6)).toMatchObject({ ok: false, refusal: { field: 'quantity' } });
		expect(await moveLot(db, actor, { lot: 'l-9', why: 'scrap', quantity: 1 })).toMatchObject({
			ok: false,
			refusal: { field: 'lot' }
		});
		const lines = (await db('audit').where({ subject: 'shelf' }).orderBy('id').select('verb')) as {
			verb: string;
		}[];
		expect(lines.map(({ verb }) => verb)).toEqual(['receive', 'count', 'scrap', 'scrap']);
	});
	it('costs what was said, else what was agreed in the order, else what the part usually costs', async () => {
		await placeOrder(db, actor, { supplier: 'tidewater', lines: [{ sku: PART, quantity: 2 }] });
		await bring({ record: 'part', sku: PART, label: 'Port', unit_cost: 9, supplier: 'tidewater' });
		await receiveLot(db, actor, { sku: PART, quantity: 1, unitMinor: 1 });
		await receiveLot(db, actor, { sku: PART, quantity: 1, order: 'o-0001', line: 0 });
		await receiveLot(db, actor, { sku: PART, quantity: 1 });
		expect((await shelfOf()).lots.map(({ unitMinor }) => unitMinor)).toEqual([1, 390, 900]);
	});
	it('what nobody knows is refused by its field, and nothing is left behind', async () => {
		const receive = (more: object) =>
			receiveLot(db, actor, { sku: PART, quantity: 1, unitMinor: 1, ...more });
		expect(await receive({ sku: 'gone' })).toMatchObject({ ok: false, refusal: { field: 'sku' } });
		expect(await receive({ supplier: 'gone' })).toMatchObject({ ok: false, refusal: { field: 'supplier' } });
		expect(await receive({ order: 'o-1', line: 0 })).toMatchObject({
			ok: false,
			refusal: { field: 'order' }
		});
		expect((await shelfOf()).lots).toEqual([]);
	});
	it('donors are taken apart: what came off is a lot with their cost, failures make it dearer', async () => {
		await receiveLot(db, actor, { sku: 'donor-cable', quantity: 10, unitMinor: 580 });
		const apart = (donors: number, quantity: number, sku = PART) =>
			harvestLot(db, { ...actor, now: NOW + 5 }, { lot: 'l-0001', donors, gave: [{ sku, quantity }] });
		expect(await apart(5, 4)).toMatchObject({ ok: true });
		const now = async (sku: string) => (await shelfNow(db, NOW + 10, 0.95)).find((part) => part.sku === sku)!;
		expect(await now('donor-cable')).toMatchObject({ onHand: 5, valueMinor: 2900 });
		// 5 at 5.80 gave four: 7.25 each, and not a cent is lost
		expect((await now(PART)).lots).toMatchObject([
			{ lot: 'l-0002', onHand: 4, unitMinor: 725, source: 'donor' }
		]);
		expect(await apart(6, 1)).toMatchObject({ ok: false, refusal: { field: 'donors' } });
		expect(await apart(1, 1, 'fuse-smd')).toMatchObject({ ok: false, refusal: { field: 'gave' } });
		expect(await harvestLot(db, actor, { lot: 'l-0002', donors: 1, gave: [] })).toMatchObject({
			ok: false,
			refusal: { field: 'lot' }
		});
	});
	it('an order placed, come in line by line, closed by itself; the days it took are learnt', async () => {
		const early = { ...actor, now: NOW - 8 * DAY_MS };
		const lines = [
			{ sku: PART, quantity: 10 },
			{ sku: 'battery-pack', quantity: 4 }
		];
		expect(await placeOrder(db, early, { supplier: 'tidewater', lines })).toMatchObject({ ok: true });
		expect(await placeOrder(db, early, { supplier: 'gone', lines })).toMatchObject({ ok: false });
		expect((await shelfOf()).onOrder).toBe(10);
		const came = (quantity: number, line = 0, sku = PART) =>
			receiveLot(db, actor, { sku, quantity, unitMinor: 400, order: 'o-0001', line });
		expect(await came(6)).toMatchObject({ ok: true });
		expect(await shelfOf()).toMatchObject({ onOrder: 4, onHand: 6, lead: { from: 1 } });
		// the way that it took, beside the twelve days that the supplier states
		expect((await shelfOf()).lead.mean).toBeCloseTo((1.5 * 12 + 8) / 2.5, 9);
		expect(await came(1, 1)).toMatchObject({ ok: false, refusal: { field: 'order' } });
		await came(4);
		await came(4, 1, 'battery-pack');
		expect((await shelfOf()).onOrder).toBe(0);
		expect(await came(1)).toMatchObject({ ok: false, refusal: { field: 'order' } });
		expect(await closeOrder(db, actor, 'o-0001')).toMatchObject({ ok: false });
		await placeOrder(db, actor, { supplier: 'tidewater', lines });
		expect(await closeOrder(db, actor, 'o-0002')).toMatchObject({ ok: true });
		expect((await shelfOf()).onOrder).toBe(0);
	});
});

describe('a job whose price was accepted', () => {
	const agreed = async (operation: string) => {
		const number = await takenIn(db);
		await changed(db, number, { verb: 'quote', priceMinor: 9000, operations: [operation] });
		return number;
	};
	it('keeps its parts: reserved when it is accepted, released when it is declined or used', async () => {
		const number = await agreed('replace-port');
		expect((await shelfOf()).reserved).toBe(0);
		await changed(db, number, { verb: 'answer', accepted: true });
		expect((await shelfOf()).reserved).toBe(1);
		await changed(db, number, use(1));
		expect((await shelfOf()).reserved).toBe(0);
		const other = await agreed('replace-port');
		await changed(db, other, { verb: 'answer', accepted: true });
		expect((await shelfOf()).reserved).toBe(1);
		await changed(db, other, { verb: 'answer', accepted: false, why: 'too-dear' });
		expect((await shelfOf()).reserved).toBe(0);
	});
	it('keeps the part that is made for its model', async () => {
		const made = { record: 'part', sku: 'port-40', label: 'Port 40', unit_cost: 7, kind: PART };
		await bring({ ...made, fits: ['pelagic-40'] });
		const agree = async (model: string) => {
			const number = await takenIn(db, model);
			await changed(db, number, { verb: 'quote', priceMinor: 9000, operations: ['replace-port'] });
			await changed(db, number, { verb: 'answer', accepted: true });
		};
		await agree('pelagic-40');
		expect([(await shelfOf())?.reserved, (await shelfOf('port-40'))?.reserved]).toEqual([0, 1]);
		await agree('pelagic-25');
		expect([(await shelfOf())?.reserved, (await shelfOf('port-40'))?.reserved]).toEqual([1, 1]);
	});
	it('waits for its part until that comes in, and for no other', async () => {
		const waiting = await agreed('replace-port');
		await changed(db, waiting, { verb: 'wait', for: 'part' });
		const other = await agreed('replace-battery');
		await changed(db, other, { verb: 'wait', for: 'part' });
		const unknown = await takenIn(db);
		await changed(db, unknown, { verb: 'wait', for: 'part' });
		expect(await inTransaction(db, (trx) => endPartWaits(trx, ines, NOW, PART))).toEqual({
			ended: [waiting],
			refused: []
		});
		const waits = async (number: string) =>
			(await findTicket(db, number))!.ticket.waits.filter(({ endedAt }) => endedAt === undefined).length;
		expect(await Promise.all([waiting, other, unknown].map(waits))).toEqual([0, 1, 1]);
	});
	it('a lot and the ends of the waits for it are one: where one fails nothing of either is kept', async () => {
		const waiting = await agreed('replace-port');
		await changed(db, waiting, { verb: 'wait', for: 'part' });
		const lots = async () => (await db('catalog').where({ kind: 'lot' }).count({ n: '*' }).first()) as object;
		const before = await lots();
		const actor = { name: 'Ines', by: 'ines', now: NOW };
		const came = receiveLot(db, actor, { sku: PART, quantity: 3 }, async (trx) => {
			expect((await endPartWaits(trx, ines, NOW, PART)).ended).toContain(waiting);
			throw new Error('the power fails');
		});
		await expect(came).rejects.toThrow('the power fails');
		expect(await lots()).toEqual(before);
		expect((await findTicket(db, waiting))!.ticket.waits[0]?.endedAt).toBeUndefined();
		const answer = await receiveLot(db, actor, { sku: PART, quantity: 3 }, async (trx) =>
			(await endPartWaits(trx, ines, NOW, PART)).ended.join()
		);
		expect(answer).toMatchObject({
			ok: true,
			done: expect.stringMatching(new RegExp(`; .*${waiting}`)) as string
		});
	});
	it('a reason goes with a no alone', async () => {
		const number = await agreed('replace-port');
		const version = (await findTicket(db, number))!.version;
		const change = { verb: 'answer' as const, accepted: true, why: 'too-dear' as const };
		const answer = await changeTicket(db, ines, NOW, number, { version, once: crypto.randomUUID(), change });
		expect(answer).toMatchObject({ ok: false, refusal: { field: 'why' } });
	});
});

describe('what an import brings', () => {
	const ticket = (number: string, days: number, parts: object[], more: object = {}) => ({
		record: 'ticket',
		number,
		opened_at: at(days - 1),
		closed_at: at(days),
		model: 'tern-6',
		outcome: 'not-fixed',
		faults: [],
		parts,
		...more
	});
	const lotsOf = async (number: string) =>
		(await findTicket(db, number))!.ticket.parts.map(({ lot, quantity, unitCostMinor }) => [
			lot,
			quantity,
			unitCostMinor
		]);
	it('uses without a lot are taken in the order of time, whatever the order of the lines and of the imports', async () => {
		const tickets = [
			ticket('T-2', -3, [{ sku: PART, quantity: 2 }]),
			ticket('T-1', -6, [{ sku: PART, quantity: 1, at: at(-8) }]),
			ticket('T-0', -12, [{ sku: PART, quantity: 1 }]),
			ticket('T-3', -1, [{ sku: PART, quantity: 1, unit_cost: 9, lot: 'b' }])
		];
		const lots = [lot('b', -5, 4, { unit_cost: 6 }), lot('a', -10, 2, { unit_cost: 3 })];
		const expected = {
			'T-0': [[undefined, 1, undefined]],
			'T-1': [['a', 1, 300]],
			'T-2': [
				['a', 1, 300],
				['b', 1, 600]
			],
			'T-3': [['b', 1, 900]]
		};
		const check = async () => {
			for (const [number, parts] of Object.entries(expected))
				expect(await lotsOf(number), number).toEqual(parts);
			expect(await shelfOf()).toMatchObject({ onHand: 2, short: 1, valueMinor: 1200 });
		};
		await bring(...tickets, ...lots);
		await check();
		// the same again changes nothing
		await bring(...tickets, ...lots);
		await check();
		const again = await freshDatabase();
		const whole = [];
		for await (const lines of exportLines(db)) whole.push(lines);
		await importLines(again, 'test', NOW, whole.join(''));
		const back = [];
		for await (const lines of exportLines(again)) back.push(lines);
		expect(back.join('')).toBe(whole.join(''));
		await again.destroy();
		// lots that come later than their uses
		await db.destroy();
		db = await freshDatabase();
		await bring(...DEMO_CATALOG);
		await bring(...tickets.slice(0, 3));
		await bring(...lots);
		await bring(tickets[3] as object);
		await check();
	});
	it('what names an unknown lot, part or supplier is refused by its path', async () => {
		const { rejected } = await bring(
			ticket('T-1', -6, [{ sku: PART, quantity: 1, lot: 'gone' }]),
			lot('a', -3, 1, { sku: 'gone' }),
			{ record: 'movement', lot: 'gone', at: at(-1), quantity: 1, why: 'count' },
			{ record: 'movement', lot: 'gone', at: at(-1), quantity: 0, why: 'count' },
			{ record: 'order', code: 'o', supplier: 'gone', placed_at: at(-1), lines: [{ sku: PART, quantity: 1 }] }
		);
		expect(rejected.map(({ line, path }) => [line, path])).toEqual([
			[1, 'parts.0.lot'],
			[2, 'sku'],
			[3, 'lot'],
			[4, 'quantity'],
			[5, 'supplier']
		]);
	});
	it('of the shelf alone leaves what everything is judged with as it is', async () => {
		const before = await shopMemory(db);
		await bring(lot('a', -10, 2));
		const after = await shopMemory(db);
		expect(after.catalog).toBe(before.catalog);
		expect(after.counters.catalog).toBe(before.counters.catalog);
		expect(after.counters.shelf).toBeGreaterThan(before.counters.shelf);
	});
});

describe('an older shop', () => {
	let old: Database;
	beforeAll(async () => {
		old = (await freshDatabaseUrl()).db;
		await migrate(old, '005-parts-of-work');
	});
	afterAll(() => old.destroy());
	it('keeps its uses, each with the moment that it counts from', async () => {
		const parts = [
			{ sku: PART, quantity: 1, at: at(-5) },
			{ sku: PART, quantity: 2 }
		];
		const rows = [
			{ id: 1, number: 'A-1', closed_at: new Date(NOW - DAY_MS) },
			{ id: 2, number: 'A-2', closed_at: null }
		];
		for (const row of rows)
			await old('tickets').insert({
				...row,
				model: 'tern-6',
				opened_at: new Date(NOW - 2 * DAY_MS),
				record: JSON.stringify({ parts }),
				parts_minor: 0,
				labour_minor: 0,
				minutes: '0'
			});
		for (const { id } of rows)
			await old('part_uses').insert([
				{ ticket_id: id, n: 1, sku: PART, quantity: 1, at: new Date(NOW - 5 * DAY_MS) },
				{ ticket_id: id, n: 2, sku: PART, quantity: 2 }
			]);
		await migrate(old);
		const kept = (await old('part_uses').orderBy(['ticket_id', 'n']).select('lot', 'used_at')) as {
			lot: string | null;
			used_at: Date;
		}[];
		expect(kept.map(({ lot: from, used_at }) => [from, (used_at.getTime() - NOW) / DAY_MS])).toEqual([
			[null, -5],
			[null, -1],
			[null, -5],
			[null, -2]
		]);
	});
});

it('the simulated shop: pieces that came in are on hand, used, moved or short', async () => {
	await importLines(db, 'test', NOW, jsonLines(records));
	const shelf = await shelfNow(db, NOW, 0.95);
	for (const part of shelf) {
		const came = (records as { record: string; sku: string; quantity: number }[])
			.filter(({ record, sku }) => record === 'lot' && sku === part.sku)
			.reduce((sum, { quantity }) => sum + quantity, 0);
		const moved = (records as { record: string; lot: string; quantity: number }[])
			.filter(
				({ record, lot: code }) =>
					record === 'movement' &&
					(records as { record: string; code: string; sku: string }[]).some(
						(one) => one.record === 'lot' && one.code === code && one.sku === part.sku
					)
			)
			.reduce((sum, { quantity }) => sum + quantity, 0);
		const row = (await db('part_uses').where({ sku: part.sku }).sum({ all: 'quantity' }).first()) as {
			all: number | null;
		};
		expect(part.onHand + Number(row.all ?? 0) - part.short, part.sku).toBeCloseTo(came + moved, 6);
	}
	expect(shelf.filter(({ reorderAt }) => reorderAt !== null).length).toBeGreaterThan(5);
});
