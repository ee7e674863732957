import { z } from 'zod';
import { unsoundText } from '$lib/core/units/sound-value';
import { database } from '$lib/server/database/connection';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { requireUser } from '$lib/server/http/guard';
import { PAGE_SIZE, searchTickets } from '$lib/server/tickets/queries';
import { standingOf } from '$lib/server/tickets/where';
import type { PageServerLoad } from './$types';

const filter = z.object({
	text: z
		.string()
		.trim()
		.max(100)
		.refine((text) => unsoundText(text) === null)
		.catch('')
		.default(''),
	state: z.enum(['open', 'closed', 'all']).catch('all').default('all'),
	model: z.string().max(64).catch('').default(''),
	before: z.coerce.number().int().min(0).max(7e12).optional().catch(undefined)
});

export const load: PageServerLoad = async ({ locals, url }) => {
	requireUser(locals);
	const filters = filter.parse(Object.fromEntries(url.searchParams));
	const db = await database();
	const [catalog, found] = await Promise.all([
		shopCatalog(db),
		searchTickets(db, {
			state: filters.state,
			...(filters.text ? { text: filters.text } : {}),
			...(filters.model ? { model: filters.model } : {}),
			...(filters.before ? { before: filters.before } : {})
		})
	]);
	return {
		asked: filters,
		more: found.length === PAGE_SIZE,
		models: [...catalog.models.values()].map(({ code, label }) => ({ code, label })),
		rows: found.map(({ ticket }) => ({
			...standingOf(ticket, catalog),
			openedAt: ticket.openedAt,
			closedAt: ticket.closedAt,
			outcome: ticket.outcome,
			faults: (ticket.faults ?? []).map((code) => catalog.faults.get(code)?.label ?? code),
			quotedMinor: ticket.quotedMinor,
			comebackOf: ticket.comebackOf
		}))
	};
};
