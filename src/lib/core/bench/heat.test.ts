import { describe, expect, it } from 'vitest';
import { heatOnBoard } from './heat';

const on = (at: number) => ({ on: true, at: at * 1000 });
const off = (at: number, seconds?: number) => ({
	on: false,
	at: at * 1000,
	...(seconds === undefined ? {} : { seconds })
});

describe('heat on a board', () => {
	it.each([
		['none', [], 0, null, 'none'],
		['once', [on(0), off(90)], 90, null, 'within'],
		['what the bench counted stands before the clock', [on(0), off(500, 40)], 40, null, 'within'],
		['what is on counts until now', [on(900)], 100, 900_000, 'within'],
		['two sessions', [on(0), off(60), on(100), off(130)], 90, null, 'within'],
		['on twice without an off between', [on(0), on(50), off(60)], 60, null, 'within'],
		['an off alone that says how long', [off(10, 30)], 30, null, 'within'],
		['an off alone that does not', [off(10)], 0, null, 'none'],
		['a clock that went back counts nothing', [on(100), off(50)], 0, null, 'none'],
		['up to five minutes', [on(0), off(299)], 299, null, 'within'],
		['five minutes', [on(0), off(300)], 300, null, 'watch'],
		['under ten', [on(0), off(599)], 599, null, 'watch'],
		['ten', [on(0), off(600)], 600, null, 'spent']
	])('%s', (_, entries, seconds, onSince, verdict) =>
		expect(heatOnBoard(entries, 1_000_000)).toEqual({ seconds, onSince, verdict })
	);
	it('earlier tickets of the device count with it', () =>
		expect(heatOnBoard([on(0), off(1)], 5000, 299)).toMatchObject({ seconds: 300, verdict: 'watch' }));
});
