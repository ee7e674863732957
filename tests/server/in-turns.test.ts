import { expect, it, vi } from 'vitest';
import { aMoment, inTurns, Stopped } from '$lib/server/database/in-turns';
import { requestsInFlight, whileInFlight } from '$lib/server/http/in-flight';

const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const inFlight = () => Atomics.load(new Int32Array(requestsInFlight), 0);

it('work that nobody waits for stands back while requests are answered, and goes on soon after', async () => {
	const stop = { asked: false, busy: true };
	let done = false;
	const moment = aMoment(stop).then(() => (done = true));
	await sleep(60);
	expect(done).toBe(false);
	stop.busy = false;
	await moment;
});

it('it goes on in the end though requests never cease', async () => {
	const since = performance.now();
	await aMoment({ asked: false, busy: true });
	expect(performance.now() - since).toBeGreaterThanOrEqual(150);
});

it('it hears that it is to end while it stands back', async () => {
	const stop = { asked: false, busy: true };
	const moment = aMoment(stop);
	stop.asked = true;
	await expect(moment).rejects.toBeInstanceOf(Stopped);
});

it('who is waited for stands back for nobody, whoever else is answered', async () => {
	function* steps() {
		for (let i = 0; i < 5; i++) {
			const until = performance.now() + 9;
			while (performance.now() < until);
			yield;
		}
		return 'done';
	}
	const turns = (stop: { asked: boolean; busy?: boolean }) => {
		const ended = inTurns(steps(), stop);
		const waited = (async () => {
			for (let i = 0; i < 200; i++) await new Promise((resolve) => setImmediate(resolve));
			return 'stands back';
		})();
		return Promise.race([ended, waited]);
	};
	// whoever stands back looks again after a timeout, which does not come here
	vi.useFakeTimers({ toFake: ['setTimeout'] });
	try {
		await whileInFlight(async () => {
			expect(await turns({ asked: false, busy: true })).toBe('stands back');
			expect(await turns({ asked: false })).toBe('done');
		});
	} finally {
		vi.useRealTimers();
	}
});

it('a request counts from its beginning to its answer, also where that fails', async () => {
	expect(inFlight()).toBe(0);
	const [answered, failed] = [
		whileInFlight(async () => inFlight()),
		whileInFlight(() => Promise.reject(new Error('no')))
	];
	expect(inFlight()).toBe(1 + 1);
	await expect(failed).rejects.toThrow('no');
	await answered;
	expect(inFlight()).toBe(0);
});
