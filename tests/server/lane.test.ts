import { afterAll, describe, expect, it } from 'vitest';
import { fileURLToPath } from 'node:url';
import { Busy, Lane, TookTooLong } from '$lib/server/worker/lane';
import { Stopped } from '$lib/server/database/in-turns';
import { isDatabaseAway } from '$lib/server/database/connection';
import { unavailableBy } from '$lib/server/http/unavailable';

const file = fileURLToPath(new URL('planted/worker.mjs', import.meta.url));
const waited = { waited: true, seconds: 30 };
const rules = {
	count: waited,
	crawl: waited,
	fail: waited,
	before: waited,
	'before-ahead': { waited: false, seconds: 30 },
	throw: waited,
	loop: { waited: true, seconds: 0.2 },
	slow: { waited: true, seconds: 0.2 },
	ahead: { waited: false, seconds: 30, makesRoom: true },
	stuck: { waited: false, seconds: 30, makesRoom: true },
	glance: { waited: true, seconds: 30, short: true }
};
const requests = new Int32Array(new SharedArrayBuffer(4));
const lanes: Lane<{ kind: string; steps?: number }>[] = [];
function lane() {
	const made = new Lane<{ kind: string; steps?: number }>('planted', {
		file,
		threads: 1,
		rules,
		inFlight: requests.buffer,
		graceMs: 200,
		roomMs: 500
	});
	lanes.push(made);
	return made;
}
afterAll(() => Promise.all(lanes.map((each) => each.close())));

const ines = { who: 'ines' };
const pia = { who: 'pia' };
const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

describe('a lane of workers', () => {
	it('survives an endless loop: its asker is refused, its worker is replaced, who waited behind is answered', async () => {
		const one = lane();
		expect(await one.ask({ kind: 'count' }, 'a', pia)).toBe(1);
		const loop = one.ask({ kind: 'loop' }, 'loop', ines);
		const behind = one.ask({ kind: 'count' }, 'b', pia);
		await expect(loop).rejects.toBeInstanceOf(TookTooLong);
		// a new worker counts from one
		expect(await behind).toBe(1);
		expect(one.state()).toMatchObject({ ended: 1, answered: 2, waiting: 0, running: [] });
		const refused = unavailableBy(await loop.catch((error: unknown) => error));
		expect(refused).toMatchObject({ title: 'Took too long', retrySeconds: 60 });
	});
	it('a question that stops when its time is over is refused and keeps its worker', async () => {
		const one = lane();
		await expect(one.ask({ kind: 'slow', steps: 2000 }, 's', ines)).rejects.toBeInstanceOf(TookTooLong);
		expect(await one.ask({ kind: 'count' }, 'b', pia)).toBe(2);
	});
	it('hands the count of requests to work that nobody waits for, and to no other', async () => {
		const one = lane();
		Atomics.store(requests, 0, 3);
		expect(await one.ask({ kind: 'before' }, 'b', pia)).toBeNull();
		expect(await one.ask({ kind: 'before-ahead' }, 'ba', { who: '' })).toBe(3);
		Atomics.store(requests, 0, 0);
		expect(await one.ask({ kind: 'before-ahead' }, 'ba', { who: '' })).toBe(0);
	});
	it('equal questions are asked once and shared', async () => {
		const one = lane();
		const all = await Promise.all(Array.from({ length: 20 }, () => one.ask({ kind: 'count' }, 'same', ines)));
		expect(new Set(all)).toEqual(new Set([1]));
	});
	it('stops what nobody waits for any more, and does not begin it where it still waits', async () => {
		const one = lane();
		const [first, second] = [new AbortController(), new AbortController()];
		const since = Date.now();
		const running = one.ask({ kind: 'crawl', steps: 2000 }, 'x', { who: 'ines', gone: first.signal });
		const waiting = one.ask({ kind: 'crawl', steps: 2000 }, 'y', { who: 'ines', gone: second.signal });
		const others = one.ask({ kind: 'count' }, 'z', pia);
		setTimeout(() => (first.abort(), second.abort()), 50);
		await expect(running).rejects.toBeInstanceOf(Stopped);
		await expect(waiting).rejects.toBeInstanceOf(Stopped);
		// two calls reached the worker: the one that was stopped, and this
		expect(await others).toBe(2);
		expect(Date.now() - since).toBeLessThan(20_000);
	});
	it('goes on while one of those who share a question still waits', async () => {
		const one = lane();
		const gone = new AbortController();
		const left = one.ask({ kind: 'crawl', steps: 20 }, 'x', { who: 'ines', gone: gone.signal });
		const stays = one.ask({ kind: 'crawl', steps: 20 }, 'x', pia);
		gone.abort();
		await expect(left).rejects.toBeInstanceOf(Stopped);
		expect(await stays).toBe(20);
	});
	it('who waits goes before work that nobody waits for, which makes room and keeps what it has', async () => {
		const one = lane();
		const ahead = one.ask({ kind: 'ahead', steps: 2000 }, 'p', { who: '' });
		await sleep(100);
		expect(await one.ask({ kind: 'count' }, 'a', pia)).toBe(2);
		const done = (await ahead) as number;
		expect(done).toBeGreaterThan(0);
		expect(done).toBeLessThan(2000);
	});
	it('a short question goes beside a long one in its thread, and is not in its way', async () => {
		const one = lane();
		const long = one.ask({ kind: 'crawl', steps: 300 }, 'l', ines);
		let ended = false;
		void long.then(() => (ended = true));
		expect(await one.ask({ kind: 'glance' }, 'g', pia)).toBe(2);
		expect(ended).toBe(false);
		// a second long one waits for the first
		const second = one.ask({ kind: 'count' }, 'c', pia);
		expect(one.state().waiting).toBe(1);
		expect(await long).toBe(300);
		expect(await second).toBe(3);
	});
	it('work ahead goes on beside a short question', async () => {
		const one = lane();
		const ahead = one.ask({ kind: 'ahead', steps: 100 }, 'p', { who: '' });
		expect(await one.ask({ kind: 'glance' }, 'g', pia)).toBe(2);
		expect(await ahead).toBe(100);
	});
	it('a short question whose thread was ended for a loop beside it is asked again', async () => {
		const one = lane();
		const loop = one.ask({ kind: 'loop' }, 'loop', ines).catch((error: unknown) => error);
		const glance = one.ask({ kind: 'glance' }, 'g', pia);
		expect(await loop).toBeInstanceOf(TookTooLong);
		expect(await glance).toBe(1);
		expect(one.state()).toMatchObject({ running: [], waiting: 0 });
	});
	it('work ahead that never makes room is ended with its worker', async () => {
		const one = lane();
		const stuck = one.ask({ kind: 'stuck' }, 's', { who: '' }).catch((error: unknown) => error);
		expect(await one.ask({ kind: 'count' }, 'a', pia)).toBe(1);
		expect(await stuck).toBeInstanceOf(TookTooLong);
		expect(one.state().ended).toBe(1);
	});
	it('one person’s questions do not fill it for others', async () => {
		const one = lane();
		const gone = new AbortController();
		const asker = { who: 'ines', gone: gone.signal };
		const asked = Array.from({ length: 20 }, (_, i) =>
			one.ask({ kind: 'crawl', steps: 500 }, `q${i}`, asker).catch((error: unknown) => error)
		);
		const others = one.ask({ kind: 'count' }, 'a', pia);
		gone.abort();
		const answers = await Promise.all(asked);
		// one runs, four wait
		expect(answers.filter((answer) => answer instanceof Busy)).toHaveLength(15);
		expect(answers.filter((answer) => answer instanceof Stopped)).toHaveLength(5);
		expect(await others).toBe(2);
		expect(one.state().refused).toBe(15);
	});
	it('an error keeps its kind over the border', async () => {
		const one = lane();
		const error = await one.ask({ kind: 'fail' }, 'a', pia).catch((thrown: unknown) => thrown);
		expect(isDatabaseAway(error)).toBe(true);
		expect(unavailableBy(error)?.title).toBe('Database away');
		await expect(one.ask({ kind: 'throw' }, 'b', pia)).rejects.toThrow('thrown');
		expect(await one.ask({ kind: 'count' }, 'c', pia)).toBe(3);
	});
	it('who is waiting when it closes is told', async () => {
		const one = lane();
		const running = one.ask({ kind: 'crawl', steps: 2000 }, 'x', pia).catch((error: unknown) => error);
		const waiting = one.ask({ kind: 'count' }, 'y', pia).catch((error: unknown) => error);
		await sleep(50);
		await one.close();
		expect(await waiting).toBeInstanceOf(Stopped);
		expect(await running).toBeInstanceOf(Error);
	});
});
