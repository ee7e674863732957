import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Intake } from './counter/intake.svelte';
import { InstrumentFeed } from './instruments/feed.svelte';
import { answer, NOW, releaseClock, standClock, store } from './states-fixture';

/** The classes behind the screens, without a browser: what they keep, send and show, and in which order. */

beforeEach(standClock);
afterEach(releaseClock);

describe('taking in', () => {
	it('keeps what is typed over a reload but a passcode, and is one ticket however often it is sent', async () => {
		vi.stubGlobal('sessionStorage', store());
		const bodies: Record<string, unknown>[] = [];
		let status = 503;
		vi.stubGlobal('fetch', (_: string, options: RequestInit) => {
			bodies.push(JSON.parse(options.body as string) as Record<string, unknown>);
			return answer(status, status === 200 ? { ok: true, number: 'K-7' } : {});
		});
		const intake = new Intake();
		Object.assign(intake.fields, {
			customer: 'Vida',
			model: 'New thing',
			connector: '',
			passcode: '1234',
			claim: 'coil-open'
		});
		intake.keep();
		expect(await intake.takeIn(null)).toBeNull();
		expect(intake.problem?.message).toContain('database is not available');
		const again = new Intake();
		again.restore();
		expect([again.fields.customer, again.fields.passcode]).toEqual(['Vida', '']);
		status = 200;
		expect(await again.takeIn(NOW)).toBe('K-7');
		expect(bodies[1]).toMatchObject({
			once: bodies[0]?.once,
			model: { label: 'New thing', connector: null },
			claim: null,
			promisedAt: NOW
		});
		again.clear();
		expect(again.fields.customer).toBe('');
		const after = new Intake();
		after.restore();
		expect(after.fields.customer).toBe('');
	});
	it('says what was refused and where, and what to do when nobody answers', async () => {
		const intake = new Intake();
		vi.stubGlobal('fetch', () =>
			answer(422, { ok: false, refusal: { field: 'customer', message: 'is empty' } })
		);
		expect([await intake.takeIn(null), intake.problem]).toEqual([
			null,
			{ field: 'customer', message: 'is empty' }
		]);
		vi.stubGlobal('fetch', () => Promise.reject(new Error('away')));
		expect([await intake.takeIn(null), intake.problem?.message]).toEqual([
			null,
			'The server could not be reached. Nothing is lost: send again.'
		]);
		expect(intake.sending).toBe(false);
	});
	it('looks back only for something to look for', async () => {
		const asked: string[] = [];
		vi.stubGlobal('fetch', (url: string) => {
			asked.push(url);
			return answer(200, [{ number: 'K-1' }]);
		});
		const intake = new Intake();
		await intake.lookBack();
		intake.fields.customer = 'V';
		await intake.lookBack();
		expect(asked).toEqual([]);
		intake.fields.serial = 'T 1';
		await intake.lookBack();
		expect(asked).toEqual(['/counter/visits?serial=T%201&customer=V&model=']);
		expect(intake.visits).toHaveLength(1);
	});
	it('a torn draft is scrapped', () => {
		const kept = store();
		kept.setItem('tavrek-intake', '{not json');
		vi.stubGlobal('sessionStorage', kept);
		new Intake().restore();
		expect(kept.length).toBe(0);
	});
});

describe('an instrument’s feed', () => {
	class Source {
		static last: Source;
		closed = false;
		onerror: (() => void) | null = null;
		#on = new Map<string, (event: { data: string }) => void>();
		constructor(readonly address: string) {
			Source.last = this;
		}
		addEventListener(name: string, listener: (event: { data: string }) => void) {
			this.#on.set(name, listener);
		}
		say(name: string, data: unknown = null) {
			this.#on.get(name)?.({ data: JSON.stringify(data) });
		}
		close() {
			this.closed = true;
		}
	}
	const running = () => {
		vi.stubGlobal('EventSource', Source);
		const feed = new InstrumentFeed();
		const taken: unknown[] = [];
		feed.connect('/stream', (sample) => taken.push(sample));
		return { feed, taken, source: Source.last };
	};
	it('takes samples, and nothing that is none', () => {
		const { feed, taken, source } = running();
		source.say('sample', { atMs: 1, value: 0.4 });
		source.say('sample', { atMs: 2, volts: 5, amps: 1 });
		source.say('sample', { atMs: 3, odd: true });
		expect(taken).toEqual([
			{ atMs: 1, value: 0.4 },
			{ atMs: 2, volts: 5, amps: 1 }
		]);
		expect([feed.state, feed.latest]).toEqual(['running', { atMs: 2, volts: 5, amps: 1 }]);
	});
	it.each<[string, (source: Source, feed: InstrumentFeed) => void, string]>([
		['ends', (source) => source.say('end'), 'ended'],
		['is lost', (source) => source.say('lost'), 'lost'],
		['breaks off', (source) => source.onerror?.(), 'lost'],
		['is stopped', (_, feed) => feed.stop(), 'idle']
	])('%s, and says so', (_, act, state) => {
		const { feed, source } = running();
		act(source, feed);
		expect([feed.state, source.closed]).toEqual([state, true]);
	});
	it('plays a file at twice its time, in order, to its end', async () => {
		const feed = new InstrumentFeed();
		const taken: number[] = [];
		feed.replay(
			[
				{ atMs: 1000, value: 1 },
				{ atMs: 1400, value: 2 },
				{ atMs: 2000, value: 3 }
			],
			({ atMs }) => taken.push(atMs)
		);
		expect(taken).toEqual([1000]);
		await vi.advanceTimersByTimeAsync(160);
		expect(taken).toEqual([1000]);
		await vi.advanceTimersByTimeAsync(80);
		expect(taken).toEqual([1000, 1400]);
		await vi.advanceTimersByTimeAsync(400);
		expect([taken.at(-1), feed.state]).toEqual([2000, 'ended']);
		feed.replay(
			[
				{ atMs: 0, value: 1 },
				{ atMs: 5000, value: 2 }
			],
			() => undefined
		);
		feed.stop();
		await vi.advanceTimersByTimeAsync(9000);
		expect(feed.state).toBe('idle');
	});
});
