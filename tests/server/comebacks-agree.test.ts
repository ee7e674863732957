import { afterAll, beforeAll, expect, it } from 'vitest';
import { DEMO_CATALOG } from '$lib/core/simulation/demo-catalog';
import { DAY_MS, formatInstant } from '$lib/core/units/instant';
import { booksNow } from '$lib/server/books/book-memory';
import { reserveNow } from '$lib/server/books/queries';
import type { Database } from '$lib/server/database/connection';
import { importLines } from '$lib/server/exchange/import';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { returnsView } from '$lib/server/returns/view';
import { freshDatabase } from './fresh-database';
import { jsonLines } from './small-shop';

/** Returns, prices and the reserve speak of the same comebacks at the same cost: what stands on one screen stands on the others. */
const NOW = Date.UTC(2026, 10, 24, 10);
const at = (day: number) => formatInstant(NOW - 300 * DAY_MS + day * DAY_MS);
let db: Database;

const job = (number: string, opened: number, closed: number | null, more: object = {}) => ({
	record: 'ticket',
	number,
	opened_at: at(opened),
	model: 'tern-6',
	...(closed === null ? {} : { closed_at: at(closed), outcome: 'fixed', faults: ['port-joints'] }),
	attempts: [{ operation: 'replace-port', resolved: true, technician: 'ines', minutes: 30, hourly_cost: 40 }],
	...more
});
const back = (number: string, of: string, opened: number, more: object = {}) =>
	job(number, opened, opened + 1, { comeback_of: of, outcome: 'not-fixed', ...more });

beforeAll(async () => {
	db = await freshDatabase();
	const causes = [
		{ record: 'cause', code: 'dropped-again', label: 'Dropped again', counts: false },
		{ record: 'cause', code: 'weak-joint', label: 'A weak joint' }
	];
	const jobs = Array.from({ length: 40 }, (_, i) => job(`J-${i + 1}`, i, i + 1, { paid: 80 }));
	const { rejected } = await importLines(
		db,
		'test',
		NOW,
		jsonLines([
			...DEMO_CATALOG,
			...causes,
			...jobs,
			// 30 minutes at 40 an hour cost 20
			back('B-1', 'J-1', 20),
			back('B-2', 'J-2', 21, { cause: 'weak-joint', paid: 5 }),
			// paid for more than it cost: it costs nothing, and pays for no other
			back('B-3', 'J-3', 22, { paid: 95 }),
			// none of these speaks against the work
			back('B-4', 'J-4', 23, { cause: 'dropped-again' }),
			back('B-5', 'J-30', 20),
			job('D-1', 50, 51, { outcome: 'declined', faults: null, attempts: [] }),
			back('B-6', 'D-1', 60)
		])
	);
	expect(rejected).toEqual([]);
});
afterAll(() => db.destroy());

const sum = (counts: ReadonlyMap<string, number>) => [...counts.values()].reduce((all, one) => all + one, 0);

it('three comebacks of forty jobs, at 35 thirds each, wherever they are told', async () => {
	const { past, catalog } = await shopMemory(db);
	const returns = await returnsView(db, { by: 'operation', row: null, days: 365, only: null, now: NOW });
	const reserve = reserveNow(await booksNow(db, catalog.shop.timeZone), NOW, catalog);

	expect(returns.shop).toMatchObject({ jobs: 40, comebacks: 3 });
	expect([sum(past.fixed), sum(past.comebacks), sum(past.backAfter)]).toEqual([40, 3, 3]);

	expect(past.comebackCosts).toMatchObject({ sumMinor: 3500, from: 3 });
	expect(returns.advice).toMatchObject({ meanMinor: 3500 / 3, from: 3 });
	expect(reserve).toMatchObject({ meanMinor: 3500 / 3, from: 3 });
});

it('a cause that is changed to speak against the work changes all of them', async () => {
	const cause = { record: 'cause', code: 'dropped-again', label: 'Dropped again', counts: true };
	await importLines(db, 'test', NOW, jsonLines([cause]));
	const { past, catalog } = await shopMemory(db);
	const returns = await returnsView(db, { by: 'operation', row: null, days: 365, only: null, now: NOW });
	const reserve = reserveNow(await booksNow(db, catalog.shop.timeZone), NOW, catalog);
	expect(returns.shop.comebacks).toBe(4);
	expect(sum(past.comebacks)).toBe(4);
	expect([past.comebackCosts.from, returns.advice?.from, reserve.from]).toEqual([4, 4, 4]);
	expect([returns.advice?.meanMinor, reserve.meanMinor]).toEqual([1375, 1375]);
});
