import { BENCH_ROLES, ROLES } from '../../units/role';
import { AT_WORK, TO_FETCH } from '../states';
import { z } from 'zod';
import { gatesInTheWay, gateStates } from '../../bench/gates';
import { codeSchema } from '../../units/code';
import { EARLIEST_INSTANT, LATEST_INSTANT } from '../../units/instant';
import { isRefusal, refuse, type Changed, type ChangeStamp } from '../refusal';
import { OUTCOMES, PAID_BY, type Outcome } from '../ticket-entries';
import type { Ticket } from '../ticket-record';
import { pay } from './money';
import { priceField, verb, type ChangeContext } from './verb';

/** How a ticket ends, and how that is taken back. */

interface Closing {
	outcome: Outcome;
	faults: string[];
	ownFaults: string[];
	/** what it was, where the catalog has no code for it */
	faultWords?: string | undefined;
	/** all that was paid, what was paid before with it */
	paidMinor: number;
	/** how the rest of it is paid now */
	paidBy?: (typeof PAID_BY)[number] | undefined;
	dueAt?: number | undefined;
}

function close(ticket: Ticket, change: Closing, stamp: ChangeStamp, context: ChangeContext): Changed {
	const { outcome, faults, ownFaults, faultWords, paidMinor, paidBy, dueAt } = change;
	const { catalog, now } = context;
	const running = ticket.running[0];
	if (running) return refuse('running', `${running.technician} has a timer running; stop it first`);
	if (new Set(faults).size !== faults.length) return refuse('faults', 'names a fault twice');
	const odd = ownFaults.find((fault) => !faults.includes(fault));
	if (odd) return refuse('ownFaults', `names ${odd}, which is not among what it was`);
	if (faultWords !== undefined && !faults.some((fault) => catalog.faults.get(fault)?.catch_all))
		return refuse('faultWords', 'are for another fault; choose that one, or leave the words out');
	if (outcome === 'fixed') {
		const open = gatesInTheWay(gateStates(ticket, catalog));
		if (open.length > 0) {
			const names = open.map(({ label }) => label).join('; ');
			return refuse('gates', `not passed since the last repair: ${names}`);
		}
		if (faults.length === 0) {
			return refuse('faults', 'names none; say what was wrong, or close as no fault found');
		}
	}
	if (outcome === 'no-fault-found' && faults.length > 0) {
		return refuse('faults', 'names a fault; close as fixed or not fixed, or clear the list');
	}
	const confirmed = ['declined', 'not-worth-it'].includes(outcome) && faults.length === 0 ? null : faults;
	const amountMinor = paidMinor - (ticket.paidMinor ?? 0);
	const paid = amountMinor === 0 ? ticket : pay(ticket, { amountMinor, by: paidBy, dueAt }, stamp, context);
	if (isRefusal(paid)) return refuse(paid.field === 'by' ? 'paidBy' : 'paidMinor', paid.message);
	const { ownFaults: _, faultWords: __, ...unpaid } = paid;
	const made = ownFaults.length > 0 ? { ownFaults } : {};
	const words = faultWords === undefined ? {} : { faultWords };
	return { ...unpaid, outcome, faults: confirmed, ...made, ...words, paidMinor, closedAt: now };
}

/** What was confirmed and paid stays as it was said; closing anew may say otherwise. */
function reopen(ticket: Ticket, stamp: ChangeStamp): Changed {
	const { closedAt, outcome, attempts } = ticket;
	if (closedAt === null || outcome === null) return refuse('ticket', `${ticket.number} is open already`);
	const reopening = { closedAt, outcome, attempts: attempts.length, ...stamp };
	return { ...ticket, closedAt: null, outcome: null, reopenings: [...ticket.reopenings, reopening] };
}

/** Takes the last reopening back: closed as it was. Not after more work, which the old closing never proved. */
function closeAgain(ticket: Ticket, { at, by: author }: ChangeStamp): Changed {
	const last = ticket.reopenings.at(-1);
	if (!last || last.undoneAt !== undefined) {
		return refuse('ticket', `${ticket.number} was not reopened; close it`);
	}
	if (ticket.attempts.length !== last.attempts || ticket.running.length > 0) {
		return refuse('ticket', `${ticket.number} was worked on since it was reopened; close it anew`);
	}
	const { closedAt, outcome } = last;
	const reopenings = [...ticket.reopenings.slice(0, -1), { ...last, undoneAt: at, undoneBy: author }];
	return { ...ticket, closedAt, outcome, reopenings };
}

/** a change that says no more than its verb */
type Nothing = Record<never, never>;
const codes = z.array(codeSchema).max(20);

export const VERBS_OF_CLOSING = {
	close: verb({
		says: 'close the ticket',
		shown: 'when kept',
		moves: { from: AT_WORK, to: TO_FETCH, button: 'of a panel' },
		shape: {
			outcome: z.enum(OUTCOMES),
			faults: codes,
			ownFaults: codes.default([]),
			faultWords: z.string().trim().min(1).max(500).optional(),
			paidMinor: priceField,
			paidBy: z.enum(PAID_BY).optional(),
			dueAt: z.int().min(EARLIEST_INSTANT).max(LATEST_INSTANT).optional()
		},
		roles: BENCH_ROLES,
		// a customer who declines is heard at the counter
		rolesWhere: { words: 'close as declined', when: ({ outcome }) => outcome === 'declined', roles: ROLES },
		refers: ({ faults }, need) => faults.forEach((fault) => need.code('faults', 'fault', fault)),
		apply: close,
		effects: ['known good']
	}),
	reopen: verb<Nothing>({
		says: 'reopen the ticket',
		shown: 'when kept',
		moves: { from: [...TO_FETCH, 'handed-over', 'followed-up'], to: AT_WORK, button: 'of a panel' },
		shape: {},
		roles: BENCH_ROLES,
		ofClosed: true,
		apply: (ticket, _, stamp) => reopen(ticket, stamp),
		undoes: ['known good']
	}),
	'close-again': verb<Nothing>({
		says: 'undo a reopening',
		shown: 'when kept',
		moves: { from: AT_WORK, to: [...TO_FETCH, 'handed-over', 'followed-up'], button: 'of a panel' },
		shape: {},
		roles: BENCH_ROLES,
		apply: (ticket, _, stamp) => closeAgain(ticket, stamp),
		effects: ['known good']
	})
};
