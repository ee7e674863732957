import { isSimulatedMeter } from '../readings/instrument';
import type { PinVerdict } from '../readings/pin-verdict';
import { readAlike } from '../readings/net-agreement';
import type { Mode, ReferenceRecord } from '../readings/reference';
import { formatInstant } from '../units/instant';
import type { PinReading, Ticket } from './ticket-record';

const toReference = (
	ticket: Ticket,
	reading: PinReading,
	grade: ReferenceRecord['grade']
): ReferenceRecord => {
	const { pin, mode, value, overload, at, meter, board } = reading;
	return {
		record: 'reference',
		model: ticket.model,
		pin,
		mode,
		...(overload ? { overload } : { value: value as number }),
		grade,
		taken_at: formatInstant(at ?? ticket.closedAt ?? ticket.openedAt),
		...(meter === undefined ? {} : { meter }),
		...(board === undefined ? {} : { board }),
		ticket: ticket.number
	};
};

/** The latest reading of each contact and mode among some stages; stand-in instruments prove nothing. */
function latestOf(ticket: Ticket, stages: readonly string[]): PinReading[] {
	const latest = new Map<string, PinReading>();
	for (const stage of stages) {
		for (const reading of ticket.readings) {
			if (reading.stage !== stage || isSimulatedMeter(reading.meter)) continue;
			latest.set(`${reading.pin} ${reading.mode}`, reading);
		}
	}
	return [...latest.values()];
}

/**
 * Known-good readings that a ticket brings when it closes as fixed, which it can only with every gate passed: what was
 * read after the repair or at closing, verified. Earlier stages saw a faulty board and bring none.
 */
export function provenReferences(ticket: Ticket): ReferenceRecord[] {
	if (ticket.outcome !== 'fixed' || ticket.closedAt === null) return [];
	return latestOf(ticket, ['after-repair', 'closing']).map((reading) =>
		toReference(ticket, reading, 'verified')
	);
}

/**
 * Readings of a board with a fault, to stand in while there is nothing better: those whose contact shows no deviation
 * and whose net agrees.
 */
export function provisionalReferences(
	ticket: Ticket,
	mode: Mode,
	verdicts: readonly PinVerdict[],
	dissenting: ReadonlySet<string>
): ReferenceRecord[] {
	const sound = new Set(
		verdicts
			.filter(
				({ verdict, pin }) => (verdict === 'agrees' || verdict === 'no-reference') && !dissenting.has(pin)
			)
			.map(({ pin }) => pin)
	);
	return latestOf(ticket, ['intake', 'diagnosis'])
		.filter((reading) => reading.mode === mode && sound.has(reading.pin))
		.map((reading) => toReference(ticket, reading, 'provisional'));
}

/** What tells a ticket's readings of one contact apart: equal ones are the same reading. */
export const readingKey = ({
	pin,
	mode,
	value,
	taken_at
}: Pick<ReferenceRecord, 'pin' | 'mode' | 'value' | 'taken_at'>): string =>
	`${pin} ${mode} ${value ?? 'OL'} ${taken_at ?? ''}`;

/** Why a known-good reading was withdrawn by the program itself: who reads it sees the ticket. */
export const REFUTED = 'the device read otherwise once it was repaired';
export const reopenedWords = (number: string) => `${number} was reopened`;
export const struckWords = (number: string) => `it was struck out on ${number}`;

export interface TakenBack {
	/** proven by the closing that is taken back: they count no more */
	unproven: ReferenceRecord[];
	/** provisional ones that the closing had made verified */
	demoted: ReferenceRecord[];
	/** provisional ones that it had proved wrong: they stand in again */
	restored: ReferenceRecord[];
}

/**
 * What becomes of the readings that a ticket brought when it is reopened.
 * @param references all readings that name the ticket
 * @param closed the ticket as it was closed
 */
export function takenBackBy(references: readonly ReferenceRecord[], closed: Ticket): TakenBack {
	const proven = new Set(provenReferences(closed).map(readingKey));
	const verified = references.filter(({ grade, withdrawn }) => grade === 'verified' && !withdrawn);
	return {
		unproven: verified.filter((reference) => proven.has(readingKey(reference))),
		demoted: proven.size === 0 ? [] : verified.filter((reference) => !proven.has(readingKey(reference))),
		restored: references.filter(({ withdrawn }) => withdrawn?.because === REFUTED)
	};
}

/** Keys of a ticket's readings before the repair, as provisional ones are known by. */
export const earlyKeys = (ticket: Ticket): ReadonlySet<string> =>
	new Set(
		ticket.readings
			.filter(({ stage }) => stage === 'intake' || stage === 'diagnosis')
			.map((reading) => readingKey(toReference(ticket, reading, 'provisional')))
	);

export interface Promotion {
	/** provisional readings of the device that its readings after the repair bear out: verified by themselves */
	promoted: ReferenceRecord[];
	/** those that the repair proved wrong */
	refuted: ReferenceRecord[];
}

/** What becomes of a device's own provisional readings once it has passed every gate. */
export function promoteProvisional(
	provisional: readonly ReferenceRecord[],
	proven: readonly ReferenceRecord[]
): Promotion {
	const provenByContact = new Map(
		proven.map((reference) => [`${reference.pin} ${reference.mode}`, reference])
	);
	const promotion: Promotion = { promoted: [], refuted: [] };
	for (const reference of provisional) {
		const now = provenByContact.get(`${reference.pin} ${reference.mode}`);
		if (!now || reference.withdrawn || reference.grade === 'verified') continue;
		if (readAlike(reference, now, reference.mode))
			promotion.promoted.push({ ...reference, grade: 'verified' });
		else promotion.refuted.push(reference);
	}
	return promotion;
}
