import type { Catalog } from '../catalog/catalog';
import { EMPTY_BOOK } from '../readings/known-good-book';
import { codeWords } from '../units/code';
import { dealingEntry } from './dealing-words';
import { entryOf } from './strike-out';
import { openedTicket, type Ticket } from './ticket-record';
import { benchEntries } from './bench-trail';
import { groupByMinute } from '../evidence/group-by-minute';
import { ALL_MEASUREMENTS, type MeasuredList } from '../evidence/measurements';
import type { TrailEntry } from './trail-entry';

export type { TrailEntry };

/**
 * Everything that happened to the device, in order. Entries without a time of their own (imported
 * records) stand at the opening, repairs at the closing.
 */
export function ticketTrail(ticket: Ticket, catalog: Catalog): TrailEntry[] {
	const { openedAt, closedAt, reopenings, struck } = ticket;
	const entry = (
		kind: TrailEntry['kind'],
		text: string,
		{ at, by: author }: { at?: number; by?: string } = {}
	): TrailEntry => ({ at: at ?? openedAt, by: author ?? null, kind, text });
	const entries: TrailEntry[] = [
		entry('taken-in', takenIn(ticket, catalog)),
		...doneEntries(ticket, catalog),
		...struck.flatMap((item, index) => struckEntries(ticket, item, index, catalog)),
		...groupByMinute(ticket.corrections).map((group) => correctionEntry(group, catalog)),
		...ticket.dealings.map((dealing) => dealingEntry(dealing, openedAt, catalog)),
		...ticket.waits.flatMap((wait) => [
			entry('waited', `Waits for ${codeWords(wait.for)}${wait.note ? `: ${wait.note}` : ''}.`, wait),
			...(wait.endedAt === undefined
				? []
				: [
						entry('waited', `Waits for ${codeWords(wait.for)} no longer.`, {
							at: wait.endedAt,
							by: wait.endedBy ?? ''
						})
					])
		]),
		...reopenings.flatMap((reopening) => [
			...(reopening.undoneAt === undefined
				? [entry('closed', `Closed, ${codeWords(reopening.outcome)}.`, { at: reopening.closedAt })]
				: [
						entry('closed', 'Closed again as it was.', {
							at: reopening.undoneAt,
							by: reopening.undoneBy ?? ''
						})
					]),
			entry('closed', 'Reopened.', reopening)
		])
	];
	if (closedAt !== null) entries.push(entry('closed', closingWords(ticket, catalog), { at: closedAt }));
	return entries.sort((a, b) => a.at - b.at);
}

/** An entry that was struck out stands where it stood, and says by whom it was taken out. */
function struckEntries(
	{ number, openedAt, closedAt, model }: Ticket,
	struck: Ticket['struck'][number],
	index: number,
	catalog: Catalog
): TrailEntry[] {
	const loneTicket = { ...openedTicket(number, openedAt, model), closedAt, [struck.list]: [entryOf(struck)] };
	return doneEntries(loneTicket, catalog).map((entry) => ({
		...entry,
		struck: { index, at: struck.at ?? null, by: struck.by ?? null }
	}));
}

function correctionEntry(group: Ticket['corrections'], catalog: Catalog): TrailEntry {
	const isSign = (field: string, from: string | null) => field.startsWith('sign ') && from === 'not asked';
	const words = group.map(({ field, from, to }) => {
		const sign = field.startsWith('sign ') ? field.slice(5) : null;
		const name = sign === null ? field : (catalog.signs.get(sign)?.label ?? sign);
		return isSign(field, from)
			? `${name}: ${to}`
			: `${name}: ${to ?? 'nothing'}, before ${from ?? 'nothing'}`;
	});
	const all = group.every(({ field, from }) => isSign(field, from));
	const [first] = group;
	const text = `${all ? 'Asked' : 'Corrected'}: ${words.join('; ')}.`;
	return { at: first?.at ?? 0, by: first?.by ?? null, kind: all ? 'seen' : 'corrected', text };
}

/** What was seen, measured, tried and proved, in the order of the lists. */
function doneEntries(ticket: Ticket, catalog: Catalog): TrailEntry[] {
	const opened = ticket.openedAt;
	const late = ticket.closedAt ?? opened;
	const entry = (
		kind: TrailEntry['kind'],
		text: string,
		{ at, by: author }: { at?: number; by?: string } = {},
		fallback = opened
	): TrailEntry => ({ at: at ?? fallback, by: author ?? null, kind, text });
	return [
		...ticket.opinions.map(({ from, fault, ...stamp }) => {
			const label = catalog.faults.get(fault)?.label ?? fault;
			const words = from === 'customer' ? `Customer’s claim: ${label}.` : `First guess: ${label}.`;
			return entry('seen', words, stamp);
		}),
		...measuredEntries(ticket, catalog, false),
		...ticket.continuity.map((check) => entry('proved', continuityWords(check), check, late)),
		...ticket.observations.map((observation) =>
			entry(
				'tested',
				`${catalog.tests.get(observation.test)?.label ?? codeWords(observation.test)}: ${codeWords(observation.outcome)}.`,
				observation
			)
		),
		...ticket.attempts.map((attempt) =>
			entry(
				'tried',
				attemptWords(attempt, catalog),
				{ ...attempt, by: attempt.technician ?? attempt.by },
				late
			)
		),
		...measuredEntries(ticket, catalog, true),
		...benchEntries(ticket, catalog).map(({ kind, text, stamp }) => entry(kind, text, stamp, late)),
		...groupByMinute(ticket.gates).map((group) => entry('proved', gateWords(group, catalog), group[0], late)),
		...ticket.notes.map((note) => entry('noted', note.text, note))
	];
}

function takenIn({ signs, reported, comebackOf }: Ticket, catalog: Catalog): string {
	const signWords = Object.entries(signs).flatMap(([code, present]) => {
		const sign = catalog.signs.get(code);
		return present && sign?.kind !== 'visual' ? [sign?.label ?? code] : [];
	});
	const words = [signWords.join(', '), reported ? `“${reported}”` : ''].filter(Boolean).join('; ');
	const back = comebackOf ? `Comeback of ${comebackOf}. ` : '';
	return `${back}Taken in${words ? `: ${words}` : ''}.`;
}

/** What was seen and measured, each measurement in its own words. */
function measuredEntries(ticket: Ticket, catalog: Catalog, late: boolean): TrailEntry[] {
	const seen = { model: ticket.model, catalog, battery: ticket.battery, knownGood: EMPTY_BOOK };
	const otherwise = late ? (ticket.closedAt ?? ticket.openedAt) : ticket.openedAt;
	return ALL_MEASUREMENTS.filter((measured) => (measured.late ?? false) === late).flatMap(({ list, trail }) =>
		trail(ticket[list as MeasuredList], seen).map(({ kind, text, stamp }) => ({
			at: stamp?.at ?? otherwise,
			by: stamp?.by ?? null,
			kind,
			text
		}))
	);
}

function continuityWords({ misses, probes }: Ticket['continuity'][number]): string {
	if (misses.length === 0) return `Continuity: ${probes} pairs correct.`;
	return `Continuity: wrong at ${misses.map((pair) => pair.join('–')).join(', ')}.`;
}

function attemptWords({ operation, resolved, part, minutes }: Ticket['attempts'][number], catalog: Catalog) {
	const label = catalog.operations.get(operation)?.label ?? codeWords(operation);
	const time = minutes === undefined ? '' : ` ${Math.round(minutes)} min.`;
	return `${label}: ${part ? 'step only' : resolved ? 'fixed it' : 'did not fix it'}.${time}`;
}

function gateWords(group: Ticket['gates'], catalog: Catalog): string {
	const failed = group.filter(({ passed }) => !passed);
	const notApplicable = group.flatMap(({ gate, not_applicable }) =>
		not_applicable ? [`${catalog.gates.get(gate)?.label ?? gate} (${not_applicable})`] : []
	);
	if (notApplicable.length === group.length) return `Does not apply: ${notApplicable.join('; ')}.`;
	const gates = new Set(group.map(({ gate }) => gate)).size;
	if (failed.length === 0) return `Final checks passed: ${gates}.`;
	const label = ({ gate, of: word }: (typeof group)[number]) =>
		`${catalog.gates.get(gate)?.label ?? gate}${word ? ` (${word})` : ''}`;
	return `Failed: ${failed.map(label).join(', ')}.`;
}

function closingWords({ outcome, faults, ownFaults = [], faultWords }: Ticket, catalog: Catalog): string {
	const found = (faults ?? []).map((fault) => {
		const { label = fault, catch_all: isOther = false } = catalog.faults.get(fault) ?? {};
		if (isOther && faultWords) return `${label} (${faultWords})`;
		return ownFaults.includes(fault) ? `${label} (caused by the repair)` : label;
	});
	return `Closed, ${codeWords(outcome ?? '')}. ${found.length > 0 ? `${found.join(' and ')}.` : ''}`.trim();
}
