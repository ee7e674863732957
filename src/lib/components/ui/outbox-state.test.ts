import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { answer, NOW, releaseClock, server, settled, standClock, store } from '../states-fixture';
import { OutboxState } from './outbox.svelte';

/** The classes behind the screens, without a browser: what they keep, send and show, and in which order. */

beforeEach(standClock);
afterEach(releaseClock);

describe('the outbox', () => {
	const note = (text: string) => ({ verb: 'note', text }) as const;
	it('sends one after another, each with the version that it will meet', async () => {
		const { fetcher, sent } = server();
		const outbox = new OutboxState('ines', store(), fetcher);
		const made = Promise.all(['one', 'two', 'three'].map((text) => outbox.add('K-1', note(text), 1)));
		expect(outbox.entries).toHaveLength(3);
		await settled();
		expect(await made).toEqual([true, true, true]);
		expect(sent.map(({ version, change }) => [version, 'text' in change && change.text])).toEqual([
			[1, 'one'],
			[2, 'two'],
			[3, 'three']
		]);
		expect(outbox.entries).toEqual([]);
	});
	it('keeps what cannot be sent over a reload, and sends it with how long it waited', async () => {
		const keep = store();
		let away = true;
		const { fetcher, sent } = server();
		const line = ((...call: Parameters<typeof fetch>) =>
			away ? Promise.reject(new Error('away')) : fetcher(...call)) as typeof fetch;
		const outbox = new OutboxState('ines', keep, line);
		expect(await outbox.add('K-1', note('one'), 1)).toBe(true);
		expect(outbox.line).toBe('away');
		expect(keep.length).toBe(1);
		const again = new OutboxState('ines', keep, line);
		away = false;
		vi.setSystemTime(NOW + 60_000);
		again.restore();
		await settled();
		expect(sent[0]).toMatchObject({ change: { text: 'one' }, waitedMs: expect.any(Number) });
		expect(sent[0]?.waitedMs).toBeGreaterThanOrEqual(59_000);
		expect([again.line, keep.length]).toEqual(['there', 0]);
	});
	it('of another person at the same browser nothing is read', async () => {
		const keep = store();
		const outbox = new OutboxState('ines', keep, () => Promise.reject(new Error('away')));
		void outbox.add('K-1', note('one'), 1);
		await settled();
		const other = new OutboxState('bram', keep, server().fetcher);
		other.restore();
		expect(other.entries).toEqual([]);
		outbox.forget();
		expect(keep.length).toBe(0);
	});
	it.each<[number, unknown, string, boolean]>([
		[
			422,
			{ ok: false, code: 'refused', refusal: { field: 'text', message: 'is odd' } },
			'Text: is odd',
			false
		],
		[403, { ok: false, code: 'not-yours', refusal: { field: 'role', message: 'ask' } }, 'Ask', false],
		[404, { ok: false, code: 'missing', message: 'no such ticket' }, 'no such ticket', false]
	])(
		'refused with %d, an entry stays with its reason; what follows goes on',
		async (status, body, words, made) => {
			const { fetcher, sent } = server();
			let first = true;
			const outbox = new OutboxState('ines', store(), ((...call: Parameters<typeof fetch>) => {
				if (!first) return fetcher(...call);
				first = false;
				return answer(status, body);
			}) as typeof fetch);
			const refused = outbox.add('K-1', note('odd'), 1);
			void outbox.add('K-1', note('good'), 1);
			await settled();
			expect(await refused).toBe(made);
			expect(sent).toHaveLength(1);
			expect(outbox.entries).toMatchObject([
				{ change: { text: 'odd' }, held: { code: 'refused', reason: words } }
			]);
			outbox.again(outbox.entries[0]?.once as string, 2);
			await settled();
			expect([outbox.entries.length, sent.length]).toEqual([0, 2]);
		}
	);
	it.each([401, 500, 503, 429])('answered %d, an entry waits and is tried again', async (status) => {
		const { fetcher } = server();
		let tries = 0;
		const outbox = new OutboxState('ines', store(), ((...call: Parameters<typeof fetch>) =>
			++tries > 1 ? fetcher(...call) : answer(status, {})) as typeof fetch);
		void outbox.add('K-1', note('one'), 1);
		await settled();
		expect([outbox.line, outbox.entries.length]).toEqual([status === 401 ? 'signed-out' : 'away', 1]);
		await vi.advanceTimersByTimeAsync(1000);
		expect([outbox.line, outbox.entries.length, tries]).toEqual(['there', 0, 2]);
	});
	it('a server that fails on it five times has refused it', async () => {
		const outbox = new OutboxState('ines', store(), () => answer(500, {}));
		void outbox.add('K-1', note('one'), 1);
		await vi.advanceTimersByTimeAsync(60_000);
		expect(outbox.entries[0]?.held).toMatchObject({ reason: expect.stringContaining('again and again') });
	});
	it('overtaken, it holds its ticket until somebody decides', async () => {
		const { fetcher, sent } = server();
		const outbox = new OutboxState('ines', store(), fetcher);
		const states: unknown[] = [];
		outbox.hear('K-1', (state) => states.push(state));
		expect(await Promise.race([outbox.add('K-1', note('late'), 7), settled().then(() => false)])).toBe(false);
		expect(states).toMatchObject([{ code: 'stale', view: { version: 1 } }]);
		void outbox.add('K-1', note('behind'), 1);
		await settled();
		expect(sent).toHaveLength(1);
		outbox.drop(outbox.entries[0]?.once as string);
		await settled();
		expect(sent.at(-1)?.change).toMatchObject({ text: 'behind' });
	});
	it('says where the browser keeps no more, and goes on', async () => {
		const keep = {
			...store(),
			setItem: () => {
				throw new Error('full');
			}
		} as unknown as Storage;
		const outbox = new OutboxState('ines', keep, () => Promise.reject(new Error('away')));
		void outbox.add('K-1', note('one'), 1);
		expect(outbox.full).toBe(true);
		expect(outbox.entries).toHaveLength(1);
	});
});
