import { BENCH_ROLES, ROLES } from '../../units/role';
import { AT_WORK } from '../states';
import { z } from 'zod';
import type { Needs } from '../../catalog/needs';
import { codeSchema } from '../../units/code';
import { MINUTE_MS } from '../../units/instant';
import { refuse } from '../refusal';
import { WAITS } from '../ticket-entries';
import type { PartUse, Ticket } from '../ticket-record';
import { waitsNow } from '../waits';
import { instantField, minutesField, remarkField, verb, withEntries, type ChangeContext } from './verb';

/** Hands and waits: what is done between diagnosis and closing. */

const quantity = z.number().positive().max(10_000);
const used = z
	.array(z.strictObject({ sku: codeSchema, quantity, lot: codeSchema.optional() }))
	.max(20)
	.default([]);
const timer = { operation: codeSchema, technician: codeSchema };
/** what came of it: a step of a longer repair says nothing of the complaint */
const resultShape = { resolved: z.boolean(), part: z.boolean().optional() };

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

const isTimer = (one: Omit<Work, 'parts'>) => (second: Omit<Work, 'parts'>) =>
	one.operation === second.operation && one.technician === second.technician;
const withoutTimer = (ticket: Ticket, work: Work) =>
	ticket.running.filter((running) => !isTimer(work)(running));

export const partUse = (
	{ sku, quantity, lot }: { sku: string; quantity: number; lot?: string | undefined },
	{ catalog, now, by: author }: ChangeContext
): PartUse => ({
	sku,
	quantity,
	unitCostMinor: catalog.parts.get(sku)?.unitCostMinor ?? 0,
	...(lot === undefined ? {} : { lot }),
	at: now,
	by: author
});

/** The technician's cost of that day stays with the attempt: a later raise does not change the past. */
export function logWork(
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
	const changed = withEntries(ticket, 'attempts', attempt);
	return withEntries(changed, 'parts', ...parts.map((part) => partUse(part, context)));
}

/** Ends the timer of somebody on a ticket and keeps its minutes; the ticket as it is where none runs. */
export function stopHands(
	ticket: Ticket,
	technician: string,
	result: { resolved: boolean; part?: boolean | undefined },
	context: ChangeContext
): Ticket {
	const timer = ticket.running.find((running) => running.technician === technician);
	if (!timer) return ticket;
	const minutes = Math.max(0.1, Math.round((context.now - timer.startedAt) / 6000) / 10);
	const logged = logWork(ticket, { operation: timer.operation, technician, minutes, ...result }, [], context);
	return { ...logged, running: withoutTimer(ticket, timer) };
}

export const VERBS_OF_WORK = {
	'start-timer': verb({
		says: 'start a timer',
		shown: 'when kept',
		moves: { from: AT_WORK, to: AT_WORK, button: 'of a panel' },
		shape: timer,
		roles: BENCH_ROLES,
		refers: referToWork,
		apply: (ticket, { operation, technician }, _, { now }) =>
			ticket.running.some((running) => running.technician === technician)
				? refuse('technician', `${technician} has a timer running on ${ticket.number}; stop it first`)
				: { ...ticket, running: [...ticket.running, { operation, technician, startedAt: now }] }
	}),
	'cancel-timer': verb({
		says: 'cancel a timer',
		shown: 'when kept',
		moves: { from: AT_WORK, to: AT_WORK, button: 'of a panel' },
		shape: timer,
		roles: BENCH_ROLES,
		apply: (ticket, change) => ({ ...ticket, running: withoutTimer(ticket, change) })
	}),
	'stop-timer': verb({
		says: 'stop a timer',
		shown: 'when kept',
		moves: { from: AT_WORK, to: AT_WORK, button: 'of a panel' },
		shape: { ...timer, ...resultShape, parts: used },
		roles: BENCH_ROLES,
		refers: referToWork,
		apply: (ticket, change, _, context) => {
			if (change.part && change.resolved) return refuse('part', PART_OF_ALL);
			const running = ticket.running.find(isTimer(change));
			if (!running) return refuse('operation', 'has no timer running; log the minutes by hand');
			const minutes = Math.max(0.1, Math.round((context.now - running.startedAt) / 6000) / 10);
			const changed = logWork(ticket, { ...change, minutes }, change.parts, context);
			return { ...changed, running: withoutTimer(ticket, change) };
		}
	}),
	attempt: verb({
		says: 'record a repair',
		shown: 'at once',
		moves: { from: AT_WORK, to: AT_WORK, button: 'of a panel' },
		shape: { ...timer, minutes: minutesField, ...resultShape, parts: used },
		roles: BENCH_ROLES,
		makes: 'attempts',
		refers: referToWork,
		apply: (ticket, change, _, context) =>
			change.part && change.resolved
				? refuse('part', PART_OF_ALL)
				: logWork(ticket, change, change.parts, context)
	}),
	'use-part': verb({
		says: 'use a part',
		shown: 'at once',
		moves: null,
		shape: { sku: codeSchema, quantity, lot: codeSchema.optional() },
		roles: BENCH_ROLES,
		makes: 'parts',
		refers: ({ sku }, need) => need.code('sku', 'part', sku),
		apply: (ticket, change, _, context) => withEntries(ticket, 'parts', partUse(change, context))
	}),
	gate: verb({
		says: 'pass or fail a final check',
		shown: 'at once',
		moves: { from: AT_WORK, to: AT_WORK, button: 'of a panel' },
		shape: {
			gate: codeSchema,
			passed: z.boolean(),
			of: z.string().trim().min(1).max(40).optional(),
			notApplicable: remarkField.optional()
		},
		roles: BENCH_ROLES,
		refers: ({ gate }, need) => need.code('gate', 'gate', gate),
		apply: (ticket, { gate, passed, of: word, notApplicable }, stamp) =>
			notApplicable && !passed
				? refuse(
						'notApplicable',
						'is said of a check that failed; what does not apply stands in nobody’s way'
					)
				: withEntries(ticket, 'gates', {
						gate,
						passed,
						...(word ? { of: word } : {}),
						...(notApplicable ? { not_applicable: notApplicable } : {}),
						...stamp
					})
	}),
	/** To the next hands, or back in the queue. Timers of all others end, their minutes are kept as part of the work. */
	'hand-over': verb({
		says: 'pass the ticket on',
		shown: 'when kept',
		moves: { from: AT_WORK, to: AT_WORK, button: 'of a panel' },
		shape: {
			to: codeSchema.nullable(),
			reason: remarkField.optional(),
			done: remarkField.optional(),
			leftAt: remarkField.optional()
		},
		roles: ROLES,
		refers: ({ to }, need) => need.code('to', 'technician', to),
		apply(ticket, { to, reason, done: workDone, leftAt }, stamp, context) {
			const otherTimers = ticket.running.filter(({ technician }) => technician !== to);
			const stopped = otherTimers.reduce(
				(now, { technician }) => stopHands(now, technician, { part: true, resolved: false }, context),
				ticket
			);
			const words = {
				...(reason ? { reason } : {}),
				...(workDone ? { done: workDone } : {}),
				...(leftAt ? { leftAt } : {})
			};
			return {
				...withEntries(stopped, 'dealings', { kind: 'hand-over', handedTo: to, ...words, ...stamp }),
				assignedTo: to
			};
		}
	}),
	wait: verb({
		says: 'start a wait',
		shown: 'when kept',
		moves: { from: AT_WORK, to: ['waiting'], button: 'of a panel' },
		shape: {
			for: z.enum(WAITS),
			/** when it ends by itself, or so many minutes from now */
			until: instantField.optional(),
			minutes: z.number().positive().max(100_000).optional(),
			note: remarkField.optional()
		},
		roles: ROLES,
		apply(ticket, { for: waitFor, until, minutes, note }, stamp, { now }) {
			if (waitsNow(ticket).some((wait) => wait.for === waitFor)) {
				return refuse('for', `is ${waitFor}; ${ticket.number} waits for that already`);
			}
			const end = minutes === undefined ? until : now + minutes * MINUTE_MS;
			if (end !== undefined && end <= now)
				return refuse('until', 'has passed already; say a time that is still to come');
			const words = { ...(end === undefined ? {} : { until: end }), ...(note ? { note } : {}) };
			return { ...ticket, waits: [...ticket.waits, { for: waitFor, ...words, ...stamp }] };
		}
	}),
	'end-wait': verb({
		says: 'end a wait',
		shown: 'when kept',
		moves: { from: ['waiting'], to: AT_WORK, button: 'of a panel' },
		shape: { for: z.enum(WAITS) },
		roles: ROLES,
		apply: (ticket, { for: waitFor }, { at, by: author }) => {
			const open = waitsNow(ticket).find((wait) => wait.for === waitFor);
			if (!open) return refuse('for', `is ${waitFor}; ${ticket.number} does not wait for that`);
			const ended = { ...open, endedAt: at, endedBy: author };
			return { ...ticket, waits: ticket.waits.map((wait) => (wait === open ? ended : wait)) };
		}
	})
};
