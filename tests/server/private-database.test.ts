import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import process from 'node:process';
import knex from 'knex';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { knexConfig } from '$lib/server/database/config';
import { closeDatabase, database, isDatabaseAway } from '$lib/server/database/connection';
import { PrivateDatabase } from '../../scripts/private-database.mjs';

/** The shop's own database among others: killed, frozen, its port taken by a stranger. */
let folder = '';
let own: PrivateDatabase;
let url = '';
beforeAll(async () => {
	folder = mkdtempSync(path.join(tmpdir(), 'tavrek-own-'));
	own = new PrivateDatabase(folder);
	url = await own.start();
});
afterAll(async () => {
	delete process.env.TAVREK_DATABASE_DIR;
	delete process.env.DATABASE_URL;
	await closeDatabase();
	await own.stop();
	rmSync(folder, { recursive: true, force: true });
});

const thrownBy = (promise: PromiseLike<unknown>) =>
	Promise.resolve(promise).then(
		() => null,
		(error: unknown) => error
	);
/** A stranger at a port, as soon as it is free: a killed daemon lets go of it a moment after it is gone. */
const listening = (port: number) =>
	new Promise<Server>((resolve) => {
		const server = createServer((socket) => socket.end('not a database'));
		const listen = () => server.listen(port, '127.0.0.1', () => resolve(server));
		server.on('error', () => setTimeout(listen, 20));
		listen();
	});
const closed = (server: Server) => new Promise((resolve) => server.close(resolve));

it('an empty lock of a start that was killed does not hold the next one', async () => {
	const other = mkdtempSync(path.join(tmpdir(), 'tavrek-lock-'));
	mkdirSync(path.join(other, 'run'), { recursive: true });
	for (const left of ['', '0', 'x', '999999999']) {
		writeFileSync(path.join(other, 'run', 'start.lock'), left);
		const shop = new PrivateDatabase(other);
		expect(await shop.start()).toMatch(/^mysql:/);
	}
	await new PrivateDatabase(other).stop();
	rmSync(other, { recursive: true, force: true });
});

it('a database that is frozen is away within the time of a query, for a connection that stands and for a new one', async () => {
	const db = knex(knexConfig(url, { queryMs: 1000 }));
	await db.raw('select 1');
	const pid = own.livePid() as number;
	process.kill(pid, 'SIGSTOP');
	// a signal is not there at once: what is asked before it stops is still answered
	await vi.waitFor(() => expect(readFileSync(`/proc/${pid}/stat`, 'utf8')).toMatch(/\) T /));
	try {
		for (const _ of ['the one that stands', 'a new one']) {
			const since = Date.now();
			expect(isDatabaseAway(await thrownBy(db.raw('select 1')))).toBe(true);
			expect(Date.now() - since).toBeLessThan(10_000);
		}
	} finally {
		process.kill(pid, 'SIGCONT');
	}
	expect(await thrownBy(db.raw('select 1'))).toBeNull();
	await db.destroy();
});

it('a long statement is ended by the server too', async () => {
	const db = knex(knexConfig(url, { queryMs: 2000 }));
	const error = await thrownBy(db.raw('select count(*) from seq_1_to_1000000000 a, seq_1_to_1000 b'));
	expect(error).not.toBeNull();
	await db.destroy();
});

it('a stranger at the port is told apart by its data folder, and never asked anything of the shop', async () => {
	const other = mkdtempSync(path.join(tmpdir(), 'tavrek-stranger-'));
	const stranger = new PrivateDatabase(other);
	const strange = await stranger.start();
	process.env.TAVREK_DATABASE_DIR = own.datadir;
	const db = knex(knexConfig(strange));
	const error = (await thrownBy(db.raw('select 1'))) as Error;
	expect(error.message).toContain(other);
	expect(isDatabaseAway(error)).toBe(true);
	const right = knex(knexConfig(url));
	expect(await thrownBy(right.raw('select 1'))).toBeNull();
	delete process.env.TAVREK_DATABASE_DIR;
	await Promise.all([db.destroy(), right.destroy()]);
	await stranger.stop();
	rmSync(other, { recursive: true, force: true });
});

it('killed, its port taken: it comes back at another one, and the pool follows', async () => {
	process.env.DATABASE_URL = url;
	process.env.TAVREK_DATABASE_DIR = own.datadir;
	const before = await database();
	await before('counters').where({ name: 'ticket' }).update({ value: 77 });
	const port = Number(new URL(url).port);
	const pid = own.livePid() as number;
	process.kill(pid, 'SIGKILL');
	while (own.livePid()) await new Promise((resolve) => setTimeout(resolve, 20));
	const taken = await listening(port);
	expect(isDatabaseAway(await thrownBy(before('counters').first()))).toBe(true);
	const moved = await own.start();
	expect(Number(new URL(moved).port)).not.toBe(port);
	process.env.DATABASE_URL = moved;
	const after = await database();
	expect(after).not.toBe(before);
	expect((await after('counters').where({ name: 'ticket' }).first('value'))?.value).toBe(77);
	await closed(taken);
});
