import type { Catalog } from '../catalog/catalog';
import type { Minor } from '../units/money';

export interface PaidWork {
	attempts: readonly {
		technician?: string | undefined;
		minutes?: number | undefined;
		hourlyCostMinor?: Minor | undefined;
	}[];
	parts: readonly { sku: string; quantity: number; unitCostMinor?: Minor | undefined }[];
	paidMinor: Minor | null;
}

export interface JobBooks {
	paidMinor: Minor;
	partsMinor: Minor;
	labourMinor: Minor;
	minutes: number;
	/** attempts whose technician has no hourly cost: their labour stands at nothing */
	uncosted: number;
}

/**
 * What a job brought and cost: parts at what they cost when used, hands-on minutes at the technician's
 * cost when they were worked (else at today's). Rounded once per line, half up.
 */
export function jobBooks(work: PaidWork, catalog: Pick<Catalog, 'technicians' | 'parts'>): JobBooks {
	const books: JobBooks = {
		paidMinor: work.paidMinor ?? 0,
		partsMinor: 0,
		labourMinor: 0,
		minutes: 0,
		uncosted: 0
	};
	for (const { sku, quantity, unitCostMinor } of work.parts) {
		const unit = unitCostMinor ?? catalog.parts.get(sku)?.unitCostMinor ?? 0;
		books.partsMinor += Math.round(unit * quantity);
	}
	for (const { technician, minutes = 0, hourlyCostMinor } of work.attempts) {
		const hourly = hourlyCostMinor ?? catalog.technicians.get(technician ?? '')?.hourlyCostMinor;
		books.minutes += minutes;
		if (hourly == null) books.uncosted += minutes > 0 ? 1 : 0;
		else books.labourMinor += Math.round((hourly * minutes) / 60);
	}
	return books;
}

export interface BookedTicket {
	number: string;
	comebackOf: string | null;
	paidMinor: Minor;
	/** tax that is in it, and not the shop's */
	taxMinor: Minor;
	partsMinor: Minor;
	labourMinor: Minor;
}

/** What a ticket brought by itself: paid without tax, less parts and labour. */
export const ownProfit = ({
	paidMinor,
	taxMinor,
	partsMinor,
	labourMinor
}: Pick<BookedTicket, 'paidMinor' | 'taxMinor' | 'partsMinor' | 'labourMinor'>): Minor =>
	paidMinor - taxMinor - partsMinor - labourMinor;

/**
 * Profit per ticket: paid without tax, less parts and labour. A comeback's own books go to the first ticket of its
 * chain, so that the first shows what the job really cost and the comeback itself stands at nil.
 * @returns profit in hundredths by number; the sum over tickets is the shop's whatever the chains
 */
export function profitByTicket(tickets: readonly BookedTicket[]): Map<string, Minor> {
	const first = firstsOfChains(tickets);
	const profits = new Map(tickets.map(({ number }) => [number, 0]));
	for (const ticket of tickets) {
		const bearer = first(ticket);
		profits.set(bearer.number, (profits.get(bearer.number) ?? 0) + ownProfit(ticket));
	}
	return profits;
}

/**
 * Follows comebacks to the first known ticket; a chain that closes on itself bears its own. Every ticket is walked over
 * once, however long the chains.
 */
export function firstsOfChains<Item extends { number: string; comebackOf: string | null }>(
	tickets: readonly Item[]
): (ticket: Item) => Item {
	const byNumber = new Map(tickets.map((ticket) => [ticket.number, ticket]));
	/** null: its chain closes on itself */
	const visits = new Map<string, Item | null>();
	return (ticket) => {
		const path: Item[] = [];
		const onPath = new Set<string>();
		let first: Item | null = null;
		for (let visit: Item | undefined = ticket; visit;) {
			const found = visits.get(visit.number);
			if (found !== undefined || onPath.has(visit.number)) {
				first = found ?? null;
				break;
			}
			path.push(visit);
			onPath.add(visit.number);
			first = visit;
			visit = visit.comebackOf === null ? undefined : byNumber.get(visit.comebackOf);
		}
		for (const { number } of path) visits.set(number, first);
		return first ?? ticket;
	};
}
