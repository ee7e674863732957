import { json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/house/guard';
import { skuOfLot } from '$lib/server/stock/queries';
import { resolveNumber } from '$lib/server/tickets/queries';

/** The ticket that a typed or scanned text means, else the lot on the shelf; null where there is neither. */
export const GET: RequestHandler = async ({ locals, url }) => {
	requireUser(locals);
	const typed = url.searchParams.get('number') ?? '';
	const db = await database();
	const number = await resolveNumber(db, typed);
	return json({ number, lot: number === null ? await skuOfLot(db, typed) : null });
};
