import { describe, expect, it } from 'vitest';
import { durationWords, promiseSlack } from '../bench/promise';
import { gateStates } from '../bench/gates';
import { buildCatalog } from '../catalog/catalog';
import { DEMO_CATALOG } from '../simulation/demo-catalog';
import { simulateShop } from '../simulation/demo-shop';
import { HOUR_MS } from '../units/instant';
import { promoteProvisional, provenReferences, provisionalReferences } from './proven-references';
import { applyChange, isRefusal, ticketChangeSchema, type TicketChangeInput } from './ticket-change';
import { ticketFromRecord, ticketRecord, ticketToRecord, type Ticket } from './ticket-record';
import { ticketTrail } from './trail';

const catalog = buildCatalog(DEMO_CATALOG);
const NOW = Date.UTC(2026, 10, 24, 10);
const fresh: Ticket = ticketFromRecord(
	ticketRecord.parse({ record: 'ticket', number: 'K-1', opened_at: '2026-11-24T09:00:00Z', model: 'tern-6' })
);
function change(ticket: Ticket, input: TicketChangeInput, now = NOW): Ticket {
	const changed = applyChange(ticket, ticketChangeSchema.parse(input), { now, by: 'ines', catalog });
	if (isRefusal(changed)) throw new Error(`${changed.field}: ${changed.message}`);
	return changed;
}
const passAll = (ticket: Ticket, now = NOW) =>
	[...catalog.gates.keys()].reduce((t, gate) => change(t, { verb: 'gate', gate, passed: true }, now), ticket);

describe('records', () => {
	it('go out and come back the same, every demo ticket', () => {
		const { tickets } = simulateShop({ seed: 5, endsAt: NOW, count: 120 });
		for (const ticket of tickets) {
			const record = JSON.parse(JSON.stringify(ticketToRecord(ticket)));
			expect(ticketToRecord(ticketFromRecord(ticketRecord.parse(record)))).toEqual(ticketToRecord(ticket));
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
		expect(ticketToRecord(ticketFromRecord(ticketRecord.parse(example)))).toEqual(example);
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
		expect(ticketTrail(closed, catalog).at(-1)?.text).toContain('Pads or traces torn (made by the repair)');
		expect(ticketFromRecord(ticketRecord.parse(ticketToRecord(closed)))).toEqual(closed);
		expect(change(closed, { verb: 'reopen' })).not.toHaveProperty('ownFaults');
		expect(close(['coil-open'])).toMatchObject({ field: 'ownFaults' });
		const odd = { ...ticketToRecord(closed), own_faults: ['coil-open'] };
		expect(ticketRecord.safeParse(odd).error?.issues[0]?.path).toEqual(['own_faults']);
	});
	it('a contact read again replaces its reading of that stage, and of no other', () => {
		const read = (t: Ticket, value: number, stage: 'diagnosis' | 'closing' = 'diagnosis') =>
			change(t, { verb: 'read-pins', stage, mode: 'diode', readings: [{ pin: '1', value }] });
		const twice = read(read(read(fresh, 0.4), 0.5), 0.47, 'closing');
		expect(twice.readings.map(({ value }) => value)).toEqual([0.5, 0.47]);
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
	it('a price waits for the customer, its answer ends the wait', () => {
		const quoted = change(fresh, { verb: 'quote', priceMinor: 8900 });
		expect(quoted).toMatchObject({ quotedMinor: 8900, accepted: null, waitingFor: 'customer' });
		expect(change(quoted, { verb: 'answer', accepted: true })).toMatchObject({
			accepted: true,
			waitingFor: null
		});
	});
	it.each<[string, TicketChangeInput, RegExp]>([
		['an unknown sign', { verb: 'sign', sign: 'nope', present: true }, /sign: is "nope"/],
		[
			'an outcome that the test lacks',
			{ verb: 'observe', test: 'vbus-fuse', outcome: 'blue' },
			/has through, open/
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
		['reopening what is open', { verb: 'reopen' }, /open already/]
	])('refuses %s', (_, input, message) => expect(() => change(fresh, input)).toThrow(message));
	it('refuses any change of a closed ticket but a note, until it is reopened', () => {
		const closed = change(fresh, { verb: 'close', outcome: 'not-worth-it', faults: [], paidMinor: 0 });
		expect(() => change(closed, { verb: 'quote', priceMinor: 1 })).toThrow(/is closed; reopen/);
		expect(change(closed, { verb: 'note', text: 'called' }).notes).toHaveLength(1);
		expect(change(closed, { verb: 'reopen' })).toMatchObject({ closedAt: null, outcome: null, faults: null });
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

describe('provisional readings', () => {
	const read = (stage: 'diagnosis' | 'closing', value: number, meter?: string) => ({
		verb: 'read-pins' as const,
		stage,
		mode: 'diode' as const,
		...(meter ? { meter } : {}),
		readings: [{ pin: '1', value }]
	});
	const provisional = (value: number) =>
		({
			record: 'reference',
			model: fresh.model,
			pin: '1',
			mode: 'diode',
			value,
			grade: 'provisional',
			ticket: fresh.number
		}) as const;
	it('come of contacts that show no deviation, with how they were read', () => {
		const ticket = change(fresh, { ...read('diagnosis', 0.47, 'bench meter'), board: 'r2' });
		const verdict = {
			pin: '1',
			net: 'vbus',
			mode: 'diode',
			value: 0.47,
			overload: false,
			confidence: 0,
			expected: null
		} as const;
		const kept = provisionalReferences(ticket, 'diode', [{ ...verdict, verdict: 'no-reference' }], new Set());
		expect(kept).toMatchObject([
			{ pin: '1', value: 0.47, grade: 'provisional', meter: 'bench meter', board: 'r2', ticket: fresh.number }
		]);
		expect(provisionalReferences(ticket, 'diode', [{ ...verdict, verdict: 'short' }], new Set())).toEqual([]);
		expect(
			provisionalReferences(ticket, 'diode', [{ ...verdict, verdict: 'no-reference' }], new Set(['1']))
		).toEqual([]);
	});
	it('are verified by the same device once it is repaired, or proved wrong by it', () => {
		const closed = change(passAll(change(fresh, read('closing', 0.472))), {
			verb: 'close',
			outcome: 'fixed',
			faults: ['port-debris'],
			paidMinor: 0
		});
		const proven = provenReferences(closed);
		expect(promoteProvisional([provisional(0.47)], proven)).toMatchObject({
			promoted: [{ grade: 'verified', value: 0.47 }],
			refuted: []
		});
		expect(promoteProvisional([provisional(0.3)], proven)).toMatchObject({
			promoted: [],
			refuted: [{ value: 0.3 }]
		});
	});
	it('a stand-in instrument proves nothing', () => {
		const closed = change(passAll(change(fresh, read('closing', 0.472, 'simulated multimeter'))), {
			verb: 'close',
			outcome: 'fixed',
			faults: ['port-debris'],
			paidMinor: 0
		});
		expect(provenReferences(closed)).toEqual([]);
	});
});

describe('trail', () => {
	it('is in order of time and words what was seen, measured, tried and closed', () => {
		let ticket = change(fresh, { verb: 'sign', sign: 'no-charge', present: true });
		ticket = change(ticket, { verb: 'plug-in', orientation: 'a', volts: 5.08, amps: 0.06 }, NOW + 1);
		ticket = change(ticket, { verb: 'observe', test: 'vbus-fuse', outcome: 'open' }, NOW + 2);
		ticket = change(
			ticket,
			{ verb: 'close', outcome: 'not-fixed', faults: ['input-fuse'], paidMinor: 0 },
			NOW + 3
		);
		const trail = ticketTrail(ticket, catalog);
		expect(trail.map(({ at }) => at)).toEqual([...trail.map(({ at }) => at)].sort((a, b) => a - b));
		expect(trail.map(({ text }) => text)).toEqual([
			'Taken in: does not charge.',
			'Plugged in: side A 5.08 V 0.06 A, a trickle.',
			'Fuse, continuity: open.',
			'Closed, not fixed. Input fuse open.'
		]);
	});
});

describe('promises', () => {
	it.each([
		[null, 0, 'none'],
		[NOW + 5 * HOUR_MS, 60, 'fine'],
		[NOW + 2 * HOUR_MS, 60, 'tight'],
		[NOW + HOUR_MS, 90, 'late']
	] as const)('%j with %d minutes to go is %s', (promised, minutes, urgency) =>
		expect(promiseSlack(promised, NOW, minutes).urgency).toBe(urgency)
	);
	it.each([
		[25 * 60_000, '25 min'],
		[190 * 60_000, '3 h 10'],
		[-65 * 60_000, '1 h 05'],
		[52 * HOUR_MS, '2 d 4 h']
	])('%d ms in words is %s', (ms, words) => expect(durationWords(ms)).toBe(words));
});
