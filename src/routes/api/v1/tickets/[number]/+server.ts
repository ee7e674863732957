import { ROLES } from '$lib/core/units/role';
import { json, type RequestHandler } from '@sveltejs/kit';
import { ticketToRecord } from '$lib/core/tickets/ticket-record';
import { requireBearer } from '$lib/server/api/requests';
import { database } from '$lib/server/database/connection';
import { problem } from '$lib/server/http/problem';
import { findTicket } from '$lib/server/tickets/queries';
import { withoutCosts } from '$lib/server/tickets/without-costs';

export const GET: RequestHandler = async (event) => {
	const bearer = requireBearer(event, ROLES);
	if (bearer instanceof Response) return bearer;
	const number = event.params.number ?? '';
	const stored = await findTicket(await database(), number);
	if (!stored) return problem(404, 'No such ticket', `there is no ticket ${JSON.stringify(number)}`);
	return json(ticketToRecord(withoutCosts(stored.ticket, bearer.role)));
};
