import type { z } from 'zod';
import type { Catalog } from '../catalog/catalog';
import type { TestNeed } from '../catalog/kinds-of-finding';
import type { Needs } from '../catalog/needs';
import type { KnownGoodBook } from '../readings/known-good-book';
import type { Instant } from '../units/instant';
import type { Role } from '../units/role';

/**
 * A measurement: all that the program knows of one way to see or measure something of a device. Ticket, verbs, odds, trail, plan, API and
 * export are drawn from it; a new one is a file in this folder, its line in `measurements.ts` and a panel.
 */
export interface Measurement<
	List extends string,
	Entry extends z.ZodType<Stamped>,
	Verb extends string,
	Shape extends z.ZodRawShape
> {
	/** the ticket's list of its entries, and the key of the export */
	list: List;
	/** one entry, as it is written and as the program has it */
	entry: Entry;
	/** entries that a ticket holds at most */
	most: number;
	/** the step of the job on whose panel it is entered */
	step: 'look' | 'plug' | 'pins' | 'checks' | 'repair' | 'prove';

	/** the change that enters it */
	verb: Verb;
	shape: Shape;
	roles: readonly Role[];
	/** what it is to enter it, as in "who may …" */
	says: string;
	/** what it names, to be there */
	refers?(change: z.output<z.ZodObject<Shape>>, need: Needs, model: string): void;
	/** the field that names contacts: the model must say which port it has */
	namesContacts?: keyof Shape & string;
	/** what a change enters, without its moment and its hand */
	entries(change: z.output<z.ZodObject<Shape>>): Unstamped<z.output<Entry>>[];

	/**
	 * Whether an entry speaks of what was wrong or of what a repair left: it says so by its stage; or by its moment, and without one it is
	 * from before the repairs (`before`) or after them (`after`).
	 */
	moment: 'stage' | 'before' | 'after';
	/** questions put to the odds, each with its possible answers; a key that ends with ":NAME" is one for each name */
	questions: Readonly<Record<string, readonly string[]>>;
	/** what entries of one moment answer; questions that they say nothing of are left out */
	answers(entries: readonly z.output<Entry>[], seen: Seen): Answer[];
	/** an answer as a person reads it */
	words(question: string, answer: string, catalog: Pick<Catalog, 'models'>): string;
	/** a plan may ask for it */
	asks?: Asked | readonly Asked[];

	/** lines of the trail */
	trail(entries: readonly z.output<Entry>[], seen: Seen): TrailLine[];
	/** entries without a moment stand at the ticket's end, not at its opening */
	late?: true;
}

export interface Stamped {
	at?: Instant | undefined;
	by?: string | undefined;
}
type Unstamped<Entry> = Entry extends unknown ? Omit<Entry, 'at' | 'by'> : never;

/** The answer to one question with more than two answers: a test's outcome, or a class of a measurement. */
export interface Answer {
	question: string;
	answer: string;
}

/** What a measurement is judged with: its device, and its battery as it was measured at the same time. */
export interface Seen {
	model: string;
	catalog: Pick<Catalog, 'models' | 'connectors'>;
	battery: readonly { stage?: string | undefined; volts: number; at?: Instant | undefined }[];
	/** what is known good of the model */
	knownGood: KnownGoodBook;
}

/** A measurement that a plan may ask for, by the question of it that tells most. Minutes and cautions: common practice, no source. */
export interface Asked {
	code: string;
	label: string;
	/** a question, or the beginning of several */
	question: string;
	minutes: number;
	/** what must be true before it, as a test says it */
	needs: readonly TestNeed[];
	caution: string | null;
}

interface TrailLine {
	kind: 'seen' | 'measured' | 'proved';
	text: string;
	stamp: Stamped | undefined;
}

/** Checks a measurement's parts against each other and keeps their types. */
export const measurement = <
	const List extends string,
	Entry extends z.ZodType<Stamped>,
	const Verb extends string,
	Shape extends z.ZodRawShape
>(
	made: Measurement<List, Entry, Verb, Shape>
): Measurement<List, Entry, Verb, Shape> => made;
