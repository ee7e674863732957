import type { OfferDraft } from '$lib/core/quoting/offer';
import type { TicketChangeInput } from '$lib/core/tickets/ticket-change';
import { DAY_MS } from '$lib/core/units/instant';
import { parseAmount } from '$lib/core/units/money';
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
	{ valid, deposit, how }: { valid: string; deposit: string; how: NonNullable<Offer['how']> },
	now: number,
	dayAfter: DayAfter
): ReadOffer {
	const taken = ways.filter(({ taken }) => taken);
	const wrong = (problem: string): ReadOffer => ({ ok: false, problem });
	if (taken.length === 0) return wrong('No way is ticked; tick one to offer it');
	if (taken.length > 8) return wrong(`${taken.length} ways are ticked; an offer holds eight at most`);
	const options: Offer['options'] = [];
	for (const way of taken) {
		const name = way.label.trim();
		if (!name) return wrong('A way has no words; say what it is, or untick it');
		const price = parseAmount(way.price);
		if (price === null) return wrong(`Price of “${name}” is “${way.price}”; write an amount such as 89.50`);
		const cap = way.cap.trim() === '' ? undefined : parseAmount(way.cap);
		if (cap === null)
			return wrong(`“No more than” of “${name}” is “${way.cap}”; write an amount or leave it empty`);
		const warranty = days(way.warranty, 3650);
		if (warranty === null) return wrong(`Warranty of “${name}” is “${way.warranty}”; write days, such as 90`);
		const ready = days(way.ready, 365);
		if (ready === null) return wrong(`“Ready in” of “${name}” is “${way.ready}”; write days, such as 3`);
		options.push({
			label: name,
			priceMinor: price,
			...(way.operations.length > 0 ? { operations: way.operations } : {}),
			...(cap === undefined ? {} : { capMinor: cap }),
			...(warranty === undefined ? {} : { warrantyDays: warranty }),
			...(ready === undefined ? {} : { readyAt: dayAfter(ready) }),
			...(way.risks.trim() ? { risks: way.risks.trim() } : {})
		});
	}
	const holds = days(valid, 365);
	if (holds === null) return wrong(`“Holds” is “${valid}”; write days, such as 14`);
	const asked = deposit.trim() === '' ? 0 : parseAmount(deposit);
	if (asked === null) return wrong(`Deposit is “${deposit}”; write an amount or leave it empty`);
	return {
		ok: true,
		change: {
			verb: 'offer',
			options,
			how,
			...(holds === undefined ? {} : { validUntil: now + Math.max(1, holds) * DAY_MS }),
			...(asked > 0 ? { depositMinor: asked } : {})
		}
	};
}

/** Whole days; undefined where nothing is typed, null where it is no number of days. */
function days(text: string, most: number): number | undefined | null {
	if (text.trim() === '') return undefined;
	const number = readNumberWithin(text, 0, most);
	return number === null || !Number.isInteger(number) ? null : number;
}
