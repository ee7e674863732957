/**
 * Items by a key, groups and members in the order in which they come.
 * @example groupBy(['one', 'two', 'three'], (word) => word.length).get(3) // ['one', 'two']
 */
export function groupBy<Key, Item>(items: Iterable<Item>, keyOf: (item: Item) => Key): Map<Key, Item[]> {
	const groups = new Map<Key, Item[]>();
	for (const item of items) {
		const key = keyOf(item);
		const group = groups.get(key);
		if (group) group.push(item);
		else groups.set(key, [item]);
	}
	return groups;
}
