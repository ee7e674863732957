import type { Ticket } from './ticket-record';

/** A stretch of a list put in the place of another: from `at` on, `remove` entries go and `insert` come. */
export interface Splice<Item> {
	at: number;
	remove: number;
	insert: Item[];
}

/** What a change made of a ticket: lists by the stretch that differs, other fields whole. */
export interface TicketSlice {
	lists: Partial<Record<keyof Ticket, Splice<unknown>>>;
	set: Partial<Ticket>;
	/** fields that are gone */
	unset: (keyof Ticket)[];
}

const isSame = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/**
 * The shortest stretch that makes one list of the other; null where they are alike.
 * @example spliceBetween([1, 2, 3], [1, 9, 3]) // { at: 1, remove: 1, insert: [9] }
 */
export function spliceBetween<Item>(
	previous: readonly Item[],
	current: readonly Item[]
): Splice<Item> | null {
	const sharedLength = Math.min(previous.length, current.length);
	let at = 0;
	while (at < sharedLength && isSame(previous[at], current[at])) at++;
	let end = 0;
	while (end < sharedLength - at && isSame(previous.at(-1 - end), current.at(-1 - end))) end++;
	const remove = previous.length - at - end;
	const insert = current.slice(at, current.length - end);
	return remove === 0 && insert.length === 0 ? null : { at, remove, insert };
}

export const withSplice = <Item>(list: readonly Item[], { at, remove, insert }: Splice<Item>): Item[] => [
	...list.slice(0, at),
	...insert,
	...list.slice(at + remove)
];

/** What makes one state of a ticket of the other: `withSlice(before, sliceBetween(before, after))` is `after`. */
export function sliceBetween(previous: Ticket, current: Ticket): TicketSlice {
	const slice: TicketSlice = { lists: {}, set: {}, unset: [] };
	for (const key of new Set([...Object.keys(previous), ...Object.keys(current)]) as Set<keyof Ticket>) {
		const [earlier, is] = [previous[key] as unknown, current[key] as unknown];
		if (is === undefined) {
			if (earlier !== undefined) slice.unset.push(key);
		} else if (Array.isArray(earlier) && Array.isArray(is)) {
			const splice = spliceBetween<unknown>(earlier, is);
			if (splice) slice.lists[key] = splice;
		} else if (!isSame(earlier, is)) Object.assign(slice.set, { [key]: is });
	}
	return slice;
}

export function withSlice(ticket: Ticket, { lists, set, unset }: TicketSlice): Ticket {
	const changed: Record<string, unknown> = { ...ticket, ...set };
	for (const [list, splice] of Object.entries(lists)) {
		changed[list] = withSplice(changed[list] as unknown[], splice as Splice<unknown>);
	}
	for (const key of unset) delete changed[key];
	return changed as unknown as Ticket;
}
