import { json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/house/guard';
import { resolveNumber } from '$lib/server/tickets/queries';

/** The ticket that a typed or scanned text means; null where there is none. */
export const GET: RequestHandler = async ({ locals, url }) => {
	requireUser(locals);
	return json({ number: await resolveNumber(await database(), url.searchParams.get('number') ?? '') });
};
