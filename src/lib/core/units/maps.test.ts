import { describe, expect, it } from 'vitest';
import { groupBy } from './group-by';
import { sortedMap } from './sorted-map';

describe('items by a key', () => {
	it('groups and members keep the order in which they come', () => {
		const groups = groupBy([3, 1, 4, 1, 5], (n) => (n % 2 ? 'odd' : 'even'));
		expect([...groups]).toEqual([
			['odd', [3, 1, 1, 5]],
			['even', [4]]
		]);
		expect(groupBy([], () => 1).size).toBe(0);
	});
});

describe('a map in the order of its keys', () => {
	it('numbers by size, texts by their characters; the map itself stays', () => {
		const map = new Map([
			[10, 'a'],
			[9, 'b']
		]);
		expect([...sortedMap(map).keys()]).toEqual([9, 10]);
		expect([...map.keys()]).toEqual([10, 9]);
		expect([
			...sortedMap(
				new Map([
					['b', 1],
					['B', 2],
					['a', 3]
				])
			).keys()
		]).toEqual(['B', 'a', 'b']);
	});
});
