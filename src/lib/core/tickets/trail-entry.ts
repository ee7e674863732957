import type { Instant } from '../units/instant';

/** One line of what happened to a device. */
export interface TrailEntry {
	at: Instant;
	by: string | null;
	kind:
		| 'taken-in'
		| 'seen'
		| 'measured'
		| 'tested'
		| 'quoted'
		| 'tried'
		| 'proved'
		| 'noted'
		| 'corrected'
		| 'waited'
		| 'closed';
	text: string;
	/** money in hundredths that belongs to the text; worded with the shop's currency by who shows it */
	amountMinor?: number;
	/** struck out: its place among the struck entries, when, by whom */
	struck?: { index: number; at: Instant | null; by: string | null };
}

/** Entries by one hand within some minutes are one line of the trail. */
export function groupByMinute<Item extends { at?: number; by?: string }>(
	items: readonly Item[],
	minutes = 5
): Item[][] {
	const groups: Item[][] = [];
	for (const item of items) {
		const last = groups.at(-1)?.at(-1);
		const near = last && Math.abs((item.at ?? 0) - (last.at ?? 0)) <= minutes * 60_000;
		if (near && last.by === item.by) groups.at(-1)?.push(item);
		else groups.push([item]);
	}
	return groups;
}
