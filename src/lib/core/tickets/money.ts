import type { Instant } from '../units/instant';
import type { Minor } from '../units/money';
import { lastAsked } from './agreed';
import type { PAID_BY } from './ticket-entries';
import { dealingsOf, lastDealing, type Dealing } from './dealings';
import type { Ticket } from './ticket-record';

/** What was paid of a ticket, when and how. */

export interface Payment {
	at: Instant;
	/** below nothing where it was given back */
	amountMinor: Minor;
	taxMinor: Minor;
	/** null where nothing says how */
	by: (typeof PAID_BY)[number] | null;
	/** settles an invoice: money, but nothing more that the job brings */
	settles: boolean;
}

type PaidTicket = Pick<Ticket, 'dealings' | 'paidMinor' | 'openedAt' | 'closedAt'>;

/**
 * Payments in the order in which they were made. What a ticket of elsewhere says was paid, without saying when or how, is one of
 * them: at its closing.
 */
export function paymentsOf({ dealings, paidMinor, openedAt, closedAt }: PaidTicket): Payment[] {
	const last = closedAt ?? openedAt;
	const payments = dealings.flatMap((dealing) => paymentOf(dealing, last) ?? []);
	const noted = payments.reduce((sum, { amountMinor, settles }) => sum + (settles ? 0 : amountMinor), 0);
	const rest = (paidMinor ?? 0) - noted;
	if (rest === 0) return payments;
	return [...payments, { at: last, amountMinor: rest, taxMinor: 0, by: null, settles: false }];
}

function paymentOf(dealing: Dealing, otherwise: Instant): Payment | null {
	const common = { at: dealing.at ?? otherwise };
	switch (dealing.kind) {
		case 'payment': {
			const { paidMinor: amountMinor, taxMinor = 0, paidBy = null } = dealing;
			return { ...common, amountMinor, taxMinor, by: paidBy, settles: false };
		}
		case 'settlement':
			return {
				...common,
				amountMinor: dealing.settledMinor,
				taxMinor: 0,
				by: dealing.paidBy ?? null,
				settles: true
			};
		default:
			return null;
	}
}

/** Tax that is in what was paid. */
export const taxOf = (ticket: PaidTicket): Minor =>
	paymentsOf(ticket).reduce((sum, { taxMinor }) => sum + taxMinor, 0);

/** What is still owed on invoices; never below nothing. */
export function owedOf(ticket: Pick<Ticket, 'dealings'>): Minor {
	const billed = dealingsOf(ticket, 'payment').filter(({ paidBy }) => paidBy === 'invoice');
	const settled = dealingsOf(ticket, 'settlement').reduce((sum, { settledMinor }) => sum + settledMinor, 0);
	return Math.max(0, billed.reduce((sum, { paidMinor }) => sum + paidMinor, 0) - settled);
}

/** When the first invoice that may still be owed is due; null where nothing is owed. */
export function dueOf(ticket: Pick<Ticket, 'dealings'>): Instant | null {
	if (owedOf(ticket) === 0) return null;
	const dues = dealingsOf(ticket, 'payment').flatMap(({ dueAt }) => dueAt ?? []);
	return dues.length === 0 ? null : Math.min(...dues);
}

/** When the customer had the device back, for a closed ticket; null where it is still here. */
export function collectedAt(ticket: Pick<Ticket, 'dealings' | 'closedAt'>): Instant | null {
	const at = lastDealing(ticket, 'pick-up')?.at ?? null;
	const { closedAt } = ticket;
	return at !== null && closedAt !== null && at >= closedAt ? at : null;
}

/** What is asked for before the work begins and not paid yet; nothing once the job is declined or closed. */
export function depositDue(ticket: Ticket): Minor {
	if (ticket.accepted === false || ticket.closedAt !== null) return 0;
	return Math.max(0, (lastAsked(ticket).asked?.depositMinor ?? 0) - (ticket.paidMinor ?? 0));
}
