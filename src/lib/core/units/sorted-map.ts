/**
 * A copy in the order of its keys: what is worked out of equal maps is then equal to the last digit, whichever way they came about.
 * @example [...sortedMap(new Map([['b', 1], ['a', 2]])).keys()] // ['a', 'b']
 */
export const sortedMap = <Key extends string | number, Value>(
	map: ReadonlyMap<Key, Value>
): Map<Key, Value> => new Map([...map].sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0)));
