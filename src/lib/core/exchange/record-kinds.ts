import type { z } from 'zod';
import { CATALOG_KINDS, isCatalogKind, type CatalogRecord } from '../catalog/kinds';
import { kind, type Kind } from '../catalog/kind';
import { referenceRecord } from '../readings/reference';
import { ticketRecord } from '../tickets/ticket-record';
import { ticketRefers } from '../tickets/ticket-refers';

const reference = kind({
	schema: referenceRecord,
	about:
		'a known-good reading of a contact; `board`: its revision, `ticket`: the device’s. It has no code: it is known by all it says but its withdrawal, equal ones of one input count as that many boards, and what was withdrawn stays withdrawn when it comes in again',
	key: (reading) => JSON.stringify(reading),
	refers({ model, pin }, need) {
		need.code('model', 'model', model);
		need.place('pin', model, pin);
	},
	form: null,
	relearns: 'never',
	order: 90
});

const ticket = kind({
	schema: ticketRecord,
	about: 'a repair from the counter to the books, below',
	key: ({ number }) => number,
	refers: ticketRefers,
	form: null,
	relearns: 'never',
	order: 100
});

const ALL_KINDS = { ...CATALOG_KINDS, reference, ticket };
type Kinds = typeof ALL_KINDS;

/** Every record kind of the exchange format, version 1, in the order in which an export writes them. */
export const RECORD_KINDS = Object.fromEntries(
	Object.entries(ALL_KINDS).sort(([, a], [, b]) => a.order - b.order)
) as Kinds;

export type RecordKind = keyof Kinds;
export const RECORD_NAMES = Object.keys(RECORD_KINDS) as readonly RecordKind[];
/** What came in on a line, as the program thinks of it. */
export type LineRecord = {
	[Name in RecordKind]: { line: number; kind: Name; record: z.output<Kinds[Name]['schema']> };
}[RecordKind];
export type CatalogLine = Extract<LineRecord, { record: CatalogRecord }>;
export const isCatalogLine = (line: LineRecord): line is CatalogLine => isCatalogKind(line.kind);

/** A kind of whatever sort. */
export const recordKind = (name: RecordKind) => RECORD_KINDS[name] as unknown as Kind;
