// Kills web process, database or both with signal 9, again and again at random moments while four hands write, and looks
// whether anything that was confirmed is missing or stands twice: npm run prove:survival [kills].
import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import process from 'node:process';
import { ensureBuild } from './build.mjs';
import { freePort, PrivateDatabase } from './private-database.mjs';
import { ensurePackages, ensurePrograms, root } from './setup.mjs';

const KILLS = Number(process.argv[2] ?? 100);
const HANDS = 4;
const TOKEN = 'token-of-the-survival-proof';
await ensurePrograms();
await ensurePackages();
await ensureBuild();
const folder = mkdtempSync(path.join(tmpdir(), 'tavrek-survival-'));
const port = await freePort(5000);
const address = `http://127.0.0.1:${port}`;
const database = new PrivateDatabase(folder);
const sleep = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

let shop = null;
let over = false;
/** what was answered with yes: by ticket number, the texts of its notes */
const confirmed = new Map();
const counts = { takeIns: 0, notes: 0, resent: 0, refused: 0, kills: { web: 0, database: 0, both: 0 } };

function start() {
	shop = spawn(process.execPath, [path.join(root, 'scripts/demo.mjs')], {
		env: {
			...process.env,
			PORT: String(port),
			TAVREK_DATA: folder,
			TAVREK_API_TOKEN: TOKEN,
			TAVREK_LOG: 'fatal',
			DATABASE_URL: ''
		},
		stdio: 'ignore'
	});
}

/** A call that goes on until it is answered: the same body, the same mark. */
async function until(call) {
	for (let tries = 0; !over || tries < 400; tries++) {
		try {
			const answer = await call();
			if (answer.status < 500 && answer.status !== 429) return answer;
		} catch {
			// nobody there
		}
		counts.resent += 1;
		await sleep(150);
	}
	throw new Error('no answer in a minute');
}

async function signIn(name) {
	const answer = await until(() =>
		fetch(`${address}/sign-in`, {
			method: 'POST',
			redirect: 'manual',
			headers: { origin: address, 'content-type': 'application/x-www-form-urlencoded' },
			body: `signIn=${name}&password=saltmarsh-demo`
		})
	);
	return answer.headers
		.getSetCookie()
		.map((cookie) => cookie.split(';')[0])
		.join('; ');
}

/** One pair of hands: takes devices in and writes notes on them, each confirmed before the next. */
async function work(name) {
	const cookie = await signIn(name);
	const send = (to, body) =>
		until(() =>
			fetch(`${address}${to}`, {
				method: 'POST',
				headers: { origin: address, cookie, 'content-type': 'application/json' },
				body: JSON.stringify(body),
				signal: AbortSignal.timeout(15_000)
			})
		);
	while (!over) {
		const taken = await send('/counter/take-in', {
			once: randomUUID(),
			customer: { name: `Hand ${name}`, kind: 'private' },
			model: { code: 'tern-6' },
			matters: 'device',
			promisedAt: null,
			signs: {},
			comebackOf: null
		});
		const { number } = await taken.json();
		if (taken.status !== 200) {
			counts.refused += 1;
			continue;
		}
		confirmed.set(number, []);
		counts.takeIns += 1;
		for (let version = 1; version <= 5 && !over; version++) {
			const text = randomUUID();
			const change = { verb: 'note', text };
			const answer = await send(`/tickets/${number}/change`, { version, once: randomUUID(), change });
			if (answer.status !== 200) counts.refused += 1;
			else {
				confirmed.get(number).push(text);
				counts.notes += 1;
			}
		}
	}
}

async function kill(what) {
	counts.kills[what] += 1;
	const pid = database.livePid();
	if (what !== 'web' && pid) process.kill(pid, 'SIGKILL');
	if (what === 'database') return;
	const dead = new Promise((resolve) => shop.once('exit', resolve));
	shop.kill('SIGKILL');
	await dead;
	start();
}

async function missing() {
	const lost = [];
	for (const [number, texts] of confirmed) {
		const answer = await until(() =>
			fetch(`${address}/api/v1/tickets/${number}`, { headers: { authorization: `Bearer ${TOKEN}` } })
		);
		const notes = answer.status === 200 ? ((await answer.json()).notes ?? []).map(({ text }) => text) : [];
		if (answer.status !== 200) lost.push(number);
		for (const text of texts) {
			const times = notes.filter((note) => note === text).length;
			if (times !== 1) lost.push(`${number} ${text}: ${times} times`);
		}
		if (new Set(notes).size !== notes.length) lost.push(`${number}: a note stands twice`);
	}
	return lost;
}

start();
await until(() => fetch(`${address}/sign-in`));
const hands = ['ines', 'tomasz', 'noor', 'bram'].slice(0, HANDS).map(work);
const since = Date.now();
const kinds = ['web', 'database', 'both'];
for (let i = 0; i < KILLS; i++) {
	const before = counts.notes;
	// writes go on before the next one: a kill of a shop that does not answer yet proves nothing
	for (const from = Date.now(); counts.notes < before + 4 && Date.now() - from < 60_000;) await sleep(20);
	await sleep(Math.random() * 400);
	await kill(kinds[i % 3]);
	if ((i + 1) % 10 === 0)
		console.log(`${i + 1} kills, ${counts.takeIns} take-ins and ${counts.notes} notes confirmed`);
}
over = true;
await Promise.all(hands);
const lost = await missing();
console.log(
	`\n${KILLS} kills in ${Math.round((Date.now() - since) / 1000)} s (web ${counts.kills.web}, database ${counts.kills.database}, both ${counts.kills.both})`
);
console.log(
	`${counts.takeIns} take-ins and ${counts.notes} notes confirmed; ${counts.resent} calls sent again under the same mark; ${counts.refused} refused`
);
console.log(
	lost.length === 0 ? 'nothing confirmed is lost, nothing stands twice' : `LOST:\n${lost.join('\n')}`
);
const ended = new Promise((resolve) => shop.once('exit', resolve));
shop.kill('SIGINT');
await ended;
await database.stop();
rmSync(folder, { recursive: true, force: true });
process.exit(lost.length === 0 ? 0 : 1);
