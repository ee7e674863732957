import { ROLES } from '../../units/role';
import { AT_WORK, STATES, TO_FETCH } from '../states';
import { z } from 'zod';
import type { Needs } from '../../catalog/needs';
import { codeSchema } from '../../units/code';
import { DAY_MS, formatInstant } from '../../units/instant';
import { taxIn } from '../../units/money';
import { lastAsked } from '../agreed';
import { signatureSchema, type DealingOf } from '../dealings';
import { collectedAt, owedOf } from '../money';
import { refuse, type Changed, type ChangeStamp } from '../refusal';
import { ASKED_BY, DECLINES, PAID_BY, SETTLED_BY } from '../ticket-entries';
import type { Ticket } from '../ticket-record';
import { instantField, priceField, verb, withEntries, type ChangeContext } from './verb';

/** What is offered, answered and paid. */

const operationsField = z.array(codeSchema).max(20);
/** below nothing: given back */
const signedPrice = z.int().min(-9_999_999_999).max(9_999_999_999);
const optionField = z.strictObject({
	label: z.string().trim().min(1).max(200),
	operations: operationsField.optional(),
	priceMinor: priceField,
	capMinor: priceField.optional(),
	warrantyDays: z.int().min(0).max(3650).optional(),
	readyAt: instantField.optional(),
	risks: z.string().trim().min(1).max(500).optional()
});

const referToOperations =
	(field: string) =>
	(operations: readonly string[] = [], need: Needs) =>
		operations.forEach((code) => need.code(field, 'operation', code));

interface Answer {
	accepted: boolean;
	why?: (typeof DECLINES)[number] | undefined;
	option?: number | undefined;
	how?: (typeof ASKED_BY)[number] | undefined;
	signature?: string | undefined;
}

function answer(ticket: Ticket, reply: Answer, stamp: ChangeStamp): Changed {
	const { accepted, why: reason, option } = reply;
	if (ticket.quotedMinor === null) return refuse('accepted', 'comes before a price; quote one first');
	if (accepted && reason) return refuse('why', 'is for a price that is declined; leave it out');
	const { asked } = lastAsked(ticket);
	const offered = asked?.kind === 'offer' ? asked.offered : undefined;
	const validUntil = asked?.validUntil;
	if (!accepted && option !== undefined)
		return refuse('option', 'is of an offer that is accepted; leave it out');
	if (accepted && offered && offered.length > 1 && option === undefined) {
		return refuse('option', `is not said; the offer has ${offered.length} options, say which`);
	}
	const chosen = offered?.[option ?? 0];
	if (accepted && option !== undefined && !chosen) {
		return refuse(
			'option',
			`is ${option}; the last offer has ${offered?.length ?? 0} options, counted from 0`
		);
	}
	if (accepted && validUntil !== undefined && stamp.at > validUntil) {
		return refuse('accepted', `comes after ${formatInstant(validUntil)}, when the price ended; offer anew`);
	}
	const entry = { kind: 'answer' as const, ...definedOnly(reply), accepted, ...stamp };
	const quotedMinor = accepted && chosen ? chosen.priceMinor : ticket.quotedMinor;
	return { ...withEntries(ticket, 'dealings', entry), accepted, quotedMinor };
}

/** Without the fields that say nothing. */
const definedOnly = <Fields extends object>(fields: Fields) =>
	Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined)) as {
		[Key in keyof Fields]: Exclude<Fields[Key], undefined>;
	};

interface Payment {
	amountMinor: number;
	/** not said where a closing does not say it */
	by?: (typeof PAID_BY)[number] | undefined;
	dueAt?: number | undefined;
}

/** Money that comes in, with the tax that is in it at today's rate: a later rate does not change what was paid. */
function paymentEntry(
	{ amountMinor, by: method, dueAt }: Payment,
	{ at, by: author }: ChangeStamp,
	{ catalog: { shop } }: ChangeContext
): DealingOf<'payment'> {
	const tax = shop.tax && taxIn(amountMinor, shop.tax.percent);
	const due = method === 'invoice' && amountMinor > 0 ? (dueAt ?? at + shop.invoiceDays * DAY_MS) : undefined;
	return {
		kind: 'payment',
		paidMinor: amountMinor,
		...definedOnly({ paidBy: method, dueAt: due, taxMinor: tax || undefined }),
		at,
		by: author
	};
}

export function pay(ticket: Ticket, payment: Payment, stamp: ChangeStamp, context: ChangeContext): Changed {
	const paidEarlier = ticket.paidMinor ?? 0;
	const { amountMinor, by: method } = payment;
	if (amountMinor === 0)
		return refuse('amountMinor', 'is 0; say what was paid, or what was given back as less than 0');
	if (paidEarlier + amountMinor < 0) {
		return refuse('amountMinor', `gives back more than the ${(paidEarlier / 100).toFixed(2)} that were paid`);
	}
	if (method === 'invoice' && ticket.customer === null) {
		return refuse('by', 'is invoice, and the ticket names no customer; name who owes it');
	}
	if (method === 'invoice' && amountMinor < 0 && -amountMinor > owedOf(ticket)) {
		return refuse(
			'amountMinor',
			`takes back more than the ${(owedOf(ticket) / 100).toFixed(2)} that are owed`
		);
	}
	return {
		...withEntries(ticket, 'dealings', paymentEntry(payment, stamp, context)),
		paidMinor: paidEarlier + amountMinor
	};
}

export const VERBS_OF_MONEY = {
	quote: verb({
		says: 'quote a price',
		shown: 'when kept',
		moves: { from: AT_WORK, to: ['quoted', 'waiting'], button: 'of a panel' },
		shape: { priceMinor: priceField, operations: operationsField.optional() },
		roles: ROLES,
		refers: ({ operations }, need) => referToOperations('operations')(operations, need),
		apply: (ticket, { priceMinor, operations }, stamp) => ({
			...withEntries(ticket, 'dealings', {
				kind: 'quote',
				quotedMinor: priceMinor,
				...(operations?.length ? { operations } : {}),
				...stamp
			}),
			quotedMinor: priceMinor,
			accepted: null
		})
	}),
	/** Several options compared; until one is chosen the first one's price is what is asked. */
	offer: verb({
		says: 'make an offer',
		shown: 'when kept',
		moves: { from: AT_WORK, to: ['quoted', 'waiting'], button: 'of a panel' },
		shape: {
			options: z.array(optionField).min(1).max(8),
			validUntil: instantField.optional(),
			depositMinor: priceField.optional(),
			how: z.enum(ASKED_BY).optional()
		},
		roles: ROLES,
		refers: ({ options }, need) =>
			options.forEach(({ operations }) => referToOperations('options')(operations, need)),
		apply: (ticket, { options, validUntil, depositMinor, how: channel }, stamp) => {
			if (validUntil !== undefined && validUntil <= stamp.at) {
				return refuse('validUntil', `is ${formatInstant(validUntil)}, which is past; an offer ends later`);
			}
			const dear = Math.max(...options.map(({ priceMinor }) => priceMinor));
			if (depositMinor !== undefined && depositMinor > dear) {
				return refuse('depositMinor', 'is more than any option costs; ask for less');
			}
			const offered = options.map((option) => definedOnly(option));
			const entry = {
				kind: 'offer' as const,
				offered,
				...definedOnly({ validUntil, depositMinor, how: channel }),
				...stamp
			};
			const [first] = options;
			return {
				...withEntries(ticket, 'dealings', entry),
				quotedMinor: first?.priceMinor ?? 0,
				accepted: null
			};
		}
	}),
	/** What was asked holds no more, before it is answered: the price was wrong, or the way is not there any more. */
	'take-back': verb<Record<never, never>>({
		says: 'withdraw an offer',
		shown: 'when kept',
		moves: { from: ['quoted', 'waiting'], to: AT_WORK, button: 'of a panel' },
		shape: {},
		roles: ROLES,
		apply: (ticket, _, stamp) =>
			ticket.accepted !== null || lastAsked(ticket).asked === null
				? refuse('ticket', `${ticket.number} has no price or offer that waits for an answer`)
				: {
						...withEntries(ticket, 'dealings', { kind: 'take-back', ...stamp }),
						quotedMinor: null,
						accepted: null
					}
	}),
	answer: verb({
		says: 'record the answer to a price',
		shown: 'when kept',
		moves: { from: [...AT_WORK, ...TO_FETCH], to: [...AT_WORK, ...TO_FETCH], button: 'of a panel' },
		shape: {
			accepted: z.boolean(),
			why: z.enum(DECLINES).optional(),
			option: z.int().min(0).max(7).optional(),
			how: z.enum(ASKED_BY).optional(),
			signature: signatureSchema.optional()
		},
		roles: ROLES,
		apply: answer
	}),
	pay: verb({
		says: 'record a payment',
		shown: 'when kept',
		moves: { from: [...AT_WORK, ...TO_FETCH], to: [...AT_WORK, ...TO_FETCH], button: 'of a panel' },
		shape: { amountMinor: signedPrice, by: z.enum(PAID_BY), dueAt: instantField.optional() },
		roles: ROLES,
		ofClosed: true,
		apply: pay
	}),
	/** Money for an invoice that was owed. What the job brought stays as it was. */
	settle: verb({
		says: 'settle an invoice',
		shown: 'when kept',
		moves: { from: STATES, to: STATES, button: 'of a panel' },
		shape: { amountMinor: priceField.min(1), by: z.enum(SETTLED_BY) },
		roles: ROLES,
		ofClosed: true,
		apply: (ticket, { amountMinor, by: method }, stamp) => {
			const owed = owedOf(ticket);
			return amountMinor > owed
				? refuse(
						'amountMinor',
						owed === 0
							? 'settles an invoice, and none is owed'
							: `is more than the ${(owed / 100).toFixed(2)} that are owed; take the rest as paid`
					)
				: withEntries(ticket, 'dealings', {
						kind: 'settlement',
						settledMinor: amountMinor,
						paidBy: method,
						...stamp
					});
		}
	}),
	/** The customer has the device back: another moment than its repair and its payment. */
	collect: verb<Record<never, never>>({
		says: 'record the pick-up',
		shown: 'when kept',
		moves: {
			from: TO_FETCH,
			to: ['handed-over'],
			button: [{ states: TO_FETCH, label: 'Hand back', leads: true, body: {} }]
		},
		shape: {},
		roles: ROLES,
		ofClosed: true,
		apply: (ticket, _, stamp) => {
			if (ticket.closedAt === null) {
				return refuse('ticket', `${ticket.number} is open; close it, then hand the device back`);
			}
			return collectedAt(ticket) !== null
				? refuse('ticket', `${ticket.number} was handed back already`)
				: withEntries(ticket, 'dealings', { kind: 'pick-up', ...stamp });
		}
	})
};
