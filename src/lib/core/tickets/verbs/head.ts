import { ROLES } from '../../units/role';
import { AT_WORK } from '../states';
import { z } from 'zod';
import { codeSchema, ticketNumberSchema } from '../../units/code';
import { correct, correctedSign, HEAD_FIELDS } from '../corrections';
import { refuse } from '../refusal';
import { putBack, strikeOut } from '../strike-out';
import { cameFromRecord, OPINIONS_FROM, STRIKABLE_LISTS } from '../ticket-entries';
import { cameFromRefers } from '../ticket-refers';
import { indexField, textField, verb, withEntries } from './verb';

/** What a ticket says of the device and its customer, and what is taken out and put back. */

export const VERBS_OF_THE_HEAD = {
	correct: verb({
		says: 'correct the intake details',
		shown: 'when kept',
		moves: { from: AT_WORK, to: AT_WORK, button: 'of a panel' },
		shape: HEAD_FIELDS,
		roles: ROLES,
		refers: ({ model }, need) => need.code('model', 'model', model),
		apply: (ticket, change, stamp, { catalog }) => correct(ticket, change, stamp, catalog)
	}),
	sign: verb({
		says: 'record a symptom',
		shown: 'at once',
		moves: null,
		shape: { sign: codeSchema, present: z.boolean().nullable() },
		roles: ROLES,
		refers: ({ sign }, need) => need.code('sign', 'sign', sign),
		apply: correctedSign
	}),
	/** The first one counts: what is said after more was seen is another thing. It can be struck out, not written over. */
	opinion: verb({
		says: 'record a claim or first guess',
		shown: 'when kept',
		moves: null,
		shape: { from: z.enum(OPINIONS_FROM), fault: codeSchema },
		roles: ROLES,
		makes: 'opinions',
		refers: ({ fault }, need) => need.code('fault', 'fault', fault),
		apply: (ticket, { from, fault }, stamp) => {
			const isClaimed = ticket.opinions.some(
				(opinion) => opinion.from === from && (from === 'customer' || opinion.by === stamp.by)
			);
			const possessive = from === 'customer' ? 'the customer’s claim' : 'your first guess';
			return isClaimed
				? refuse('fault', `${possessive} is noted already; strike it out to say something else`)
				: withEntries(ticket, 'opinions', { from, fault, ...stamp });
		}
	}),
	note: verb({
		says: 'write a note',
		shown: 'at once',
		moves: null,
		shape: { text: textField.min(1) },
		roles: ROLES,
		makes: 'notes',
		ofClosed: true,
		apply: (ticket, { text }, stamp) => withEntries(ticket, 'notes', { text, ...stamp })
	}),
	comeback: verb({
		says: 'link as a comeback',
		shown: 'when kept',
		moves: null,
		shape: { of: ticketNumberSchema.nullable() },
		roles: ROLES,
		apply(ticket, { of: origin }) {
			if (origin === ticket.number) return refuse('of', 'names the ticket itself');
			const { cause, cameFrom, ...plainTicket } = ticket;
			// what did not come back has no cause; of another job it came from elsewhere
			const kept = origin !== null && cause !== undefined ? { cause } : {};
			const from = origin !== null && origin === ticket.comebackOf && cameFrom ? { cameFrom } : {};
			return { ...plainTicket, ...kept, ...from, comebackOf: origin };
		}
	}),
	/** Why it came back, once that was found; null takes it back. */
	cause: verb({
		says: 'record the cause of a comeback',
		shown: 'when kept',
		moves: null,
		shape: { cause: codeSchema.nullable(), from: cameFromRecord.optional() },
		roles: ROLES,
		ofClosed: true,
		refers({ cause, from }, need) {
			need.code('cause', 'cause', cause);
			// lots lie on the shelf, which the server looks into
			if (from) cameFromRefers({ ...from, lot: undefined }, need, 'from');
		},
		apply(ticket, { cause: found, from }) {
			const { cause: _, cameFrom: __, ...plainTicket } = ticket;
			if (found === null) return plainTicket;
			if (ticket.comebackOf === null) {
				return refuse('cause', `is ${found}, but ${ticket.number} comes back from no ticket; link it first`);
			}
			const origin = from && Object.keys(from).length > 0 ? { cameFrom: from } : {};
			return { ...plainTicket, cause: found, ...origin };
		}
	}),
	withdraw: verb({
		says: 'strike out an entry',
		shown: 'when kept',
		moves: { from: AT_WORK, to: AT_WORK, button: 'of a panel' },
		shape: { list: z.enum(STRIKABLE_LISTS), index: indexField },
		roles: ROLES,
		apply: strikeOut,
		undoes: ['provisional readings']
	}),
	'put-back': verb({
		says: 'restore an entry',
		shown: 'when kept',
		moves: { from: AT_WORK, to: AT_WORK, button: 'of a panel' },
		shape: { index: indexField },
		roles: ROLES,
		apply: putBack,
		effects: ['provisional readings']
	})
};
