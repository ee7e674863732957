import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { gateStates } from '../bench/gates';
import { readFeatures } from '../diagnosis/learn/evidence';
import { simulateShop } from '../simulation/demo-shop';
import { HOUR_MS } from '../units/instant';
import { provenReferences } from './proven-references';
import { applyChange } from './apply-change';
import type { TicketChangeInput } from './ticket-change';
import { ticketFromRecord, ticketRecord, ticketToRecord, type Ticket } from './ticket-record';
import { waitsNow, waitsOf } from './waits';
import { ticketTrail } from './trail';
import { catalog, fresh, made as change, NOW, passed as passAll } from '$worlds/changed-tickets';

describe('records', () => {
	it('are read and written by the trusting reader as by the schema, every demo ticket', () => {
		const { tickets } = simulateShop({ seed: 6, endsAt: NOW, count: 120 });
		for (const ticket of tickets) {
			const written = JSON.parse(JSON.stringify(ticketToRecord(ticket)));
			expect(ticketFromRecord(written)).toEqual(ticketRecord.parse(written));
			expect(ticketRecord.parse(z.encode(ticketRecord, ticket))).toEqual(ticket);
		}
	});
	it('go out and come back the same, every demo ticket', () => {
		const { tickets } = simulateShop({ seed: 5, endsAt: NOW, count: 120 });
		for (const ticket of tickets) {
			const record = JSON.parse(JSON.stringify(ticketToRecord(ticket)));
			expect(ticketToRecord(ticketRecord.parse(record))).toEqual(ticketToRecord(ticket));
		}
	});
	it('takes the example of the exchange format', () => {
		const example = {
			record: 'ticket',
			number: 'K-00231',
			opened_at: '2026-03-02T09:14:00Z',
			closed_at: '2026-03-03T15:40:00Z',
			model: 'pelagic-40',
			serial: 'PL40-88213',
			customer: { name: 'A', kind: 'private' },
			signs: { 'no-charge': true, 'port-loose': false },
			observations: [{ test: 'vbus-fuse', outcome: 'open', at: '2026-03-02T10:02:00Z' }],
			meter: [{ stage: 'intake', orientation: 'a', volts: 5.08, amps: 0.06, seconds: 20 }],
			battery: [{ stage: 'intake', volts: 2.93 }],
			readings: [
				{ stage: 'intake', pin: 'A4', mode: 'diode', value: 0.003 },
				{ stage: 'intake', pin: 'A11', mode: 'diode', overload: true }
			],
			attempts: [{ operation: 'replace-port', resolved: true, technician: 'ines', minutes: 41 }],
			faults: ['port-contacts'],
			outcome: 'fixed',
			parts: [{ sku: 'usbc-16-smd', quantity: 1, unit_cost: 3.9 }],
			quoted: 89.0,
			accepted: true,
			paid: 89.0,
			comeback_of: null
		};
		expect(ticketToRecord(ticketRecord.parse(example))).toEqual(example);
	});
});

describe('changes', () => {
	it('leave the ticket given as it was', () => {
		const before = JSON.stringify(fresh);
		change(fresh, { verb: 'sign', sign: 'no-charge', present: true });
		expect(JSON.stringify(fresh)).toBe(before);
	});
	it('a sign has three states', () => {
		const yes = change(fresh, { verb: 'sign', sign: 'no-charge', present: true });
		const no = change(yes, { verb: 'sign', sign: 'no-charge', present: false });
		expect([
			yes.signs,
			no.signs,
			change(no, { verb: 'sign', sign: 'no-charge', present: null }).signs
		]).toEqual([{ 'no-charge': true }, { 'no-charge': false }, {}]);
	});
	it('a first guess stands until it is struck out; another technician may have one too', () => {
		const guess = (ticket: Ticket, fault: string, by: string) =>
			applyChange(ticket, { verb: 'opinion', from: 'technician', fault }, { now: NOW, by, catalog });
		const guessed = guess(fresh, 'input-fuse', 'ines') as Ticket;
		expect(guessed.opinions).toEqual([{ from: 'technician', fault: 'input-fuse', at: NOW, by: 'ines' }]);
		expect(guess(guessed, 'battery-worn', 'ines')).toMatchObject({ field: 'fault' });
		expect((guess(guessed, 'battery-worn', 'bram') as Ticket).opinions).toHaveLength(2);
		expect(guess(fresh, 'gremlin', 'ines')).toMatchObject({ field: 'fault' });
		expect(change(guessed, { verb: 'withdraw', list: 'opinions', index: 0 }).opinions).toEqual([]);
	});
	it('a fault that the repair made is told apart, worded so, and goes out and comes back', () => {
		const close = (ownFaults: string[]) =>
			applyChange(
				fresh,
				{ verb: 'close', outcome: 'not-fixed', faults: ['input-fuse', 'torn-pads'], ownFaults, paidMinor: 0 },
				{ now: NOW, by: 'ines', catalog }
			);
		const closed = close(['torn-pads']) as Ticket;
		expect(closed.ownFaults).toEqual(['torn-pads']);
		expect(ticketTrail(closed, catalog).at(-1)?.text).toContain('Pads or tracks torn (caused by the repair)');
		expect(ticketRecord.parse(ticketToRecord(closed))).toEqual(closed);
		expect(change(closed, { verb: 'reopen' }).ownFaults).toEqual(['torn-pads']);
		expect(close(['coil-open'])).toMatchObject({ field: 'ownFaults' });
		const odd = { ...ticketToRecord(closed), own_faults: ['coil-open'] };
		expect(ticketRecord.safeParse(odd).error?.issues[0]?.path).toEqual(['own_faults']);
	});
	it('a contact read again stands beside its first reading; the trail shows both', () => {
		const read = (t: Ticket, value: number, stage: 'diagnosis' | 'closing' = 'diagnosis') =>
			change(t, { verb: 'read-pins', stage, mode: 'diode', readings: [{ pin: '1', value }] });
		const twice = read(read(read(fresh, 0.4), 0.5), 0.47, 'closing');
		expect(twice.readings.map(({ value }) => value)).toEqual([0.4, 0.5, 0.47]);
		const words = ticketTrail(twice, catalog).map(({ text }) => text);
		expect(words).toContain('Read 1 contact, diode; again 1 0.500, before 0.400.');
	});
	it('a place looked at again and a node probed again stand beside what was there; the latest counts', () => {
		const seen = (t: Ticket, state: 'burnt' | 'straight') =>
			change(t, { verb: 'look', places: ['tongue'], state });
		const looked = seen(seen(fresh, 'burnt'), 'straight');
		expect(looked.inspection.map(({ state }) => state)).toEqual(['burnt', 'straight']);
		const { answers } = readFeatures(looked, catalog);
		expect(answers).toContainEqual({ question: 'look:tongue', answer: 'straight' });
	});
	it('a timer becomes minutes of hands, with the cost of the day and the parts', () => {
		const running = change(fresh, { verb: 'start-timer', operation: 'replace-port', technician: 'ines' });
		expect(running.running).toEqual([{ operation: 'replace-port', technician: 'ines', startedAt: NOW }]);
		const stopped = change(
			running,
			{
				verb: 'stop-timer',
				operation: 'replace-port',
				technician: 'ines',
				resolved: true,
				parts: [{ sku: 'port-smd', quantity: 1 }]
			},
			NOW + 41 * 60_000
		);
		expect(stopped.running).toEqual([]);
		expect(stopped.attempts[0]).toMatchObject({ minutes: 41, hourlyCostMinor: 3100, resolved: true });
		expect(stopped.parts[0]).toMatchObject({ sku: 'port-smd', unitCostMinor: 390 });
	});
	it('a price that nobody answered waits for the customer, beside what is waited for by name', () => {
		const waiting = change(fresh, { verb: 'wait', for: 'part' });
		const quoted = change(waiting, { verb: 'quote', priceMinor: 8900 });
		expect(waitsOf(quoted)).toEqual(['part', 'customer']);
		const accepted = change(quoted, { verb: 'answer', accepted: true });
		expect(waitsOf(accepted)).toEqual(['part']);
		const worked: [string, TicketChangeInput][] = [
			['handing over', { verb: 'hand-over', to: 'ines' }],
			['a timer', { verb: 'start-timer', operation: 'replace-port', technician: 'ines' }],
			[
				'a repair',
				{ verb: 'attempt', operation: 'replace-port', technician: 'ines', minutes: 4, resolved: false }
			]
		];
		for (const [what, input] of worked) expect(waitsOf(change(accepted, input)), what).toEqual(['part']);
		const ended = change(accepted, { verb: 'end-wait', for: 'part' }, NOW + 60_000);
		expect([waitsOf(ended), ended.waits]).toEqual([
			[],
			[{ for: 'part', at: NOW, by: 'ines', endedAt: NOW + 60_000, endedBy: 'ines' }]
		]);
		expect(ticketTrail(ended, catalog).map(({ text }) => text)).toEqual(
			expect.arrayContaining(['Waits for part.', 'Waits for part no longer.'])
		);
		expect(ticketRecord.parse(ticketToRecord(ended))).toEqual(ended);
	});
	it('a wait of the exchange format comes in and goes out as it is', () => {
		const record = { ...ticketToRecord(fresh), waiting_for: 'cure' };
		const ticket = ticketRecord.parse(record);
		expect(waitsNow(ticket)).toEqual([{ for: 'cure' }]);
		expect(ticketToRecord(ticket)).toMatchObject({ waiting_for: 'cure' });
		expect(ticketToRecord(ticket)).not.toHaveProperty('waits');
		const odd = ticketRecord.safeParse({ ...record, waits: [{ for: 'part' }] });
		expect(odd.error?.issues[0]?.path).toEqual(['waiting_for']);
	});
	it('what is struck out counts no more, stays on the trail, and comes back where it stood', () => {
		const first = change(fresh, { verb: 'battery', volts: 3.1 });
		const two = change(first, { verb: 'battery', volts: 3.7 }, NOW + 1);
		const struck = change(two, { verb: 'withdraw', list: 'battery', index: 0 }, NOW + 2);
		expect(struck.battery.map(({ volts }) => volts)).toEqual([3.7]);
		const line = ticketTrail(struck, catalog).find(({ text }) => text === 'Battery 3.10 V.');
		expect(line?.struck).toEqual({ index: 0, at: NOW + 2, by: 'ines' });
		expect(ticketRecord.parse(ticketToRecord(struck))).toEqual(struck);
		const back = change(struck, { verb: 'put-back', index: 0 }, NOW + 3);
		expect([back.battery, back.struck]).toEqual([two.battery, []]);
		expect(ticketTrail(back, catalog).at(-1)?.text).toContain('put back');
	});
	it('money of a struck attempt and part comes back to the hundredth', () => {
		const tried = change(fresh, {
			verb: 'attempt',
			operation: 'replace-port',
			technician: 'ines',
			minutes: 41.5,
			resolved: false,
			parts: [{ sku: 'port-smd', quantity: 1 }]
		});
		for (const list of ['attempts', 'parts'] as const) {
			const struck = change(tried, { verb: 'withdraw', list, index: 0 });
			expect(change(struck, { verb: 'put-back', index: 0 })[list]).toEqual(tried[list]);
		}
	});
	it('reopening keeps what was confirmed and paid, and can be taken back unless it was worked on since', () => {
		const closed = change(fresh, {
			verb: 'close',
			outcome: 'not-fixed',
			faults: ['input-fuse'],
			paidMinor: 2500
		});
		const open = change(closed, { verb: 'reopen' }, NOW + 1);
		expect(open).toMatchObject({ closedAt: null, outcome: null, faults: ['input-fuse'], paidMinor: 2500 });
		const again = change(open, { verb: 'close-again' }, NOW + 2);
		expect(again).toMatchObject({
			closedAt: NOW,
			outcome: 'not-fixed',
			faults: ['input-fuse'],
			paidMinor: 2500
		});
		expect(ticketTrail(again, catalog).map(({ text }) => text)).toEqual(
			expect.arrayContaining(['Reopened.', 'Closed again as it was.'])
		);
		expect(ticketRecord.parse(ticketToRecord(again))).toEqual(again);
		const worked = change(open, {
			verb: 'attempt',
			operation: 'replace-port',
			technician: 'ines',
			minutes: 5,
			resolved: true
		});
		expect(() => change(worked, { verb: 'close-again' })).toThrow(/worked on since/);
		expect(() => change(fresh, { verb: 'close-again' })).toThrow(/not reopened/);
	});
	it('the head is corrected field by field, with what it said before', () => {
		const corrected = change(fresh, {
			verb: 'correct',
			customer: { name: 'Vida Oakum', kind: 'private' },
			serial: 'T-9',
			promisedAt: NOW + HOUR_MS,
			reported: 'hums'
		});
		expect(corrected).toMatchObject({ serial: 'T-9', reported: 'hums', customer: { name: 'Vida Oakum' } });
		expect(corrected.corrections.map(({ field, from, to }) => [field, from, to])).toEqual([
			['customer', null, 'Vida Oakum'],
			['kind of customer', null, 'private'],
			['serial', null, 'T-9'],
			['promise', null, '2026-11-24T11:00:00Z'],
			['reported', null, 'hums']
		]);
		expect(change(corrected, { verb: 'correct', reported: '' })).not.toHaveProperty('reported', 'hums');
		expect(() => change(corrected, { verb: 'correct', serial: 'T-9' })).toThrow(/already recorded/);
		const signed = change(corrected, { verb: 'sign', sign: 'no-charge', present: true });
		expect(ticketTrail(signed, catalog).at(-1)?.text).toContain('does not charge: yes');
	});
	it('a device is not called a model that lacks what was read on it', () => {
		const read = change(fresh, { verb: 'read-pins', mode: 'diode', readings: [{ pin: '1', value: 0.4 }] });
		expect(() => change(read, { verb: 'correct', model: 'pelagic-40' })).toThrow(/has no contact 1/);
		expect(change(fresh, { verb: 'correct', model: 'pelagic-40' }).model).toBe('pelagic-40');
	});
	it.each<[string, TicketChangeInput, RegExp]>([
		[
			'an unknown sign',
			{ verb: 'sign', sign: 'nope', present: true },
			/sign: names the sign "nope", which the catalog does not hold/
		],
		[
			'an outcome that the test lacks',
			{ verb: 'observe', test: 'vbus-fuse', outcome: 'blue' },
			/outcomes through, open/
		],
		[
			'a contact that the connector lacks',
			{ verb: 'read-pins', mode: 'diode', readings: [{ pin: 'A4', value: 1 }] },
			/no such contact/
		],
		['an answer before a price', { verb: 'answer', accepted: true }, /quote one first/],
		[
			'stopping what does not run',
			{ verb: 'stop-timer', operation: 'replace-port', technician: 'ines', resolved: true },
			/no timer running/
		],
		['striking out what is not there', { verb: 'withdraw', list: 'notes', index: 0 }, /there are 0 entries/],
		[
			'closing as fixed with gates open',
			{ verb: 'close', outcome: 'fixed', faults: ['port-contacts'], paidMinor: 0 },
			/gates: not passed/
		],
		[
			'no fault found with a fault',
			{ verb: 'close', outcome: 'no-fault-found', faults: ['port-contacts'], paidMinor: 0 },
			/names a fault/
		],
		['being its own comeback', { verb: 'comeback', of: 'K-1' }, /itself/],
		['reopening what is open', { verb: 'reopen' }, /open already/],
		['ending a wait that is none', { verb: 'end-wait', for: 'cure' }, /does not wait for that/],
		['putting back what was not struck out', { verb: 'put-back', index: 0 }, /there are 0 entries/]
	])('refuses %s', (_, input, message) => expect(() => change(fresh, input)).toThrow(message));
	it('refuses any change of a closed ticket but a note, until it is reopened', () => {
		const closed = change(fresh, { verb: 'close', outcome: 'not-worth-it', faults: [], paidMinor: 0 });
		expect(() => change(closed, { verb: 'quote', priceMinor: 1 })).toThrow(/is closed; reopen/);
		expect(change(closed, { verb: 'note', text: 'called' }).notes).toHaveLength(1);
	});
	it('closes as fixed once every gate is passed after the last repair', () => {
		const repaired = change(
			passAll(fresh),
			{ verb: 'attempt', operation: 'replace-port', technician: 'ines', minutes: 41, resolved: true },
			NOW + 1000
		);
		expect(() =>
			change(
				repaired,
				{ verb: 'close', outcome: 'fixed', faults: ['port-contacts'], paidMinor: 8900 },
				NOW + 2000
			)
		).toThrow(/gates/);
		const proved = passAll(repaired, NOW + 3000);
		expect(
			change(
				proved,
				{ verb: 'close', outcome: 'fixed', faults: ['port-contacts'], paidMinor: 8900 },
				NOW + 4000
			)
		).toMatchObject({ outcome: 'fixed', paidMinor: 8900 });
		expect(gateStates(repaired, catalog).every(({ passed }) => passed === null)).toBe(true);
	});
	it('a device closed as fixed brings its closing readings as known good, an unfixed one none', () => {
		const read = change(fresh, {
			verb: 'read-pins',
			stage: 'closing',
			mode: 'diode',
			readings: [
				{ pin: '1', value: 0.47 },
				{ pin: '4', overload: true }
			]
		});
		const closed = change(passAll(read), {
			verb: 'close',
			outcome: 'fixed',
			faults: ['port-debris'],
			paidMinor: 0
		});
		expect(
			provenReferences(closed).map(({ pin, value, overload, grade }) => [pin, value ?? overload, grade])
		).toEqual([
			['1', 0.47, 'verified'],
			['4', true, 'verified']
		]);
		expect(
			provenReferences(change(read, { verb: 'close', outcome: 'not-fixed', faults: [], paidMinor: 0 }))
		).toEqual([]);
	});
});
