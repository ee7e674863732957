import type { Ticket } from './ticket-record';

/** The operations that the last price was for, or the way of the last offer that was chosen; none where it named none. */
export function agreedOperations({ dealings }: Pick<Ticket, 'dealings'>): readonly string[] {
	const last = dealings.findLastIndex(
		({ quotedMinor, offered }) => quotedMinor !== undefined || offered !== undefined
	);
	const { operations, offered } = dealings[last] ?? {};
	if (!offered) return operations ?? [];
	const chosen = dealings.slice(last).findLast(({ accepted }) => accepted)?.option ?? 0;
	return offered[chosen]?.operations ?? [];
}
