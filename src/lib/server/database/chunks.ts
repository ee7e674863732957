/**
 * Reads a table from front to back in chunks, each after the last id of the one before: memory stays flat,
 * and no chunk costs more than another.
 * @param read the next rows with an id above `after`, in the order of ids, at most `size`
 */
export async function* inChunks<Row extends { id: number }>(
	size: number,
	read: (afterId: number) => Promise<Row[]>
): AsyncGenerator<Row[]> {
	for (let afterId = 0; ;) {
		const rows = await read(afterId);
		yield rows;
		const last = rows.at(-1);
		if (!last || rows.length < size) return;
		afterId = last.id;
	}
}

/** @example inPieces([1, 2, 3], 2) // [[1, 2], [3]] */
export function inPieces<Item>(items: readonly Item[], size: number): Item[][] {
	const pieces: Item[][] = [];
	for (let start = 0; start < items.length; start += size) pieces.push(items.slice(start, start + size));
	return pieces;
}
