import { falseDiscoveryAdjusted, fisherUpperTail } from '../statistics/multiple-tests';
import { wilsonInterval, type Interval } from '../statistics/rate-interval';
import type { Connector } from '../catalog/catalog';
import { verdictsAlone } from './compare';
import type { KnownGoodBook } from './known-good-book';
import { medianSorted } from '../statistics/quantile';
import { USUAL_SPREAD } from './expected';
import type { Verdict } from './verdict';

type Reading = Parameters<typeof verdictsAlone>[1][number];

/** A closed ticket as the search for signatures sees it: what deviated, of what was read and judged. */
export interface JudgedTicket {
	faults: readonly string[];
	/** by place (a contact or a net): its verdict, where it could be judged */
	verdicts: ReadonlyMap<string, Verdict>;
	/** by contact: what it read, in diode mode, where that deviates and is neither short nor open */
	values?: ReadonlyMap<string, number>;
}

interface Rate extends Interval {
	hits: number;
	/** tickets in which the place was read and judged */
	of: number;
}

/** A deviation that goes with a confirmed fault. */
export interface Signature {
	place: string;
	verdict: Verdict;
	/** the values that go with the fault, where a cluster of them says more than the deviation alone */
	values?: { centre: number; low: number; high: number };
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
	const values = new Map<string, number>();
	for (const { pin, net, verdict, overload, value } of pins) {
		const netAgreement = agreement.find((item) => item.net === net);
		const joined = pins.filter((candidate) => candidate.net === net).length > 1;
		const byOthers =
			netAgreement?.dissenting.includes(pin) && overload
				? 'open'
				: joined && netAgreement?.agree
					? 'agrees'
					: null;
		const shown = verdict === 'no-reference' ? byOthers : verdict;
		if (shown === null) continue;
		contacts.set(pin, shown);
		if ((shown === 'low' || shown === 'high') && value !== null) values.set(pin, value);
		const worst = nets.get(net) ?? 'agrees';
		nets.set(net, SEVERITY.indexOf(shown) > SEVERITY.indexOf(worst) ? shown : worst);
	}
	return { contacts: { faults, verdicts: contacts, values }, nets: { faults, verdicts: nets } };
}

/** A signature rests on at least so many tickets. A choice. */
const FEWEST_HITS = 3;
/** Of the signatures shown, at most this share is expected to be accident. A choice, usual in the field. */
const FALSE_SHARE = 0.05;

const DEVIATIONS: readonly Verdict[] = ['short', 'open', 'low', 'high'];

/**
 * Finds which deviation, or which cluster of deviating values, goes with which confirmed fault: one-sided Fisher exact tests
 * over every place, way and fault that occur together, and over every window of values that begins at one of them, all held
 * to a false discovery rate of 5 % (Benjamini & Hochberg 1995; windows that overlap make it stricter); Wilson intervals for
 * the rates with and without the fault. Of one place, way and fault the most certain stands. Most certain first. The order of
 * tickets has no effect.
 */
export function findSignatures(tickets: readonly JudgedTicket[]): Signature[] {
	const places = [...new Set(tickets.flatMap(({ verdicts }) => [...verdicts.keys()]))].sort();
	const candidates = places.flatMap((place) => {
		const judged = tickets.filter(({ verdicts }) => verdicts.has(place));
		return DEVIATIONS.flatMap((verdict) => [
			...candidatesOf(judged, place, verdict),
			...windowsOf(judged, place, verdict)
		]);
	});
	const adjusted = falseDiscoveryAdjusted(candidates.map(({ chance }) => chance));
	const certain = candidates
		.map((candidate, i) => ({ ...candidate, chance: adjusted[i] as number }))
		.filter(({ chance, withFault }) => chance <= FALSE_SHARE && withFault.hits >= FEWEST_HITS);
	const best = new Map<string, Signature>();
	for (const one of certain) {
		const key = `${one.place} ${one.verdict} ${one.fault}`;
		const current = best.get(key);
		// of equals the first: the deviation by itself, then the lowest window
		if (!current || one.chance < current.chance) best.set(key, one);
	}
	return [...best.values()].sort(
		(a, b) => a.chance - b.chance || b.withFault.low - a.withFault.low || (a.place < b.place ? -1 : 1)
	);
}

/** Values of one contact within so much are one cluster: what boards of one model usually agree within, either way. */
const CLUSTER = 2 * USUAL_SPREAD.diode;

/** Windows of deviating values: each begins at one of them. */
function windowsOf(judged: readonly JudgedTicket[], place: string, verdict: Verdict): Signature[] {
	const deviating = judged
		.filter(({ verdicts }) => verdicts.get(place) === verdict)
		.flatMap((ticket) => {
			const value = ticket.values?.get(place);
			return value === undefined ? [] : [{ ticket, value }];
		})
		.sort((a, b) => a.value - b.value);
	const starts = [...new Set(deviating.map(({ value }) => value))];
	return starts.flatMap((start) => {
		const cluster = deviating.filter(({ value }) => value >= start && value <= start + CLUSTER + 1e-9);
		if (cluster.length < FEWEST_HITS || cluster.length === deviating.length) return [];
		return faultsBehind(
			judged,
			place,
			verdict,
			cluster.map(({ ticket }) => ticket)
		).map((signature) => {
			const matching = cluster.filter(({ ticket }) => ticket.faults.includes(signature.fault));
			const shown = matching.map(({ value }) => value);
			const values = {
				centre: medianSorted(Float64Array.from(shown)),
				low: shown[0] ?? start,
				high: shown.at(-1) ?? start
			};
			return { ...signature, values };
		});
	});
}

const candidatesOf = (judged: readonly JudgedTicket[], place: string, verdict: Verdict): Signature[] =>
	faultsBehind(
		judged,
		place,
		verdict,
		judged.filter(({ verdicts }) => verdicts.get(place) === verdict)
	);

function faultsBehind(
	judged: readonly JudgedTicket[],
	place: string,
	verdict: Verdict,
	deviating: readonly JudgedTicket[]
): Signature[] {
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

const rate = (hits: number, trials: number): Rate => ({ hits, of: trials, ...wilsonInterval(hits, trials) });
