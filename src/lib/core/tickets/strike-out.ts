import { refuse, type Changed, type ChangeStamp } from './refusal';
import type { ChangeOf } from './ticket-change';
import {
	STRIKABLE,
	ticketFromRecord,
	ticketToRecord,
	withAllLists,
	type StrikableList,
	type Struck,
	type Ticket,
	type TicketRecord
} from './ticket-record';

/** Takes a mistaken entry out of what counts. It stays on the ticket, struck out, and can be put back. */
export function strikeOut(
	ticket: Ticket,
	{ list, index }: ChangeOf<'withdraw'>,
	stamp: ChangeStamp
): Changed {
	const items: readonly unknown[] = ticket[list];
	if (index >= items.length) return refuse('index', `is ${index}; there are ${items.length} entries`);
	const written = ticketToRecord(ticket)[list] as Record<string, unknown>[];
	const entry = JSON.parse(JSON.stringify(written[index])) as Record<string, unknown>;
	return {
		...ticket,
		[list]: items.filter((_, i) => i !== index),
		struck: [...ticket.struck, { list, index, entry, ...stamp }]
	};
}

/** Puts an entry back where it stood. What it names may have left the catalog meanwhile: the engine leaves that out. */
export function putBack(ticket: Ticket, { index }: ChangeOf<'put-back'>, stamp: ChangeStamp): Changed {
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
export function entryOf<List extends StrikableList>({
	list,
	entry
}: Struck & { list: List }): Ticket[List][number] {
	const record = withAllLists({
		record: 'ticket',
		number: 'struck',
		opened_at: '2000-01-01T00:00:00Z',
		model: 'struck',
		signs: {},
		[list]: [STRIKABLE[list].parse(entry)]
	} as Partial<TicketRecord>);
	return ticketFromRecord(record)[list][0] as Ticket[List][number];
}
