import { lastDealing, type DealingOf } from './dealings';
import type { Ticket } from './ticket-record';

/** What was asked last, a price or an offer of several options, and what was said to it; null where nothing was. */
export interface LastAsked {
	asked: DealingOf<'quote' | 'offer'> | null;
	answer: DealingOf<'answer'> | null;
}

export function lastAsked({ dealings }: Pick<Ticket, 'dealings'>): LastAsked {
	const at = dealings.findLastIndex(
		({ kind }) => kind === 'quote' || kind === 'offer' || kind === 'take-back'
	);
	const dealing = dealings[at];
	if (dealing?.kind !== 'quote' && dealing?.kind !== 'offer') return { asked: null, answer: null };
	return { asked: dealing, answer: lastDealing({ dealings: dealings.slice(at) }, 'answer') };
}

/** The operations that the last price was for, or the option of the last offer that was chosen; none where it named none. */
export function agreedOperations(ticket: Pick<Ticket, 'dealings'>): readonly string[] {
	const { asked, answer } = lastAsked(ticket);
	if (asked?.kind !== 'offer') return asked?.operations ?? [];
	const chosen = (answer?.accepted && answer.option) || 0;
	return asked.offered[chosen]?.operations ?? [];
}
