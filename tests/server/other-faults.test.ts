import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Database } from '$lib/server/database/connection';
import { importLines } from '$lib/server/exchange/import';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { otherFaults } from '$lib/server/tickets/other-faults';
import { freshDatabase } from './fresh-database';

const NOW = Date.UTC(2026, 10, 24, 12);
const closed = (number: string, day: string, more: object = {}) => ({
	record: 'ticket',
	number,
	opened_at: `2026-01-${day}T09:00:00Z`,
	closed_at: `2026-01-${day}T10:00:00Z`,
	model: 'm',
	outcome: 'fixed',
	faults: ['other'],
	...more
});

describe('what other faults were', () => {
	let db: Database;
	beforeAll(async () => {
		db = await freshDatabase();
	});
	afterAll(() => db.destroy());
	const bring = async (...records: object[]) => {
		const lines = records.map((record) => JSON.stringify(record)).join('\n');
		expect((await importLines(db, 'test', NOW, lines)).rejected).toEqual([]);
	};

	it('a shop whose catalog has nothing that stands for them', async () => {
		await bring({ record: 'model', code: 'm', label: 'Murmur' });
		expect(await otherFaults(db, await shopCatalog(db))).toMatchObject({ label: null, list: [] });
	});
	it('are listed by how often they were said, with the latest ticket', async () => {
		await bring(
			{ record: 'fault', code: 'other', label: 'Another fault', catch_all: true },
			closed('K-1', '02', { fault_words: 'Key stuck' }),
			closed('K-2', '03', { fault_words: 'Magnet lost' }),
			closed('K-3', '04', { fault_words: 'key stuck.' }),
			closed('K-4', '05')
		);
		const { label, list } = await otherFaults(db, await shopCatalog(db));
		expect(label).toBe('Another fault');
		expect(list).toEqual([
			{
				words: 'key stuck.',
				number: 'K-3',
				closedAt: Date.UTC(2026, 0, 4, 10),
				times: 2,
				models: ['Murmur']
			},
			{
				words: 'Magnet lost',
				number: 'K-2',
				closedAt: Date.UTC(2026, 0, 3, 10),
				times: 1,
				models: ['Murmur']
			}
		]);
	});
});
