import { json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { lanesNow } from '$lib/server/worker/ask';

/** The database answers; what the workers do, without saying for whom. Where it does not answer the house says 503. */
export const GET: RequestHandler = async () => {
	await (await database()).raw('SELECT 1');
	return json({ ready: true, workers: lanesNow() });
};
