import type { Catalog } from '../catalog/catalog';
import type { CatalogRecordOf } from '../catalog/kinds';
import { DAY_MS, type Instant } from '../units/instant';
import { lastOffer } from './offer-text';
import { collectedAt } from './money';
import type { Ticket } from './ticket-record';

/** Until when a job is under warranty, counted from handing over. */
export interface Warranty {
	from: Instant;
	workUntil: Instant;
	/** of the parts that it used: the first that ends; null where it used none */
	partsUntil: Instant | null;
}

type WarrantedTicket = Pick<Ticket, 'outcome' | 'closedAt' | 'dealings' | 'attempts' | 'parts'>;

/**
 * What a fixed job is under warranty for: the work for what the accepted offer says, else the shortest of its operations', else the
 * shop's; each part for what the shop gives on its source (of the lot, else of the part), else as long as the work.
 * @param lots by code, for their sources
 * @returns null where nothing was fixed
 */
export function warrantyOf(
	ticket: WarrantedTicket,
	{ shop, operations, parts }: Pick<Catalog, 'shop' | 'operations' | 'parts'>,
	lots: ReadonlyMap<string, Pick<CatalogRecordOf<'lot'>, 'source'>> = new Map()
): Warranty | null {
	if (ticket.outcome !== 'fixed' || ticket.closedAt === null) return null;
	const from = collectedAt(ticket) ?? ticket.closedAt;
	const successful = ticket.attempts.filter(({ resolved, part }) => resolved || part);
	const offered = offeredWarrantyDays(ticket);
	const days =
		offered ??
		Math.min(
			...(successful.length > 0 ? successful : [null]).map(
				(attempt) => operations.get(attempt?.operation ?? '')?.warranty_days ?? shop.warrantyDays
			)
		);
	const partDays = ticket.parts
		.filter(({ sku }) => !parts.get(sku)?.consumable)
		.map(({ sku, lot }) => {
			const source = lots.get(lot ?? '')?.source ?? parts.get(sku)?.source;
			return (source && shop.partWarranty[source]) ?? days;
		});
	return {
		from,
		workUntil: from + days * DAY_MS,
		partsUntil: partDays.length === 0 ? null : from + Math.min(...partDays) * DAY_MS
	};
}

/** Days of warranty that the accepted offer gives; undefined where it says none. */
export function offeredWarrantyDays(ticket: Pick<Ticket, 'dealings'>): number | undefined {
	const last = lastOffer(ticket);
	return last?.answer?.accepted ? last.offer.offered[last.answer.option ?? 0]?.warrantyDays : undefined;
}

/** What a comeback at a moment is: `free`, `shared` (only the work or only the part is under warranty), or a `new` job. */
export interface WarrantyState {
	state: 'free' | 'shared' | 'new';
	/** what is free where it is shared */
	free: 'work' | 'parts' | null;
	warranty: Warranty;
}

export function warrantyAt(warranty: Warranty, at: Instant): WarrantyState {
	const work = at <= warranty.workUntil;
	const parts = warranty.partsUntil === null ? work : at <= warranty.partsUntil;
	if (work && parts) return { state: 'free', free: null, warranty };
	if (!work && !parts) return { state: 'new', free: null, warranty };
	return { state: 'shared', free: work ? 'work' : 'parts', warranty };
}

/**
 * What is said at the counter, in words.
 * @param date how the shop writes a day
 */
export function warrantyWords(
	{ state, free, warranty }: WarrantyState,
	date: (at: Instant) => string
): string {
	const { workUntil, partsUntil } = warranty;
	switch (state) {
		case 'free':
			return `under warranty until ${date(Math.min(workUntil, partsUntil ?? workUntil))}: free if it is the same fault`;
		case 'shared':
			return free === 'parts'
				? `the part is under warranty until ${date(partsUntil ?? workUntil)}, the work was until ${date(workUntil)}: the part is free`
				: `the work is under warranty until ${date(workUntil)}, the part was until ${date(partsUntil ?? workUntil)}: the work is free`;
		case 'new':
			return `warranty ended ${date(Math.max(workUntil, partsUntil ?? workUntil))}: a new paid job`;
	}
}
