import { collectedAt } from '../tickets/money';
import type { State } from '../tickets/states';
import type { Ticket } from '../tickets/ticket-record';
import { DAY_MS, type Instant } from '../units/instant';

/** Where a device stands, as its owner reads it: plain words, no technician, no cost, no fault. */
export const STATE_TEXTS: Record<State, { title: string; text: string }> = {
	'taken-in': { title: 'Taken in', text: 'It is waiting for its turn on the bench.' },
	quoted: { title: 'Your answer is needed', text: 'We continue when you have answered the offer.' },
	declined: {
		title: 'Returned unrepaired',
		text: 'As you asked, we do not repair it. You can pick it up when we are open.'
	},
	accepted: { title: 'Accepted', text: 'It is waiting for its turn on the bench.' },
	'on-bench': { title: 'In repair', text: 'It is on the bench.' },
	waiting: { title: 'Waiting', text: 'We are waiting for something before we can continue.' },
	repaired: { title: 'Repaired', text: 'We are testing it.' },
	proved: { title: 'Repaired and tested', text: 'We are closing the case.' },
	sealed: { title: 'Repaired and tested', text: 'We are doing the last checks.' },
	ready: { title: 'Ready', text: 'You can pick it up when we are open.' },
	told: { title: 'Ready', text: 'You can pick it up when we are open.' },
	paid: { title: 'Ready', text: 'It is paid. You can pick it up when we are open.' },
	'handed-over': { title: 'Picked up', text: 'If anything is not right, bring it back.' },
	'followed-up': { title: 'Picked up', text: 'If anything is not right, bring it back.' }
};

/** What was found where nothing was repaired. */
export const NOT_REPAIRED: Partial<Record<NonNullable<Ticket['outcome']>, string>> = {
	'not-fixed': 'We could not repair it. You can pick it up when we are open.',
	'not-worth-it': 'A repair would cost more than the device is worth. You can pick it up when we are open.',
	declined: 'As you asked, we did not repair it. You can pick it up when we are open.',
	'no-fault-found': 'We found nothing wrong with it. You can pick it up when we are open.'
};

/** Until when the page of a device stands: some days after it was handed over; null while it is here. */
export function pageEnds(ticket: Parameters<typeof collectedAt>[0], pageDays: number): Instant | null {
	const from = collectedAt(ticket);
	return from === null ? null : from + pageDays * DAY_MS;
}
