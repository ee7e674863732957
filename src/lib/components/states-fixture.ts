import { vi } from 'vitest';
import { buildCatalog } from '$lib/core/catalog/catalog';
import { makeChange } from '$lib/core/tickets/apply-change';
import { sliceBetween } from '$lib/core/tickets/slices';
import type { TicketChange } from '$lib/core/tickets/ticket-change';
import { openedTicket, type Ticket } from '$lib/core/tickets/ticket-record';
import { DEMO_CATALOG } from '$lib/core/simulation/demo-catalog';
import type { TicketView } from '$lib/server/tickets/view';

/** What the tests of the classes behind the screens begin with: a browser's store, an answer, a server of one ticket. */

const catalog = buildCatalog(DEMO_CATALOG);
export const NOW = Date.UTC(2026, 10, 24, 10);

/** A browser's store in a map. */
export function store(): Storage {
	const kept = new Map<string, string>();
	return {
		get length() {
			return kept.size;
		},
		clear: () => kept.clear(),
		key: (i: number) => [...kept.keys()][i] ?? null,
		getItem: (key: string) => kept.get(key) ?? null,
		setItem: (key: string, value: string) => void kept.set(key, value),
		removeItem: (key: string) => void kept.delete(key)
	};
}
export const answer = (status: number, body: unknown) => Promise.resolve(Response.json(body, { status }));
export const settled = () => vi.advanceTimersByTimeAsync(1);

export function viewOf(ticket: Ticket, version = 1): TicketView {
	const plan = { steps: [], schools: null, ahead: 1, gone: false };
	const odds = { learnedFrom: 1, fromModel: 1, faults: [], pairs: [], none: 0, ofNow: false };
	const price = { priceMinor: 100 } as unknown as TicketView['price'];
	const connector = catalog.connectors.get(catalog.models.get(ticket.model)?.connector ?? '') ?? null;
	return {
		ticket,
		version,
		plan,
		odds,
		price,
		connector,
		expected: {},
		gates: [],
		about: {},
		takesOff: [],
		stageOfRun: null,
		undoes: {},
		comebacks: [],
		first: null,
		customerId: null,
		trail: [],
		behind: 0
	} as unknown as TicketView;
}
export const fresh = openedTicket('K-1', NOW - 1000, 'tern-6');

/** A server of one ticket in a few lines: answers a change with its slices, as the real one does. */
export function server(ticket: Ticket = fresh) {
	let [now, version] = [ticket, 1];
	const sent: { version: number; change: TicketChange; waitedMs?: number }[] = [];
	const calls: string[] = [];
	const fetcher = vi.fn((url: string, options?: RequestInit): Promise<Response> => {
		calls.push(url);
		if (!options?.body) {
			const action = url.split('/').at(-1) as string;
			const answers = { price: { priceMinor: 200 }, plan: { steps: ['far'] }, reasons: { faults: [] } }[
				action
			];
			return answer(200, { version, [action === 'reasons' ? 'odds' : action]: answers });
		}
		const body = JSON.parse(options.body as string) as (typeof sent)[number];
		sent.push(body);
		if (body.version !== version)
			return answer(409, { ok: false, code: 'stale', version, changes: [], view: viewOf(now, version) });
		const previous = now;
		now = makeChange(previous, body.change, { now: Date.now(), by: 'ines', catalog }) as Ticket;
		version += 1;
		const slices = {
			version,
			ticket: sliceBetween(previous, now),
			trail: null,
			odds: { faults: [{ more: { count: 1, factor: 2 } }] },
			plan: { steps: [] },
			behind: 0,
			now: Date.now(),
			beside: {}
		};
		return answer(200, { ok: true, version, slices });
	});
	return { fetcher: fetcher as unknown as typeof fetch, sent, calls, ticket: () => now };
}

/** A clock that stands until it is moved on. */
export const standClock = () => void vi.useFakeTimers({ now: NOW });
export function releaseClock(): void {
	vi.useRealTimers();
	vi.unstubAllGlobals();
}
