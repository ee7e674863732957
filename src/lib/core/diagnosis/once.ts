/** Each key's value worked out when it is first asked for. */
export function once<Key, Value>(make: (key: Key) => Value): (key: Key) => Value {
	const cache = new Map<Key, Value>();
	return (key) => {
		const found = cache.get(key);
		if (found !== undefined) return found;
		const made = make(key);
		cache.set(key, made);
		return made;
	};
}
