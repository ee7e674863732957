import { nounFor } from '../units/noun';
import type { Instant } from '../units/instant';
import type { Minor } from '../units/money';
import { lastAsked } from './agreed';
import type { DealingOf } from './dealings';
import type { Ticket } from './ticket-record';

/** An offer that may still be answered. */
export type StandingOffer = DealingOf<'offer'>;

/** The offer that a ticket's next answer is to; null where a single price stands, or nothing does. */
export function standingOffer(ticket: Pick<Ticket, 'dealings' | 'accepted'>): StandingOffer | null {
	return ticket.accepted === null ? (lastOffer(ticket)?.offer ?? null) : null;
}

/** The offer that was made last, answered or not, with the way that was chosen. */
export function lastOffer(ticket: Pick<Ticket, 'dealings'>) {
	const { asked: offered, answer } = lastAsked(ticket);
	return offered?.kind === 'offer' ? { offer: offered, answer } : null;
}

interface Writing {
	shop: string;
	money: (minor: Minor) => string;
	date: (at: Instant) => string;
}

/** What is good of one way and what is to be known of it, in sentences. */
export function wayWords(
	{ capMinor, warrantyDays, readyAt, risks }: StandingOffer['offered'][number],
	{ money, date }: Omit<Writing, 'shop'>
): string[] {
	return [
		...(capMinor === undefined ? [] : [`We will not go above ${money(capMinor)} without asking you.`]),
		...(readyAt === undefined ? [] : [`Ready by ${date(readyAt)}.`]),
		...(warrantyDays ? [`Warranty ${warrantyDays} ${nounFor(warrantyDays, 'day')}.`] : []),
		...(risks === undefined ? [] : [risks])
	];
}

/** An offer as a message to its customer. */
export function offerText(
	ticket: Ticket,
	{ offered, validUntil, depositMinor }: StandingOffer,
	writing: Writing
): string {
	const { shop, money, date } = writing;
	const greeting = ticket.customer ? `Dear ${ticket.customer.name},` : 'Good day,';
	const ways = offered.map((way, i) =>
		[
			`${offered.length > 1 ? `${i + 1}. ` : ''}${way.label}: ${money(way.priceMinor)}.`,
			...wayWords(way, writing)
		].join(' ')
	);
	return [
		greeting,
		`for your device (ticket ${ticket.number}) we can offer:`,
		...ways,
		...(depositMinor ? [`We ask for a deposit of ${money(depositMinor)} before we start.`] : []),
		...(validUntil === undefined ? [] : [`These prices are valid until ${date(validUntil)}.`]),
		offered.length > 1
			? 'Please tell us which number you choose, or that you decline.'
			: 'Please tell us yes or no.',
		shop
	].join('\n\n');
}
