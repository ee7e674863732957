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
	partsMinor: Minor;
	labourMinor: Minor;
}

/**
 * Profit per ticket: paid less parts and labour. A comeback's own books go to the first ticket of its
 * chain, so that the first shows what the job really cost and the comeback itself stands at nil.
 * @returns profit in hundredths by number; the sum over tickets is the shop's whatever the chains
 */
export function profitByTicket(tickets: readonly BookedTicket[]): Map<string, Minor> {
	const byNumber = new Map(tickets.map((ticket) => [ticket.number, ticket]));
	const profits = new Map(tickets.map(({ number }) => [number, 0]));
	for (const ticket of tickets) {
		const bearer = firstOfChain(ticket, byNumber);
		const own = ticket.paidMinor - ticket.partsMinor - ticket.labourMinor;
		profits.set(bearer.number, (profits.get(bearer.number) ?? 0) + own);
	}
	return profits;
}

/** Follows comebacks to the first known ticket; a chain that closes on itself bears its own. */
export function firstOfChain<Item extends { number: string; comebackOf: string | null }>(
	ticket: Item,
	byNumber: ReadonlyMap<string, Item>
): Item {
	const seen = new Set([ticket.number]);
	let first = ticket;
	while (first.comebackOf !== null) {
		const earlier = byNumber.get(first.comebackOf);
		if (!earlier) return first;
		if (seen.has(earlier.number)) return ticket;
		seen.add(earlier.number);
		first = earlier;
	}
	return first;
}
