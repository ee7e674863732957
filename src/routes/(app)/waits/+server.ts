import { json, type RequestHandler } from '@sveltejs/kit';
import { waitsNow } from '$lib/core/tickets/waits';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { timedWaits } from '$lib/server/tickets/queries';

/** Waits that end by themselves, with the server's clock: what every open page counts down. */
export const GET: RequestHandler = async ({ locals }) => {
	requireUser(locals);
	const db = await database();
	const [catalog, stored] = await Promise.all([shopCatalog(db), timedWaits(db)]);
	const waits = stored.flatMap(({ ticket, version }) =>
		waitsNow(ticket).flatMap(({ for: waitFor, until, note }) =>
			until === undefined
				? []
				: [
						{
							number: ticket.number,
							version,
							model: catalog.models.get(ticket.model)?.label ?? ticket.model,
							for: waitFor,
							note: note ?? null,
							until,
							with: catalog.technicians.get(ticket.assignedTo ?? '')?.name ?? null
						}
					]
		)
	);
	return json({ now: Date.now(), waits: waits.sort((a, b) => a.until - b.until) });
};
