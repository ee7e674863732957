import { gatesInTheWay, type GateState } from '../bench/gates';
import { openRun } from '../bench/procedure-run';
import type { Instant } from '../units/instant';
import { lastAsked } from './agreed';
import { lastDealing } from './dealings';
import { collectedAt, owedOf, paymentsOf } from './money';
import type { Ticket } from './ticket-record';
import type { State } from './states';
import { waitsNow } from './waits';

/** What each is in words, as the answer to "is mine ready?". */
export const STATE_WORDS: Record<State, string> = {
	'taken-in': 'waiting for a technician',
	quoted: 'waits for the customer’s answer',
	declined: 'declined: return it unrepaired, or make a new offer',
	accepted: 'approved, not started',
	'on-bench': 'on a bench',
	waiting: 'waits',
	repaired: 'repaired, final checks open',
	proved: 'checked, not sealed yet',
	sealed: 'sealed, last checks',
	ready: 'ready, customer not told yet',
	told: 'ready, customer told',
	paid: 'ready and paid',
	'handed-over': 'picked up',
	'followed-up': 'picked up, follow-up done'
};

type LivingTicket = Pick<
	Ticket,
	| 'closedAt'
	| 'openedAt'
	| 'dealings'
	| 'waits'
	| 'quotedMinor'
	| 'accepted'
	| 'paidMinor'
	| 'attempts'
	| 'assignedTo'
	| 'running'
	| 'steps'
>;

export interface Life {
	state: State;
	/** since when, as far as the record says */
	since: Instant | null;
}

/**
 * The state of a ticket. A closed one is ready, told, paid, handed over, followed up: the last of them that is so. An open one waits,
 * or waits for an answer, or was declined, before anything else; then the furthest that its work has come counts.
 */
export function lifeOf(ticket: LivingTicket, gates: readonly GateState[]): Life {
	return ticket.closedAt !== null ? closedLife(ticket, ticket.closedAt) : openLife(ticket, gates);
}

/** The last time from a moment on that somebody said how the device does. */
export const saidHowItDoes = (ticket: Pick<Ticket, 'dealings'>, from: Instant) =>
	lastDealing(
		ticket,
		'follow-up',
		({ at, followedUp }) => followedUp !== 'not-reached' && at !== undefined && at >= from
	);

function closedLife(ticket: LivingTicket, closedAt: Instant): Life {
	const back = collectedAt(ticket);
	const answered = saidHowItDoes(ticket, closedAt);
	if (back !== null) {
		return answered
			? { state: 'followed-up', since: answered.at ?? null }
			: { state: 'handed-over', since: back };
	}
	const toldAt = lastDealing(ticket, 'told', ({ at }) => at !== undefined && at >= closedAt);
	const paid = paymentsOf(ticket).findLast(({ amountMinor }) => amountMinor > 0);
	if ((ticket.paidMinor ?? 0) > 0 && owedOf(ticket) === 0) {
		return { state: 'paid', since: paid?.at ?? closedAt };
	}
	return toldAt ? { state: 'told', since: toldAt.at ?? null } : { state: 'ready', since: closedAt };
}

function openLife(ticket: LivingTicket, gates: readonly GateState[]): Life {
	const { attempts, quotedMinor, accepted } = ticket;
	const [wait] = waitsNow(ticket);
	if (wait) return { state: 'waiting', since: wait.at ?? null };
	if (quotedMinor !== null && accepted === null) {
		return { state: 'quoted', since: lastAsked(ticket).asked?.at ?? null };
	}
	if (accepted === false) {
		return { state: 'declined', since: lastDealing(ticket, 'answer')?.at ?? null };
	}
	const sealed = sealedAt(ticket, gates);
	if (sealed !== null) return { state: 'sealed', since: sealed };
	const last = attempts.findLast(({ part }) => !part);
	if (last?.resolved) {
		const beforeSealing = gates.filter(({ when: phase }) => phase === 'before-sealing');
		const proved = beforeSealing.length > 0 && gatesInTheWay(beforeSealing).length === 0;
		return { state: proved ? 'proved' : 'repaired', since: last.at ?? null };
	}
	const handed = lastDealing(ticket, 'hand-over');
	if (ticket.running.length > 0 || openRun(ticket.steps) || ticket.assignedTo !== null) {
		return { state: 'on-bench', since: handed?.at ?? null };
	}
	if (accepted === true) {
		return {
			state: 'accepted',
			since: lastDealing(ticket, 'answer', (dealing) => dealing.accepted)?.at ?? null
		};
	}
	return { state: 'taken-in', since: ticket.openedAt };
}

/** When the device was closed up; null where it is open, or was opened again by work or by a check that failed. */
function sealedAt(
	ticket: Pick<Ticket, 'dealings' | 'attempts'>,
	gates: readonly GateState[]
): Instant | null {
	const at = lastDealing(ticket, 'seal')?.at ?? null;
	if (at === null) return null;
	const hasWorked = ticket.attempts.some((attempt) => (attempt.at ?? 0) > at);
	const failed = gates.some(({ when: phase, passed }) => phase === 'before-sealing' && passed !== true);
	return hasWorked || failed ? null : at;
}
