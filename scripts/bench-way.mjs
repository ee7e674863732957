// The way of one key: what one pin reading costs between hand and screen. node scripts/bench-way.mjs ADDRESS DATABASE_URL
// reads the server's own count of statements; also run by npm run bench.
import mysql from 'mysql2/promise';
import process from 'node:process';
import { pathToFileURL } from 'node:url';

const KEYS = 24;

/** @returns statements, bytes of the answer and milliseconds of one reading, medians over some contacts */
export async function wayOfAKey(address, databaseUrl, cookie) {
	const sent = { cookie, origin: address, 'content-type': 'application/json' };
	const post = async (path, body) => {
		const answer = await fetch(address + path, { method: 'POST', headers: sent, body: JSON.stringify(body) });
		return { text: await answer.text(), status: answer.status };
	};
	const taken = await post('/counter/take-in', {
		once: crypto.randomUUID(),
		customer: { name: 'Bench', kind: 'private' },
		model: { code: 'pelagic-40' },
		matters: 'device',
		promisedAt: null,
		signs: { 'no-charge': true },
		comebackOf: null
	});
	const { number } = JSON.parse(taken.text);
	let version = 1;
	const change = async (change) => {
		const { text, status } = await post(`/tickets/${number}/change`, {
			version,
			once: crypto.randomUUID(),
			change
		});
		if (status !== 200) throw new Error(text);
		version = JSON.parse(text).version;
		return text;
	};
	// a price that was answered: such a ticket is part of the shop's history already
	await change({ verb: 'quote', priceMinor: 9900 });
	await change({ verb: 'answer', accepted: true });
	const db = await mysql.createConnection(databaseUrl);
	const count = async () => Number((await db.query("SHOW GLOBAL STATUS LIKE 'Questions'"))[0][0].Value);
	const history = async () =>
		Number((await db.query("SELECT value FROM counters WHERE name = 'history'"))[0][0].value);
	const figures = [];
	const moved = -(await history());
	for (let key = 0; key < KEYS; key++) {
		const pin = `${key % 24 < 12 ? 'A' : 'B'}${1 + (key % 12)}`;
		const before = await count();
		const since = performance.now();
		const text = await change({
			verb: 'read-pins',
			mode: 'diode',
			readings: [{ pin, value: 0.4 + key / 100 }]
		});
		const ms = performance.now() - since;
		// the second count is a question itself
		figures.push({ statements: (await count()) - before - 1, bytes: text.length, ms });
		await new Promise((resolve) => setTimeout(resolve, 50));
	}
	const counter = moved + (await history());
	await db.end();
	const median = (of) => figures.map(of).sort((a, b) => a - b)[Math.floor(KEYS / 2)];
	return {
		statements: median(({ statements }) => statements),
		bytes: median(({ bytes }) => bytes),
		ms: median(({ ms }) => ms),
		moves: counter / KEYS
	};
}

export const wayWords = ({ statements, bytes, ms, moves }) =>
	`one pin reading: ${statements} statements, ${(bytes / 1024).toFixed(1)} kB back, ${ms.toFixed(1)} ms, the shop's counter moved ${moves.toFixed(1)} times`;

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) {
	const [address, databaseUrl] = process.argv.slice(2);
	const answer = await fetch(`${address}/sign-in`, {
		method: 'POST',
		redirect: 'manual',
		headers: { origin: address, 'content-type': 'application/x-www-form-urlencoded' },
		body: 'signIn=odile&password=saltmarsh-demo'
	});
	const cookie = (answer.headers.get('set-cookie') ?? '').split(';')[0];
	console.log(wayWords(await wayOfAKey(address, databaseUrl, cookie)));
}
