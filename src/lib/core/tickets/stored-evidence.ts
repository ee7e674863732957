import { z } from 'zod';
import { trusted } from '../units/codec';
import { measuredLists, ticketFields } from './ticket-record';

const { signs, opinions, observations } = ticketFields;
const { attempts, faults, own_faults, cause } = ticketFields;

/**
 * What a stored ticket says of its device, without the rest of it: the same reader as that of the whole ticket, with fewer
 * fields, for where a shop's whole past is read.
 */
export const evidenceFromRecord = trusted(
	z.strictObject({
		signs,
		opinions,
		observations,
		...measuredLists,
		attempts,
		faults,
		own_faults,
		cause
	})
).read;
