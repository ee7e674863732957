/** Entries by one hand within some minutes are one line of the trail. */
export function groupByMinute<Item extends { at?: number | undefined; by?: string | undefined }>(
	items: readonly Item[],
	minutes = 5
): Item[][] {
	const groups: Item[][] = [];
	for (const item of items) {
		const last = groups.at(-1)?.at(-1);
		const isNear = last && Math.abs((item.at ?? 0) - (last.at ?? 0)) <= minutes * 60_000;
		if (isNear && last.by === item.by) groups.at(-1)?.push(item);
		else groups.push([item]);
	}
	return groups;
}
