import { knownIn } from '../evidence/known-codes';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { catalog, NOW, fresh, made, after, close } from '$worlds/changed-tickets';
import { buildCatalog } from '../catalog/catalog';
import type { CatalogRecord } from '../catalog/kinds';
import type { NamedKind } from '../catalog/needs';
import { checkReferences, unmetOf } from '../exchange/check-references';
import { readLines } from '../exchange/read-lines';
import { simulateShop } from '../simulation/demo-shop';
import { sliceBetween, spliceBetween, withSlice, withSplice } from './slices';
import { taughtBy } from './taught';
import { type Ticket } from './ticket-record';
import { waitsOf } from './waits';

describe('the same rules check an import', () => {
	const known = knownIn(catalog);
	const record = (more: object) => ({
		record: 'ticket',
		number: 'K-9',
		opened_at: '2026-11-24T09:00:00Z',
		model: 'tern-6',
		...more
	});
	const errors = (more: object) => {
		const { records, errors } = readLines(JSON.stringify(record(more)));
		return [...errors, ...checkReferences(records, known)].map(({ path }) => path);
	};
	it.each<[object, string[]]>([
		[{}, []],
		[{ model: 'gone' }, ['model']],
		[{ signs: { gone: true } }, ['signs.gone']],
		[{ opinions: [{ from: 'customer', fault: 'gone' }] }, ['opinions.0.fault']],
		[
			{
				inspection: [
					{ place: '1', state: 'bent' },
					{ place: 'tongue', state: 'bent' },
					{ place: 'Z9', state: 'bent' }
				]
			},
			['inspection.2.place']
		],
		[{ observations: [{ test: 'gone', outcome: 'x' }] }, ['observations.0.test']],
		[{ observations: [{ test: 'vbus-fuse', outcome: 'gone' }] }, ['observations.0.outcome']],
		[{ readings: [{ stage: 'intake', pin: 'Z9', mode: 'diode', value: 1 }] }, ['readings.0.pin']],
		[{ readings: [{ stage: 'intake', pin: 'tongue', mode: 'diode', value: 1 }] }, ['readings.0.pin']],
		[{ path: [{ stage: 'intake', node: 'gone', volts: 5 }] }, ['path.0.node']],
		[
			{
				continuity: [
					{
						misses: [
							['1', '2'],
							['1', 'Z9']
						],
						probes: 1
					}
				]
			},
			['continuity.0.misses.1']
		],
		[
			{ attempts: [{ operation: 'gone', resolved: true, technician: 'nobody' }] },
			['attempts.0.operation', 'attempts.0.technician']
		],
		[
			{ running: [{ operation: 'gone', technician: 'nobody', started_at: '2026-11-24T09:00:00Z' }] },
			['running.0.operation', 'running.0.technician']
		],
		[{ faults: ['coil-open', 'gone'] }, ['faults.1']],
		[{ faults: ['gone'], own_faults: ['gone'] }, ['faults.0', 'own_faults.0']],
		[{ parts: [{ sku: 'gone', quantity: 1 }] }, ['parts.0.sku']],
		[{ gates: [{ gate: 'gone', passed: true }] }, ['gates.0.gate']],
		[{ assigned_to: 'gone' }, ['assigned_to']],
		[{ comeback_of: 'K-404' }, ['comeback_of']],
		[{ comeback_of: 'K-9' }, ['comeback_of']],
		[{ outcome: 'fixed' }, ['closed_at', 'faults']],
		[{ closed_at: '2026-11-24T10:00:00Z' }, ['outcome']],
		[{ closed_at: '2026-11-24T08:59:59Z', outcome: 'declined' }, ['closed_at']],
		[{ closed_at: '2026-11-24T09:00:00Z', outcome: 'declined' }, []],
		[{ faults: ['coil-open', 'coil-open'] }, ['faults']],
		[{ faults: ['coil-open'], own_faults: ['input-fuse'] }, ['own_faults']],
		[{ waits: [{ for: 'part' }], waiting_for: 'cure' }, ['waiting_for']],
		[{ waits: [{ for: 'part' }], waiting_for: 'part' }, []],
		[{ waits: [{ for: 'part', ended_at: '2026-11-24T10:00:00Z' }], waiting_for: 'part' }, ['waiting_for']],
		[{ struck: [{ list: 'notes', index: 0, entry: { text: '' } }] }, ['struck.0.entry.text']],
		[{ readings: [{ stage: 'intake', pin: '1', mode: 'diode' }] }, ['readings.0.value']],
		[{ meter: [{ stage: 'intake', volts: 5, amps: 101 }] }, ['meter.0.amps']],
		[{ soak: [{ minutes: 1, percent: 100.1 }] }, ['soak.0.percent']],
		[{ odd: 1 }, ['odd']]
	])('%j', (more, paths) => expect(errors(more)).toEqual(paths));
	it('of every demo ticket nothing', () => {
		const { tickets, records } = simulateShop({ seed: 8, endsAt: NOW, count: 60 });
		const whole = knownIn(buildCatalog(records as CatalogRecord[]));
		const numbers = new Set(tickets.map(({ number }) => number));
		const withTickets = {
			...whole,
			has: (kind: NamedKind, key: string) => (kind === 'ticket' ? numbers.has(key) : whole.has(kind, key))
		};
		for (const ticket of tickets) expect(unmetOf('ticket', ticket, withTickets)).toEqual([]);
	});
	it('what any line of the input defines is there, whatever the order', () => {
		const lines = [
			{
				record: 'ticket',
				number: 'K-10',
				opened_at: '2026-11-24T09:00:00Z',
				model: 'new',
				comeback_of: 'K-11',
				readings: [{ stage: 'intake', pin: 'P1', mode: 'diode', value: 1 }],
				path: [{ stage: 'intake', node: 'n1', volts: 1 }],
				observations: [{ test: 'vbus-fuse', outcome: 'maybe' }]
			},
			{
				record: 'model',
				code: 'new',
				label: 'New',
				connector: 'new-port',
				path: [{ node: 'n1', label: 'N', volts: { low: 1, high: 2 } }]
			},
			{ record: 'connector', code: 'new-port', label: 'New', pins: [{ pin: 'P1', net: 'vbus' }] },
			{ record: 'test', code: 'vbus-fuse', label: 'Again', minutes: 1, outcomes: ['maybe', 'not'] },
			{ record: 'ticket', number: 'K-11', opened_at: '2026-11-24T09:00:00Z', model: 'tern-6' }
		].map((line) => JSON.stringify(line));
		const { records, errors } = readLines(lines.join('\n'));
		expect(errors).toEqual([]);
		expect(checkReferences(records, known)).toEqual([]);
		expect(
			checkReferences(
				records.filter(({ line }) => line !== 4 && line !== 3),
				known
			).map(({ path }) => path)
		).toEqual(['observations.0.outcome', 'connector']);
	});
});

describe('slices', () => {
	const list = fc.array(fc.integer({ min: 0, max: 3 }), { maxLength: 8 });
	it('the stretch that differs, and no more: put in, it is the other list', () => {
		fc.assert(
			fc.property(list, list, (before, after) => {
				const splice = spliceBetween(before, after);
				if (splice === null) expect(before).toEqual(after);
				else {
					expect(withSplice(before, splice)).toEqual(after);
					expect(splice.at + splice.remove).toBeLessThanOrEqual(before.length);
				}
			})
		);
		expect(spliceBetween([1, 2, 3], [1, 9, 3])).toEqual({ at: 1, remove: 1, insert: [9] });
		expect(spliceBetween([1, 1], [1, 1, 1])).toEqual({ at: 2, remove: 0, insert: [1] });
		expect(spliceBetween([1, 2], [])).toEqual({ at: 0, remove: 2, insert: [] });
		expect(spliceBetween([], [])).toBeNull();
	});
	it('between any two tickets of a shop', () => {
		const { tickets } = simulateShop({ seed: 9, endsAt: NOW, count: 30 });
		for (const [i, before] of tickets.entries()) {
			const other = tickets[(i + 1) % tickets.length] as Ticket;
			expect(withSlice(before, sliceBetween(before, other))).toEqual(other);
		}
		expect(sliceBetween(fresh, { ...fresh })).toEqual({ lists: {}, set: {}, unset: [] });
		const gone = sliceBetween({ ...fresh, reported: 'x' }, fresh);
		expect(gone.unset).toEqual(['reported']);
		expect(withSlice({ ...fresh, reported: 'x' }, gone)).not.toHaveProperty('reported');
	});
});

describe('what a ticket teaches', () => {
	it('an open one nothing until its price is answered, then only that', () => {
		expect(taughtBy(fresh)).toBeNull();
		expect(taughtBy(after({ verb: 'quote', priceMinor: 5 }))).toBeNull();
		const answered = after({ verb: 'quote', priceMinor: 5 }, { verb: 'answer', accepted: false });
		expect(taughtBy(answered)).not.toBeNull();
		expect(taughtBy(made(answered, { verb: 'battery', volts: 3.7 }))).toBe(taughtBy(answered));
		expect(taughtBy(made(answered, { verb: 'answer', accepted: true }))).not.toBe(taughtBy(answered));
		expect(taughtBy(made(answered, { verb: 'correct', model: 'tern-9' }))).not.toBe(taughtBy(answered));
	});
	it('a closed one all but notes, waits and plans', () => {
		const closed = after({ verb: 'battery', volts: 3.7 }, close({ outcome: 'not-fixed' }));
		expect(taughtBy(made(closed, { verb: 'note', text: 'called' }))).toBe(taughtBy(closed));
		const photo = { photo: 'a'.repeat(64), of: 'after' as const, width: 1, height: 1 };
		for (const more of [
			{ waits: [{ for: 'part' as const }] },
			{ assignedTo: 'bram' },
			{ promisedAt: 5 },
			{ photos: [photo] },
			{ screws: [{ place: 's1', did: 'out' as const }] },
			{ reported: 'it beeps' }
		]) {
			expect(taughtBy({ ...closed, ...more })).toBe(taughtBy(closed));
		}
		for (const more of [
			{ battery: [] },
			{ soak: [{ minutes: 1, percent: 90 }] },
			{ joints: [{ place: '1', state: 'firm' as const }] },
			{ steps: [{ procedure: 'p', version: 1, step: 0, did: 'done' as const }] },
			{ faults: [] },
			{ paidMinor: 1 },
			{ closedAt: 1 },
			{ comebackOf: 'K-0' },
			{ model: 'tern-9' }
		]) {
			expect(taughtBy({ ...closed, ...more })).not.toBe(taughtBy(closed));
		}
	});
});

describe('waits', () => {
	const open = { waits: [], closedAt: null, quotedMinor: null, accepted: null };
	it.each<[string, Parameters<typeof waitsOf>[0], string[]]>([
		['none', open, []],
		['a price without an answer waits for the customer', { ...open, quotedMinor: 5 }, ['customer']],
		['an answered one does not', { ...open, quotedMinor: 5, accepted: false }, []],
		[
			'named and unanswered once',
			{ ...open, quotedMinor: 5, waits: [{ for: 'customer' }, { for: 'part' }] },
			['customer', 'part']
		],
		['ended ones no more', { ...open, waits: [{ for: 'part', endedAt: 1 }] }, []],
		['a closed ticket for nothing', { ...open, closedAt: 1, quotedMinor: 5, waits: [{ for: 'part' }] }, []]
	])('%s', (_, ticket, waits) => expect(waitsOf(ticket)).toEqual(waits));
});
