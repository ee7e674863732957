import { z } from 'zod';
import { trusted } from '../units/codec';
import { ticketFields, type Ticket } from './ticket-record';

/** The operations that the last price was for; none where it named none. */
export const agreedOperations = ({ dealings }: Pick<Ticket, 'dealings'>): readonly string[] =>
	dealings.findLast(({ quotedMinor }) => quotedMinor !== undefined)?.operations ?? [];

const { faults, parts, dealings } = ticketFields;
/** What a stored ticket says of the parts that it still needs: the same reader as that of the whole ticket, with fewer fields. */
export const agreedFromRecord = trusted(z.strictObject({ faults, parts, dealings })).read;
