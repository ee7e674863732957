import type { Catalog } from '../catalog/catalog';
import { ALLOYS } from '../charging/solder-alloys';
import { lastDealing } from '../tickets/dealings';
import { saidHowItDoes } from '../tickets/life';
import { collectedAt } from '../tickets/money';
import type { Ticket } from '../tickets/ticket-record';
import { DAY_MS, type Instant } from '../units/instant';

/** A call some days after a device was handed over: how does it do? */
export interface FollowUp {
	/** when it is to be asked */
	dueAt: Instant;
	/** why so soon; empty where nothing is risky */
	risks: string[];
	/** what to ask */
	ask: string[];
}

/** Days after handing over: what is risky sooner. Common practice, no source. */
const USUAL_DAYS = 3;
const SOON_DAYS = 1.5;
/** After so many days nobody is called any more; a weak joint comes back within two weeks. Common practice, no source. */
export const TOO_LATE_DAYS = 14;
/** Joints of what melts below this hold worse, °C. Common practice, no source. */
const LOW_MELT = 165;
const LOW_MELTS = new Set(ALLOYS.filter(({ liquidus }) => liquidus < LOW_MELT).map(({ code }) => code));
/** So many torn pads or wires are a risk. A choice. */
const MANY = 3;

/**
 * The follow-up of a ticket; null where none is due ever: not fixed, not handed over, asked already, or too long ago.
 * @param now nobody is called later than two weeks after
 */
export function followUpOf(
	ticket: Pick<
		Ticket,
		'outcome' | 'closedAt' | 'dealings' | 'counts' | 'steps' | 'attempts' | 'signs' | 'matters'
	>,
	catalog: Pick<Catalog, 'records' | 'operations' | 'signs'>,
	now: Instant
): FollowUp | null {
	const from = collectedAt(ticket);
	if (ticket.outcome !== 'fixed' || from === null) return null;
	if (saidHowItDoes(ticket, from)) return null;
	if (now > from + TOO_LATE_DAYS * DAY_MS) return null;
	const risks = risksOf(ticket, catalog);
	const first = from + (risks.length > 0 ? SOON_DAYS : USUAL_DAYS) * DAY_MS;
	// nobody was reached: the day after
	const last = lastDealing(ticket, 'follow-up', ({ at }) => (at ?? 0) >= from)?.at;
	return {
		dueAt: last === undefined ? first : Math.max(first, last + DAY_MS),
		risks,
		ask: askOf(ticket, catalog.signs)
	};
}

function risksOf(
	{ counts, steps, attempts }: Pick<Ticket, 'counts' | 'steps' | 'attempts'>,
	{ records, operations }: Pick<Catalog, 'records' | 'operations'>
): string[] {
	const latest = new Map(counts.map(({ what: item, number }) => [item, number]));
	const counted = [...latest]
		.filter(([, number]) => number >= MANY)
		.map(([item, number]) => `${number} ${item}`);
	const low = steps.some(({ procedure, version, step, did: action }) => {
		const alloy = records.procedure.get(`${procedure} ${version}`)?.steps[step]?.alloy;
		return action === 'done' && alloy !== undefined && LOW_MELTS.has(alloy);
	});
	const failed = attempts.filter(({ resolved, part }) => !resolved && !part).length;
	const operation = attempts.findLast(({ resolved }) => resolved)?.operation;
	return [
		...counted,
		...(low ? ['joints of low melt'] : []),
		...(failed > 0
			? [`${operations.get(operation ?? '')?.label ?? 'the repair'}, after one that failed`]
			: [])
	];
}

/** What the device came in with, asked as gone or not; its connector both ways round where nothing was noted. */
function askOf(
	{ signs, matters }: Pick<Ticket, 'signs' | 'matters'>,
	signRecords: Catalog['signs']
): string[] {
	const questions = Object.entries(signs).flatMap(([code, present]) => {
		const sign = present ? signRecords.get(code) : undefined;
		return sign?.kind === 'symptom' ? [`It was brought in with “${sign.label}”. Is that gone?`] : [];
	});
	const all =
		questions.length > 0 ? questions : ['Does it charge, both ways round, and does the plug sit firmly?'];
	return matters === 'data' || matters === 'both' ? [...all, 'Is all of the data there?'] : all;
}
