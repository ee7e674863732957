import { ROLES, type Role } from '../units/role';
import type { TicketChange, Verb } from './ticket-change';
import type { StrikableList, Ticket } from './ticket-record';

const ALL = ROLES;
const BENCH = ['manager', 'technician'] as const;

/**
 * Who may make which change of a ticket. The counter takes in, looks, plugs in, prices, answers and hands over;
 * what is measured inside, repaired, proved and closed is the bench's. Closing is told apart by its outcome:
 * a customer who declines is heard at the counter.
 */
export const VERB_ROLES: Readonly<
	Record<Exclude<Verb, 'close'> | 'close' | 'close as declined', readonly Role[]>
> = {
	correct: ALL,
	sign: ALL,
	opinion: ALL,
	look: ALL,
	'plug-in': ALL,
	battery: ALL,
	'read-pins': BENCH,
	'keep-provisional': BENCH,
	'probe-node': BENCH,
	'keep-trace': BENCH,
	continuity: BENCH,
	soak: BENCH,
	observe: BENCH,
	quote: ALL,
	answer: ALL,
	'start-timer': BENCH,
	'cancel-timer': BENCH,
	'stop-timer': BENCH,
	attempt: BENCH,
	'use-part': BENCH,
	gate: BENCH,
	note: ALL,
	'hand-over': ALL,
	wait: ALL,
	'end-wait': ALL,
	comeback: ALL,
	withdraw: ALL,
	'put-back': ALL,
	'close as declined': ALL,
	close: BENCH,
	reopen: BENCH,
	'close-again': BENCH
};

/** The verb that makes an entry of a list: who may make it may strike it out, and nobody else. */
const MADE_BY: Readonly<Record<StrikableList, Verb>> = {
	opinions: 'opinion',
	inspection: 'look',
	observations: 'observe',
	meter: 'plug-in',
	battery: 'battery',
	readings: 'read-pins',
	path: 'probe-node',
	traces: 'keep-trace',
	attempts: 'attempt',
	continuity: 'continuity',
	soak: 'soak',
	parts: 'use-part',
	notes: 'note'
};

export const mayChange = (role: Role, verb: keyof typeof VERB_ROLES): boolean =>
	VERB_ROLES[verb].includes(role);
export const mayStrike = (role: Role, list: StrikableList): boolean =>
	mayChange(role, 'withdraw') && mayChange(role, MADE_BY[list]);

/** Who may make this very change of this ticket. */
export function mayMake(role: Role, change: TicketChange, ticket: Pick<Ticket, 'struck'>): boolean {
	switch (change.verb) {
		case 'close':
			return mayChange(role, change.outcome === 'declined' ? 'close as declined' : 'close');
		case 'withdraw':
			return mayStrike(role, change.list);
		case 'put-back': {
			const struck = ticket.struck[change.index];
			return struck === undefined ? mayChange(role, 'put-back') : mayStrike(role, struck.list);
		}
		default:
			return mayChange(role, change.verb);
	}
}

/** A refused change in words. */
export const notYours = (role: Role, verb: Verb): string =>
	`${verb.replaceAll('-', ' ')} is not for the ${role}; ask ${VERB_ROLES[verb].filter((other) => other !== role).join(' or ')}`;
