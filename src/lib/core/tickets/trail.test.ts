import { describe, expect, it } from 'vitest';
import { durationWords, promiseSlack } from '../bench/promise';
import { HOUR_MS } from '../units/instant';
import { promoteProvisional, provenReferences, provisionalReferences } from './proven-references';
import { VERBS } from './ticket-change';
import { mayMake, PERMISSIONS } from './verb-roles';
import { ticketTrail } from './trail';
import { catalog, fresh, made as change, NOW, passed as passAll } from '$worlds/changed-tickets';

describe('who may make a change', () => {
	it('every verb has its roles, and no other stands in the table', () => {
		expect(PERMISSIONS.map(({ change }) => change).sort()).toEqual([...VERBS, 'close as declined'].sort());
		for (const { roles } of PERMISSIONS) expect(roles).toContain('manager');
	});
	it('the counter neither reopens nor closes as fixed, but hears a customer who declines', () => {
		const close = (outcome: 'fixed' | 'declined') =>
			mayMake('counter', { verb: 'close', outcome, faults: [], ownFaults: [], paidMinor: 0 }, fresh);
		expect([close('fixed'), close('declined'), mayMake('counter', { verb: 'reopen' }, fresh)]).toEqual([
			false,
			true,
			false
		]);
	});
	it('who may not make an entry may neither strike it out nor put it back', () => {
		const strike = (list: 'readings' | 'battery') =>
			mayMake('counter', { verb: 'withdraw', list, index: 0 }, fresh);
		expect([strike('readings'), strike('battery')]).toEqual([false, true]);
		const struck = { struck: [{ list: 'attempts' as const, index: 0, entry: {} }] };
		expect(mayMake('counter', { verb: 'put-back', index: 0 }, struck)).toBe(false);
		expect(mayMake('technician', { verb: 'put-back', index: 0 }, struck)).toBe(true);
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
			'Asked: does not charge: yes.',
			'Plugged in: side A 5.08 V 60 mA, a trickle.',
			'Fuse, continuity: open.',
			'Closed, not fixed. Input fuse open.'
		]);
	});
});

describe('the trail holds', () => {
	const texts = (...changes: Parameters<typeof change>[1][]) =>
		ticketTrail(
			changes.reduce((ticket, input) => change(ticket, input), fresh),
			catalog
		).slice(1);
	it('prices, answers and hand-overs, each with its moment and its hand', () => {
		const entries = texts(
			{ verb: 'quote', priceMinor: 8900 },
			{ verb: 'answer', accepted: false },
			{ verb: 'quote', priceMinor: 7000 },
			{ verb: 'answer', accepted: true },
			{ verb: 'hand-over', to: 'bram' },
			{ verb: 'hand-over', to: null }
		);
		expect(entries.map(({ kind, text, amountMinor }) => [kind, text, amountMinor])).toEqual([
			['quoted', 'Quoted', 8900],
			['quoted', 'Declined.', undefined],
			['quoted', 'Quoted', 7000],
			['quoted', 'Accepted.', undefined],
			['noted', 'Passed to Bram.', undefined],
			['noted', 'Put back in the queue.', undefined]
		]);
		for (const { at, by } of entries) expect([at, by]).toEqual([NOW, 'ines']);
	});
	it('what contacts show by themselves', () => {
		const read = (...readings: { pin: string; value?: number; overload?: boolean }[]) =>
			texts({ verb: 'read-pins', mode: 'diode', readings })[0]?.text;
		expect(read({ pin: '1', value: 0.001 }, { pin: '2', value: 0.61 }, { pin: '5', value: 0.001 })).toBe(
			'Read 3 contacts, diode; 1 short.'
		);
		expect(read({ pin: '1', value: 0.47 }, { pin: '2', value: 0.61 })).toBe('Read 2 contacts, diode.');
	});
	it('outcomes and steps of the work in words', () => {
		expect(texts({ verb: 'observe', test: 'port-joint-push', outcome: 'some-move' })[0]?.text).toBe(
			'Push the joints under the lens: some move.'
		);
		const step = {
			operation: 'replace-port',
			technician: 'ines',
			minutes: 20,
			resolved: false,
			part: true
		} as const;
		expect(texts({ verb: 'attempt', ...step })[0]?.text).toBe('Fit a new port: step only. 20 min.');
		expect(texts({ verb: 'wait', for: 'pick-up' })[0]?.text).toBe('Waits for pick up.');
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
