// A shop at work, printed, never tested: npm run bench -- load [tickets] [seconds]. Twenty people look at pages with pauses of three
// to eight seconds while an import runs, in the demo shop and in one with many tickets; first looks after a start; bytes by page.
import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';

const PEOPLE = 20;
const PAUSE_MS = [3000, 8000];
/** Pages as people at work look at them, the usual ones more often. */
const PAGES = [
	['/floor', 4],
	['ticket', 6],
	['/tickets', 2],
	['/counter', 2],
	['/returns', 1],
	['/practice', 1],
	['/workbook', 1],
	['/shelf', 1]
];

const sleep = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
const at = (times, share) => times[Math.min(times.length - 1, Math.floor(times.length * share))] ?? NaN;

/** Memory of a process, megabytes. */
function megabytes(pid) {
	const line = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'));
	return Math.round(Number(line?.[1] ?? 0) / 1024);
}

/**
 * @param {{ address: string, headers: object, read: Function, signIn: Function, pid: () => number }} shop
 * @param {{ numbers: string[], lines: string[], seconds: number, beside: boolean }} asked
 * @returns 95th percentile by page
 */
export async function atWork(shop, label, { numbers, lines, seconds, beside }) {
	const cookie = await shop.signIn();
	const times = new Map(PAGES.map(([page]) => [page, []]));
	const drawn = PAGES.flatMap(([page, weight]) => Array.from({ length: weight }, () => page));
	const ends = performance.now() + seconds * 1000;
	let failed = 0;
	const person = async () => {
		await sleep(Math.random() * PAUSE_MS[1]);
		while (performance.now() < ends) {
			const page = drawn[Math.floor(Math.random() * drawn.length)];
			const path =
				page === 'ticket' ? `/tickets/${numbers[Math.floor(Math.random() * numbers.length)]}` : page;
			const since = performance.now();
			try {
				// a page stands when its first part is there; a newer view follows in the same answer
				const answer = await fetch(`${shop.address}${path}`, { headers: { cookie } });
				await answer.body?.getReader().read();
				times.get(page).push(performance.now() - since);
				if (!answer.ok) failed += 1;
			} catch {
				failed += 1;
			}
			await sleep(PAUSE_MS[0] + Math.random() * (PAUSE_MS[1] - PAUSE_MS[0]));
		}
	};
	let imports = 0;
	/** More lines than there is time for: it is stopped at the end, and nothing of it is kept. */
	const importing = async () => {
		const signal = AbortSignal.timeout(seconds * 1000);
		while (beside && performance.now() < ends) {
			const asked = { method: 'POST', headers: shop.headers, body: lines.join('\n'), signal };
			await shop.read(`${shop.address}/api/v1/import`, asked).catch((error) => {
				if (!signal.aborted) throw error;
			});
			imports += 1;
		}
	};
	await Promise.all([...Array.from({ length: PEOPLE }, person), importing()]);
	const p95 = {};
	for (const [page, all] of times) {
		all.sort((a, b) => a - b);
		p95[page] = at(all, 0.95);
		console.log(
			`${`${page}, ${label}`.padEnd(52)} p50 ${at(all, 0.5).toFixed(0).padStart(6)} ms   p95 ${p95[page].toFixed(0).padStart(6)} ms   longest ${(all.at(-1) ?? NaN).toFixed(0).padStart(6)} ms   (${all.length})`
		);
	}
	console.log(`  failed ${failed}, imports beside ${imports}, server ${megabytes(shop.pid())} MB\n`);
	return p95;
}

/** The first look at each page after a start. */
export async function firstLooks(shop, label, number) {
	const cookie = await shop.signIn();
	for (const page of ['/floor', '/returns', '/practice', `/tickets/${number}`, '/workbook']) {
		const since = performance.now();
		const answer = await fetch(`${shop.address}${page}`, { headers: { cookie } });
		await answer.body?.getReader().read();
		console.log(
			`first look at ${page}, ${label}: ${(performance.now() - since).toFixed(0)} ms (${answer.status})`
		);
	}
	console.log('');
}

/** What a page's HTML weighs as it leaves. */
export async function bytesByPage(shop, number) {
	const cookie = await shop.signIn();
	for (const page of ['/floor', `/tickets/${number}`, '/returns', '/counter', '/settings', '/books']) {
		const [pressed, plain] = await Promise.all(
			['gzip', 'identity'].map((encoding) => bytes(`${shop.address}${page}`, cookie, encoding))
		);
		console.log(
			`${page}: ${(pressed / 1000).toFixed(0)} kB of HTML as it leaves, ${(plain / 1000).toFixed(0)} kB of it`
		);
	}
	console.log('');
}

/** With curl: fetch unpacks what it gets. */
function bytes(url, cookie, encoding) {
	return new Promise((resolve, reject) => {
		const asked = spawn('curl', ['-s', '-H', `cookie: ${cookie}`, '-H', `accept-encoding: ${encoding}`, url]);
		const chunks = [];
		asked.stdout.on('data', (chunk) => chunks.push(chunk));
		asked.on('error', reject);
		asked.on('close', () => {
			const all = Buffer.concat(chunks);
			if (encoding === 'gzip' && all.length > 1024) gunzipSync(all, { finishFlush: 2 });
			resolve(all.length);
		});
	});
}
