import { procedureKey } from '../catalog/kinds-of-bench';
import type { Needs } from '../catalog/needs';
import { PORT_PLACES } from '../units/seen-codes';
import type { Ticket } from './ticket-record';

/** What a whole ticket names, to be there: as it comes in from elsewhere. Changes ask the same, entry by entry. */
export function ticketRefers(ticket: Ticket, need: Needs): void {
	const { model } = ticket;
	need.code('model', 'model', model);
	for (const sign of Object.keys(ticket.signs)) need.code(`signs.${sign}`, 'sign', sign);
	ticket.opinions.forEach(({ fault }, i) => need.code(`opinions.${i}.fault`, 'fault', fault));
	ticket.inspection.forEach(({ place }, i) => need.place(`inspection.${i}.place`, model, place, PORT_PLACES));
	ticket.observations.forEach(({ test, outcome }, i) => {
		need.code(`observations.${i}.test`, 'test', test);
		need.outcome(`observations.${i}.outcome`, test, outcome);
	});
	ticket.readings.forEach(({ pin }, i) => need.place(`readings.${i}.pin`, model, pin));
	ticket.path.forEach(({ node }, i) => need.node(`path.${i}.node`, model, node));
	ticket.continuity.forEach(({ misses }, i) =>
		misses.forEach((pair, m) => {
			for (const pin of pair) need.place(`continuity.${i}.misses.${m}`, model, pin);
		})
	);
	for (const list of ['attempts', 'running'] as const) {
		ticket[list].forEach(({ operation, technician }, i) => {
			need.code(`${list}.${i}.operation`, 'operation', operation);
			need.code(`${list}.${i}.technician`, 'technician', technician);
		});
	}
	ticket.faults?.forEach((fault, i) => need.code(`faults.${i}`, 'fault', fault));
	ticket.ownFaults?.forEach((fault, i) => need.code(`own_faults.${i}`, 'fault', fault));
	ticket.parts.forEach(({ sku, lot }, i) => {
		need.code(`parts.${i}.sku`, 'part', sku);
		need.code(`parts.${i}.lot`, 'lot', lot);
	});
	ticket.gates.forEach(({ gate }, i) => need.code(`gates.${i}.gate`, 'gate', gate));
	ticket.dealings.forEach((dealing, i) => {
		if (dealing.kind === 'hand-over') need.code(`dealings.${i}.handed_to`, 'technician', dealing.handedTo);
		const operations = dealing.kind === 'quote' ? (dealing.operations ?? []) : [];
		operations.forEach((code, k) => need.code(`dealings.${i}.operations.${k}`, 'operation', code));
		const offered = dealing.kind === 'offer' ? dealing.offered : [];
		offered.forEach((option, w) =>
			option.operations?.forEach((code, k) =>
				need.code(`dealings.${i}.offered.${w}.operations.${k}`, 'operation', code)
			)
		);
	});
	ticket.steps.forEach(({ procedure, version, technician }, i) => {
		need.code(`steps.${i}.procedure`, 'procedure', procedureKey(procedure, version));
		need.code(`steps.${i}.technician`, 'technician', technician);
	});
	need.code('pinned.technician', 'technician', ticket.pinned?.technician);
	need.code('assigned_to', 'technician', ticket.assignedTo);
	need.code('cause', 'cause', ticket.cause);
	if (ticket.cameFrom) cameFromRefers(ticket.cameFrom, need, 'came_from');
	need.code('comeback_of', 'ticket', ticket.comebackOf);
}

export function cameFromRefers(
	{
		operation,
		sku,
		lot,
		step
	}: Pick<NonNullable<Ticket['cameFrom']>, 'operation' | 'sku' | 'step'> & { lot?: string | undefined },
	need: Needs,
	path: string
): void {
	need.code(`${path}.operation`, 'operation', operation);
	need.code(`${path}.sku`, 'part', sku);
	need.code(`${path}.lot`, 'lot', lot);
	if (step) need.code(`${path}.step`, 'procedure', procedureKey(step.procedure, step.version));
}
