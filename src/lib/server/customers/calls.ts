import type { Catalog } from '$lib/core/catalog/catalog';
import { followUpOf, TOO_LATE_DAYS } from '$lib/core/messages/follow-up';
import { STATE_WORDS } from '$lib/core/tickets/life';
import { type State } from '$lib/core/tickets/states';
import { dealingsOf } from '$lib/core/tickets/dealings';
import { collectedAt } from '$lib/core/tickets/money';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { wilsonInterval, type Interval } from '$lib/core/statistics/rate-interval';
import { DAY_MS, type Instant } from '$lib/core/units/instant';
import type { Database } from '../database/connection';
import { reachedBy } from '../messages/enqueue';
import { shopCatalog } from '../memory/shop-memory';
import { selectTickets, toStoredTicket } from '../tickets/rows';
import { standingOf } from '../tickets/where';

/** Somebody to call today, and what about. */
export interface Call {
	number: string;
	version: number;
	customer: string;
	phone: string | null;
	device: string;
	kind: 'follow-up' | 'ready' | 'quote';
	/** since when it is due */
	dueAt: Instant;
	/** of a follow-up: why so soon, and when the device was handed over */
	risks: string[];
	collectedAt: Instant | null;
	ask: string[];
	/** tried before without reaching anybody */
	tried: number;
	/** is written to as well */
	written: boolean;
}

const MOST = 400;

/** Calls that are due: how handed-over devices do, the risky first; ready ones whose customer does not know; offers that nobody answered. */
export async function callsDue(db: Database, now: Instant): Promise<Call[]> {
	const catalog = await shopCatalog(db);
	const [handed, returned] = await Promise.all([
		selectTickets(db)
			.where('tickets.collected_at', '>=', new Date(now - TOO_LATE_DAYS * DAY_MS))
			.andWhere('tickets.outcome', 'fixed')
			.orderBy('tickets.collected_at', 'desc')
			.limit(MOST),
		selectTickets(db)
			.whereNull('tickets.collected_at')
			.andWhere((either) =>
				either
					.where('tickets.closed_at', '>=', new Date(now - LONG_DAYS * DAY_MS))
					.orWhere((open) => open.whereNull('tickets.closed_at').whereNotNull('tickets.quoted_minor'))
			)
			.orderBy('tickets.id', 'desc')
			.limit(MOST)
	]);
	const followUps = handed.map(toStoredTicket).flatMap(({ ticket, version }) => {
		const due = followUpOf(ticket, catalog, now);
		if (!due || due.dueAt > now || silent(ticket)) return [];
		const tried = dealingsOf(ticket, 'follow-up').filter(
			({ followedUp }) => followedUp === 'not-reached'
		).length;
		return [
			{
				...callOf(ticket, version, catalog),
				...due,
				kind: 'follow-up' as const,
				collectedAt: collectedAt(ticket),
				tried
			}
		];
	});
	const comebacks = returned.map(toStoredTicket).flatMap(({ ticket, version }) => {
		const { state, since } = standingOf(ticket, catalog);
		const kind = CALLED_FOR[state];
		if (!kind || silent(ticket)) return [];
		return [
			{
				...callOf(ticket, version, catalog),
				kind,
				dueAt: since ?? ticket.openedAt,
				risks: [],
				collectedAt: null,
				ask: [`${STATE_WORDS[state]}.`],
				tried: 0
			}
		];
	});
	// who left no telephone cannot be called: they are met when they come
	const order = (call: Call) =>
		(call.phone ? 0 : 3) + (call.kind === 'follow-up' ? (call.risks.length > 0 ? 0 : 1) : 2);
	return [...followUps, ...comebacks].sort((a, b) => order(a) - order(b) || a.dueAt - b.dueAt);
}
const LONG_DAYS = 60;
const CALLED_FOR: Partial<Record<State, 'ready' | 'quote'>> = { ready: 'ready', quoted: 'quote' };

/** Nobody to call: who wants to hear nothing, or left no telephone and is written to. */
const silent = ({ customer }: Ticket) =>
	customer === null || customer.hears_by === 'none' || (!customer.phone && reachedBy(customer) !== null);

const callOf = (ticket: Ticket, version: number, catalog: Catalog) => ({
	number: ticket.number,
	version,
	customer: ticket.customer?.name ?? '',
	phone: ticket.customer?.phone ?? null,
	device: catalog.models.get(ticket.model)?.label ?? ticket.model,
	written: reachedBy(ticket.customer) !== null
});

/** What follow-ups found, of the jobs handed over in some days. */
export interface Asked {
	asked: number;
	held: number;
	interval: Interval;
	/** days after handing over, middle of those that held */
	middleDays: number | null;
	days: number;
}

/**
 * Of those who were asked: how many devices held when they were. A plain share with Wilson's interval, beside the rates: those count a job
 * as holding until it comes back, asked or not.
 */
export async function heldWhenAsked(db: Database, now: Instant, days: number): Promise<Asked> {
	const found = await db('tickets')
		.where('asked_at', '>=', new Date(now - days * DAY_MS))
		.andWhere('collected_at', '>=', new Date(now - days * DAY_MS))
		.select<{ asked_at: Date; collected_at: Date; held: boolean }[]>('asked_at', 'collected_at', 'held');
	const holding = found.filter((call) => call.held);
	const sorted = holding
		.map(({ asked_at: askedAt, collected_at: back }) => (askedAt.getTime() - back.getTime()) / DAY_MS)
		.sort((a, b) => a - b);
	return {
		asked: found.length,
		held: holding.length,
		interval: wilsonInterval(holding.length, found.length),
		middleDays: sorted[Math.floor(sorted.length / 2)] ?? null,
		days
	};
}
