import type { z } from 'zod';
import { refuse, type Changed, type ChangeStamp } from './refusal';
import { trusted } from '../units/codec';
import { STRIKABLE, type StrikableList } from './ticket-entries';
import type { Struck, Ticket } from './ticket-record';

/** Takes a mistaken entry out of what counts. It stays on the ticket, struck out, and can be put back. */
export function strikeOut(
	ticket: Ticket,
	{ list, index }: { list: StrikableList; index: number },
	stamp: ChangeStamp
): Changed {
	const items: readonly unknown[] = ticket[list];
	if (index >= items.length) return refuse('index', `is ${index}; there are ${items.length} entries`);
	const entry = trusted(STRIKABLE[list] as z.ZodType).write(items[index]) as Record<string, unknown>;
	return {
		...ticket,
		[list]: items.filter((_, i) => i !== index),
		struck: [...ticket.struck, { list, index, entry, ...stamp }]
	};
}

/** Puts an entry back where it stood. What it names may have left the catalog meanwhile: the engine leaves that out. */
export function putBack(ticket: Ticket, { index }: { index: number }, stamp: ChangeStamp): Changed {
	const struck = ticket.struck[index];
	if (!struck) return refuse('index', `is ${index}; there are ${ticket.struck.length} entries struck out`);
	const items: readonly unknown[] = ticket[struck.list];
	const at = Math.min(struck.index, items.length);
	return {
		...ticket,
		[struck.list]: [...items.slice(0, at), entryOf(struck), ...items.slice(at)],
		struck: ticket.struck.filter((_, i) => i !== index),
		corrections: [
			...ticket.corrections,
			{ field: `struck out of ${struck.list}`, from: 'struck out', to: 'put back', ...stamp }
		]
	};
}

/** A struck entry as the program thinks of it. */
export const entryOf = <List extends StrikableList>({ list, entry }: Struck & { list: List }) =>
	trusted(STRIKABLE[list] as z.ZodType).read(entry) as Ticket[List][number];
