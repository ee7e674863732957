import { describe, expect, it } from 'vitest';
import type { BoardPoint } from '../catalog/kinds-of-devices';
import { pointPlace } from '../units/probed-place';
import { judgeChips, judgePoints } from './board-points';
import { EMPTY_BOOK, knownGoodBook } from './known-good-book';
import type { Mode } from './reference';

const point = (code: string, more: Partial<BoardPoint> = {}): BoardPoint => ({
	code,
	label: code.toUpperCase(),
	ground: 'never',
	...more
});
const read = (code: string, value: number | 'open', mode: Mode = 'diode') => ({
	pin: pointPlace(code),
	mode,
	...(value === 'open' ? { overload: true } : { value })
});
const judged = (points: readonly BoardPoint[], readings: ReturnType<typeof read>[], book = EMPTY_BOOK) =>
	Object.fromEntries(judgePoints(points, readings, book));

describe('a point of the board', () => {
	const expects = { expect: { mode: 'diode', low: 0.4, high: 0.6 } } as const;
	it.each<[string, Partial<BoardPoint>, Mode, number | 'open', string]>([
		['a line just under a short in diode mode', {}, 'diode', 0.0499, 'short'],
		['a line just over it', {}, 'diode', 0.05, 'agrees'],
		['below ground, probes crossed', {}, 'diode', -0.0499, 'short'],
		['under five ohms', {}, 'ohms', 4.99, 'short'],
		['five ohms', {}, 'ohms', 5, 'agrees'],
		['open', {}, 'diode', 'open', 'open'],
		['no volts', {}, 'volts', 0, 'value'],
		['ground at ground', { ground: 'normal' }, 'diode', 0.001, 'agrees'],
		['ground that reads a value', { ground: 'normal' }, 'diode', 0.3, 'high'],
		['ground that is open', { ground: 'normal' }, 'ohms', 'open', 'open'],
		['ground in volts', { ground: 'normal' }, 'volts', 0, 'value'],
		['the lower end of what is expected', expects, 'diode', 0.4, 'agrees'],
		['below it', expects, 'diode', 0.399, 'low'],
		['the upper end', expects, 'diode', 0.6, 'agrees'],
		['above it', expects, 'diode', 0.601, 'high'],
		['expected and open', expects, 'diode', 'open', 'open'],
		['expected and at ground', expects, 'diode', 0.01, 'short'],
		['what is expected in another mode says nothing', expects, 'ohms', 100, 'agrees'],
		['volts expected', { expect: { mode: 'volts', low: 4.5, high: 5.5 } }, 'volts', 0.1, 'low']
	])('%s', (_, more, mode, value, verdict) => {
		expect(judged([point('p', more)], [read('p', value, mode)])).toEqual({ p: verdict });
	});
	it('one of two ends: by both', () => {
		const ends = [
			point('l', { ground: 'one-side', with: 'r' }),
			point('r', { ground: 'one-side', with: 'l' })
		];
		expect(judged(ends, [read('l', 0.001)])).toEqual({});
		expect(judged(ends, [read('l', 0.4)])).toEqual({ l: 'agrees' });
		expect(judged(ends, [read('l', 0.001), read('r', 0.4)])).toEqual({ l: 'agrees', r: 'agrees' });
		expect(judged(ends, [read('l', 0.001), read('r', 0.002)])).toEqual({ l: 'short', r: 'short' });
		// volts of the other end say nothing of its way to ground
		expect(judged(ends, [read('l', 0.001), read('r', 0, 'volts')])).toEqual({ r: 'value' });
	});
	it('by its latest reading in each mode, the worst of them', () => {
		const one = [point('p')];
		expect(judged(one, [read('p', 0.001), read('p', 0.4)])).toEqual({ p: 'agrees' });
		expect(judged(one, [read('p', 0.4), read('p', 0.001)])).toEqual({ p: 'short' });
		expect(judged(one, [read('p', 0.001), read('p', 300, 'ohms')])).toEqual({ p: 'short' });
		expect(judged(one, [read('p', 2, 'volts'), read('p', 0.4)])).toEqual({ p: 'agrees' });
	});
	it('by what is known good of it, where nothing is stated', () => {
		const own = [0.5, 0.51, 0.49, 0.5].map((value) => ({
			record: 'reference' as const,
			model: 'm',
			pin: pointPlace('p'),
			mode: 'diode' as const,
			value,
			grade: 'verified' as const
		}));
		const book = knownGoodBook({ own });
		expect(judged([point('p')], [read('p', 0.5)], book)).toEqual({ p: 'agrees' });
		expect(judged([point('p')], [read('p', 0.2)], book)).toEqual({ p: 'low' });
		expect(judged([point('p')], [read('p', 0.9)], book)).toEqual({ p: 'high' });
		expect(judged([point('q')], [read('q', 0.2)], book)).toEqual({ q: 'agrees' });
		// a contact of the port that is called alike is another place
		expect(judged([point('p')], [{ pin: 'p', mode: 'diode', value: 0.001 }], book)).toEqual({});
	});
	it('a chip is short where any of its points is, sound where those that were read are not', () => {
		const board = [
			point('a', { chip: 'x' }),
			point('b', { chip: 'x' }),
			point('c', { chip: 'y' }),
			point('d')
		];
		const chips = (...readings: ReturnType<typeof read>[]) =>
			Object.fromEntries(judgeChips(board, judgePoints(board, readings, EMPTY_BOOK)));
		expect(chips(read('a', 0.4), read('b', 0.001), read('c', 0.4))).toEqual({ x: 'short', y: 'sound' });
		expect(chips(read('b', 0.001), read('a', 0.4))).toEqual({ x: 'short' });
		expect(chips(read('d', 0.001))).toEqual({});
	});
});
