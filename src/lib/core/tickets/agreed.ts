import type { Dealing, Ticket } from './ticket-record';

/** What was asked last, a price or an offer of several ways, and what was said to it; null where nothing was. */
export interface LastAsked {
	asked: Dealing | null;
	answer: Dealing | null;
}

export function lastAsked({ dealings }: Pick<Ticket, 'dealings'>): LastAsked {
	const at = dealings.findLastIndex(
		({ quotedMinor, offered, takenBack }) =>
			quotedMinor !== undefined || offered !== undefined || takenBack !== undefined
	);
	if (at < 0 || dealings[at]?.takenBack) return { asked: null, answer: null };
	const answer = dealings.slice(at).findLast(({ accepted }) => accepted !== undefined);
	return { asked: dealings[at] as Dealing, answer: answer ?? null };
}

/** The operations that the last price was for, or the way of the last offer that was chosen; none where it named none. */
export function agreedOperations(ticket: Pick<Ticket, 'dealings'>): readonly string[] {
	const { asked, answer } = lastAsked(ticket);
	if (!asked?.offered) return asked?.operations ?? [];
	const chosen = (answer?.accepted && answer.option) || 0;
	return asked.offered[chosen]?.operations ?? [];
}
