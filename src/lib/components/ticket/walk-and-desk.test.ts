import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { openedTicket } from '$lib/core/tickets/ticket-record';
import { fresh, NOW, releaseClock, server, settled, standClock, store, viewOf } from '../states-fixture';
import { OutboxState } from '../ui/outbox.svelte';
import { TicketDesk } from './desk.svelte';
import { PinWalk } from './pin-walk.svelte';

/** The classes behind the screens, without a browser: what they keep, send and show, and in which order. */

beforeEach(standClock);
afterEach(releaseClock);

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
