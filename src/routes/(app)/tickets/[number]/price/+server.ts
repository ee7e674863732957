import { error, json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { ticketPrice } from '$lib/server/tickets/view';

/** The price of a ticket as it stands: it follows when the hand rests. */
export const GET: RequestHandler = async ({ locals, params }) => {
	const user = requireUser(locals);
	const found = await ticketPrice(await database(), params.number ?? '', user.role);
	if (!found) error(404, `There is no ticket ${params.number}.`);
	return json(found);
};
