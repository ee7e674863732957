import { describe, expect, it } from 'vitest';
import { gateStates } from '../bench/gates';
import { openRun } from '../bench/procedure-run';
import { heatOnBoard } from '../bench/heat';
import { MINUTE_MS } from '../units/instant';
import { attempt, catalog, close, fresh, made, NOW, passed, tryOut } from '$worlds/changed-tickets';
import { isRefusal } from './refusal';
import { ticketTrail } from './trail';
import type { TicketChangeInput } from './ticket-change';
import type { Ticket } from './ticket-record';
import { nextEndOf, waitsNow } from './waits';

const CODE = 'port-hot-air';
const steps = catalog.procedures.get(CODE)?.steps ?? [];
type Step = Extract<TicketChangeInput, { verb: 'step' }>;
const step = (at: number, did: Step['did'], more: Partial<Step> = {}): Step => ({
	verb: 'step',
	procedure: CODE,
	version: 1,
	step: at,
	did,
	technician: 'ines',
	...more
});
const at = (minutes: number) => NOW + minutes * MINUTE_MS;
/** Changes five minutes apart. */
const follow = (ticket: Ticket, changes: TicketChangeInput[], from = 0): Ticket =>
	changes.reduce((now, change, i) => made(now, change, at(from + 5 * i)), ticket);
const why = (ticket: Ticket, change: TicketChangeInput, minutes = 60) => {
	const changed = tryOut(ticket, change, at(minutes));
	return isRefusal(changed) ? changed.field : 'made';
};
const firstWait = steps.findIndex(({ kind }) => kind === 'wait');
const firstPart = steps.findIndex(({ kind }) => kind === 'part');
const firstGate = steps.findIndex(({ kind }) => kind === 'gate');
/** What is measured with the old port off, before the step that must be answered then. */
const seenBehind: TicketChangeInput = {
	verb: 'observe',
	stage: 'port-off',
	test: 'vbus-ground-off',
	outcome: 'normal'
};
const isMeasured = ({ kind, must }: (typeof steps)[number]) => kind === 'measure' && must;
const mustMeasure = steps.findIndex(isMeasured);
const upTo = (end: number): TicketChangeInput[] => [
	step(0, 'begun'),
	...steps.slice(0, end).flatMap((about, i) => [...(isMeasured(about) ? [seenBehind] : []), step(i, 'done')])
];
/** Everything before a place, with waits ended and checks passed. */
function before(end: number): Ticket {
	let ticket = made(fresh, step(0, 'begun'));
	steps.slice(0, end).forEach((about, i) => {
		if (isMeasured(about)) ticket = made(ticket, seenBehind, at(5 + i));
		ticket = made(ticket, step(i, 'done', about.kind === 'gate' ? { passed: true } : {}), at(5 + i));
		if (about.kind !== 'wait') return;
		ticket = made(ticket, { verb: 'end-wait', for: about.wait ?? 'cure' }, at(5 + i));
		ticket = made(ticket, step(i + 1, 'begun'), at(5 + i));
	});
	return ticket;
}

const WAKE = catalog.procedures.get('pack-woken');
const cellVolts = (WAKE?.steps ?? []).findIndex(isMeasured);
const wakeStep = (at: number, did: Step['did']): Step =>
	step(at, did, { procedure: 'pack-woken', version: WAKE?.version ?? 1 });
const packOpened = Array.from({ length: cellVolts }, (_, i) => wakeStep(i, 'done')).reduce(
	(ticket, change) => made(ticket, change),
	made(fresh, wakeStep(0, 'begun'))
);

describe('a procedure that is followed', () => {
	it.each<[string, Ticket, TicketChangeInput, string]>([
		['a version that is not there', fresh, step(0, 'begun', { version: 9 }), 'procedure'],
		['begun in the middle', fresh, step(1, 'begun'), 'step'],
		['done before it was begun', fresh, step(0, 'done'), 'did'],
		['the wrong step', follow(fresh, upTo(1)), step(0, 'done'), 'step'],
		['a step ahead', follow(fresh, upTo(1)), step(2, 'done'), 'step'],
		['begun twice by the same hands', follow(fresh, upTo(1)), step(1, 'begun'), 'technician'],
		['others go on with it', follow(fresh, upTo(1)), step(1, 'begun', { technician: 'bram' }), 'made'],
		[
			'another procedure meanwhile',
			follow(fresh, upTo(1)),
			step(0, 'begun', { procedure: 'battery-fit' }),
			'procedure'
		],
		['a caution left out', follow(fresh, upTo(1)), step(1, 'skipped', { why: 'no time' }), 'did'],
		['left out without a word', follow(fresh, upTo(2)), step(2, 'skipped'), 'why'],
		['left out with one', follow(fresh, upTo(2)), step(2, 'skipped', { why: 'no plastics near' }), 'made'],
		[
			'the new port before anything was measured behind it',
			before(mustMeasure),
			step(mustMeasure, 'done'),
			'did'
		],
		[
			'measured, with the old port still on',
			made(before(mustMeasure), { ...seenBehind, stage: 'diagnosis' }),
			step(mustMeasure, 'done'),
			'did'
		],
		['measured behind it', made(before(mustMeasure), seenBehind), step(mustMeasure, 'done'), 'made'],
		['not measured, without a word', before(mustMeasure), step(mustMeasure, 'skipped'), 'why'],
		[
			'not measured, with one',
			before(mustMeasure),
			step(mustMeasure, 'skipped', { why: 'the meter is away' }),
			'made'
		],
		[
			'the cells that a supply would feed, not measured for whatever reason',
			packOpened,
			{ ...wakeStep(cellVolts, 'skipped'), why: 'the meter is away' },
			'did'
		],
		['a check without an answer', before(firstGate), step(firstGate, 'done'), 'passed'],
		['ended early without a word', follow(fresh, upTo(2)), step(2, 'ended'), 'why'],
		['ended early with one', follow(fresh, upTo(2)), step(2, 'ended', { why: 'goes home' }), 'made'],
		[
			'part of the work that resolved',
			before(steps.length),
			step(steps.length - 1, 'ended', { resolved: true, part: true }),
			'part'
		],
		['nobody who works here', fresh, step(0, 'begun', { technician: 'nobody' }), 'technician'],
		['heat before the battery is out', follow(fresh, upTo(1)), { verb: 'heat', on: true }, 'on'],
		['heat after it', follow(fresh, upTo(2)), { verb: 'heat', on: true }, 'made'],
		['heat without a procedure', fresh, { verb: 'heat', on: true }, 'made'],
		['heat off that is not on', fresh, { verb: 'heat', on: false }, 'on']
	])('%s', (_, ticket, change, field) => expect(why(ticket, change)).toBe(field));

	it('minutes are those between its entries, by who did them', () => {
		const ticket = follow(fresh, upTo(2));
		expect(ticket.steps.map(({ did, minutes }) => [did, minutes])).toEqual([
			['begun', undefined],
			['done', 5],
			['done', 5]
		]);
		expect(ticket.running).toEqual([{ operation: 'replace-port', technician: 'ines', startedAt: NOW }]);
	});
	it('a wait begins with its step, ends at a time, and the hands stop', () => {
		const ticket = follow(fresh, upTo(firstWait + 1));
		const until = at(5 * (firstWait + 1) + (steps[firstWait]?.minutes ?? 0));
		expect(waitsNow(ticket)).toMatchObject([{ for: 'cooling', until, note: steps[firstWait]?.says }]);
		expect(nextEndOf(ticket)).toBe(until);
		expect(nextEndOf({ ...ticket, closedAt: NOW })).toBeNull();
		expect(ticket.running).toEqual([]);
		expect(ticket.attempts).toMatchObject([
			{ operation: 'replace-port', technician: 'ines', part: true, minutes: 5 * (firstWait + 1) }
		]);
	});
	it('a part and a check are entered with their steps', () => {
		const ticket = made(before(firstPart), step(firstPart, 'done'), at(50));
		expect(ticket.parts).toMatchObject([{ sku: 'port-smd', quantity: 1 }]);
		const failed = made(before(firstGate), step(firstGate, 'done', { passed: false }), at(50));
		expect(failed.gates).toMatchObject([{ gate: steps[firstGate]?.gate, passed: false }]);
	});
	it('its end is the attempt; then it can be begun anew', () => {
		const ticket = made(before(steps.length), step(steps.length - 1, 'ended', { resolved: true }), at(90));
		expect(ticket.attempts.at(-1)).toMatchObject({
			operation: 'replace-port',
			technician: 'ines',
			resolved: true
		});
		expect(ticket.attempts.slice(0, -1).every(({ part }) => part)).toBe(true);
		expect(ticket.running).toEqual([]);
		expect(openRun(ticket.steps)).toBeNull();
		expect(openRun(made(ticket, step(0, 'begun'), at(95)).steps)?.next).toBe(0);
	});
	it('checks that were passed after its last work stand when it ends', () => {
		const ticket = made(before(steps.length), step(steps.length - 1, 'ended', { resolved: true }), at(90));
		const open = gateStates(ticket, catalog).filter(
			({ when, passed }) => when === 'before-sealing' && !passed
		);
		expect(open).toEqual([]);
		// work after it undoes them, as ever
		const again = made(ticket, { ...attempt, resolved: true }, at(95));
		expect(gateStates(again, catalog).filter(({ passed }) => passed)).toEqual([]);
	});
	it('ends the timers of others as part of the work', () => {
		const shared = made(follow(fresh, upTo(2)), step(2, 'begun', { technician: 'bram' }), at(20));
		const ended = made(shared, step(2, 'ended', { why: 'late', resolved: false }), at(30));
		expect(ended.running).toEqual([]);
		expect(ended.attempts).toMatchObject([
			{ technician: 'bram', part: true, minutes: 10 },
			{ technician: 'ines', resolved: false, minutes: 30 }
		]);
	});
	it('the trail tells it in one line', () => {
		const ticket = follow(fresh, [...upTo(2), step(2, 'skipped', { why: 'no plastics near' })]);
		const line = ticketTrail(ticket, catalog).find(({ text }) => text.includes('hot air'));
		expect(line).toMatchObject({
			by: 'ines',
			text: `New port by hot air with preheat, version 1: 2 of ${steps.length} steps; left out “${steps[2]?.says}”: no plastics near.`
		});
	});
});

describe('a hand-over', () => {
	it('ends the timer of who gives it, keeps the minutes as part of the work, and says why', () => {
		const given = made(
			made(made(fresh, { verb: 'hand-over', to: 'ines' }), step(0, 'begun'), at(0)),
			{ verb: 'hand-over', to: 'tomasz', reason: 'needs the microscope', done: 'opened', leftAt: 'tray 4' },
			at(12)
		);
		expect(given.running).toEqual([]);
		expect(given.attempts).toMatchObject([{ technician: 'ines', part: true, minutes: 12 }]);
		expect(given.dealings.at(-1)).toMatchObject({ handedTo: 'tomasz', reason: 'needs the microscope' });
		expect(ticketTrail(given, catalog).at(-1)?.text).toBe(
			'Passed to Tomasz: needs the microscope; done: opened; parts and screws: tray 4.'
		);
	});
	it('of a ticket that nobody has ends what runs all the same', () => {
		const given = made(made(fresh, step(0, 'begun')), { verb: 'hand-over', to: 'bram' }, at(5));
		expect(given.running).toEqual([]);
		expect(given.attempts).toMatchObject([{ technician: 'ines', part: true, minutes: 5 }]);
	});
	it('to oneself stops nothing', () => {
		const kept = made(made(made(fresh, { verb: 'hand-over', to: 'ines' }), step(0, 'begun')), {
			verb: 'hand-over',
			to: 'ines'
		});
		expect(kept.running).toHaveLength(1);
	});
});

describe('waits', () => {
	it('end after some minutes or at a moment, never in the past', () => {
		expect(made(fresh, { verb: 'wait', for: 'cure', minutes: 10 }).waits[0]?.until).toBe(at(10));
		expect(made(fresh, { verb: 'wait', for: 'part', until: at(90) }).waits[0]?.until).toBe(at(90));
		expect(why(fresh, { verb: 'wait', for: 'part', until: at(60) }, 60)).toBe('until');
		expect(why(fresh, { verb: 'wait', for: 'part', until: at(61) }, 60)).toBe('made');
	});
});

describe('sealing, telling, asking again', () => {
	const proved = passed(made(fresh, attempt));
	const closed = made(proved, close({ paidMinor: 0 }));
	const screw = (did: 'out' | 'in' | 'missing' | 'left-over', places = ['tray']): TicketChangeInput => ({
		verb: 'screw',
		places,
		did
	});
	it.each<[string, Ticket, TicketChangeInput, string]>([
		['sealed before it is proved', made(fresh, attempt), { verb: 'seal' }, 'gates'],
		['sealed with a screw out', made(proved, screw('out')), { verb: 'seal' }, 'screws'],
		['sealed with one left over', made(proved, screw('left-over')), { verb: 'seal' }, 'screws'],
		[
			'sealed all the same, with a word',
			made(proved, screw('missing')),
			{ verb: 'seal', despite: 'came without' },
			'made'
		],
		['sealed with all back', made(made(proved, screw('out')), screw('in')), { verb: 'seal' }, 'made'],
		['a screw that the map lacks', fresh, screw('out', ['nowhere']), 'places'],
		['told while it is open', fresh, { verb: 'tell', how: 'telephone' }, 'ticket'],
		['told once it is ready', closed, { verb: 'tell', how: 'message' }, 'made'],
		['told when it is gone', made(closed, { verb: 'collect' }), { verb: 'tell', how: 'message' }, 'ticket'],
		['asked how it does before it is gone', closed, { verb: 'follow-up', found: 'holds' }, 'ticket'],
		[
			'asked after',
			made(closed, { verb: 'collect' }),
			{ verb: 'follow-up', found: 'holds', said: 'all well' },
			'made'
		],
		[
			'a check that failed does not apply',
			fresh,
			{ verb: 'gate', gate: 'functions', passed: false, notApplicable: 'x' },
			'notApplicable'
		],
		[
			'a check that does not apply',
			fresh,
			{ verb: 'gate', gate: 'functions', passed: true, notApplicable: 'no flex' },
			'made'
		]
	])('%s', (_, ticket, change, field) => expect(why(ticket, change)).toBe(field));
	it('what was amiss stays on the ticket', () => {
		const sealed = made(made(proved, screw('missing')), { verb: 'seal', despite: 'came without' });
		expect(sealed.notes.at(-1)?.text).toBe('Sealed with missing: Card tray: came without');
	});
	it('a pin is put and taken out again', () => {
		const pinned = made(fresh, { verb: 'pin', to: { technician: 'ines', startAt: at(30) } });
		expect(pinned.pinned).toEqual({ technician: 'ines', startAt: at(30) });
		expect('pinned' in made(pinned, { verb: 'pin', to: null })).toBe(false);
	});
	it('heat says how long it was on', () => {
		const ticket = made(
			made(fresh, { verb: 'heat', on: true }),
			{ verb: 'heat', on: false, seconds: 42 },
			at(9)
		);
		expect(heatOnBoard(ticket.heat, at(20)).seconds).toBe(42);
	});
});
