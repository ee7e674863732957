import { flushSync } from 'svelte';
import { describe, expect, it } from 'vitest';
import { newestOf } from './newest-fixture.svelte';

/** A view as it was shown, and the newer one behind it: what comes late, or of another look, is never shown. */
const view = (name: string, asOf: number) => ({ view: name, asOf });
const later = <Value>() => {
	let come: (value: Value) => void = () => {};
	return { promise: new Promise<Value>((resolve) => (come = resolve)), come: (value: Value) => come(value) };
};
const settled = () => new Promise((resolve) => setTimeout(resolve));

describe('a view with a newer one behind it', () => {
	it('is shown as it was, then as it is', async () => {
		const { promise, come } = later<{ view: string; asOf: number } | null>();
		const { newest, end } = newestOf({ shown: view('before', 1), newer: promise });
		flushSync();
		expect([newest.view, newest.asOf, newest.pending]).toEqual(['before', 1, true]);
		come(view('after', 2));
		await settled();
		expect([newest.view, newest.asOf, newest.pending]).toEqual(['after', 2, false]);
		end();
	});
	it('stays where no newer one came', async () => {
		const { promise, come } = later<{ view: string; asOf: number } | null>();
		const { newest, end } = newestOf({ shown: view('before', 1), newer: promise });
		flushSync();
		come(null);
		await settled();
		expect([newest.view, newest.pending]).toEqual(['before', false]);
		end();
	});
	it('of an earlier look that comes late is not shown over the look that followed', async () => {
		const first = later<{ view: string; asOf: number } | null>();
		const { newest, look, end } = newestOf({ shown: view('one', 1), newer: first.promise });
		flushSync();
		const second = later<{ view: string; asOf: number } | null>();
		look({ shown: view('two', 2), newer: second.promise });
		flushSync();
		first.come(view('one, late', 1.5));
		await settled();
		expect([newest.view, newest.pending]).toEqual(['two', true]);
		second.come(view('three', 3));
		await settled();
		expect([newest.view, newest.pending]).toEqual(['three', false]);
		end();
	});
	it('that came is not shown over a look that followed it', async () => {
		const { newest, look, end } = newestOf({
			shown: view('one', 1),
			newer: Promise.resolve(view('newer one', 2))
		});
		flushSync();
		await settled();
		expect(newest.view).toBe('newer one');
		look({ shown: view('two', 3), newer: null });
		flushSync();
		expect([newest.view, newest.asOf, newest.pending]).toEqual(['two', 3, false]);
		end();
	});
});
