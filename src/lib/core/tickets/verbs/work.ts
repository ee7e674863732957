import { z } from 'zod';
import type { Needs } from '../../catalog/needs';
import { codeSchema } from '../../units/code';
import { refuse } from '../refusal';
import { WAITS } from '../ticket-entries';
import type { PartUse, Ticket } from '../ticket-record';
import { waitsNow } from '../waits';
import { ALL, BENCH, minutesField, verb, withEntries, type ChangeContext } from './verb';

/** Hands and waits: what is done between diagnosis and closing. */

const quantity = z.number().positive().max(10_000);
const used = z
	.array(z.strictObject({ sku: codeSchema, quantity, lot: codeSchema.optional() }))
	.max(20)
	.default([]);
const timer = { operation: codeSchema, technician: codeSchema };
/** what came of it: a step of a longer repair says nothing of the complaint */
const came = { resolved: z.boolean(), part: z.boolean().optional() };

const PART_OF_ALL = 'is true, and so is resolved; what makes the complaint go ends the work';

interface Work {
	operation: string;
	technician: string;
	parts?: { sku: string }[];
}
function referToWork({ operation, technician, parts = [] }: Work, need: Needs): void {
	need.code('operation', 'operation', operation);
	need.code('technician', 'technician', technician);
	parts.forEach(({ sku }) => need.code('parts', 'part', sku));
}

const isTimer = (one: Omit<Work, 'parts'>) => (other: Omit<Work, 'parts'>) =>
	one.operation === other.operation && one.technician === other.technician;
const withoutTimer = (ticket: Ticket, of: Work) => ticket.running.filter((running) => !isTimer(of)(running));

const partUse = (
	{ sku, quantity, lot }: { sku: string; quantity: number; lot?: string | undefined },
	{ catalog, now, by }: ChangeContext
): PartUse => ({
	sku,
	quantity,
	unitCostMinor: catalog.parts.get(sku)?.unitCostMinor ?? 0,
	...(lot === undefined ? {} : { lot }),
	at: now,
	by
});

/** The technician's cost of that day stays with the attempt: a later raise does not change the past. */
function logged(
	ticket: Ticket,
	work: {
		operation: string;
		technician: string;
		minutes: number;
		resolved: boolean;
		part?: boolean | undefined;
	},
	parts: readonly { sku: string; quantity: number; lot?: string | undefined }[],
	context: ChangeContext
): Ticket {
	const { operation, technician, minutes, resolved, part } = work;
	const hourlyCostMinor = context.catalog.technicians.get(technician)?.hourlyCostMinor;
	const attempt = {
		operation,
		resolved,
		...(part ? { part } : {}),
		technician,
		minutes,
		...(hourlyCostMinor == null ? {} : { hourlyCostMinor }),
		at: context.now,
		by: context.by
	};
	const done = withEntries(ticket, 'attempts', attempt);
	return withEntries(done, 'parts', ...parts.map((part) => partUse(part, context)));
}

export const VERBS_OF_WORK = {
	'start-timer': verb({
		shape: timer,
		roles: BENCH,
		refers: referToWork,
		apply: (ticket, { operation, technician }, _, { now }) =>
			ticket.running.some((running) => running.technician === technician)
				? refuse('technician', `${technician} has a timer running on ${ticket.number}; stop it first`)
				: { ...ticket, running: [...ticket.running, { operation, technician, startedAt: now }] }
	}),
	'cancel-timer': verb({
		shape: timer,
		roles: BENCH,
		apply: (ticket, change) => ({ ...ticket, running: withoutTimer(ticket, change) })
	}),
	'stop-timer': verb({
		shape: { ...timer, ...came, parts: used },
		roles: BENCH,
		refers: referToWork,
		apply: (ticket, change, _, context) => {
			if (change.part && change.resolved) return refuse('part', PART_OF_ALL);
			const running = ticket.running.find(isTimer(change));
			if (!running) return refuse('operation', 'has no timer running; log the minutes by hand');
			const minutes = Math.max(0.1, Math.round((context.now - running.startedAt) / 6000) / 10);
			const done = logged(ticket, { ...change, minutes }, change.parts, context);
			return { ...done, running: withoutTimer(ticket, change) };
		}
	}),
	attempt: verb({
		shape: { ...timer, minutes: minutesField, ...came, parts: used },
		roles: BENCH,
		makes: 'attempts',
		refers: referToWork,
		apply: (ticket, change, _, context) =>
			change.part && change.resolved
				? refuse('part', PART_OF_ALL)
				: logged(ticket, change, change.parts, context)
	}),
	'use-part': verb({
		shape: { sku: codeSchema, quantity, lot: codeSchema.optional() },
		roles: BENCH,
		makes: 'parts',
		refers: ({ sku }, need) => need.code('sku', 'part', sku),
		apply: (ticket, change, _, context) => withEntries(ticket, 'parts', partUse(change, context))
	}),
	/** How many of what an operation depends on there are; a later count counts. */
	count: verb({
		shape: { what: codeSchema, number: z.int().min(0).max(1000) },
		roles: BENCH,
		makes: 'counts',
		apply: (ticket, { what, number }, stamp, { catalog }) => {
			const known = [...new Set([...catalog.operations.values()].flatMap(({ per }) => per?.count ?? []))];
			return known.includes(what)
				? withEntries(ticket, 'counts', { what, number, ...stamp })
				: refuse(
						'what',
						`is ${what}, which no operation depends on; those there are: ${known.sort().join(', ') || 'none'}`
					);
		}
	}),
	gate: verb({
		shape: { gate: codeSchema, passed: z.boolean() },
		roles: BENCH,
		refers: ({ gate }, need) => need.code('gate', 'gate', gate),
		apply: (ticket, { gate, passed }, stamp) => withEntries(ticket, 'gates', { gate, passed, ...stamp })
	}),
	'hand-over': verb({
		shape: { to: codeSchema.nullable() },
		roles: ALL,
		refers: ({ to }, need) => need.code('to', 'technician', to),
		apply: (ticket, { to }, stamp) => ({
			...withEntries(ticket, 'dealings', { handedTo: to, ...stamp }),
			assignedTo: to
		})
	}),
	wait: verb({
		shape: { for: z.enum(WAITS) },
		roles: ALL,
		apply: (ticket, { for: what }, stamp) =>
			waitsNow(ticket).some((wait) => wait.for === what)
				? refuse('for', `is ${what}; ${ticket.number} waits for that already`)
				: { ...ticket, waits: [...ticket.waits, { for: what, ...stamp }] }
	}),
	'end-wait': verb({
		shape: { for: z.enum(WAITS) },
		roles: ALL,
		apply: (ticket, { for: what }, { at, by }) => {
			const open = waitsNow(ticket).find((wait) => wait.for === what);
			if (!open) return refuse('for', `is ${what}; ${ticket.number} does not wait for that`);
			const ended = { ...open, endedAt: at, endedBy: by };
			return { ...ticket, waits: ticket.waits.map((wait) => (wait === open ? ended : wait)) };
		}
	})
};
