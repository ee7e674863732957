import knex from 'knex';
import { expect, it } from 'vitest';
import { knexConfig } from '$lib/server/database/config';
import { isDatabaseAway } from '$lib/server/database/connection';
import { unavailableAnswer, unavailableBy } from '$lib/server/http/unavailable';
import { freePort } from '../../scripts/private-database.mjs';
import { freshDatabase } from './fresh-database';

const thrownBy = (promise: PromiseLike<unknown>) =>
	Promise.resolve(promise).then(
		() => null,
		(error: unknown) => error
	);

it('a database that nobody serves is away', async () => {
	const nowhere = knex(knexConfig(`mysql://a:b@127.0.0.1:${await freePort(39000)}/c`));
	expect(isDatabaseAway(await thrownBy(nowhere.raw('select 1')))).toBe(true);
	await nowhere.destroy();
});

it('a wrong query is not away, and the pool heals after a connection is cut', async () => {
	const db = await freshDatabase();
	expect(isDatabaseAway(await thrownBy(db.raw('select nonsense')))).toBe(false);
	expect(await thrownBy(db.raw('KILL CONNECTION_ID()'))).not.toBeNull();
	// the pool may hand out the dying connection once more; that reads as away, never as something else
	const next = await thrownBy(db.raw('select 1'));
	if (next !== null) expect(isDatabaseAway(next)).toBe(true);
	const [rows] = await db.raw('select 1 as one');
	expect(rows).toEqual([{ one: 1 }]);
	await db.destroy();
});

it('says so with 503, to people as a page that tries again, to programs as a problem', async () => {
	const away = unavailableBy(Object.assign(new Error('connect ETIMEDOUT'), { code: 'ETIMEDOUT' }));
	if (!away) throw new Error('a database that times out is away');
	const page = unavailableAnswer(away, false);
	expect(page.status).toBe(503);
	expect(await page.text()).toMatch(/http-equiv="refresh"[\s\S]*The database is away/);
	const api = unavailableAnswer(away, true);
	expect([api.status, api.headers.get('content-type'), api.headers.get('retry-after')]).toEqual([
		503,
		'application/problem+json',
		'3'
	]);
});
