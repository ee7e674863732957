import { isDeepStrictEqual } from 'node:util';
import knex from 'knex';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { inferOdds } from '$lib/core/diagnosis/infer/odds';
import { readFeatures } from '$lib/core/diagnosis/learn/evidence';
import { openedTicket } from '$lib/core/tickets/ticket-record';
import { eraseCustomer } from '$lib/server/customers/erase';
import type { Database } from '$lib/server/database/connection';
import { advanceCounter, readCounters } from '$lib/server/database/counters';
import { readLearnt, writeLearnt } from '$lib/server/memory/kept-learning';
import { keepLearning, shopCatalog, shopMemory, type ShopMemory } from '$lib/server/memory/shop-memory';
import { changed, NOW, smallShop, takenIn } from './small-shop';

const BUILD = 'build-a';
let db: Database;
const others: Database[] = [];

beforeAll(async () => {
	db = await smallShop();
});
afterEach(() => {
	delete process.env.TAVREK_WORKER;
});
afterAll(() => Promise.all([db, ...others].map((each) => each.destroy())));

/** Another process on the same database, started by a build. @returns its memory, and how many records it read for that */
async function started(build: string | null): Promise<{ other: Database; memory: ShopMemory; read: number }> {
	const other = knex(db.client.config);
	others.push(other);
	let read = 0;
	// the rows of whole tickets, as learning asks for them
	other.on('query-response', (rows: unknown, { sql }: { sql: string }) => {
		if (/`tickets`.`record`/.test(sql) && Array.isArray(rows)) read += rows.length;
	});
	if (build !== null) process.env.TAVREK_WORKER = `/app/build/${build}/worker.js`;
	const memory = await shopMemory(other);
	return { other, memory, read };
}

/** All that is worked out of a memory, to the last digit. */
function knownBy({ catalog, engine, past }: ShopMemory): string {
	const odds = [...catalog.models.keys()].map((model) => {
		const features = readFeatures({ ...openedTicket('x', 0, model), signs: { 'no-charge': true } }, catalog);
		return inferOdds(engine, model, features).odds;
	});
	const text = (_: string, value: unknown) =>
		value instanceof Map ? [...value] : typeof value === 'bigint' ? String(value) : value;
	return JSON.stringify([odds, past, [...catalog.models.values()]], text);
}

async function closeOne(): Promise<void> {
	const number = await takenIn(db);
	await changed(db, number, { verb: 'close', outcome: 'not-fixed', faults: ['port-contacts'], paidMinor: 0 });
}

describe('what was learnt, kept over a start', () => {
	it('is written once for what the shop knows, and not at all in development', async () => {
		expect(await keepLearning(db)).toBe(false);
		expect(await keepLearning(db, BUILD)).toBe(true);
		expect(await keepLearning(db, BUILD)).toBe(false);
		await closeOne();
		expect(await keepLearning(db, BUILD)).toBe(true);
	});
	it('is taken up by the next start of the same build, without reading a ticket', async () => {
		const anew = await started(null);
		expect(anew.read).toBeGreaterThan(250);
		const kept = await started(BUILD);
		expect(kept.read).toBe(0);
		expect(knownBy(kept.memory)).toBe(knownBy(anew.memory));
		expect(kept.memory.cases().map(({ id }) => id)).toEqual(anew.memory.cases().map(({ id }) => id));
	});
	it('is brought up to date with what closed since, and forgets it again when it is reopened', async () => {
		const number = await takenIn(db);
		await changed(db, number, {
			verb: 'close',
			outcome: 'not-fixed',
			faults: ['port-contacts'],
			paidMinor: 0
		});
		await closeOne();
		const { other, memory, read } = await started(BUILD);
		expect(read).toBe(2);
		expect(knownBy(memory)).toBe(knownBy(await shopMemory(db)));
		await keepLearning(db, BUILD);
		await changed(db, number, { verb: 'reopen' });
		expect(knownBy(await shopMemory(other))).toBe(knownBy((await started(null)).memory));
		expect(knownBy((await started(BUILD)).memory)).toBe(knownBy((await started(null)).memory));
	});
	it.each<[string, () => Promise<unknown>]>([
		['by another build', () => db('learnt').update({ version: 'build-b' })],
		['with a piece missing', () => db('learnt').update({ pieces: 2 })],
		['that cannot be read', () => db('learnt').update({ body: Buffer.from('no such thing') })],
		['before the catalog says otherwise', () => db.transaction((trx) => advanceCounter(trx, 'relearn'))],
		['before what is known good changed', () => db.transaction((trx) => advanceCounter(trx, 'reference'))],
		['nothing at all', () => db('learnt').delete()]
	])('kept %s, it is learnt anew', async (_, spoil) => {
		await closeOne();
		expect(await keepLearning(db, BUILD)).toBe(true);
		expect((await started(BUILD)).read).toBe(0);
		await spoil();
		const { memory, read } = await started(BUILD);
		expect(read).toBeGreaterThan(250);
		expect(knownBy(memory)).toBe(knownBy((await started(null)).memory));
	});
	it('large enough for several rows it is put together again', async () => {
		const counters = await readCounters(db);
		const { sums, tickets } = { sums: {}, tickets: new Map<number, unknown>() };
		// bytes that do not press together
		for (let i = 0; i < 150; i++) tickets.set(i, crypto.getRandomValues(new Uint8Array(65_536)));
		const learnt = { counters, sums, tickets } as unknown as Parameters<typeof writeLearnt>[2];
		expect(await writeLearnt(db, 'large', learnt)).toBe(true);
		expect(await db('learnt').count({ n: '*' })).toMatchObject([{ n: 3 }]);
		expect(isDeepStrictEqual(await readLearnt(db, 'large'), learnt)).toBe(true);
	});
	it('is not written where the shop moved on while it was: somebody may have been erased', async () => {
		await db('learnt').delete();
		await shopMemory(db);
		const counters = await readCounters(db);
		const learnt = { counters, sums: {}, tickets: new Map() } as unknown as Parameters<typeof writeLearnt>[2];
		const stale = (more: object) => writeLearnt(db, BUILD, { ...learnt, counters: { ...counters, ...more } });
		expect(await stale({ history: counters.history - 1 })).toBe(false);
		expect(await stale({ relearn: counters.relearn - 1 })).toBe(false);
		expect(await db('learnt').count({ n: '*' })).toMatchObject([{ n: 0 }]);
	});
	it('goes with a customer who is erased', async () => {
		await closeOne();
		expect(await keepLearning(db, BUILD)).toBe(true);
		const { customer_id: id } = (await db('tickets')
			.join('customers', 'customers.id', 'tickets.customer_id')
			.whereNotIn(
				'customer_id',
				db('tickets').whereNull('closed_at').whereNotNull('customer_id').select('customer_id')
			)
			.first('customer_id')) as { customer_id: number };
		expect(await eraseCustomer(db, 'odile', NOW, id)).toEqual({ ok: true });
		expect(await db('learnt').count({ n: '*' })).toMatchObject([{ n: 0 }]);
	});
});

describe('the catalog alone', () => {
	it('waits for nothing that is learnt, and follows what the manager changes', async () => {
		const other = knex(db.client.config);
		others.push(other);
		let learns = false;
		other.on('query', ({ sql }: { sql: string }) => {
			if (/`tickets`/.test(sql)) learns = true;
		});
		const named = await shopCatalog(other);
		expect([...named.models.keys()]).toEqual([...(await shopCatalog(db)).models.keys()]);
		expect(learns).toBe(false);
		expect(named.models.has('blank')).toBe(true);
		await db.transaction(async (trx) => {
			await trx('catalog').where({ kind: 'model', code: 'blank' }).delete();
			await advanceCounter(trx, 'catalog');
		});
		expect((await shopCatalog(other)).models.has('blank')).toBe(false);
		expect((await shopCatalog(db)).models.has('blank')).toBe(false);
	});
	it('holds what was learnt of charges once that is known', async () => {
		await shopMemory(db);
		expect(await shopCatalog(db)).toBe((await shopMemory(db)).catalog);
	});
});
