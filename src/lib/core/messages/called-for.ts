import type { MessageKind } from '../catalog/kinds-of-returns';
import { lastAsked } from '../tickets/agreed';
import { collectedAt } from '../tickets/money';
import type { Ticket } from '../tickets/ticket-record';
import { DAY_MS, type Instant } from '../units/instant';

/** A message that a ticket calls for; one of the same mark is sent once. */
export interface CalledFor {
	about: MessageKind;
	mark: string;
}

/** What a change of a ticket gives its customer to know: nothing that was so before. */
export function calledFor(previous: Ticket | null, current: Ticket): CalledFor[] {
	if (previous === null) return [{ about: 'taken-in', mark: '' }];
	const messages: CalledFor[] = [];
	const offered = lastAsked(current).asked;
	const place = offered ? current.dealings.indexOf(offered) : -1;
	if (current.accepted === null && place >= previous.dealings.length) {
		messages.push({ about: 'quote', mark: String(place) });
	}
	const waits = openPartWait(current);
	if (waits >= 0 && openPartWait(previous) < 0)
		messages.push({ about: 'waits-for-part', mark: String(waits) });
	const closed = current.closedAt !== null && previous.closedAt === null;
	if (closed && collectedAt(current) === null)
		messages.push({ about: 'ready', mark: String(current.closedAt) });
	return messages;
}

const openPartWait = ({ waits }: Ticket) =>
	waits.findIndex((wait) => wait.for === 'part' && wait.endedAt === undefined);

/** So many days before a warranty ends its customer hears of it. A choice. */
const BEFORE_END_DAYS = 7;

/** What the day gives the customer of a handed-over ticket to know. */
export function calledForToday(
	ticket: Ticket,
	{
		followUpAt,
		warrantyUntil,
		now
	}: { followUpAt: Instant | null; warrantyUntil: Instant | null; now: Instant }
): CalledFor[] {
	const from = collectedAt(ticket);
	if (from === null) return [];
	const messages: CalledFor[] = [];
	if (followUpAt !== null && followUpAt <= now) messages.push({ about: 'how-is-it', mark: String(from) });
	const ends = warrantyUntil === null ? null : warrantyUntil - BEFORE_END_DAYS * DAY_MS;
	// a warranty of a few days is not worth a word of its own
	if (
		warrantyUntil !== null &&
		ends !== null &&
		ends > from + BEFORE_END_DAYS * DAY_MS &&
		ends <= now &&
		now < warrantyUntil
	) {
		messages.push({ about: 'warranty-ends', mark: String(warrantyUntil) });
	}
	return messages;
}

/** Pauses between tries, growing: a minute, five, half an hour, three hours, half a day; then it is given up and shown. */
const PAUSES_MINUTES = [1, 5, 30, 180, 720] as const;
/** When a message that failed so often is tried again; null: not any more. */
export const nextTry = (tries: number, now: Instant): Instant | null => {
	const minutes = PAUSES_MINUTES[tries - 1];
	return minutes === undefined ? null : now + minutes * 60_000;
};
