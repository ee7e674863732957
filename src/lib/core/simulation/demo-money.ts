import type { Catalog, Model } from '../catalog/catalog';
import { FAULT_TRUTHS } from './demo-faults';
import { DAY_MS, HOUR_MS, type Instant } from '../units/instant';
import { drawIndex, drawNormal, type Random } from '../units/random';
import type { Dealing } from '../tickets/dealings';
import type { Ticket } from '../tickets/ticket-record';

/** How the demo shop is paid: private people when they fetch their device, trade customers on an invoice. Invented. */

const PRIVATE = ['cash', 'card', 'transfer'] as const;
const INVOICE_DAYS = 14;

/** Payments, invoices that were settled or not yet, and when the customer had the device back. */
export function payDemo(random: Random, ticket: Ticket, endsAt: Instant): void {
	const { closedAt, paidMinor, customer } = ticket;
	if (closedAt === null) return;
	const fetched = closedAt + Math.round(random() ** 2 * 60) * HOUR_MS;
	const trade = customer?.kind === 'trade';
	const source = PRIVATE[drawIndex(random, [0.34, 0.56, 0.1])] as (typeof PRIVATE)[number];
	const settledAfter = Math.max(2, Math.round(12 + 8 * drawNormal(random)));
	if (paidMinor) {
		ticket.dealings.push(
			trade
				? {
						kind: 'payment',
						paidMinor,
						paidBy: 'invoice',
						dueAt: closedAt + INVOICE_DAYS * DAY_MS,
						at: closedAt,
						by: 'pia'
					}
				: { kind: 'payment', paidMinor, paidBy: source, at: closedAt, by: 'pia' }
		);
	}
	const settledAt = closedAt + settledAfter * DAY_MS;
	const later: Dealing[] = [];
	if (fetched < endsAt) later.push({ kind: 'pick-up', at: fetched, by: 'pia' });
	if (trade && paidMinor && settledAt < endsAt) {
		later.push({ kind: 'settlement', settledMinor: paidMinor, paidBy: 'transfer', at: settledAt, by: 'pia' });
	}
	ticket.dealings.push(...later.sort((a, b) => (a.at ?? 0) - (b.at ?? 0)));
}

/** A price, and what the customer says of it. */
export function quoteDemo(
	{ random, catalog }: { random: Random; catalog: Catalog },
	ticket: Ticket,
	faults: string[],
	model: Model
): void {
	if (ticket.comebackOf) return;
	const operation = FAULT_TRUTHS[faults[0] ?? '']?.operation;
	const minutes = catalog.operations.get(operation ?? '')?.minutes ?? 20;
	const price = Math.round(25 + minutes * 1.15 + 8 * drawNormal(random));
	ticket.quotedMinor = Math.max(15, price) * 100;
	const dear = ticket.quotedMinor / (model.valueMinor ?? 15_000);
	// most pay up to half of what the device is worth; hardly anybody all of it
	ticket.accepted = random() < 0.96 / (1 + Math.exp(7 * (dear - 0.8)));
	const at = ticket.openedAt;
	const agreed = operation ? { operations: [operation] } : {};
	ticket.dealings.push({ kind: 'quote', quotedMinor: ticket.quotedMinor, ...agreed, at });
	ticket.dealings.push({
		kind: 'answer',
		accepted: ticket.accepted,
		...(ticket.accepted ? {} : { why: dear > 0.5 ? ('buys-new' as const) : ('too-dear' as const) }),
		at
	});
}

/** Pads that are torn: most often one or two, now and then a whole row. */
export const tornPads = (random: Random): number =>
	random() < 0.12 ? 8 + Math.floor(13 * random()) : 1 + Math.floor(-Math.log(1 - random()) * 1.6);
