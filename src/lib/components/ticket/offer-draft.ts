import type { OfferDraft } from '$lib/core/quoting/offer';
import type { TicketChangeInput } from '$lib/core/tickets/ticket-change';
import { DAY_MS } from '$lib/core/units/instant';
import { amountProblem, parseAmount } from '$lib/core/units/money';
import { readNumberWithin } from '$lib/core/units/typed-number';

/** One way of an offer as it is typed. */
export interface TypedWay {
	taken: boolean;
	label: string;
	price: string;
	cap: string;
	warranty: string;
	/** days from now */
	ready: string;
	risks: string;
	operations: string[];
	/** what the shop thinks of it; null of a way that was added by hand */
	draft: OfferDraft | null;
}

export const typedWay = (draft: OfferDraft, ready: string): TypedWay => ({
	taken: draft.chosen,
	label: draft.label,
	price: (draft.priceMinor / 100).toFixed(2),
	cap: draft.capMinor === null ? '' : (draft.capMinor / 100).toFixed(2),
	warranty: draft.warrantyDays > 0 ? String(draft.warrantyDays) : '',
	ready: draft.kind === 'find-out' ? '' : ready,
	risks: draft.risks ?? '',
	operations: draft.operations,
	draft
});

export const blankWay = (): TypedWay => ({
	taken: true,
	label: '',
	price: '',
	cap: '',
	warranty: '',
	ready: '',
	risks: '',
	operations: [],
	draft: null
});

type Offer = Extract<TicketChangeInput, { verb: 'offer' }>;
export type ReadOffer = { ok: true; change: Offer } | { ok: false; problem: string };

/** The moment at which a day some days from now ends, as the shop reckons it. */
export type DayAfter = (days: number) => number;

/** What was typed as an offer, or the first thing that is wrong with it, by the field's name. */
export function readOffer(
	ways: readonly TypedWay[],
	{ valid, deposit, how: channel }: { valid: string; deposit: string; how: NonNullable<Offer['how']> },
	{ now, locale }: { now: number; locale: string },
	dayAfter: DayAfter
): ReadOffer {
	const isTaken = ways.filter(({ taken: chosen }) => chosen);
	const wrong = (problem: string): ReadOffer => ({ ok: false, problem });
	if (isTaken.length === 0) return wrong('No option is selected. Select one to offer it.');
	if (isTaken.length > 8) return wrong(`${isTaken.length} options are selected. An offer has at most eight.`);
	const options: Offer['options'] = [];
	for (const way of isTaken) {
		const read = readWay(way, locale, dayAfter);
		if (typeof read === 'string') return wrong(read);
		options.push(read);
	}
	const validDays = days(valid, 365);
	if (validDays === null) return wrong(`“Valid” is “${valid}”; write days, such as 14`);
	const asked = amount(deposit, locale);
	if (asked === null) return wrong(`Deposit ${amountProblem(deposit)}, or leave it empty`);
	const validUntil = validDays === undefined ? undefined : now + Math.max(1, validDays) * DAY_MS;
	return {
		ok: true,
		change: { verb: 'offer', options, how: channel, validUntil, depositMinor: asked || undefined }
	};
}

/** @returns one way as it is offered, or what is wrong with it */
function readWay(way: TypedWay, locale: string, dayAfter: DayAfter): Offer['options'][number] | string {
	const label = way.label.trim();
	if (!label) return 'An option has no description. Add one, or deselect it.';
	const priceMinor = parseAmount(way.price, locale);
	if (priceMinor === null) return `Price of “${label}” ${amountProblem(way.price)}`;
	const capMinor = amount(way.cap, locale);
	if (capMinor === null) return `“No more than” of “${label}” ${amountProblem(way.cap)}, or leave it empty`;
	const warrantyDays = days(way.warranty, 3650);
	if (warrantyDays === null) return `Warranty of “${label}” is “${way.warranty}”; write days, such as 90`;
	const ready = days(way.ready, 365);
	if (ready === null) return `“Ready in” of “${label}” is “${way.ready}”; write days, such as 3`;
	return {
		label,
		priceMinor,
		operations: way.operations.length > 0 ? way.operations : undefined,
		capMinor,
		warrantyDays,
		readyAt: ready === undefined ? undefined : dayAfter(ready),
		risks: way.risks.trim() || undefined
	};
}

/** An amount; undefined where nothing is typed, null where it is none. */
const amount = (text: string, locale: string): number | undefined | null =>
	text.trim() === '' ? undefined : parseAmount(text, locale);

/** Whole days; undefined where nothing is typed, null where it is no number of days. */
function days(text: string, maxDays: number): number | undefined | null {
	if (text.trim() === '') return undefined;
	const number = readNumberWithin(text, 0, maxDays);
	return number === null || !Number.isInteger(number) ? null : number;
}
