import { gatesInTheWay, gateStates } from '../bench/gates';
import type { Catalog } from '../catalog/catalog';
import type { Instant } from '../units/instant';
import { refuse, type Changed, type ChangeStamp as Stamp, type Refusal } from './refusal';
import { correct, correctedSign } from './corrections';
import { putBack, strikeOut } from './strike-out';
import type { ChangeOf, TicketChange } from './ticket-change';
import { PORT_PLACES, waitsNow, type Ticket } from './ticket-record';

export interface ChangeContext {
	now: Instant;
	/** technician code or sign-in name of who does it */
	by: string;
	catalog: Catalog;
}

/** What can be done to a closed ticket. */
const OF_CLOSED: ReadonlySet<TicketChange['verb']> = new Set(['reopen', 'note']);

/** The ticket after a change; the ticket given is left as it was. */
export function applyChange(ticket: Ticket, change: TicketChange, context: ChangeContext): Changed {
	if (ticket.closedAt !== null && !OF_CLOSED.has(change.verb)) {
		return refuse('ticket', `${ticket.number} is closed; reopen it to change it`);
	}
	return unknownCode(change, ticket, context.catalog) ?? makeChange(ticket, change, context);
}

/** The change itself, whose codes are known; a screen shows it so before the server has checked it. */
export function makeChange(ticket: Ticket, change: TicketChange, context: ChangeContext): Changed {
	const stamp = { at: context.now, by: context.by };
	switch (change.verb) {
		case 'correct':
			return correct(ticket, change, stamp, context.catalog);
		case 'sign':
			return correctedSign(ticket, change, stamp);
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
			return { ...ticket, quotedMinor: change.priceMinor, accepted: null };
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
			return { ...ticket, assignedTo: change.to };
		case 'wait':
			return wait(ticket, change, stamp);
		case 'end-wait':
			return endWait(ticket, change, stamp);
		case 'comeback':
			if (change.of === ticket.number) return refuse('of', 'names the ticket itself');
			return { ...ticket, comebackOf: change.of };
		case 'withdraw':
			return strikeOut(ticket, change, stamp);
		case 'put-back':
			return putBack(ticket, change, stamp);
		case 'close':
			return close(ticket, change, context);
		case 'reopen':
			return reopen(ticket, stamp);
		case 'close-again':
			return closeAgain(ticket, stamp);
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
		case 'correct':
			return change.model === undefined ? null : check('model', change.model, catalog.models);
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

/** A place seen again stands beside what was seen there before; the latest counts. */
function look(ticket: Ticket, { places, state }: ChangeOf<'look'>, stamp: Stamp): Ticket {
	return {
		...ticket,
		inspection: [...ticket.inspection, ...places.map((place) => ({ place, state, ...stamp }))]
	};
}

/** A contact read again in the same stage and mode stands beside its first reading; the latest counts. */
function readPins(ticket: Ticket, change: ChangeOf<'read-pins'>, stamp: Stamp): Ticket {
	const { stage, mode, meter, board } = change;
	const taken = { ...(meter === undefined ? {} : { meter }), ...(board === undefined ? {} : { board }) };
	const read = change.readings.map((reading) => ({ stage, mode, ...reading, ...taken, ...stamp }));
	return { ...ticket, readings: [...ticket.readings, ...read] };
}

/** A node probed again in the same stage stands beside its first reading; the latest counts. */
function probeNode(ticket: Ticket, change: ChangeOf<'probe-node'>, stamp: Stamp): Ticket {
	const { verb: _, ...reading } = change;
	return { ...ticket, path: [...ticket.path, { ...reading, ...stamp }] };
}

function answer(ticket: Ticket, accepted: boolean): Changed {
	if (ticket.quotedMinor === null) return refuse('accepted', 'comes before a price; quote one first');
	return { ...ticket, accepted };
}

function wait(ticket: Ticket, change: ChangeOf<'wait'>, stamp: Stamp): Changed {
	if (waitsNow(ticket).some((wait) => wait.for === change.for)) {
		return refuse('for', `is ${change.for}; ${ticket.number} waits for that already`);
	}
	return { ...ticket, waits: [...ticket.waits, { for: change.for, ...stamp }] };
}

function endWait(ticket: Ticket, change: ChangeOf<'end-wait'>, { at, by }: Stamp): Changed {
	const open = waitsNow(ticket).find((wait) => wait.for === change.for);
	if (!open) return refuse('for', `is ${change.for}; ${ticket.number} does not wait for that`);
	return {
		...ticket,
		waits: ticket.waits.map((wait) => (wait === open ? { ...wait, endedAt: at, endedBy: by } : wait))
	};
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

/** What was confirmed and paid stays as it was said; closing anew may say otherwise. */
function reopen(ticket: Ticket, stamp: Stamp): Changed {
	const { closedAt, outcome, attempts } = ticket;
	if (closedAt === null || outcome === null) return refuse('ticket', `${ticket.number} is open already`);
	const reopening = { closedAt, outcome, attempts: attempts.length, ...stamp };
	return { ...ticket, closedAt: null, outcome: null, reopenings: [...ticket.reopenings, reopening] };
}

/** Takes the last reopening back: closed as it was. Not after more work, which the old closing never proved. */
function closeAgain(ticket: Ticket, { at, by }: Stamp): Changed {
	const last = ticket.reopenings.at(-1);
	if (!last || last.undoneAt !== undefined) {
		return refuse('ticket', `${ticket.number} was not reopened; close it`);
	}
	if (ticket.attempts.length !== last.attempts || ticket.running.length > 0) {
		return refuse('ticket', `${ticket.number} was worked on since it was reopened; close it anew`);
	}
	const { closedAt, outcome } = last;
	const reopenings = [...ticket.reopenings.slice(0, -1), { ...last, undoneAt: at, undoneBy: by }];
	return { ...ticket, closedAt, outcome, reopenings };
}

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
	const { ownFaults: _, ...others } = ticket;
	const made = ownFaults.length > 0 ? { ownFaults } : {};
	return { ...others, outcome, faults: confirmed, ...made, paidMinor, closedAt: now };
}
