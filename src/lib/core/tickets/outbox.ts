import type { Catalog } from '../catalog/catalog';
import type { Instant } from '../units/instant';
import { makeChange } from './apply-change';
import { isRefusal } from './refusal';
import { ruleOf, ticketChangeSchema, type TicketChangeInput } from './ticket-change';
import type { Ticket } from './ticket-record';

/** What another did to the ticket meanwhile. */
export interface ChangeMeanwhile {
	actor: string;
	verb: string;
	at: Instant;
}

/** One change that was entered and is not confirmed yet. */
export interface OutboxEntry {
	/** the ticket's number */
	number: string;
	/** the version of the ticket that it will meet if nobody else changes it */
	version: number;
	change: TicketChangeInput;
	/** makes it count once however often it is sent */
	once: string;
	/** by the clock of this browser */
	enteredAt: Instant;
	/** why it is held: refused by the server, or somebody else changed the ticket first */
	held?: Held;
}

type Held =
	| { code: 'refused'; reason: string; more?: unknown }
	| { code: 'stale'; version: number; changes: ChangeMeanwhile[] };

/** Entries in the order in which they were made. */
export type Outbox = readonly OutboxEntry[];

export const waitingFor = (outbox: Outbox, number: string): Outbox =>
	outbox.filter((entry) => entry.number === number && entry.held === undefined);
export const heldFor = (outbox: Outbox, number: string): Outbox =>
	outbox.filter((entry) => entry.number === number && entry.held !== undefined);

/**
 * The entry to send next: the earliest that nobody holds, and that does not stand behind one of the same ticket whose
 * fate somebody has to decide because others changed the ticket. What stands behind a refused one goes on.
 */
export function nextToSend(outbox: Outbox): OutboxEntry | null {
	const paused = new Set<string>();
	for (const entry of outbox) {
		if (entry.held?.code === 'stale') paused.add(entry.number);
		if (entry.held === undefined && !paused.has(entry.number)) return entry;
	}
	return null;
}

/** @param version of the ticket as it stands on the screen */
export function withEntry(
	outbox: Outbox,
	entry: Omit<OutboxEntry, 'version' | 'held'>,
	version: number
): Outbox {
	const waiting = outbox.filter(
		({ number, held: refusal }) => number === entry.number && refusal?.code !== 'refused'
	).length;
	return [...outbox, { ...entry, version: version + waiting }];
}

/** The change was made. */
export const confirmed = (outbox: Outbox, once: string): Outbox =>
	outbox.filter((entry) => entry.once !== once);

/** The change was refused: it stays with its reason, and those behind it meet a version that it did not move on. */
export const refused = (outbox: Outbox, once: string, reason: string, details?: unknown): Outbox =>
	shifted(outbox, once, -1).map((entry) =>
		entry.once === once
			? { ...entry, held: { code: 'refused', reason, ...(details === undefined ? {} : { more: details }) } }
			: entry
	);

/** Somebody else changed the ticket first: the change and what stands behind it wait for somebody's decision. */
export const stale = (outbox: Outbox, once: string, version: number, changes: ChangeMeanwhile[]): Outbox =>
	outbox.map((entry) =>
		entry.once === once ? { ...entry, held: { code: 'stale', version, changes } } : entry
	);

/** Lets a held or waiting entry go. */
export function dropped(outbox: Outbox, once: string): Outbox {
	const entry = outbox.find((candidate) => candidate.once === once);
	const counted = entry !== undefined && entry.held?.code !== 'refused';
	return confirmed(counted ? shifted(outbox, once, -1) : outbox, once);
}

/**
 * Sends a held entry after all: on top of what others did, or once more as it is.
 * @param once of the entry; @param version of the ticket as it stands on the screen; @param newOnce a new mark, since the
 * refused one may have been remembered
 */
export function sentAgain(outbox: Outbox, once: string, version: number, newOnce: string): Outbox {
	const entry = outbox.find((candidate) => candidate.once === once);
	if (!entry?.held) return outbox;
	const { held: refusal, ...plain } = entry;
	if (refusal.code === 'refused')
		return withEntry(confirmed(outbox, once), { ...plain, once: newOnce }, version);
	const versionShift = refusal.version - entry.version;
	return shifted(outbox, once, versionShift).map((candidate) =>
		candidate.once === once ? { ...plain, version: refusal.version } : candidate
	);
}

/** Moves the versions that the entries of the same ticket behind one will meet. */
function shifted(outbox: Outbox, once: string, versionShift: number): OutboxEntry[] {
	const at = outbox.findIndex((entry) => entry.once === once);
	const number = outbox[at]?.number;
	return outbox.map((entry, i) =>
		at >= 0 && i > at && entry.number === number ? { ...entry, version: entry.version + versionShift } : entry
	);
}

/** A ticket with what was entered and waits; entries that wait stand at the ends of their lists. */
export function withWaiting(ticket: Ticket, waiting: Outbox, catalog: Catalog): Ticket {
	let shown = ticket;
	for (const { change, enteredAt } of waiting) {
		if (ruleOf(change.verb).shown !== 'at once') continue;
		const parsed = ticketChangeSchema.safeParse(change);
		if (!parsed.success) continue;
		const made = makeChange(shown, parsed.data, { now: enteredAt, by: '', catalog });
		if (!isRefusal(made)) shown = made;
	}
	return shown;
}

/** An entry as the browser keeps it, one by one, so that two tabs never write over each other's. */
export const entryText = (entry: OutboxEntry): string => JSON.stringify(entry);

/** Reads kept entries back in their order; what is no entry (another version's, a broken one) is left out. */
export function readOutbox(texts: Iterable<string>): Outbox {
	const entries: OutboxEntry[] = [];
	for (const text of texts) {
		const entry = readEntry(text);
		if (entry) entries.push(entry);
	}
	return entries.sort((a, b) => a.enteredAt - b.enteredAt || a.version - b.version);
}

function readEntry(text: string): OutboxEntry | null {
	try {
		const value = JSON.parse(text) as Partial<OutboxEntry> | null;
		const sound =
			typeof value?.number === 'string' &&
			typeof value.version === 'number' &&
			typeof value.once === 'string' &&
			typeof value.enteredAt === 'number' &&
			typeof value.change === 'object' &&
			value.change !== null;
		return sound ? (value as OutboxEntry) : null;
	} catch {
		return null;
	}
}
