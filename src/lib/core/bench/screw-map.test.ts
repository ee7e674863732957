import { describe, expect, it } from 'vitest';
import { nextOut, screwsAmiss, screwsOut } from './screw-map';

const map = [
	{ place: 'a', label: 'Top', length_mm: 3.2 },
	{ place: 'b', label: 'Plug' },
	{ place: 'c', label: 'Cover', length_mm: 5 }
];
const moved = (...all: string[]) =>
	all.map((text) => {
		const [place = '', did = ''] = text.split(' ');
		return { place, did: did as 'out' };
	});

describe('the map of screws', () => {
	it('what is out goes back in reverse order', () => {
		expect(screwsOut(moved('a out', 'b out', 'c out'))).toEqual(['c', 'b', 'a']);
		expect(screwsOut(moved('a out', 'b out', 'b in'))).toEqual(['a']);
		expect(screwsOut(moved('a out', 'a missing'))).toEqual([]);
		expect(screwsOut(moved('a out', 'a left-over'))).toEqual(['a']);
	});
	it('the next that comes out is the first that nothing was said of', () => {
		expect(nextOut([], map)).toBe('a');
		expect(nextOut(moved('a out', 'c missing'), map)).toBe('b');
		expect(nextOut(moved('a out', 'b out', 'c in'), map)).toBeNull();
		expect(nextOut([], [])).toBeNull();
	});
	it.each([
		['all back', ['a out', 'a in'], []],
		['one still out', ['a out', 'b out', 'b in'], ['not back: Top, 3.2 mm']],
		['one that was never there', ['b missing'], ['missing: Plug']],
		['one too many', ['c out', 'c in', 'c left-over'], ['left over: one like Cover, 5 mm']],
		['found again', ['b missing', 'b in'], []],
		['a place that left the map', ['z out'], ['not back: z']]
	])('%s', (_, moves, amiss) => expect(screwsAmiss(moved(...moves), map)).toEqual(amiss));
});
