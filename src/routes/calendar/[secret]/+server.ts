import { error, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { calendarFeed } from '$lib/server/floor/calendar-feed';
import { technicianOfLink } from '$lib/server/identity/calendar-links';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { floorNow } from '$lib/server/worker/ask';

/** One person's day for a calendar program: who has the secret reads it, until the link is ended. */
export const GET: RequestHandler = async ({ params }) => {
	const db = await database();
	const code = await technicianOfLink(db, (params.secret ?? '').replace(/\.ics$/, ''), Date.now());
	const catalog = await shopCatalog(db);
	const technician = code === null ? undefined : catalog.technicians.get(code);
	if (!technician) error(404, 'There is no such calendar; ask the manager for a new link.');
	const feed = calendarFeed(await floorNow(), technician, catalog.shop);
	return new Response(feed, {
		headers: { 'content-type': 'text/calendar; charset=utf-8', 'cache-control': 'private, no-store' }
	});
};
