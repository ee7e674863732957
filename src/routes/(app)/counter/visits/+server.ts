import { json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/house/guard';
import { earlierVisits } from '$lib/server/tickets/queries';

/** Earlier tickets that the device on the counter may come back from. */
export const GET: RequestHandler = async ({ locals, url }) => {
	requireUser(locals);
	const text = (name: string) => url.searchParams.get(name)?.trim().slice(0, 200) || null;
	const found = { serial: text('serial'), customer: text('customer'), model: text('model') };
	return json(await earlierVisits(await database(), found));
};
