import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { buildCatalog } from '$lib/core/catalog/catalog';
import { makeChange } from '$lib/core/tickets/apply-change';
import { sliceBetween } from '$lib/core/tickets/slices';
import type { TicketChange } from '$lib/core/tickets/ticket-change';
import { openedTicket, type Ticket } from '$lib/core/tickets/ticket-record';
import { DEMO_CATALOG } from '$lib/core/simulation/demo-catalog';
import type { TicketView } from '$lib/server/tickets/view';
import { TicketDesk } from './desk.svelte';
import { PinWalk } from './pin-walk.svelte';
import { OutboxState } from '../ui/outbox.svelte';

/** The classes behind the screens, without a browser: what they keep, send and show, and in which order. */

const catalog = buildCatalog(DEMO_CATALOG);
const NOW = Date.UTC(2026, 10, 24, 10);

/** A browser's store in a map. */
function store(): Storage {
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
const answer = (status: number, body: unknown) => Promise.resolve(Response.json(body, { status }));
const settled = () => vi.advanceTimersByTimeAsync(1);

beforeEach(() => {
	vi.useFakeTimers({ now: NOW });
});
afterEach(() => {
	vi.useRealTimers();
	vi.unstubAllGlobals();
});

function viewOf(ticket: Ticket, version = 1): TicketView {
	const plan = { steps: [], schools: null, ahead: 1, gone: false };
	const odds = { learnedFrom: 1, fromModel: 1, faults: [], pairs: [], none: 0 };
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
		trail: [],
		behind: 0
	} as unknown as TicketView;
}
const fresh = openedTicket('K-1', NOW - 1000, 'tern-6');

/** A server of one ticket in a few lines: answers a change with its slices, as the real one does. */
function server(ticket: Ticket = fresh) {
	let [now, version] = [ticket, 1];
	const sent: { version: number; change: TicketChange; waitedMs?: number }[] = [];
	const calls: string[] = [];
	const fetcher = vi.fn((url: string, options?: RequestInit): Promise<Response> => {
		calls.push(url);
		if (!options?.body) {
			const what = url.split('/').at(-1) as string;
			const told = { price: { priceMinor: 200 }, plan: { steps: ['far'] }, reasons: { faults: [] } }[what];
			return answer(200, { version, [what === 'reasons' ? 'odds' : what]: told });
		}
		const body = JSON.parse(options.body as string) as (typeof sent)[number];
		sent.push(body);
		if (body.version !== version)
			return answer(409, { ok: false, code: 'stale', version, changes: [], view: viewOf(now, version) });
		const before = now;
		now = makeChange(before, body.change, { now: Date.now(), by: 'ines', catalog }) as Ticket;
		version += 1;
		const slices = {
			version,
			ticket: sliceBetween(before, now),
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

describe('the desk', () => {
	function desk(ticket = fresh, role: 'technician' | 'counter' = 'technician') {
		const there = server(ticket);
		vi.stubGlobal('fetch', there.fetcher);
		const outbox = new OutboxState('ines', store(), there.fetcher);
		const missed = vi.fn();
		const made = new TicketDesk(viewOf(ticket), outbox, role, missed);
		made.follow();
		return { desk: made, missed, ...there };
	}
	it('shows an entry at once, then what the server made of it, slice by slice', async () => {
		const { desk: at, ticket } = desk();
		void at.send({ verb: 'battery', stage: 'intake', volts: 3.7 });
		expect(at.ticket.battery).toHaveLength(1);
		expect(at.view.ticket.battery).toHaveLength(0);
		expect(at.isWaiting('battery', 0)).toBe(true);
		await settled();
		expect(at.view.ticket).toEqual(ticket());
		expect([at.view.version, at.isWaiting('battery', 0)]).toEqual([2, false]);
		expect(at.ticket.battery).toHaveLength(1);
	});
	it('asks for the whole where a change of somebody else lies in between', async () => {
		const { desk: at, missed } = desk();
		at.view = { ...at.view, version: 0 };
		void at.send({ verb: 'note', text: 'x' });
		await settled();
		expect(missed).not.toHaveBeenCalled();
		const far = desk();
		far.desk.view = viewOf(fresh, 1);
		void far.desk.send({ verb: 'note', text: 'x' });
		far.desk.view = { ...far.desk.view, version: 0 };
		await settled();
		expect(far.missed).toHaveBeenCalled();
	});
	it('price, plan and reasons follow for this very state, and are not asked for twice', async () => {
		const { desk: at, calls } = desk();
		const { signal } = new AbortController();
		await at.askPrice(signal);
		await at.askReasons();
		expect(calls).toEqual([]);
		void at.send({ verb: 'note', text: 'x' });
		await settled();
		expect(at.price.priceMinor).toBe(100);
		await at.askPrice(signal);
		await at.thinkFurther(signal);
		await at.askReasons();
		expect(calls.filter((url) => !url.endsWith('change'))).toEqual([
			'/tickets/K-1/price',
			'/tickets/K-1/plan',
			'/tickets/K-1/reasons'
		]);
		expect([at.price.priceMinor, at.plan.steps, at.thinking]).toEqual([200, ['far'], false]);
		// the next state has none of it
		at.view = { ...at.view, version: at.view.version + 1 };
		expect([at.price.priceMinor, at.plan.steps]).toEqual([100, []]);
		await at.askPrice(signal);
		expect(at.price.priceMinor).toBe(100);
	});
	it('lets each role do what is theirs, and nothing on a closed ticket', () => {
		const open = desk().desk;
		expect([open.may('read-pins'), open.mayStrike('parts'), open.mayPutBack(0)]).toEqual([true, true, false]);
		const counter = desk(fresh, 'counter').desk;
		expect([
			counter.may('read-pins'),
			counter.may('note'),
			counter.mayStrike('parts'),
			counter.mayStrike('notes')
		]).toEqual([false, true, false, true]);
		const closed = desk({ ...fresh, closedAt: NOW, outcome: 'declined' }).desk;
		expect([closed.may('note'), closed.mayWhenClosed('note'), closed.mayStrike('notes')]).toEqual([
			false,
			true,
			false
		]);
	});
});

describe('the walk over the pins', () => {
	function walk(ticket = fresh) {
		const there = server(ticket);
		const desk = new TicketDesk(
			viewOf(ticket),
			new OutboxState('ines', store(), there.fetcher),
			'technician',
			() => {}
		);
		desk.follow();
		return { walk: new PinWalk(desk), desk, ...there };
	}
	const reading = (pin: string, value: number, stage: 'diagnosis' | 'after-repair' = 'diagnosis') => ({
		stage,
		pin,
		mode: 'diode' as const,
		value,
		meter: 'bench'
	});
	it('begins at the first contact that was not read, goes on, and stays within the port', () => {
		const { walk: at } = walk({ ...fresh, readings: [reading('1', 0.4), reading('3', 0.4)] });
		expect([at.stage, at.meter, at.current?.pin]).toEqual(['diagnosis', 'bench', '2']);
		at.move(-9);
		expect(at.position).toBe(0);
		at.move(99);
		expect(at.position).toBe(at.pins.length - 1);
		at.go('3');
		expect(at.current?.pin).toBe('3');
		at.go('gone');
		expect(at.position).toBe(0);
		expect(
			walk({ ...fresh, readings: ['1', '2', '3', '4', '5'].map((pin) => reading(pin, 0.4)) }).walk.position
		).toBe(0);
	});
	it('after a repair it reads after the repair', () => {
		const repaired = {
			...fresh,
			attempts: [{ operation: 'replace-port', resolved: true }],
			readings: [reading('1', 0.4)]
		};
		expect([walk(repaired).walk.stage, walk(repaired).walk.position]).toEqual(['after-repair', 0]);
	});
	it('takes readings at the pace of the hand: each shown at once, sent in order, with its meter', async () => {
		const { walk: at, sent, desk } = walk();
		at.meter = ' handheld ';
		for (const value of [0.4, 0.5]) at.take({ value });
		at.take({ overload: true });
		expect(Object.keys(at.stored)).toEqual(['1', '2', '3']);
		expect([...at.waiting]).toEqual(['1', '2', '3']);
		expect(at.current?.pin).toBe('4');
		expect(at.comparison.pins).toHaveLength(3);
		await settled();
		expect(sent.map(({ change }) => 'readings' in change && change.readings[0])).toEqual([
			{ pin: '1', value: 0.4 },
			{ pin: '2', value: 0.5 },
			{ pin: '3', overload: true }
		]);
		expect(sent[0]?.change).toMatchObject({ meter: 'handheld' });
		expect([...at.waiting]).toEqual([]);
		expect(desk.view.ticket.readings).toHaveLength(3);
	});
	it('a contact read again keeps what it read before', () => {
		const { walk: at } = walk({
			...fresh,
			readings: [reading('1', 0.4), reading('1', 0.5), reading('1', 0.9, 'after-repair')]
		});
		expect(at.before.get('1')).toEqual(['0.400']);
		expect(at.stored['1']).toMatchObject({ value: 0.5 });
	});
	it('one side at a time', () => {
		const { walk: at } = walk(openedTicket('K-2', NOW, 'pelagic-40'));
		expect(at.restOfSide).toHaveLength(12);
		at.move(5);
		expect(at.restOfSide).toHaveLength(7);
		at.move(7);
		expect(at.restOfSide[0]?.pin).toMatch(/^B/);
	});
});
