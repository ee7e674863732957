import { json, type RequestHandler } from '@sveltejs/kit';
import { unsoundText } from '$lib/core/units/sound-value';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { skuOfLot } from '$lib/server/stock/queries';
import { resolveNumber } from '$lib/server/tickets/queries';
import { findStanding } from '$lib/server/tickets/where';

/** The ticket that a typed or scanned text means, else the lot on the shelf; and all that fits it, with where each stands. */
export const GET: RequestHandler = async ({ locals, url }) => {
	requireUser(locals);
	const typed = url.searchParams.get('number') ?? '';
	const db = await database();
	const number = await resolveNumber(db, typed);
	const text = typed.trim();
	const fits = text.length >= 2 && text.length <= 100 && unsoundText(text) === null;
	return json({
		number,
		lot: number === null ? await skuOfLot(db, typed) : null,
		found: fits ? await findStanding(db, text) : []
	});
};
