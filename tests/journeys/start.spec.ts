import { expect, test } from '@playwright/test';
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { freePort, PrivateDatabase } from '../../scripts/private-database.mjs';

const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** `npm start` on a folder and a port of its own; what it said, and how it ended. */
function started(folder: string, port: number, node = process.execPath) {
	const child = spawn(node, ['scripts/start.mjs'], {
		env: { ...process.env, PORT: String(port), TAVREK_DATA: folder, DATABASE_URL: '', TAVREK_LOG: 'error' },
		stdio: ['ignore', 'pipe', 'pipe']
	});
	let said = '';
	child.stdout.on('data', (data: Buffer) => (said += data.toString()));
	child.stderr.on('data', (data: Buffer) => (said += data.toString()));
	const ended = new Promise<number | null>((resolve) => child.once('close', resolve));
	return { child, said: () => said, ended };
}

test('a port that another program takes while the shop starts is named, and nothing is left running', async () => {
	const folder = mkdtempSync(path.join(tmpdir(), 'tavrek-start-'));
	const port = await freePort(5600);
	const start = started(folder, port);
	// after the port was found free, before it is served at
	while (!existsSync(path.join(folder, 'run', 'mariadbd.pid'))) await sleep(5);
	const stranger = createServer();
	await new Promise<void>((resolve) => stranger.listen(port, '127.0.0.1', resolve));
	expect(await start.ended).toBe(1);
	expect(start.said()).toContain(`127.0.0.1:${port} was taken by another program`);
	expect(start.said()).not.toContain('serves at');
	expect(new PrivateDatabase(folder).livePid()).toBeNull();
	await new Promise((resolve) => stranger.close(resolve));
	rmSync(folder, { recursive: true, force: true });
});

test('two first starts at once both open', async () => {
	const folders = [1, 2].map(() => mkdtempSync(path.join(tmpdir(), 'tavrek-start-')));
	const port = await freePort(5650);
	const starts = folders.map((folder, i) => started(folder, port + i));
	for (const [i, start] of starts.entries()) {
		await expect
			.poll(
				async () =>
					start.child.exitCode ??
					(await fetch(`http://127.0.0.1:${port + i}/health/ready`).catch(() => null))?.status,
				{ timeout: 120_000, message: start.said() }
			)
			.toBe(200);
	}
	for (const { child, ended } of starts) {
		child.kill('SIGTERM');
		await ended;
	}
	for (const folder of folders) {
		expect(new PrivateDatabase(folder).livePid()).toBeNull();
		rmSync(folder, { recursive: true, force: true });
	}
});

/** Other versions of Node that the program runs on, where they are on the machine (TAVREK_NODES: paths, with colons between). */
const OTHERS = (process.env.TAVREK_NODES ?? '/usr/local/bin/node22:/usr/local/bin/node24')
	.split(':')
	.filter((node) => existsSync(node));

for (const node of OTHERS) {
	test(`opens with ${node}`, async () => {
		const folder = mkdtempSync(path.join(tmpdir(), 'tavrek-start-'));
		const port = await freePort(5700);
		const { child, ended, said } = started(folder, port, node);
		await expect
			.poll(
				async () =>
					child.exitCode ?? (await fetch(`http://127.0.0.1:${port}/health/ready`).catch(() => null))?.status,
				{ timeout: 90_000, message: said() }
			)
			.toBe(200);
		expect((await fetch(`http://127.0.0.1:${port}/first-visit`)).status).toBe(200);
		child.kill('SIGTERM');
		await ended;
		rmSync(folder, { recursive: true, force: true });
	});
}

test('pages leave compressed and in pieces; health answers', async ({ request }) => {
	const address = process.env.TAVREK_ADDRESS ?? '';
	const page = await fetch(`${address}/sign-in`, { headers: { 'accept-encoding': 'gzip' } });
	expect(page.headers.get('content-encoding')).toBe('gzip');
	expect((await (await request.get('/health/live')).json()) as object).toEqual({ live: true });
	expect(await (await request.get('/health/ready')).json()).toMatchObject({
		ready: true,
		workers: expect.any(Array) as object
	});
});
