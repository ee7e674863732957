import { codeEntry } from '../units/code';
import { gateStates } from '../bench/gates';
import { openRun } from '../bench/procedure-run';
import { LEAST_LEFT, stretchesOf, type WorkLeft, type WorkTask } from '../bench/day/work-left';
import { procedureAt, type Catalog, type Procedure } from '../catalog/catalog';
import type { Plan } from '../diagnosis/plan/plan-view';
import { countFactor, latestCounts, type Counts } from '../quoting/counts';
import { durationLaw, pacesOf, type Pace } from '../quoting/durations';
import type { Past } from '../quoting/past';
import { lognormalMean } from '../statistics/lognormal';
import { agreedOperations } from '../tickets/agreed';
import type { Wait } from '../tickets/ticket-entries';
import type { Ticket } from '../tickets/ticket-record';
import { waitsNow, waitsOf } from '../tickets/waits';
import { MINUTE_MS, type Instant } from '../units/instant';

/** What the day is planned from: a ticket's remaining work, with everybody's minutes as the record has them. */
export interface Workforce {
	catalog: Catalog;
	past: Past;
	paces: ReadonlyMap<string, Pace>;
}
export const workforceOf = (catalog: Catalog, past: Past): Workforce => ({
	catalog,
	past,
	paces: new Map(pacesOf(past.durations).map((pace) => [pace.technician, pace]))
});

/** Waits in which nobody knows when they end: others have to act first. */
const OTHERS: readonly Wait[] = ['customer', 'part', 'pick-up'];
/** How long a wait lasts of which nobody said when it ends, minutes. Common practice, no source. */
const USUAL_WAIT: Partial<Record<Wait, number>> = {
	cooling: 12,
	cure: 10,
	adhesive: 20,
	charge: 60,
	soak: 60
};

/** When hands can go on; null where others have to act first and nobody said by when. */
function freeFrom(ticket: Ticket, now: Instant): Instant | null {
	const ends = waitsOf(ticket).map((waitFor): Instant | null => {
		const wait = waitsNow(ticket).find((entry) => entry.for === waitFor);
		if (wait?.until !== undefined) return wait.until;
		if (OTHERS.includes(waitFor)) return null;
		return (wait?.at ?? now) + (USUAL_WAIT[waitFor] ?? 0) * MINUTE_MS;
	});
	return ends.some((end) => end === null) ? null : Math.max(now, ...(ends as Instant[]));
}

/** Minutes of an operation by everybody who can do it. */
function minutesBy(
	{ catalog, past, paces }: Workforce,
	operation: string,
	model: string,
	counts: Counts
): Record<string, number> {
	const skill = catalog.operations.get(operation)?.skill;
	const usual =
		lognormalMean(durationLaw(catalog, past.durations, operation, model)) *
		countFactor(catalog, operation, counts);
	return byEverybody(catalog, skill, (code) => {
		const pace = paces.get(code);
		return usual * Math.exp((pace?.effect ?? 0) + (pace?.operations.get(operation) ?? 0));
	});
}

/** Who has a skill; everybody where none is asked for, or nobody has it and somebody has to. */
function byEverybody(
	{ technicians }: Catalog,
	skill: string | undefined,
	minutes: (code: string) => number
): Record<string, number> {
	const all = [...technicians.values()];
	const able = skill === undefined ? all : all.filter(({ skills }) => skills?.includes(skill));
	return Object.fromEntries((able.length > 0 ? able : all).map(({ code }) => [code, minutes(code)]));
}

/** The way in which an operation is usually done on a model: the procedure that is marked as usual, else the first. */
function procedureFor(catalog: Catalog, operation: string, model: string): Procedure | undefined {
	const fitting = [...catalog.procedures.values()].filter(
		(procedure) =>
			procedure.operation === operation && (!procedure.models || procedure.models.includes(model))
	);
	return fitting.find(({ usual }) => usual) ?? fitting[0];
}

/**
 * All that is left to do on an open ticket; null where nothing is, or where others have to act first.
 * @param plan the next steps as the engine advises them
 */
export function workLeft(
	hands: Workforce,
	ticket: Ticket,
	{ next, gone: resolved }: Plan,
	now: Instant
): WorkLeft | null {
	const { catalog } = hands;
	const from = freeFrom(ticket, now);
	if (from === null || ticket.closedAt !== null || ticket.accepted === false) return null;
	const tasks = [
		...findingTasks(hands, ticket, next),
		...(resolved ? [] : repairTasks(hands, ticket, next)),
		...provingTasks(hands, ticket)
	];
	if (tasks.length === 0) return null;
	const running = ticket.running[0];
	const { pinned } = ticket;
	return {
		number: ticket.number,
		from,
		due: ticket.promisedAt,
		weight: WEIGHTS[ticket.comebackOf === null ? 'first' : 'comeback'],
		holder: ticket.assignedTo,
		tasks: uniquely(tasks),
		begun: running ? { technician: running.technician, since: running.startedAt } : null,
		pinned: pinned && catalog.technicians.has(pinned.technician) && pinned.startAt >= now ? pinned : null
	};
}
/** A minute late weighs more where the customer is here for the second time. A choice. */
const WEIGHTS = { first: 1, comeback: 1.5 } as const;

/** The tests and measurements that stand before any repair: the first advised one, with what it takes. */
function findingTasks({ catalog }: Workforce, ticket: Ticket, next: Plan['next']): WorkTask[] {
	const [first] = next;
	if (!first || ticket.attempts.length > 0 || openRun(ticket.steps)) return [];
	if (first.kind !== 'test' && first.kind !== 'measure') return [];
	const minutes = catalog.tests.get(first.code)?.minutes ?? USUAL_MEASUREMENT;
	return [
		{
			code: `find ${first.code}`,
			label: first.label,
			by: byEverybody(catalog, undefined, () => Math.max(1, minutes)),
			skill: null,
			station: null,
			wait: 0
		}
	];
}
/** Looking into a port, plugging in, reading pins: minutes where nothing else is known. A choice. */
const USUAL_MEASUREMENT = 6;

/** What is to be repaired: a procedure that is being followed, what was agreed, else the likeliest repair. */
function repairTasks(hands: Workforce, ticket: Ticket, next: Plan['next']): WorkTask[] {
	const { catalog } = hands;
	const run = openRun(ticket.steps);
	if (run) {
		const followed = procedureAt(catalog, run.procedure, run.version);
		if (followed) return tasksOfRun(hands, ticket, followed, run.next);
	}
	const finished = new Set(ticket.attempts.flatMap(({ operation, part }) => (part ? [] : [operation])));
	const agreed = agreedOperations(ticket).filter(
		(code) => !finished.has(code) && catalog.operations.has(code)
	);
	const advised = next.find(({ kind }) => kind === 'operation')?.code;
	const operations = agreed.length > 0 ? agreed : advised === undefined ? [] : [advised];
	return operations.flatMap((operation) => {
		const procedure = procedureFor(catalog, operation, ticket.model);
		if (procedure) return tasksOfRun(hands, ticket, procedure, 0);
		return [wholeOperation(hands, ticket, operation)];
	});
}

function wholeOperation(hands: Workforce, ticket: Ticket, operation: string): WorkTask {
	const operationInfo = hands.catalog.operations.get(operation);
	const minutes = minutesBy(hands, operation, ticket.model, latestCounts(ticket.counts));
	const spent = spentOn(ticket, operation);
	return {
		code: operation,
		label: operationInfo?.label ?? operation,
		by: mapMinutes(minutes, (minutes) => Math.max(LEAST_LEFT, minutes - spent)),
		skill: operationInfo?.skill ?? null,
		station: operationInfo?.station ?? null,
		wait: 0
	};
}

/** Minutes that parts of a repair have taken already, since the last whole attempt. */
function spentOn({ attempts }: Ticket, operation: string): number {
	const last = attempts.findLastIndex(({ part }) => !part);
	return attempts
		.slice(last + 1)
		.reduce((sum, attempt) => sum + (attempt.operation === operation ? (attempt.minutes ?? 0) : 0), 0);
}

const mapMinutes = (minutes: Record<string, number>, change: (minutes: number) => number) =>
	Object.fromEntries(Object.entries(minutes).map(([code, minutes]) => [code, change(minutes)]));

/** A procedure from a step on, its stretches spread to what the operation takes everybody. */
function tasksOfRun(hands: Workforce, ticket: Ticket, procedure: Procedure, from: number): WorkTask[] {
	const { catalog } = hands;
	const operationInfo = catalog.operations.get(procedure.operation);
	const all = stretchesOf(procedure.steps, null).reduce((sum, { minutes }) => sum + minutes, 0);
	const minutes = minutesBy(hands, procedure.operation, ticket.model, latestCounts(ticket.counts));
	return stretchesOf(procedure.steps.slice(from), null).map((stretch, i) => {
		const skill = stretch.skill ?? operationInfo?.skill;
		const share = stretch.minutes / Math.max(1, all);
		return {
			code: `${procedure.code} ${i}`,
			label: stretch.label,
			by: byEverybody(catalog, skill, (code) =>
				Math.max(1, share * (codeEntry(minutes, code) ?? (Object.values(minutes)[0] as number)))
			),
			skill: skill ?? null,
			station: stretch.station,
			wait: stretch.wait
		};
	});
}

/** Checks that are still to be passed, as one task. */
function provingTasks({ catalog }: Workforce, ticket: Ticket): WorkTask[] {
	const open = gateStates(ticket, catalog).filter(({ passed }) => passed !== true);
	const minutes = open.reduce((sum, gate) => sum + gate.minutes, 0);
	if (minutes === 0) return [];
	return [
		{
			code: 'prove',
			label: 'Final checks and closing',
			by: byEverybody(catalog, undefined, () => minutes),
			skill: null,
			station: null,
			wait: 0
		}
	];
}

/** A procedure that is done twice on one ticket has tasks of the same name. */
function uniquely(tasks: readonly WorkTask[]): WorkTask[] {
	const seen = new Map<string, number>();
	return tasks.map((task) => {
		const times = seen.get(task.code) ?? 0;
		seen.set(task.code, times + 1);
		return times === 0 ? task : { ...task, code: `${task.code} again ${times}` };
	});
}
