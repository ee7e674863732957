import type { Instant } from '../units/instant';
import type { Minor } from '../units/money';
import * as words from '../words/compiled/messages.js';
import type { Language } from '../words/customer-language';
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
	/** what the customer reads */
	language: Language;
}

/** What is good of one way and what is to be known of it, in sentences. */
export function wayWords(
	{ capMinor, warrantyDays, readyAt, risks }: StandingOffer['offered'][number],
	{ money, date, language }: Omit<Writing, 'shop'>
): string[] {
	const locale = { locale: language };
	return [
		...(capMinor === undefined ? [] : [words.offer_cap({ amount: money(capMinor) }, locale)]),
		...(readyAt === undefined ? [] : [words.offer_ready_by({ date: date(readyAt) }, locale)]),
		...(warrantyDays ? [words.offer_warranty({ days: warrantyDays }, locale)] : []),
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
	const locale = { locale: writing.language };
	const greeting = ticket.customer
		? words.offer_greeting({ name: ticket.customer.name }, locale)
		: words.offer_greeting_nobody({}, locale);
	const ways = offered.map((way, i) =>
		[
			`${offered.length > 1 ? `${i + 1}. ` : ''}${way.label}: ${money(way.priceMinor)}.`,
			...wayWords(way, writing)
		].join(' ')
	);
	return [
		greeting,
		words.offer_intro({ number: ticket.number }, locale),
		...ways,
		...(depositMinor ? [words.offer_deposit({ amount: money(depositMinor) }, locale)] : []),
		...(validUntil === undefined ? [] : [words.offer_valid_until({ date: date(validUntil) }, locale)]),
		offered.length > 1 ? words.offer_reply_number({}, locale) : words.offer_reply({}, locale),
		shop
	].join('\n\n');
}
