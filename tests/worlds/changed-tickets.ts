import { buildCatalog, type Catalog } from '$lib/core/catalog/catalog';
import { applyChange } from '$lib/core/tickets/apply-change';
import { isRefusal } from '$lib/core/tickets/refusal';
import { ticketChangeSchema, type TicketChangeInput, type Verb } from '$lib/core/tickets/ticket-change';
import { openedTicket, type Ticket } from '$lib/core/tickets/ticket-record';
import { DEMO_CATALOG } from '$lib/core/simulation/demo-catalog';

/** Invented tickets and one change of every verb: what the tests of changes begin with. */

export const catalog = buildCatalog(DEMO_CATALOG);
export const NOW = Date.UTC(2026, 10, 24, 10);
export const fresh = openedTicket('K-1', NOW - 3_600_000, 'tern-6');
export const by = 'ines';
export const tryOut = (ticket: Ticket, input: TicketChangeInput, now = NOW, known: Catalog = catalog) =>
	applyChange(ticket, ticketChangeSchema.parse(input), { now, by, catalog: known });
export const made = (ticket: Ticket, input: TicketChangeInput, now = NOW): Ticket => {
	const changed = tryOut(ticket, input, now);
	if (isRefusal(changed)) throw new Error(`${changed.field}: ${changed.message}`);
	return changed;
};
export const after = (...inputs: TicketChangeInput[]) =>
	inputs.reduce((ticket, input) => made(ticket, input), fresh);
export const attempt = {
	verb: 'attempt',
	operation: 'replace-port',
	technician: 'ines',
	minutes: 5,
	resolved: true
} as const;
export const passed = (ticket: Ticket, now = NOW) =>
	[...catalog.gates.keys()].reduce((t, gate) => made(t, { verb: 'gate', gate, passed: true }, now), ticket);
export const close = (more: object = {}): TicketChangeInput =>
	({
		verb: 'close',
		outcome: 'fixed',
		faults: ['port-contacts'],
		paidMinor: 5000,
		...more
	}) as TicketChangeInput;

/** An invoice of 50.00 that is owed. */
const billed = made(
	{ ...fresh, customer: { name: 'Quayside Bikes', kind: 'trade' } },
	{ verb: 'pay', amountMinor: 5000, by: 'invoice', dueAt: NOW + 1000 }
);

/** One change of every verb, on a ticket on which it can be made, and what it makes of it. */
export const ALL: Record<Verb, [Ticket, TicketChangeInput, Partial<Ticket>]> = {
	correct: [fresh, { verb: 'correct', serial: 'T-1' }, { serial: 'T-1' }],
	sign: [fresh, { verb: 'sign', sign: 'no-charge', present: true }, { signs: { 'no-charge': true } }],
	opinion: [
		fresh,
		{ verb: 'opinion', from: 'customer', fault: 'input-fuse' },
		{ opinions: [{ from: 'customer', fault: 'input-fuse', at: NOW, by }] }
	],
	note: [fresh, { verb: 'note', text: ' hums ' }, { notes: [{ text: 'hums', at: NOW, by }] }],
	comeback: [fresh, { verb: 'comeback', of: 'K-0' }, { comebackOf: 'K-0' }],
	cause: [
		after({ verb: 'comeback', of: 'K-0' }),
		{ verb: 'cause', cause: 'part-failed', from: { sku: 'port-smd', pays: 'supplier' } },
		{ cause: 'part-failed', cameFrom: { sku: 'port-smd', pays: 'supplier' } }
	],
	withdraw: [
		after({ verb: 'note', text: 'x' }),
		{ verb: 'withdraw', list: 'notes', index: 0 },
		{ notes: [] }
	],
	'put-back': [
		after({ verb: 'note', text: 'x' }, { verb: 'withdraw', list: 'notes', index: 0 }),
		{ verb: 'put-back', index: 0 },
		{ notes: [{ text: 'x', at: NOW, by }], struck: [] }
	],
	look: [
		fresh,
		{ verb: 'look', places: ['1', 'tongue'], state: 'bent' },
		{
			inspection: [
				{ place: '1', state: 'bent', at: NOW, by },
				{ place: 'tongue', state: 'bent', at: NOW, by }
			]
		}
	],
	'plug-in': [
		fresh,
		{ verb: 'plug-in', orientation: 'a', volts: 5, amps: 0.5 },
		{ meter: [{ stage: 'diagnosis', orientation: 'a', volts: 5, amps: 0.5, at: NOW, by }] }
	],
	battery: [
		fresh,
		{ verb: 'battery', stage: 'intake', volts: 3.7 },
		{ battery: [{ stage: 'intake', volts: 3.7, at: NOW, by }] }
	],
	'read-pins': [
		fresh,
		{ verb: 'read-pins', mode: 'diode', meter: 'bench', board: 'B', readings: [{ pin: '1', value: 0.4 }] },
		{
			readings: [
				{ stage: 'diagnosis', mode: 'diode', pin: '1', value: 0.4, meter: 'bench', board: 'B', at: NOW, by }
			]
		}
	],
	'keep-provisional': [
		after({ verb: 'read-pins', mode: 'diode', readings: [{ pin: '1', value: 0.4 }] }),
		{ verb: 'keep-provisional', mode: 'diode' },
		{}
	],
	'probe-node': [
		fresh,
		{ verb: 'probe-node', node: 'fuse-out', volts: 5 },
		{ path: [{ stage: 'diagnosis', node: 'fuse-out', volts: 5, at: NOW, by }] }
	],
	'keep-trace': [
		fresh,
		{
			verb: 'keep-trace',
			trace: { name: 'log', rows: 3, rejected: 0, charge_mah: 1, energy_mwh: 2, phases: [] }
		},
		{
			traces: [
				{
					stage: 'diagnosis',
					name: 'log',
					rows: 3,
					rejected: 0,
					charge_mah: 1,
					energy_mwh: 2,
					phases: [],
					at: NOW,
					by
				}
			]
		}
	],
	continuity: [
		fresh,
		{ verb: 'continuity', misses: [['1', '2']], probes: 9 },
		{ continuity: [{ misses: [['1', '2']], probes: 9, at: NOW, by }] }
	],
	soak: [
		fresh,
		{ verb: 'soak', minutes: 30, percent: 88 },
		{ soak: [{ minutes: 30, percent: 88, at: NOW, by }] }
	],
	observe: [
		fresh,
		{ verb: 'observe', test: 'vbus-fuse', outcome: 'open' },
		{ observations: [{ stage: 'diagnosis', test: 'vbus-fuse', outcome: 'open', at: NOW, by }] }
	],
	quote: [
		after({ verb: 'quote', priceMinor: 1 }, { verb: 'answer', accepted: true }),
		{ verb: 'quote', priceMinor: 8900 },
		{
			quotedMinor: 8900,
			accepted: null,
			dealings: [
				{ kind: 'quote', quotedMinor: 1, at: NOW, by },
				{ kind: 'answer', accepted: true, at: NOW, by },
				{ kind: 'quote', quotedMinor: 8900, at: NOW, by }
			]
		}
	],
	'take-back': [
		after({ verb: 'quote', priceMinor: 8900 }),
		{ verb: 'take-back' },
		{
			quotedMinor: null,
			accepted: null,
			dealings: [
				{ kind: 'quote', quotedMinor: 8900, at: NOW, by },
				{ kind: 'take-back', at: NOW, by }
			]
		}
	],
	answer: [
		after({ verb: 'quote', priceMinor: 1 }),
		{ verb: 'answer', accepted: false },
		{
			accepted: false,
			dealings: [
				{ kind: 'quote', quotedMinor: 1, at: NOW, by },
				{ kind: 'answer', accepted: false, at: NOW, by }
			]
		}
	],
	offer: [
		fresh,
		{
			verb: 'offer',
			options: [
				{ label: 'New port', operations: ['replace-port'], priceMinor: 8900 },
				{ label: 'Port and traces', priceMinor: 12900, warrantyDays: 180 }
			],
			validUntil: NOW + 1000,
			depositMinor: 2000,
			how: 'counter'
		},
		{
			quotedMinor: 8900,
			accepted: null,
			dealings: [
				{
					kind: 'offer',
					offered: [
						{ label: 'New port', operations: ['replace-port'], priceMinor: 8900 },
						{ label: 'Port and traces', priceMinor: 12900, warrantyDays: 180 }
					],
					validUntil: NOW + 1000,
					depositMinor: 2000,
					how: 'counter',
					at: NOW,
					by
				}
			]
		}
	],
	pay: [
		after({ verb: 'pay', amountMinor: 2000, by: 'cash' }),
		{ verb: 'pay', amountMinor: -500, by: 'card' },
		{
			paidMinor: 1500,
			dealings: [
				{ kind: 'payment', paidMinor: 2000, paidBy: 'cash', at: NOW, by },
				{ kind: 'payment', paidMinor: -500, paidBy: 'card', at: NOW, by }
			]
		}
	],
	settle: [
		billed,
		{ verb: 'settle', amountMinor: 3000, by: 'transfer' },
		{
			dealings: [
				...billed.dealings,
				{ kind: 'settlement', settledMinor: 3000, paidBy: 'transfer', at: NOW, by }
			]
		}
	],
	collect: [
		after(close({ outcome: 'not-fixed', paidMinor: 0 })),
		{ verb: 'collect' },
		{ dealings: [{ kind: 'pick-up', at: NOW, by }] }
	],
	count: [
		fresh,
		{ verb: 'count', what: 'pads', number: 20 },
		{ counts: [{ what: 'pads', number: 20, at: NOW, by }] }
	],
	'start-timer': [
		fresh,
		{ verb: 'start-timer', operation: 'replace-port', technician: 'ines' },
		{ running: [{ operation: 'replace-port', technician: 'ines', startedAt: NOW }] }
	],
	'cancel-timer': [
		after({ verb: 'start-timer', operation: 'replace-port', technician: 'ines' }),
		{ verb: 'cancel-timer', operation: 'replace-port', technician: 'ines' },
		{ running: [] }
	],
	'stop-timer': [
		after({ verb: 'start-timer', operation: 'replace-port', technician: 'ines' }),
		{
			verb: 'stop-timer',
			operation: 'replace-port',
			technician: 'ines',
			resolved: false,
			parts: [{ sku: 'port-smd', quantity: 1 }]
		},
		{
			running: [],
			attempts: [
				{
					operation: 'replace-port',
					resolved: false,
					technician: 'ines',
					minutes: 0.1,
					hourlyCostMinor: 3100,
					at: NOW,
					by
				}
			],
			parts: [{ sku: 'port-smd', quantity: 1, unitCostMinor: 390, at: NOW, by }]
		}
	],
	attempt: [
		fresh,
		attempt,
		{
			attempts: [
				{
					operation: 'replace-port',
					resolved: true,
					technician: 'ines',
					minutes: 5,
					hourlyCostMinor: 3100,
					at: NOW,
					by
				}
			],
			parts: []
		}
	],
	'use-part': [
		fresh,
		{ verb: 'use-part', sku: 'port-smd', quantity: 2 },
		{ parts: [{ sku: 'port-smd', quantity: 2, unitCostMinor: 390, at: NOW, by }] }
	],
	gate: [
		fresh,
		{ verb: 'gate', gate: 'functions', passed: false },
		{ gates: [{ gate: 'functions', passed: false, at: NOW, by }] }
	],
	'hand-over': [
		fresh,
		{ verb: 'hand-over', to: 'bram' },
		{ assignedTo: 'bram', dealings: [{ kind: 'hand-over', handedTo: 'bram', at: NOW, by }] }
	],
	wait: [fresh, { verb: 'wait', for: 'part' }, { waits: [{ for: 'part', at: NOW, by }] }],
	'end-wait': [
		after({ verb: 'wait', for: 'part' }, { verb: 'wait', for: 'cure' }),
		{ verb: 'end-wait', for: 'part' },
		{
			waits: [
				{ for: 'part', at: NOW, by, endedAt: NOW, endedBy: by },
				{ for: 'cure', at: NOW, by }
			]
		}
	],
	step: [
		fresh,
		{ verb: 'step', procedure: 'port-hot-air', version: 1, step: 0, did: 'begun', technician: 'ines' },
		{
			steps: [
				{ procedure: 'port-hot-air', version: 1, step: 0, did: 'begun', technician: 'ines', at: NOW, by }
			],
			running: [{ operation: 'replace-port', technician: 'ines', startedAt: NOW }]
		}
	],
	heat: [fresh, { verb: 'heat', on: true }, { heat: [{ on: true, at: NOW, by }] }],
	joint: [
		fresh,
		{ verb: 'joint', place: '1', state: 'moves' },
		{ joints: [{ place: '1', state: 'moves', at: NOW, by }] }
	],
	screw: [
		fresh,
		{ verb: 'screw', places: ['tray'], did: 'out' },
		{ screws: [{ place: 'tray', did: 'out', at: NOW, by }] }
	],
	supply: [
		fresh,
		{ verb: 'supply', volts: 4, amps: [0.02, 0.2] },
		{ supply: [{ volts: 4, amps: [0.02, 0.2], at: NOW, by }] }
	],
	release: [
		after({ verb: 'photo', photo: 'ab'.repeat(32), of: 'board', width: 640, height: 480 }),
		{ verb: 'release', index: 0, released: true },
		{
			photos: [{ photo: 'ab'.repeat(32), of: 'board', width: 640, height: 480, released: true, at: NOW, by }]
		}
	],
	photo: [
		fresh,
		{ verb: 'photo', photo: 'ab'.repeat(32), of: 'board', width: 640, height: 480 },
		{ photos: [{ photo: 'ab'.repeat(32), of: 'board', width: 640, height: 480, at: NOW, by }] }
	],
	pin: [
		fresh,
		{ verb: 'pin', to: { technician: 'ines', startAt: NOW + 3_600_000 } },
		{ pinned: { technician: 'ines', startAt: NOW + 3_600_000 } }
	],
	seal: [passed(made(fresh, attempt)), { verb: 'seal' }, { dealings: [{ kind: 'seal', at: NOW, by }] }],
	tell: [
		after(close({ outcome: 'not-fixed', paidMinor: 0 })),
		{ verb: 'tell', how: 'telephone' },
		{ dealings: [{ kind: 'told', how: 'telephone', at: NOW, by }] }
	],
	'follow-up': [
		after(close({ outcome: 'not-fixed', paidMinor: 0 }), { verb: 'collect' }),
		{ verb: 'follow-up', found: 'holds' },
		{
			dealings: [
				{ kind: 'pick-up', at: NOW, by },
				{ kind: 'follow-up', followedUp: 'holds', at: NOW, by }
			]
		}
	],
	close: [
		passed(made(fresh, attempt)),
		close(),
		{
			outcome: 'fixed',
			faults: ['port-contacts'],
			paidMinor: 5000,
			closedAt: NOW,
			dealings: [{ kind: 'payment', paidMinor: 5000, at: NOW, by }]
		}
	],
	reopen: [
		after(close({ outcome: 'not-fixed' })),
		{ verb: 'reopen' },
		{
			closedAt: null,
			outcome: null,
			faults: ['port-contacts'],
			paidMinor: 5000,
			reopenings: [{ closedAt: NOW, outcome: 'not-fixed', attempts: 0, at: NOW, by }]
		}
	],
	'close-again': [
		after(close({ outcome: 'not-fixed' }), { verb: 'reopen' }),
		{ verb: 'close-again' },
		{
			closedAt: NOW,
			outcome: 'not-fixed',
			reopenings: [
				{ closedAt: NOW, outcome: 'not-fixed', attempts: 0, at: NOW, by, undoneAt: NOW, undoneBy: by }
			]
		}
	]
};
