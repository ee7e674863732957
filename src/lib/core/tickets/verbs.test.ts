import { describe, expect, it } from 'vitest';
import { NOW, fresh, by, tryOut, made, after, attempt, passed, close, ALL } from '$worlds/changed-tickets';
import { buildCatalog } from '../catalog/catalog';
import { DEMO_CATALOG } from '../simulation/demo-catalog';
import { makeChange } from './apply-change';
import { isRefusal } from './refusal';
import { sliceBetween, withSlice } from './slices';
import { ticketChangeSchema, VERBS, type TicketChangeInput } from './ticket-change';
import { openedTicket, ticketRecord, ticketToRecord, type Ticket } from './ticket-record';

describe('every change', () => {
	it.each(VERBS)('%s is made, and nothing else is', (verb) => {
		const [before, input, made] = ALL[verb];
		const text = JSON.stringify(before);
		const changed = tryOut(before, input);
		expect(isRefusal(changed) && changed).toBe(false);
		expect(changed).toMatchObject(made);
		expect(JSON.stringify(before)).toBe(text);
		const others = Object.keys(before).filter(
			(field) => !(field in made) && !['corrections', 'struck'].includes(field)
		);
		for (const field of others)
			expect((changed as Ticket)[field as keyof Ticket]).toEqual(before[field as keyof Ticket]);
		expect(
			ticketRecord.safeParse(JSON.parse(JSON.stringify(ticketToRecord(changed as Ticket)))).success
		).toBe(true);
	});
	it.each(VERBS)('%s is refused of a closed ticket, or is one of those that are not', (verb) => {
		const closed = after(close({ outcome: 'not-worth-it', faults: [] }));
		const changed = tryOut(closed, ALL[verb][1]);
		const may = [
			'note',
			'reopen',
			'pay',
			'settle',
			'collect',
			'photo',
			'tell',
			'follow-up',
			'cause',
			'release'
		].includes(verb);
		expect(isRefusal(changed) && /is closed; reopen/.test(changed.message)).toBe(!may);
	});
	it('slices carry it to a screen, whatever it was', () => {
		for (const verb of VERBS) {
			const [before, input] = ALL[verb];
			const changed = tryOut(before, input) as Ticket;
			expect(withSlice(before, JSON.parse(JSON.stringify(sliceBetween(before, changed))))).toEqual(changed);
		}
	});
});

describe('what a change refuses', () => {
	const running = after({ verb: 'start-timer', operation: 'replace-port', technician: 'ines' });
	const stopped = (input: TicketChangeInput, ticket = fresh) => {
		const changed = tryOut(ticket, input);
		return isRefusal(changed) ? changed.field : 'made';
	};
	it.each<[string, TicketChangeInput, string, Ticket?]>([
		['an unknown sign', { verb: 'sign', sign: 'gone', present: true }, 'sign'],
		['an unknown fault that is claimed', { verb: 'opinion', from: 'customer', fault: 'gone' }, 'fault'],
		[
			'a second claim',
			{ verb: 'opinion', from: 'customer', fault: 'coil-open' },
			'fault',
			ALL.opinion[0] && after(ALL.opinion[1])
		],
		['a place that the port lacks', { verb: 'look', places: ['1', 'Z9'], state: 'bent' }, 'places'],
		['joints are a place to look at', { verb: 'look', places: ['joints'], state: 'bent' }, 'made'],
		[
			'a contact that it lacks',
			{ verb: 'read-pins', mode: 'diode', readings: [{ pin: 'tongue', value: 1 }] },
			'readings'
		],
		['a node that the path lacks', { verb: 'probe-node', node: 'gone', volts: 5 }, 'node'],
		['a pair that it lacks', { verb: 'continuity', misses: [['1', 'Z9']], probes: 3 }, 'misses'],
		['an unknown test', { verb: 'observe', test: 'gone', outcome: 'open' }, 'test'],
		['an outcome of another test', { verb: 'observe', test: 'vbus-fuse', outcome: 'gone' }, 'outcome'],
		[
			'keeping what was not read in that mode',
			{ verb: 'keep-provisional', mode: 'ohms' },
			'mode',
			ALL['keep-provisional'][0]
		],
		[
			'keeping a contact that was not read',
			{ verb: 'keep-provisional', mode: 'diode', pins: ['2'] },
			'pins',
			ALL['keep-provisional'][0]
		],
		[
			'keeping a contact that was',
			{ verb: 'keep-provisional', mode: 'diode', pins: ['1'] },
			'made',
			ALL['keep-provisional'][0]
		],
		['an answer without a price', { verb: 'answer', accepted: true }, 'accepted'],
		['an unknown operation', { ...attempt, operation: 'gone' }, 'operation'],
		['an unknown technician', { ...attempt, technician: 'gone' }, 'technician'],
		['an unknown part of an attempt', { ...attempt, parts: [{ sku: 'gone', quantity: 1 }] }, 'parts'],
		['a step that made the complaint go', { ...attempt, part: true }, 'part'],
		['a step of the work', { ...attempt, resolved: false, part: true }, 'made'],
		[
			'a timer of a step that made the complaint go',
			{ verb: 'stop-timer', operation: 'replace-port', technician: 'ines', resolved: true, part: true },
			'part',
			running
		],
		['an unknown part', { verb: 'use-part', sku: 'gone', quantity: 1 }, 'sku'],
		['an unknown gate', { verb: 'gate', gate: 'gone', passed: true }, 'gate'],
		['an unknown pair of hands', { verb: 'hand-over', to: 'gone' }, 'to'],
		['nobody’s hands are free', { verb: 'hand-over', to: null }, 'made'],
		['an unknown model', { verb: 'correct', model: 'gone' }, 'model'],
		['a correction that says nothing new', { verb: 'correct', model: 'tern-6' }, 'ticket'],
		[
			'a second timer of the same hands',
			{ verb: 'start-timer', operation: 'reseat-battery', technician: 'ines' },
			'technician',
			running
		],
		[
			'a timer of other hands',
			{ verb: 'start-timer', operation: 'replace-port', technician: 'bram' },
			'made',
			running
		],
		[
			'stopping another’s timer',
			{ verb: 'stop-timer', operation: 'replace-port', technician: 'bram', resolved: true },
			'operation',
			running
		],
		[
			'stopping another operation’s',
			{ verb: 'stop-timer', operation: 'reseat-battery', technician: 'ines', resolved: true },
			'operation',
			running
		],
		[
			'waiting twice for one thing',
			{ verb: 'wait', for: 'part' },
			'for',
			after({ verb: 'wait', for: 'part' })
		],
		[
			'waiting for it again once it has ended',
			{ verb: 'wait', for: 'part' },
			'made',
			after({ verb: 'wait', for: 'part' }, { verb: 'end-wait', for: 'part' })
		],
		[
			'ending what has ended',
			{ verb: 'end-wait', for: 'part' },
			'for',
			after({ verb: 'wait', for: 'part' }, { verb: 'end-wait', for: 'part' })
		],
		['being one’s own comeback', { verb: 'comeback', of: 'K-1' }, 'of'],
		['being no comeback', { verb: 'comeback', of: null }, 'made'],
		[
			'striking out the entry after the last',
			{ verb: 'withdraw', list: 'notes', index: 1 },
			'index',
			after({ verb: 'note', text: 'x' })
		],
		['putting back the one after the last', { verb: 'put-back', index: 1 }, 'index', ALL['put-back'][0]],
		['closing while a timer runs', close({ outcome: 'not-fixed' }), 'running', running],
		[
			'closing with a fault named twice',
			close({ outcome: 'not-fixed', faults: ['coil-open', 'coil-open'] }),
			'faults'
		],
		['closing with an unknown fault', close({ outcome: 'not-fixed', faults: ['gone'] }), 'faults'],
		[
			'an own fault that is not among them',
			close({ outcome: 'not-fixed', ownFaults: ['coil-open'] }),
			'ownFaults'
		],
		['closing as fixed with gates open', close(), 'gates'],
		['closing as fixed with no fault', close({ faults: [] }), 'faults', passed(fresh)],
		[
			'closing as fixed before a gate after the last repair',
			close(),
			'gates',
			made(passed(fresh), attempt, NOW + 1)
		],
		['no fault found with a fault', close({ outcome: 'no-fault-found' }), 'faults'],
		['no fault found without', close({ outcome: 'no-fault-found', faults: [] }), 'made'],
		['reopening what is open', { verb: 'reopen' }, 'ticket'],
		['closing again what was never reopened', { verb: 'close-again' }, 'ticket'],
		[
			'closing again twice',
			{ verb: 'close-again' },
			'ticket',
			{
				...ALL['close-again'][0],
				reopenings: [{ closedAt: NOW, outcome: 'fixed', attempts: 0, undoneAt: NOW }]
			}
		],
		[
			'closing again after more work',
			{ verb: 'close-again' },
			'ticket',
			made(ALL['close-again'][0], attempt)
		],
		[
			'closing again while a timer runs',
			{ verb: 'close-again' },
			'ticket',
			made(ALL['close-again'][0], { verb: 'start-timer', operation: 'replace-port', technician: 'ines' })
		]
	])('%s', (_, input, field, ticket) => expect(stopped(input, ticket)).toBe(field));
	it('contacts of a model that names no port', () => {
		const bare = buildCatalog([...DEMO_CATALOG, { record: 'model', code: 'bare', label: 'Bare' }]);
		const ticket = openedTicket('K-2', NOW, 'bare');
		for (const verb of ['look', 'read-pins', 'continuity'] as const) {
			const input = verb === 'continuity' ? { ...ALL[verb][1], misses: [] } : ALL[verb][1];
			const changed = tryOut(ticket, input as TicketChangeInput, NOW, bare);
			expect(isRefusal(changed) && changed.message).toContain('names no connector');
		}
		// a screen that does not know the catalog shows what is entered all the same
		const shown = makeChange(ticket, ticketChangeSchema.parse(ALL.look[1]), {
			now: NOW,
			by,
			catalog: buildCatalog([])
		});
		expect(isRefusal(shown)).toBe(false);
	});
	it('declined or not worth it without a fault confirms nothing; with one it does', () => {
		for (const outcome of ['declined', 'not-worth-it'] as const) {
			expect(after(close({ outcome, faults: [] })).faults).toBeNull();
			expect(after(close({ outcome })).faults).toEqual(['port-contacts']);
		}
		expect(after(close({ outcome: 'not-fixed', faults: [] })).faults).toEqual([]);
	});
	it('a timer’s minutes, to tenths, never none', () => {
		const minutes = (ms: number) =>
			made(
				running,
				{ verb: 'stop-timer', operation: 'replace-port', technician: 'ines', resolved: true },
				NOW + ms
			).attempts[0]?.minutes;
		expect([minutes(0), minutes(6000), minutes(8999), minutes(9000), minutes(600_000)]).toEqual([
			0.1, 0.1, 0.1, 0.2, 10
		]);
	});
	it('own faults that are taken back leave the ticket', () => {
		const twice = made({ ...fresh, ownFaults: ['coil-open'] }, close({ outcome: 'not-fixed' }));
		expect(twice).not.toHaveProperty('ownFaults');
	});
});
