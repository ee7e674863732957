import { falseDiscoveryAdjusted, fisherUpperTail } from '../statistics/multiple-tests';
import { wilsonInterval, type Interval } from '../statistics/rate-interval';
import type { Connector } from '../catalog/catalog';
import { verdictsAlone } from './compare';
import type { KnownGoodBook } from './known-good-book';
import type { Verdict } from './verdict';

type Reading = Parameters<typeof verdictsAlone>[1][number];

/** A closed ticket as the search for signatures sees it: what deviated, of what was read and judged. */
export interface JudgedTicket {
	faults: readonly string[];
	/** by place (a contact or a net): its verdict, where it could be judged */
	verdicts: ReadonlyMap<string, Verdict>;
}

export interface Rate extends Interval {
	hits: number;
	/** tickets in which the place was read and judged */
	of: number;
}

/** A deviation that goes with a confirmed fault. */
export interface Signature {
	place: string;
	verdict: Verdict;
	fault: string;
	withFault: Rate;
	without: Rate;
	/** chance of so many by accident, adjusted for all that were looked at (false discovery rate) */
	chance: number;
}

/** Worse verdicts of a net's contacts stand for the net. */
const SEVERITY: readonly Verdict[] = ['agrees', 'high', 'low', 'open', 'short'];

/**
 * A closed ticket as the search sees it, contact by contact and net by net. Where there is no reference, contacts that the
 * board joins judge each other: one that is open while the others agree is open, those that agree agree.
 */
export function judgeForSignatures(
	{ faults, readings }: { faults: readonly string[]; readings: readonly Reading[] },
	connector: Connector | null,
	book: KnownGoodBook
): { contacts: JudgedTicket; nets: JudgedTicket } {
	const contacts = new Map<string, Verdict>();
	const nets = new Map<string, Verdict>();
	const { pins, nets: agreement } = connector
		? verdictsAlone(connector, readings, book)
		: { pins: [], nets: [] };
	for (const { pin, net, verdict, overload } of pins) {
		const said = agreement.find((item) => item.net === net);
		const joined = pins.filter((other) => other.net === net).length > 1;
		const byOthers =
			said?.dissenting.includes(pin) && overload ? 'open' : joined && said?.agree ? 'agrees' : null;
		const shown = verdict === 'no-reference' ? byOthers : verdict;
		if (shown === null) continue;
		contacts.set(pin, shown);
		const worst = nets.get(net) ?? 'agrees';
		nets.set(net, SEVERITY.indexOf(shown) > SEVERITY.indexOf(worst) ? shown : worst);
	}
	return { contacts: { faults, verdicts: contacts }, nets: { faults, verdicts: nets } };
}

/** A signature rests on at least so many tickets. A choice. */
const FEWEST_HITS = 3;
/** Of the signatures shown, at most this share is expected to be accident. A choice, usual in the field. */
const FALSE_SHARE = 0.05;

const DEVIATIONS: readonly Verdict[] = ['short', 'open', 'low', 'high'];

/**
 * Finds which deviation goes with which confirmed fault: one-sided Fisher exact tests over every place, way and
 * fault that occur together, held to a false discovery rate of 5 % (Benjamini & Hochberg 1995); Wilson intervals for
 * the rates with and without the fault. Most certain first. The order of tickets has no effect.
 */
export function findSignatures(tickets: readonly JudgedTicket[]): Signature[] {
	const places = [...new Set(tickets.flatMap(({ verdicts }) => [...verdicts.keys()]))].sort();
	const candidates = places.flatMap((place) => {
		const judged = tickets.filter(({ verdicts }) => verdicts.has(place));
		return DEVIATIONS.flatMap((verdict) => candidatesOf(judged, place, verdict));
	});
	const adjusted = falseDiscoveryAdjusted(candidates.map(({ chance }) => chance));
	return candidates
		.map((candidate, i) => ({ ...candidate, chance: adjusted[i] as number }))
		.filter(({ chance, withFault }) => chance <= FALSE_SHARE && withFault.hits >= FEWEST_HITS)
		.sort((a, b) => a.chance - b.chance || b.withFault.low - a.withFault.low || (a.place < b.place ? -1 : 1));
}

function candidatesOf(judged: readonly JudgedTicket[], place: string, verdict: Verdict): Signature[] {
	const deviating = judged.filter(({ verdicts }) => verdicts.get(place) === verdict);
	const faults = [...new Set(deviating.flatMap(({ faults }) => faults))].sort();
	return faults.map((fault) => {
		const having = judged.filter(({ faults }) => faults.includes(fault)).length;
		const hits = deviating.filter(({ faults }) => faults.includes(fault)).length;
		return {
			place,
			verdict,
			fault,
			withFault: rate(hits, having),
			without: rate(deviating.length - hits, judged.length - having),
			chance: fisherUpperTail(hits, having, deviating.length, judged.length)
		};
	});
}

const rate = (hits: number, of: number): Rate => ({ hits, of, ...wilsonInterval(hits, of) });
