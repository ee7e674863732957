import { collectedAt } from '../tickets/money';
import type { State } from '../tickets/states';
import type { Ticket } from '../tickets/ticket-record';
import { DAY_MS, type Instant } from '../units/instant';

/** Where a device stands, as its owner reads it: plain words, no technician, no cost, no fault. */
export const STATE_TEXTS: Record<State, { title: string; text: string }> = {
	'taken-in': { title: 'Taken in', text: 'It waits for its turn on the bench.' },
	quoted: { title: 'Your answer is needed', text: 'Nothing more is done until you have answered the offer.' },
	declined: {
		title: 'Not to be repaired',
		text: 'As you wished, it is not repaired. You can pick it up when we are open.'
	},
	accepted: { title: 'Accepted', text: 'It waits for its turn on the bench.' },
	'on-bench': { title: 'Being worked on', text: 'It is on the bench.' },
	waiting: { title: 'Waiting', text: 'It waits for something before the work goes on.' },
	repaired: { title: 'Repaired', text: 'It is being tested.' },
	proved: { title: 'Repaired and tested', text: 'It is being closed up.' },
	sealed: { title: 'Repaired and tested', text: 'The last checks are made.' },
	ready: { title: 'Ready', text: 'You can fetch it when we are open.' },
	told: { title: 'Ready', text: 'You can fetch it when we are open.' },
	paid: { title: 'Ready', text: 'It is paid. You can fetch it when we are open.' },
	'handed-over': { title: 'Handed over', text: 'If anything is not as it should be, bring it back.' },
	'followed-up': { title: 'Handed over', text: 'If anything is not as it should be, bring it back.' }
};

/** What was found where nothing was repaired. */
export const NOT_REPAIRED: Partial<Record<NonNullable<Ticket['outcome']>, string>> = {
	'not-fixed': 'We could not repair it. You can fetch it when we are open.',
	'not-worth-it': 'A repair would not be worth it. You can fetch it when we are open.',
	declined: 'It was not repaired, as you wished. You can fetch it when we are open.',
	'no-fault-found': 'We found nothing wrong with it. You can fetch it when we are open.'
};

/** Until when the page of a device stands: some days after it was handed over; null while it is here. */
export function pageEnds(ticket: Parameters<typeof collectedAt>[0], pageDays: number): Instant | null {
	const from = collectedAt(ticket);
	return from === null ? null : from + pageDays * DAY_MS;
}
