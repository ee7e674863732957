// Figures for speed, printed, never tested: npm run bench [tickets] [rooms]. Ratios of one run say more than seconds; with
// `rooms` the books, the shelf and a device's page alone; npm run bench load [tickets] [seconds]: a shop at work.
import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { cpus, tmpdir } from 'node:os';
import path from 'node:path';
import process from 'node:process';
import { keyToVerdict } from './bench-keys.mjs';
import { atWork, bytesByPage, firstLooks } from './bench-load.mjs';
import { wayOfAKey, wayWords } from './bench-way.mjs';
import { ensureBuild } from './build.mjs';
import { freePort, PrivateDatabase } from './private-database.mjs';
import { ensurePackages, ensurePrograms, root } from './setup.mjs';

const AT_WORK = process.argv[2] === 'load';
const MANY = Number(AT_WORK ? (process.argv[3] ?? 20_000) : (process.argv[2] ?? 50_000));
const ROOMS_ALONE = process.argv[3] === 'rooms';
const TOKEN = 'bench-token-of-this-run-alone';
const headers = { authorization: `Bearer ${TOKEN}` };

await ensurePrograms({ browser: true });
await ensurePackages();
await ensureBuild();
const folder = mkdtempSync(path.join(tmpdir(), 'tavrek-bench-'));
const port = await freePort(4900);
const address = `http://127.0.0.1:${port}`;
console.log(`${cpus().length} cores, ${cpus()[0]?.model ?? 'unknown processor'}, Node ${process.version}\n`);

async function start() {
	const since = performance.now();
	const child = spawn(process.execPath, [path.join(root, 'scripts/demo.mjs')], {
		env: {
			...process.env,
			PORT: String(port),
			TAVREK_DATA: folder,
			TAVREK_API_TOKEN: TOKEN,
			TAVREK_LOG: 'error',
			DATABASE_URL: ''
		},
		stdio: 'ignore'
	});
	for (;;) {
		const answer = await fetch(`${address}/sign-in`).catch(() => null);
		if (answer?.ok) break;
		await new Promise((resolve) => setTimeout(resolve, 20));
	}
	return { child, seconds: (performance.now() - since) / 1000 };
}
const stop = (child) =>
	new Promise((resolve) => {
		child.once('exit', resolve);
		child.kill('SIGINT');
	});

async function signIn() {
	// lines are multiplied in one go, longer than the server keeps an idle connection: a turn of the loop lets go of it
	await new Promise((resolve) => setTimeout(resolve, 500));
	const answer = await fetch(`${address}/sign-in`, {
		method: 'POST',
		redirect: 'manual',
		headers: { origin: address, 'content-type': 'application/x-www-form-urlencoded' },
		body: 'signIn=odile&password=saltmarsh-demo'
	});
	return (answer.headers.get('set-cookie') ?? '').split(';')[0];
}

/** Median, 95th percentile and longest of `count` calls, in milliseconds, after a few to warm up. */
async function latency(name, count, call) {
	for (let i = 0; i < 20; i++) await call(i);
	const times = [];
	for (let i = 0; i < count; i++) {
		const since = performance.now();
		await call(i);
		times.push(performance.now() - since);
	}
	times.sort((a, b) => a - b);
	const at = (share) => times[Math.min(times.length - 1, Math.floor(times.length * share))];
	console.log(
		`${name.padEnd(46)} p50 ${at(0.5).toFixed(1).padStart(7)} ms   p95 ${at(0.95).toFixed(1).padStart(7)} ms   (${count} calls)`
	);
	return at(0.5);
}

async function read(url, options) {
	const answer = await fetch(url, options);
	if (!answer.ok) throw new Error(`${url}: ${answer.status} ${await answer.text()}`);
	return answer.text();
}

async function measure(label, tickets) {
	const bodies = tickets
		.slice(0, 60)
		.map(({ model, signs, observations, meter, battery, readings }) =>
			JSON.stringify({ model, signs, observations, meter, battery, readings })
		);
	const cookie = await signIn();
	const odds = await latency(`/api/v1/odds, ${label}`, 200, (i) =>
		read(`${address}/api/v1/odds`, { method: 'POST', headers, body: bodies[i % bodies.length] })
	);
	await latency(`/api/v1/quote, ${label}`, 100, (i) =>
		read(`${address}/api/v1/quote`, { method: 'POST', headers, body: bodies[i % bodies.length] })
	);
	const page = await latency(`ticket page, ${label}`, 100, (i) =>
		read(`${address}/tickets/${tickets[i % 60].number}`, { headers: { cookie } })
	);
	return { odds, page };
}

/** Pages that sum over all tickets, and the page of one device. */
async function rooms(label, serial) {
	const cookie = await signIn();
	const pages = [
		'/books',
		'/books?month=2026-06&by=operation',
		'/books?by=customer',
		'/shelf',
		'/returns',
		'/returns?by=lot',
		`/devices/${serial}`
	];
	const medians = {};
	for (const page of pages) {
		const since = performance.now();
		await read(`${address}${page}`, { headers: { cookie } });
		const first = performance.now() - since;
		medians[page] = await latency(`${page}, ${label}`, 60, () =>
			read(`${address}${page}`, { headers: { cookie } })
		);
		console.log(`  the first of them: ${first.toFixed(0)} ms`);
	}
	return medians;
}

/** Waits until a page that sums nothing is as quick as it was: until all that came in is learnt in every thread. */
async function settled() {
	const cookie = await signIn();
	for (let quick = 0; quick < 5;) {
		const since = performance.now();
		await read(`${address}/account`, { headers: { cookie } });
		quick = performance.now() - since < 15 ? quick + 1 : 0;
		await new Promise((resolve) => setTimeout(resolve, 500));
	}
}

const overFew = (many, few) =>
	Object.keys(many)
		.map((page) => `${page} ${(many[page] / few[page]).toFixed(2)}`)
		.join(', ');

/** The demo shop's tickets again and again under other numbers, until there are enough. */
function multiply(lines, count) {
	const tickets = lines
		.filter((line) => line.startsWith('{"record":"ticket"'))
		.map((line) => JSON.parse(line));
	const numberAt = (i) => `X-${String(i + 1).padStart(6, '0')}`;
	const places = new Map(tickets.map(({ number }, at) => [number, at]));
	return Array.from({ length: count }, (_, i) => {
		const ticket = tickets[i % tickets.length];
		const round = Math.floor(i / tickets.length);
		const serial = round === 0 ? ticket.serial : `${ticket.serial}-${round}`;
		const earlier = places.get(ticket.comeback_of);
		const comeback_of = earlier === undefined ? null : numberAt(round * tickets.length + earlier);
		return { ...ticket, number: numberAt(i), serial, comeback_of };
	});
}

/** Seconds that it takes to parse lines and do nothing with them. */
function parsing(lines) {
	const since = performance.now();
	for (const line of lines) JSON.parse(line);
	return (performance.now() - since) / 1000;
}

async function importTickets(tickets) {
	const body = tickets.map((ticket) => JSON.stringify(ticket)).join('\n');
	const since = performance.now();
	await read(`${address}/api/v1/import`, { method: 'POST', headers, body });
	const seconds = (performance.now() - since) / 1000;
	const rate = Math.round(tickets.length / seconds);
	console.log(
		`import of ${tickets.length} tickets: ${seconds.toFixed(1)} s, ${rate} tickets a second, ${(body.length / 1e6).toFixed(1)} MB`
	);
	const lines = body.split('\n');
	const plain = Math.min(...[1, 2, 3].map(() => parsing(lines)));
	console.log(
		`  ${(seconds / plain).toFixed(1)} times JSON.parse alone of the same lines (${plain.toFixed(2)} s)`
	);
}

/** Odds asked time and again from the first after an import until all of it is learnt. */
async function whileLearnt() {
	const cookie = await signIn();
	const body = JSON.stringify({ model: 'tern-6' });
	const waits = [];
	const since = performance.now();
	for (let page = STILL_LEARNT; page.includes(STILL_LEARNT);) {
		const asked = performance.now();
		await read(`${address}/api/v1/odds`, { method: 'POST', headers, body });
		waits.push(performance.now() - asked);
		page = await read(`${address}/tickets/K-00002`, { headers: { cookie } });
	}
	const all = (performance.now() - since) / 1000;
	const [first = NaN] = waits;
	waits.sort((a, b) => a - b);
	const words = `first odds after them ${first.toFixed(0)} ms; all of them learnt beside after ${all.toFixed(1)} s`;
	console.log(
		`${words}, odds meanwhile p50 ${(waits[waits.length >> 1] ?? NaN).toFixed(0)} ms, longest ${(waits.at(-1) ?? NaN).toFixed(0)} ms (${waits.length} calls)\n`
	);
}

/** As the ticket says it while an import is learnt. */
const STILL_LEARNT = 'closed tickets imported are being';

/** A fresh ticket's port, typed contact by contact. */
async function keys() {
	const cookie = await signIn();
	const answer = await read(`${address}/counter/take-in`, {
		method: 'POST',
		headers: { cookie, origin: address, 'content-type': 'application/json' },
		body: JSON.stringify({
			once: crypto.randomUUID(),
			customer: { name: 'Bench', kind: 'private' },
			model: { code: 'pelagic-40' },
			matters: 'device',
			promisedAt: null,
			signs: {},
			comebackOf: null
		})
	});
	const times = (await keyToVerdict(address, JSON.parse(answer).number)).sort((a, b) => a - b);
	const middle = times[Math.floor(times.length / 2)] ?? NaN;
	console.log(
		`key to verdict on the screen: median ${middle.toFixed(1)} ms, longest ${(times.at(-1) ?? NaN).toFixed(1)} ms (${times.length} contacts; a frame is 16.7 ms)\n`
	);
}

/** A shop at work in two sizes: alone and beside an import, and the first looks after a start. */
async function load() {
	const seconds = Number(process.argv[4] ?? 60);
	const shop = { address, headers, read, signIn, pid: () => running.pid };
	const lines = (await read(`${address}/api/v1/export`, { headers })).trim().split('\n');
	const tickets = lines.filter((line) => line.startsWith('{"record":"ticket"'));
	const open = (all) => all.filter((ticket) => !ticket.closed_at).map(({ number }) => number);
	// under numbers of their own
	const beside = multiply(lines, 40_000).map((ticket) =>
		JSON.stringify({
			...ticket,
			number: ticket.number.replace('X-', 'Z-'),
			// those that they come back from are not among them
			comeback_of: undefined,
			cause: undefined,
			came_from: undefined
		})
	);
	const few = {
		numbers: open(tickets.map((line) => JSON.parse(line))),
		lines: beside,
		seconds
	};
	await bytesByPage(shop, few.numbers[0]);
	await firstLooks(shop, 'demo shop', few.numbers[0]);
	await settled();
	const quietFew = await atWork(shop, 'demo shop', { ...few, beside: false });
	const busyFew = await atWork(shop, 'demo shop, beside an import', { ...few, beside: true });
	const many = multiply(lines, MANY);
	for (let from = 0; from < MANY; from += 10_000) await importTickets(many.slice(from, from + 10_000));
	await settled();
	// what screens show is worked out once after so many came in
	await firstLooks(shop, `${MANY} tickets, right after they came in`, many[0].number);
	await settled();
	await stop(running);
	running = (await start()).child;
	const label = `${MANY} tickets, ${open(many).length} open`;
	await firstLooks(shop, `${label}, after a start`, many[0].number);
	await settled();
	const asked = { ...few, numbers: open(many) };
	const quietMany = await atWork(shop, label, { ...asked, beside: false });
	const busyMany = await atWork(shop, `${label}, beside an import`, { ...asked, beside: true });
	console.log(`p95, many over few, alone: ${overFew(quietMany, quietFew)}`);
	console.log(`p95, many over few, beside an import: ${overFew(busyMany, busyFew)}`);
}

let running;

async function figures() {
	const lines = (await read(`${address}/api/v1/export`, { headers })).trim().split('\n');
	const { serial } = multiply(lines, 1)[0];
	const fewRooms = await rooms('demo shop (1,400 tickets)', serial);
	const few = ROOMS_ALONE
		? null
		: await measure(
				'demo shop (1,400 tickets)',
				multiply(lines, 60).map((ticket, i) => ({ ...ticket, number: `K-${String(i + 1).padStart(5, '0')}` }))
			);
	console.log('');
	if (!ROOMS_ALONE)
		console.log(
			wayWords(await wayOfAKey(address, await new PrivateDatabase(folder).start(), await signIn()))
		);
	if (!ROOMS_ALONE) await keys();
	const many = multiply(lines, MANY);
	await importTickets(many.slice(0, 10_000));
	for (let from = 10_000; from < MANY; from += 20_000)
		await importTickets(many.slice(from, Math.min(MANY, from + 20_000)));
	await whileLearnt();
	await settled();
	const label = `${MANY.toLocaleString('en')} tickets more`;
	const manyRooms = await rooms(label, serial);
	console.log(`\nmany over few, medians: ${overFew(manyRooms, fewRooms)}`);
	if (few) {
		const after = await measure(label, many);
		console.log(`many over few, medians: ${overFew(after, few)}`);
	}
	await stop(running);
	const third = await start();
	running = third.child;
	console.log(`start with all of them: ${third.seconds.toFixed(1)} s`);
}

for (const script of ROOMS_ALONE || AT_WORK ? [] : ['bench-logs.ts', 'bench-learning.ts']) {
	spawnSync(path.join(root, 'node_modules/.bin/tsx'), [path.join(root, 'scripts', script)], {
		stdio: 'inherit',
		cwd: root
	});
	console.log('');
}

try {
	const first = await start();
	running = first.child;
	console.log(`start, empty folder, demo filled: ${first.seconds.toFixed(1)} s`);
	await stop(running);
	const second = await start();
	running = second.child;
	console.log(
		`start, second time: ${second.seconds.toFixed(1)} s (first / second ${(first.seconds / second.seconds).toFixed(1)})\n`
	);

	if (AT_WORK) await load();
	else await figures();
	await stop(running);
} finally {
	running?.kill('SIGKILL');
	await new PrivateDatabase(folder).stop();
	rmSync(folder, { recursive: true, force: true });
}
