import { error, json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { ticketReasons } from '$lib/server/tickets/view';

/** Every reason behind a ticket’s odds, asked for when they are opened. */
export const GET: RequestHandler = async ({ locals, params }) => {
	requireUser(locals);
	const found = await ticketReasons(await database(), params.number ?? '');
	if (!found) error(404, `There is no ticket ${params.number}.`);
	return json(found);
};
