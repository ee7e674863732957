import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { catalogKey } from '$lib/core/catalog/kinds';
import { offeredOf } from '$lib/core/catalog/starter-offer';
import { putCatalogRecords } from '$lib/server/catalog/commands';
import { allCatalogRecords, catalogNow } from '$lib/server/catalog/queries';
import { takeStarter } from '$lib/server/catalog/take-starter';
import { inTransaction, type Database } from '$lib/server/database/connection';
import { freshDatabase } from './fresh-database';

const NOW = Date.UTC(2026, 10, 30, 10);
let db: Database;
beforeAll(async () => {
	db = await freshDatabase();
	await inTransaction(db, (trx) =>
		putCatalogRecords(trx, [
			{ record: 'fault', code: 'input-fuse', label: 'Our fuse' },
			{ record: 'test', code: 'vbus-fuse', label: 'Fuse', minutes: 3, outcomes: ['through', 'open'] }
		])
	);
});
afterAll(() => db.destroy());

describe('an existing shop takes what is new in the starter catalog', () => {
	it('with what it names, told in the trail; nothing of its own is written over', async () => {
		const answer = await takeStarter(db, 'odile', NOW, new Set(['operation swap-accessory']));
		expect(answer).toMatchObject({ ok: true });
		const catalog = await catalogNow(db);
		expect([...catalog.faults.keys()].sort()).toEqual(['accessory', 'input-fuse']);
		expect(catalog.faults.get('input-fuse')?.label).toBe('Our fuse');
		expect(catalog.tests.get('vbus-fuse')?.minutes).toBe(3);
		expect(catalog.operations.has('swap-accessory')).toBe(true);
		expect(await db('audit').where({ verb: 'take-starter' }).first('actor', 'subject_key')).toEqual({
			actor: 'odile',
			subject_key: 'starter'
		});
	});
	it('all of the rest; then there is nothing left to take, and a second time changes nothing', async () => {
		const offered = offeredOf(await catalogNow(db)).map((record) => `${record.record} ${catalogKey(record)}`);
		expect(await takeStarter(db, 'odile', NOW, new Set(offered))).toMatchObject({ ok: true });
		expect(offeredOf(await catalogNow(db))).toEqual([]);
		const before = await allCatalogRecords(db);
		expect(await takeStarter(db, 'odile', NOW, new Set(offered))).toMatchObject({ ok: false });
		expect(await allCatalogRecords(db)).toEqual(before);
	});
	it('a name that is none takes nothing', async () => {
		expect(await takeStarter(db, 'odile', NOW, new Set(['fault constructor', 'shop shop']))).toMatchObject({
			ok: false
		});
	});
});
