import { knownIn } from '../evidence/known-codes';
import { needsOf } from '../catalog/needs';
import { refuse, type Changed, type Refusal } from './refusal';
import { ruleOf, type TicketChange } from './ticket-change';
import type { Ticket } from './ticket-record';
import type { ChangeContext } from './verbs/verb';

/**
 * The ticket after a change, checked; the ticket given is left as it was.
 * @returns the changed ticket, or what stands in the way
 * @example applyChange(ticket, { verb: 'battery', stage: 'intake', volts: 3.7 }, { now, by: 'ines', catalog })
 */
export function applyChange(ticket: Ticket, change: TicketChange, context: ChangeContext): Changed {
	if (ticket.closedAt !== null && !ruleOf(change.verb).ofClosed) {
		return refuse('ticket', `${ticket.number} is closed; reopen it to change it`);
	}
	return unmetBy(change, ticket, context) ?? makeChange(ticket, change, context);
}

/** The change itself, whose codes are known; a screen shows it so before the server has checked it. */
export const makeChange = (ticket: Ticket, change: TicketChange, context: ChangeContext): Changed => {
	const { verb, ...body } = change;
	return ruleOf(verb).apply(ticket, body, { at: context.now, by: context.by }, context);
};

/** The first thing that a change names and that is not there. */
function unmetBy(change: TicketChange, ticket: Ticket, { catalog }: ChangeContext): Refusal | null {
	let first: Refusal | null = null;
	const need = needsOf(knownIn(catalog), 'which the catalog does not hold; reload the page', (unmet) => {
		first ??= refuse(unmet.path, unmet.message);
	});
	const { verb, ...body } = change;
	ruleOf(verb).refers?.(body, need, ticket);
	return first;
}
