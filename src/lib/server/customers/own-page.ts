import { randomUUID } from 'node:crypto';
import { pageEnds, stateWords, waitWords } from '$lib/core/messages/own-page';
import { lastOffer, standingOffer } from '$lib/core/tickets/offer-text';
import { warrantyOf } from '$lib/core/tickets/warranty';
import { dateOf, wallClock } from '$lib/core/units/calendar';
import type { Instant } from '$lib/core/units/instant';
import * as words from '$lib/core/words/compiled/messages.js';
import { customerLanguage, type Language } from '$lib/core/words/customer-language';
import { recordAudit } from '../audit/commands';
import { inTransaction, type Database } from '../database/connection';
import { isSealOf } from '../messages/links';
import { shopCatalog } from '../memory/shop-memory';
import { changeTicket } from '../tickets/change-ticket';
import { isSameForm, submittedBefore } from '../tickets/submissions';
import { lotsOf } from '../tickets/first-job';
import { findTicket } from '../tickets/queries';
import { standingOf } from '../tickets/where';

/** What the owner of a device reads of it: where it stands and what is asked. No cost, nobody's name, no passcode. */
export interface OwnPage {
	/** with the locale of what its customer reads */
	shop: { name: string; currency: string; timeZone: string; locale: string };
	language: Language;
	number: string;
	device: string;
	version: number;
	/** the same form sent twice answers once */
	once: string;
	title: string;
	text: string;
	waitsFor: string[];
	readyBy: Instant | null;
	offer: {
		options: { label: string; priceMinor: number; warrantyDays: number | null; risks: string | null }[];
		validUntil: Instant | null;
		depositMinor: number;
	} | null;
	/** what was answered to the last offer, or price */
	answered: { accepted: boolean; label: string | null; priceMinor: number } | null;
	warrantyUntil: Instant | null;
	photos: { hash: string; says: string | null }[];
	/** by day, Monday first, minutes of the day */
	week: readonly (readonly (readonly [from: number, to: number])[])[];
	holidays: string[];
	endsAt: Instant | null;
}

/** The page of a device; null where the link is none, or has ended. */
export async function ownPage(
	db: Database,
	{ number, seal, now }: { number: string; seal: string; now: Instant }
): Promise<OwnPage | null> {
	if (!isSealOf(number, seal)) return null;
	const [catalog, stored] = await Promise.all([shopCatalog(db), findTicket(db, number)]);
	if (!stored) return null;
	const { ticket, version } = stored;
	const { shop } = catalog;
	const endsAt = pageEnds(ticket, shop.pageDays);
	if (endsAt !== null && now > endsAt) return null;
	const ended = await db('tickets').where({ number }).first('page_ended');
	if (ended?.page_ended) return null;
	const { state, waits } = standingOf(ticket, catalog);
	const offer = standingOffer(ticket);
	const last = lastOffer(ticket);
	const unanswered = ticket.closedAt === null && ticket.quotedMinor !== null && ticket.accepted === null;
	const warranty = warrantyOf(ticket, catalog, await lotsOf(db, [ticket]));
	const { language, locale } = customerLanguage(ticket.customer?.language, shop.locale);
	return {
		shop: { name: shop.name, currency: shop.currency, timeZone: shop.timeZone, locale },
		language,
		number,
		device: catalog.models.get(ticket.model)?.label ?? ticket.model,
		version,
		once: randomUUID(),
		...stateWords(state, ticket.outcome, language),
		waitsFor: ticket.closedAt === null ? waits.map((wait) => waitWords(wait.for, language)) : [],
		readyBy: ticket.closedAt === null ? ticket.promisedAt : null,
		offer: unanswered
			? {
					options: offer
						? offer.offered.map(({ label, priceMinor, warrantyDays, risks }) => ({
								label,
								priceMinor,
								warrantyDays: warrantyDays ?? null,
								risks: risks ?? null
							}))
						: [
								{
									label: words.page_the_repair({}, { locale: language }),
									priceMinor: ticket.quotedMinor ?? 0,
									warrantyDays: null,
									risks: null
								}
							],
					validUntil: offer?.validUntil ?? null,
					depositMinor: offer?.depositMinor ?? 0
				}
			: null,
		answered:
			ticket.accepted === null || ticket.quotedMinor === null
				? null
				: {
						accepted: ticket.accepted,
						label: (ticket.accepted && last?.offer.offered[last.answer?.option ?? 0]?.label) || null,
						priceMinor: ticket.quotedMinor
					},
		warrantyUntil: warranty?.workUntil ?? null,
		photos: ticket.photos
			.filter(({ released }) => released)
			.map(({ photo, says }) => ({ hash: photo, says: says ?? null })),
		week: shop.opening.week,
		holidays: [...shop.opening.holidays]
			.filter((day) => day >= dateOf(wallClock(now, shop.timeZone)))
			.slice(0, 6),
		endsAt
	};
}

/** Ends the link to a device's page for good: whoever has it reads nothing any more. @returns false where there is no such device of theirs */
export async function endOwnLink(
	db: Database,
	actor: string,
	now: Instant,
	{ id, number }: { id: number; number: string }
): Promise<boolean> {
	return inTransaction(db, async (trx) => {
		const ended = await trx('tickets').where({ number, customer_id: id }).update({ page_ended: true });
		if (ended === 0) return false;
		await recordAudit(trx, {
			at: now,
			actor,
			subject: 'ticket',
			key: number,
			verb: 'end-link',
			detail: {}
		});
		return true;
	});
}

/** Who answers on the page: the customer, with what the counter may do. */
const CUSTOMER = { by: 'customer', name: 'Customer, on their page', role: 'counter' } as const;

/** The customer's answer to what is offered. @returns what went wrong, in words for them; null where nothing did */
export async function answerOnPage(
	db: Database,
	page: OwnPage,
	now: Instant,
	reply: { once: string; version: number; accepted: boolean; option: number | null }
): Promise<string | null> {
	// a double click: the first of them was taken
	const earlier = await submittedBefore(db, reply.once);
	if (earlier && isSameForm(earlier, 'change', page.number)) return null;
	const locale = page.language;
	if (!page.offer) return words.answer_already({}, { locale });
	const { once, version, accepted, option } = reply;
	const several = page.offer.options.length > 1;
	if (accepted && several && option === null) return words.answer_choose({}, { locale });
	const answer = await changeTicket(db, CUSTOMER, now, page.number, {
		version,
		once,
		change: {
			verb: 'answer',
			accepted,
			how: 'page',
			...(accepted && option !== null && several ? { option } : {}),
			...(accepted ? {} : { why: 'other' as const })
		}
	});
	if (answer.ok) return null;
	if (answer.code === 'stale') return words.answer_changed({}, { locale });
	if (answer.code === 'refused' && page.offer.validUntil !== null && now > page.offer.validUntil) {
		return words.page_offer_expired({}, { locale });
	}
	return words.answer_failed({}, { locale });
}
