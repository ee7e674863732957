import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { closeDatabase, database } from '$lib/server/database/connection';
import type * as ShownRoom from '$lib/server/shown/shown';
import { freshDatabaseUrl } from './fresh-database';

/** As a process that was just started has it: nothing in memory. */
let room: typeof ShownRoom;
const start = async () => {
	vi.resetModules();
	room = await import('$lib/server/shown/shown');
};
beforeAll(async () => {
	const { db, url } = await freshDatabaseUrl();
	await db.destroy();
	process.env.DATABASE_URL = url;
});
beforeEach(async () => {
	await start();
	await room.forgetShown(await database());
	await start();
});
afterAll(async () => {
	await closeDatabase();
	delete process.env.DATABASE_URL;
});

const soon =
	<View>(view: View) =>
	() =>
		Promise.resolve(view);
function later<View>(view: View) {
	let come = () => {};
	const made = new Promise<View>((resolve) => (come = () => resolve(view)));
	return { work: () => made, come };
}
const look = <View>(work: () => Promise<View>, changedAt?: number) =>
	room.lookAt('floor', changedAt === undefined ? { keep: true } : { keep: true, changedAt }, work);
/** A view is written down beside the look. */
const written = () =>
	vi.waitFor(async () => expect(await (await database())('shown_views').pluck('name')).toEqual(['floor']));

describe('a view that takes long', () => {
	it('that was never worked out is waited for; one that comes soon is shown new', async () => {
		expect(await look(soon(1))).toMatchObject({ view: 1, newer: null });
		expect(await look(soon(2))).toMatchObject({ view: 2, newer: null });
	});
	it('is shown as it last was, with the newer one behind it', async () => {
		await look(soon('before'));
		const { work, come } = later('after');
		const shown = await look(work);
		expect(shown.view).toBe('before');
		come();
		expect(await shown.newer).toMatchObject({ view: 'after' });
		expect((await look(() => new Promise(() => {}))).view).toBe('after');
	});
	it('comes back from the database as it was, with what is no number, moments and maps', async () => {
		const view = {
			none: NaN,
			most: Infinity,
			left: undefined,
			at: new Date(5),
			by: new Map([['a', [1, null]]])
		};
		await look(soon(view));
		await written();
		await start();
		expect((await look(() => new Promise(() => {}))).view).toEqual(view);
	});
	it('of another build is not shown: its shape may be another', async () => {
		await look(soon('in an old shape'));
		await written();
		await start();
		process.env.TAVREK_WORKER = '/app/build/newer/worker.js';
		try {
			expect((await look(soon('in the new one'))).view).toBe('in the new one');
		} finally {
			delete process.env.TAVREK_WORKER;
		}
	});
	it('is worked out once for all who look at the same time', async () => {
		await look(soon(0));
		let asked = 0;
		const { work, come } = later(1);
		const all = Array.from({ length: 20 }, () => look(() => ((asked += 1), work())));
		const shown = await Promise.all(all);
		come();
		for (const { newer } of shown) expect(await newer).toMatchObject({ view: 1 });
		expect(asked).toBe(1);
	});
	it('that took long rests a while, but for who has changed something since', async () => {
		const slow = () => new Promise<string>((resolve) => setTimeout(() => resolve('slow'), 1050));
		const first = await look(slow);
		let asked = 0;
		const again = () => ((asked += 1), Promise.resolve('after'));
		expect(await look(again, first.asOf)).toMatchObject({ view: 'slow', newer: null });
		expect(asked).toBe(0);
		expect(await look(again, first.asOf + 1)).toMatchObject({ view: 'after', newer: null });
		expect(asked).toBe(1);
	});
	it('that was begun before a change is waited out, and worked out again for who made it', async () => {
		await look(soon('before'));
		const { work, come } = later('under way');
		await look(work);
		const changedAt = Date.now() + 1;
		await new Promise((resolve) => setTimeout(resolve, 5));
		const mine = look(soon('with mine'), changedAt);
		come();
		expect(await mine).toMatchObject({ view: 'with mine', newer: null });
	});
	it('stands as it last was where a newer one fails; a database that is away is told', async () => {
		await look(soon('before'));
		expect(await look(() => Promise.reject(new Error('no')))).toMatchObject({ view: 'before', newer: null });
		const away = Object.assign(new Error('connect'), { code: 'ECONNREFUSED' });
		await expect(look(() => Promise.reject(away))).rejects.toBe(away);
	});
	it('is there again after a start, with the moment of which it is', async () => {
		const first = await look(soon({ tags: [1, 2] }));
		await written();
		await start();
		const { work, come } = later({ tags: [3] });
		const shown = await look(work);
		expect(shown).toMatchObject({ view: { tags: [1, 2] }, asOf: first.asOf });
		come();
		expect(await shown.newer).toMatchObject({ view: { tags: [3] } });
	});
	it('is forgotten with who is erased, also where it was under way', async () => {
		await look(soon('Zenobia'));
		await written();
		const { work, come } = later('Zenobia again');
		const shown = await look(work);
		await room.forgetShown(await database());
		come();
		await shown.newer;
		expect(await look(soon('nobody'))).toMatchObject({ view: 'nobody' });
		await start();
		const rows = (await (await database())('shown_views').pluck('view')) as string[];
		expect(rows.join()).not.toContain('Zenobia');
	});
});
