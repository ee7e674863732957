import type { GateState } from '$lib/core/bench/gates';
import type { Ticket } from '$lib/core/tickets/ticket-record';

/** The steps of the job in their order, and which of them have been begun or passed. */
export function stepsOf(ticket: Ticket, gates: readonly GateState[]) {
	const proved = ticket.attempts.length > 0 && gates.every(({ passed }) => passed === true);
	return [
		{ key: 'look', label: 'Look', done: ticket.inspection.length > 0 || ticket.meter.length > 0 },
		{ key: 'plug', label: 'Plug in', done: ticket.meter.length > 0 },
		{ key: 'pins', label: 'Read pins', done: ticket.readings.length > 0 },
		{ key: 'checks', label: 'Check board', done: ticket.observations.length > 0 },
		{ key: 'repair', label: 'Repair', done: ticket.attempts.some(({ resolved }) => resolved) },
		{ key: 'prove', label: 'Prove', done: proved },
		{ key: 'close', label: 'Close', done: ticket.closedAt !== null }
	];
}

/** Where a job stands: behind the last step that was begun or passed, whatever was left out before it. */
export function standsAt(steps: ReturnType<typeof stepsOf>): string {
	const last = steps.findLastIndex(({ done: isDone }) => isDone);
	return (steps[last + 1] ?? steps.at(-1))?.key ?? 'look';
}
