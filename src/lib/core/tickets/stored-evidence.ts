import { z } from 'zod';
import { trusted } from '../units/codec';
import { ticketFields } from './ticket-record';

const { signs, opinions, inspection, observations, meter, battery, readings, path } = ticketFields;
const { attempts, counts, faults, own_faults, cause } = ticketFields;

/**
 * What a stored ticket says of its device, without the rest of it: the same reader as that of the whole ticket, with fewer
 * fields, for where a shop's whole past is read.
 */
export const evidenceFromRecord = trusted(
	z.strictObject({
		signs,
		opinions,
		inspection,
		observations,
		meter,
		battery,
		readings,
		path,
		attempts,
		counts,
		faults,
		own_faults,
		cause
	})
).read;
