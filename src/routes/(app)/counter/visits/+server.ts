import { json, type RequestHandler } from '@sveltejs/kit';
import { codeWords } from '$lib/core/units/code';
import { database } from '$lib/server/database/connection';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { requireUser } from '$lib/server/http/guard';
import { lotsOf, warrantyNow, type CounterVisit } from '$lib/server/tickets/first-job';
import { earlierVisits } from '$lib/server/tickets/queries';
import { warrantyWords } from '$lib/core/tickets/warranty';
import { shopFormat } from '$lib/core/units/shop-format';

/** Earlier tickets that the device on the counter may come back from. */
export const GET: RequestHandler = async ({ locals, url }) => {
	requireUser(locals);
	const text = (name: string) => url.searchParams.get(name)?.trim().slice(0, 200) || null;
	const found = { serial: text('serial'), customer: text('customer'), model: text('model') };
	const db = await database();
	const [visits, catalog] = await Promise.all([earlierVisits(db, found), shopCatalog(db)]);
	const labelOf = (fault: string) => catalog.faults.get(fault)?.label ?? codeWords(fault);
	const lots = await lotsOf(
		db,
		visits.map(({ ticket }) => ticket)
	);
	const now = Date.now();
	const date = shopFormat(catalog.shop).date;
	return json(
		visits.map(({ ticket, ...visit }): CounterVisit => {
			const warranty = warrantyNow(ticket, catalog, lots, now);
			return {
				...visit,
				faults: visit.faults.map(labelOf),
				customer: ticket.customer,
				modelLabel: catalog.models.get(ticket.model)?.label ?? ticket.model,
				warranty: warranty && { state: warranty.state, words: warrantyWords(warranty, date) }
			};
		})
	);
};
