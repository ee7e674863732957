import { json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { kitThere } from '$lib/server/stock/queries';

/** What an operation takes, and what it may be taken from as the shelf stands; no costs. */
export const GET: RequestHandler = async ({ locals, url }) => {
	requireUser(locals);
	const asked = (name: string) => url.searchParams.get(name)?.slice(0, 64);
	return json(await kitThere(await database(), asked('operation') ?? '', asked('model')));
};
