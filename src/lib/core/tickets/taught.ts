import { ALL_MEASUREMENTS, type MeasuredList } from '../evidence/measurements';
import type { Ticket } from './ticket-record';

/**
 * Whether a field of a closed ticket teaches the shop something: odds, prices, books, comebacks. What is seen and measured always does; of
 * every other field it is decided here, so that a picture or a note does not have the ticket read and learnt again.
 */
const TEACHES: { readonly [Field in Exclude<keyof Ticket, MeasuredList>]-?: boolean } = {
	number: true,
	openedAt: true,
	closedAt: true,
	model: true,
	serial: true,
	customer: true,
	matters: true,
	worthMinor: true,
	year: true,
	signs: true,
	opinions: true,
	observations: true,
	attempts: true,
	continuity: true,
	faults: true,
	ownFaults: true,
	faultWords: false,
	outcome: true,
	parts: true,
	steps: true,
	dealings: true,
	quotedMinor: true,
	accepted: true,
	paidMinor: true,
	cause: true,
	cameFrom: true,
	comebackOf: true,
	// words, and what is waited for, proved, planned, put back and corrected on the way
	reported: false,
	condition: false,
	accessories: false,
	promisedAt: false,
	promisedChance: false,
	heat: false,
	screws: false,
	photos: false,
	gates: false,
	notes: false,
	running: false,
	struck: false,
	corrections: false,
	reopenings: false,
	assignedTo: false,
	pinned: false,
	waits: false
};
const TEACHING: ReadonlySet<string> = new Set([
	...Object.entries(TEACHES).flatMap(([field, teaches]) => (teaches ? [field] : [])),
	...ALL_MEASUREMENTS.map(({ list }) => list)
]);

/**
 * What a shop learns of a ticket, as a text: while it stays the same, nothing has to be learnt anew. Closed tickets teach all
 * that was seen, measured, done and paid; an open one only how its price was answered.
 * @returns null where it teaches nothing yet
 */
export function taughtBy(ticket: Ticket): string | null {
	const { model, quotedMinor, accepted } = ticket;
	if (ticket.closedAt === null)
		return accepted === null ? null : JSON.stringify([model, quotedMinor, accepted]);
	return JSON.stringify(Object.entries(ticket).filter(([field]) => TEACHING.has(field)));
}
