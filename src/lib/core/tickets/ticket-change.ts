import { z } from 'zod';
import { gatesInTheWay, gateStates } from '../bench/gates';
import type { Catalog } from '../catalog/catalog';
import { codeSchema, ticketNumberSchema } from '../units/code';
import type { Instant } from '../units/instant';
import { MODES } from '../readings/reference';
import {
	CONTACT_STATES,
	instrumentName,
	MATTERS,
	OPINIONS_FROM,
	OUTCOMES,
	PORT_PLACES,
	STAGES,
	ticketRecord,
	WAITS,
	type Ticket
} from './ticket-record';

const minor = z.int().min(0).max(9_999_999_999);
const instant = z.int().min(0).max(7_258_118_400_000);
const stage = z.enum(STAGES).default('diagnosis');
const text = z.string().trim().max(4000);
const used = z
	.array(z.strictObject({ sku: codeSchema, quantity: z.number().positive().max(10_000) }))
	.max(20)
	.default([]);
const verb = <Verb extends string, Shape extends z.ZodRawShape>(name: Verb, shape: Shape) =>
	z.strictObject({ verb: z.literal(name), ...shape });

/** Everything that can be done to a ticket. One schema for screens, server and tests. */
export const ticketChangeSchema = z.discriminatedUnion('verb', [
	verb('describe', {
		reported: text.optional(),
		condition: text.optional(),
		accessories: text.optional(),
		matters: z.enum(MATTERS).optional(),
		serial: z.string().trim().max(64).optional(),
		promisedAt: instant.nullable().optional()
	}),
	verb('sign', { sign: codeSchema, present: z.boolean().nullable() }),
	verb('opinion', { from: z.enum(OPINIONS_FROM), fault: codeSchema }),
	verb('look', { places: z.array(z.string().min(1).max(16)).min(1).max(200), state: z.enum(CONTACT_STATES) }),
	verb('plug-in', {
		stage,
		orientation: z.enum(['a', 'b']),
		volts: z.number().min(0).max(60),
		amps: z.number().min(0).max(20),
		seconds: z.number().min(0).max(1_000_000).optional(),
		on: z.boolean().optional(),
		contract: z.number().min(0).max(60).optional(),
		meter: instrumentName.optional()
	}),
	verb('battery', { stage, volts: z.number().min(0).max(100), meter: instrumentName.optional() }),
	verb('read-pins', {
		stage,
		mode: z.enum(MODES),
		meter: instrumentName.optional(),
		board: z.string().trim().min(1).max(64).optional(),
		readings: z
			.array(
				z
					.strictObject({
						pin: z.string().min(1).max(16),
						value: z.number().min(-1000).max(1e9).optional(),
						overload: z.boolean().optional()
					})
					.refine(({ value, overload }) => (value === undefined) === (overload === true), {
						error: 'needs either a value or overload'
					})
			)
			.min(1)
			.max(200)
	}),
	verb('keep-provisional', { mode: z.enum(MODES) }),
	verb('probe-node', {
		stage,
		node: codeSchema,
		volts: z.number().min(0).max(100),
		meter: instrumentName.optional()
	}),
	verb('keep-trace', {
		stage,
		trace: ticketRecord.shape.traces.unwrap().element.omit({ stage: true, at: true, by: true })
	}),
	verb('continuity', {
		misses: z.array(z.tuple([z.string().min(1).max(16), z.string().min(1).max(16)])).max(2000),
		probes: z.int().min(1).max(100_000)
	}),
	verb('soak', { minutes: z.number().min(0).max(100_000), percent: z.number().min(0).max(100) }),
	verb('observe', { stage, test: codeSchema, outcome: codeSchema }),
	verb('quote', { priceMinor: minor }),
	verb('answer', { accepted: z.boolean() }),
	verb('start-timer', { operation: codeSchema, technician: codeSchema }),
	verb('cancel-timer', { operation: codeSchema, technician: codeSchema }),
	verb('stop-timer', { operation: codeSchema, technician: codeSchema, resolved: z.boolean(), parts: used }),
	verb('attempt', {
		operation: codeSchema,
		technician: codeSchema,
		minutes: z.number().min(0).max(100_000),
		resolved: z.boolean(),
		parts: used
	}),
	verb('use-part', { sku: codeSchema, quantity: z.number().positive().max(10_000) }),
	verb('gate', { gate: codeSchema, passed: z.boolean() }),
	verb('note', { text: text.min(1) }),
	verb('hand-over', { to: codeSchema.nullable(), waitingFor: z.enum(WAITS).nullable() }),
	verb('comeback', { of: ticketNumberSchema.nullable() }),
	verb('withdraw', {
		list: z.enum([
			'opinions',
			'inspection',
			'observations',
			'meter',
			'battery',
			'readings',
			'path',
			'traces',
			'attempts',
			'continuity',
			'soak',
			'parts',
			'notes'
		]),
		index: z.int().min(0).max(10_000)
	}),
	verb('close', {
		outcome: z.enum(OUTCOMES),
		faults: z.array(codeSchema).max(20),
		ownFaults: z.array(codeSchema).max(20).default([]),
		paidMinor: minor
	}),
	verb('reopen', {})
]);

export type TicketChange = z.output<typeof ticketChangeSchema>;
export type TicketChangeInput = z.input<typeof ticketChangeSchema>;

/** Why a change was not made: what was seen, what is allowed, what to do. Nothing has changed. */
export interface Refusal {
	field: string;
	message: string;
}

export interface ChangeContext {
	now: Instant;
	/** technician code or sign-in name of who does it */
	by: string;
	catalog: Catalog;
}

type Changed = Ticket | Refusal;
const refuse = (field: string, message: string): Refusal => ({ field, message });
export const isRefusal = (changed: Changed): changed is Refusal => !('number' in changed);

/** The ticket after a change; the ticket given is left as it was. */
export function applyChange(ticket: Ticket, change: TicketChange, context: ChangeContext): Changed {
	if (ticket.closedAt !== null && change.verb !== 'reopen' && change.verb !== 'note') {
		return refuse('ticket', `${ticket.number} is closed; reopen it to change it`);
	}
	const unknown = unknownCode(change, ticket, context.catalog);
	if (unknown) return unknown;
	const stamp = { at: context.now, by: context.by };
	switch (change.verb) {
		case 'describe':
			return describe(ticket, change);
		case 'sign':
			return { ...ticket, signs: withSign(ticket.signs, change) };
		case 'opinion':
			return opinion(ticket, change, stamp);
		case 'look':
			return look(ticket, change, stamp);
		case 'plug-in': {
			const { verb: _, ...reading } = change;
			return { ...ticket, meter: [...ticket.meter, { ...reading, ...stamp }] };
		}
		case 'battery': {
			const { verb: _, ...reading } = change;
			return { ...ticket, battery: [...ticket.battery, { ...reading, ...stamp }] };
		}
		case 'keep-provisional':
			return ticket.readings.some(({ mode }) => mode === change.mode)
				? { ...ticket }
				: refuse('mode', `${change.mode}: nothing was read in it yet; read the contacts first`);
		case 'probe-node':
			return probeNode(ticket, change, stamp);
		case 'keep-trace':
			return { ...ticket, traces: [...ticket.traces, { stage: change.stage, ...change.trace, ...stamp }] };
		case 'continuity': {
			const { misses, probes } = change;
			return { ...ticket, continuity: [...ticket.continuity, { misses, probes, ...stamp }] };
		}
		case 'soak': {
			const { minutes, percent } = change;
			return { ...ticket, soak: [...ticket.soak, { minutes, percent, ...stamp }] };
		}
		case 'read-pins':
			return readPins(ticket, change, stamp);
		case 'observe': {
			const { stage, test, outcome } = change;
			return { ...ticket, observations: [...ticket.observations, { stage, test, outcome, ...stamp }] };
		}
		case 'quote':
			return { ...ticket, quotedMinor: change.priceMinor, accepted: null, waitingFor: 'customer' };
		case 'answer':
			return answer(ticket, change.accepted);
		case 'start-timer':
			return startTimer(ticket, change, context.now);
		case 'cancel-timer':
			return { ...ticket, running: withoutTimer(ticket, change) };
		case 'stop-timer':
			return stopTimer(ticket, change, context);
		case 'attempt':
			return logAttempt(ticket, change, context);
		case 'use-part':
			return { ...ticket, parts: [...ticket.parts, partUse(change, context)] };
		case 'gate':
			return {
				...ticket,
				gates: [...ticket.gates, { gate: change.gate, passed: change.passed, ...stamp }]
			};
		case 'note':
			return { ...ticket, notes: [...ticket.notes, { text: change.text, ...stamp }] };
		case 'hand-over':
			return { ...ticket, assignedTo: change.to, waitingFor: change.waitingFor };
		case 'comeback':
			if (change.of === ticket.number) return refuse('of', 'names the ticket itself');
			return { ...ticket, comebackOf: change.of };
		case 'withdraw':
			return withdraw(ticket, change);
		case 'close':
			return close(ticket, change, context);
		case 'reopen':
			if (ticket.closedAt === null) return refuse('ticket', `${ticket.number} is open already`);
			return { ...withoutOwnFaults(ticket), closedAt: null, outcome: null, faults: null };
	}
}

function unknownCode(change: TicketChange, ticket: Ticket, catalog: Catalog): Refusal | null {
	const check = (field: string, code: string, known: ReadonlyMap<string, unknown>) =>
		known.has(code)
			? null
			: refuse(field, `is ${JSON.stringify(code)}, which the catalog does not hold; reload the page`);
	switch (change.verb) {
		case 'opinion':
			return check('fault', change.fault, catalog.faults);
		case 'sign':
			return check('sign', change.sign, catalog.signs);
		case 'observe': {
			const test = catalog.tests.get(change.test);
			if (!test) return check('test', change.test, catalog.tests);
			return test.outcomes.includes(change.outcome)
				? null
				: refuse('outcome', `is ${change.outcome}; ${test.label} has ${test.outcomes.join(', ')}`);
		}
		case 'start-timer':
		case 'attempt':
		case 'stop-timer': {
			const parts = 'parts' in change ? change.parts : [];
			return (
				check('operation', change.operation, catalog.operations) ??
				check('technician', change.technician, catalog.technicians) ??
				parts.map(({ sku }) => check('parts', sku, catalog.parts)).find((bad) => bad !== null) ??
				null
			);
		}
		case 'use-part':
			return check('sku', change.sku, catalog.parts);
		case 'gate':
			return check('gate', change.gate, catalog.gates);
		case 'hand-over':
			return change.to === null ? null : check('to', change.to, catalog.technicians);
		case 'close':
			return (
				change.faults.map((code) => check('faults', code, catalog.faults)).find((bad) => bad !== null) ?? null
			);
		case 'look':
			return unknownPlace('places', change.places, ticket, catalog, PORT_PLACES);
		case 'read-pins':
			return unknownPlace(
				'readings',
				change.readings.map(({ pin }) => pin),
				ticket,
				catalog,
				[]
			);
		case 'probe-node': {
			const path = catalog.models.get(ticket.model)?.path ?? [];
			return path.some(({ node }) => node === change.node)
				? null
				: refuse('node', `is ${change.node}; the path of ${ticket.model} has no such node`);
		}
		case 'continuity':
			return unknownPlace('misses', change.misses.flat(), ticket, catalog, []);
		default:
			return null;
	}
}

function unknownPlace(
	field: string,
	places: readonly string[],
	ticket: Ticket,
	catalog: Catalog,
	besides: readonly string[]
): Refusal | null {
	const connector = catalog.connectors.get(catalog.models.get(ticket.model)?.connector ?? '');
	if (!connector) return refuse(field, `cannot be taken: model ${ticket.model} names no connector`);
	const known = new Set([...besides, ...connector.pins.map(({ pin }) => pin)]);
	const odd = places.find((place) => !known.has(place));
	return odd === undefined ? null : refuse(field, `is ${odd}; ${connector.label} has no such contact`);
}

type Stamp = { at: Instant; by: string };
type ChangeOf<Verb extends TicketChange['verb']> = Extract<TicketChange, { verb: Verb }>;

/** The first one counts: what is said after more was seen is another thing. It can be struck out, not written over. */
function opinion(ticket: Ticket, { from, fault }: ChangeOf<'opinion'>, stamp: Stamp): Changed {
	if (
		ticket.opinions.some(
			(opinion) => opinion.from === from && (from === 'customer' || opinion.by === stamp.by)
		)
	) {
		const whose = from === 'customer' ? 'the customer’s claim' : 'your first guess';
		return refuse('fault', `${whose} is noted already; strike it out to say something else`);
	}
	return { ...ticket, opinions: [...ticket.opinions, { from, fault, ...stamp }] };
}

function describe(ticket: Ticket, change: ChangeOf<'describe'>): Ticket {
	const { verb: _, serial, ...rest } = change;
	const said = Object.fromEntries(Object.entries(rest).filter(([, value]) => value !== undefined));
	return { ...ticket, ...said, ...(serial === undefined ? {} : { serial: serial || null }) };
}

function withSign(signs: Ticket['signs'], { sign, present }: ChangeOf<'sign'>): Ticket['signs'] {
	const { [sign]: _, ...others } = signs;
	return present === null ? others : { ...others, [sign]: present };
}

/** A place seen again replaces what was seen there: one state a place. */
function look(ticket: Ticket, { places, state }: ChangeOf<'look'>, stamp: Stamp): Ticket {
	const again = new Set(places);
	const others = ticket.inspection.filter(({ place }) => !again.has(place));
	return { ...ticket, inspection: [...others, ...places.map((place) => ({ place, state, ...stamp }))] };
}

/** A contact read again in the same stage and mode replaces its reading: a walk back is a correction. */
function readPins(ticket: Ticket, change: ChangeOf<'read-pins'>, stamp: Stamp): Ticket {
	const { stage, mode, meter, board } = change;
	const taken = { ...(meter === undefined ? {} : { meter }), ...(board === undefined ? {} : { board }) };
	const again = new Set(change.readings.map(({ pin }) => pin));
	const others = ticket.readings.filter(
		(reading) => !(reading.stage === stage && reading.mode === mode && again.has(reading.pin))
	);
	const read = change.readings.map((reading) => ({ stage, mode, ...reading, ...taken, ...stamp }));
	return { ...ticket, readings: [...others, ...read] };
}

/** A node probed again in the same stage replaces its reading. */
function probeNode(ticket: Ticket, change: ChangeOf<'probe-node'>, stamp: Stamp): Ticket {
	const { verb: _, ...reading } = change;
	const others = ticket.path.filter(({ stage, node }) => stage !== change.stage || node !== change.node);
	return { ...ticket, path: [...others, { ...reading, ...stamp }] };
}

function answer(ticket: Ticket, accepted: boolean): Changed {
	if (ticket.quotedMinor === null) return refuse('accepted', 'comes before a price; quote one first');
	const waitingFor = ticket.waitingFor === 'customer' ? null : ticket.waitingFor;
	return { ...ticket, accepted, waitingFor };
}

const withoutTimer = (ticket: Ticket, timer: { operation: string; technician: string }) =>
	ticket.running.filter(
		({ operation, technician }) => operation !== timer.operation || technician !== timer.technician
	);

function startTimer(ticket: Ticket, change: ChangeOf<'start-timer'>, now: Instant): Changed {
	const { operation, technician } = change;
	if (ticket.running.some((timer) => timer.technician === technician)) {
		return refuse('technician', `${technician} has a timer running on ${ticket.number}; stop it first`);
	}
	return {
		...ticket,
		waitingFor: null,
		running: [...ticket.running, { operation, technician, startedAt: now }]
	};
}

function stopTimer(ticket: Ticket, change: ChangeOf<'stop-timer'>, context: ChangeContext): Changed {
	const timer = ticket.running.find(
		({ operation, technician }) => operation === change.operation && technician === change.technician
	);
	if (!timer) return refuse('operation', 'has no timer running; log the minutes by hand');
	const minutes = Math.max(0.1, Math.round((context.now - timer.startedAt) / 6000) / 10);
	const { operation, technician, resolved, parts } = change;
	const logged = logAttempt(
		ticket,
		{ verb: 'attempt', operation, technician, resolved, parts, minutes },
		context
	);
	return { ...logged, running: withoutTimer(ticket, change) };
}

/** The technician's cost of that day stays with the attempt: a later raise does not change the past. */
function logAttempt(ticket: Ticket, change: ChangeOf<'attempt'>, context: ChangeContext): Ticket {
	const { operation, technician, minutes, resolved } = change;
	const hourly = context.catalog.technicians.get(technician)?.hourlyCostMinor;
	return {
		...ticket,
		waitingFor: null,
		attempts: [
			...ticket.attempts,
			{
				operation,
				resolved,
				technician,
				minutes,
				...(hourly == null ? {} : { hourlyCostMinor: hourly }),
				at: context.now,
				by: context.by
			}
		],
		parts: [...ticket.parts, ...change.parts.map((part) => partUse(part, context))]
	};
}

function partUse(
	{ sku, quantity }: { sku: string; quantity: number },
	{ catalog, now, by }: ChangeContext
): Ticket['parts'][number] {
	const unitCostMinor = catalog.parts.get(sku)?.unitCostMinor ?? 0;
	return { sku, quantity, unitCostMinor, at: now, by };
}

function withdraw(ticket: Ticket, { list, index }: ChangeOf<'withdraw'>): Changed {
	const items: readonly unknown[] = ticket[list];
	if (index >= items.length) return refuse('index', `is ${index}; there are ${items.length} entries`);
	return { ...ticket, [list]: items.filter((_, i) => i !== index) };
}

const withoutOwnFaults = ({ ownFaults: _, ...ticket }: Ticket): Ticket => ticket;

function close(ticket: Ticket, change: ChangeOf<'close'>, { catalog, now }: ChangeContext): Changed {
	const { outcome, faults, ownFaults, paidMinor } = change;
	const running = ticket.running[0];
	if (running) return refuse('running', `${running.technician} has a timer running; stop it first`);
	if (new Set(faults).size !== faults.length) return refuse('faults', 'names a fault twice');
	const odd = ownFaults.find((fault) => !faults.includes(fault));
	if (odd) return refuse('ownFaults', `names ${odd}, which is not among what it was`);
	if (outcome === 'fixed') {
		const open = gatesInTheWay(gateStates(ticket, catalog));
		if (open.length > 0) {
			const names = open.map(({ label }) => label).join('; ');
			return refuse('gates', `not passed since the last repair: ${names}`);
		}
		if (faults.length === 0) {
			return refuse('faults', 'names none; say what was wrong, or close as no fault found');
		}
	}
	if (outcome === 'no-fault-found' && faults.length > 0) {
		return refuse('faults', 'names a fault; close as fixed or not fixed, or clear the list');
	}
	const confirmed = ['declined', 'not-worth-it'].includes(outcome) && faults.length === 0 ? null : faults;
	const made = ownFaults.length > 0 ? { ownFaults } : {};
	return { ...ticket, outcome, faults: confirmed, ...made, paidMinor, closedAt: now, waitingFor: null };
}
