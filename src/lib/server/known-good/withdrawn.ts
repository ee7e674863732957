import { judgeReading, type Verdict } from '$lib/core/readings/verdict';
import type { ReferenceRecord } from '$lib/core/readings/reference';
import { ticketFromRecord } from '$lib/core/tickets/ticket-record';
import type { Database } from '../database/connection';
import { asJson } from '../database/json';
import type { ShopMemory } from '../memory/shop-memory';

export interface LeanedOn {
	reference: ReferenceRecord;
	/** verdicts on the same contact and mode of the model's tickets, newest first */
	verdicts: {
		number: string;
		closed: boolean;
		shown: { value?: number; overload?: boolean };
		before: Verdict;
		after: Verdict;
	}[];
	/** how many there are in all */
	total: number;
}

const SHOWN = 60;

/** Every verdict that a withdrawn reading was behind: as it was with it, as it is without. */
export async function verdictsThatLeanedOn(
	db: Database,
	memory: ShopMemory,
	id: number
): Promise<LeanedOn | null> {
	const stored = [...memory.shelf.byModel.values()].flat();
	const entry = stored.find((item) => item.id === id);
	if (!entry?.reference.withdrawn) return null;
	const { reference } = entry;
	const { catalog, shelf } = memory;
	const references = (shelf.byModel.get(reference.model) ?? []).map((item) => item.reference);
	const { withdrawn: _, ...standing } = reference;
	const previousBook = shelf.bookWith(
		reference.model,
		references.map((item) => (item === reference ? standing : item))
	);
	const updatedBook = shelf.book(reference.model);
	const net = catalog.connectors
		.get(catalog.models.get(reference.model)?.connector ?? '')
		?.pins.find(({ pin }) => pin === reference.pin)?.net;
	const rows = await db('tickets')
		.where({ model: reference.model })
		.whereRaw("JSON_CONTAINS_PATH(record, 'one', '$.readings')")
		.orderBy('id', 'desc')
		.select('record');
	const verdicts = rows
		.map(({ record }) => ticketFromRecord(asJson(record)))
		.flatMap((ticket) =>
			ticket.readings
				.filter(({ pin, mode }) => pin === reference.pin && mode === reference.mode)
				.map((reading) => {
					const judged = (book: typeof updatedBook) =>
						judgeReading(reading, reading.mode, net ?? '', book.expected(reading.pin, reading.mode, reading))
							.verdict;
					const { value, overload } = reading;
					return {
						number: ticket.number,
						closed: ticket.closedAt !== null,
						shown: {
							...(value === undefined ? {} : { value }),
							...(overload === undefined ? {} : { overload })
						},
						before: judged(previousBook),
						after: judged(updatedBook)
					};
				})
		)
		.sort((a, b) => Number(a.before === a.after) - Number(b.before === b.after));
	return { reference, verdicts: verdicts.slice(0, SHOWN), total: verdicts.length };
}
