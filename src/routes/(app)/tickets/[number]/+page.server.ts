import { error } from '@sveltejs/kit';
import { benchCatalog } from '$lib/server/catalog/bench-catalog';
import { database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { requireUser } from '$lib/server/http/guard';
import { ownPath } from '$lib/server/messages/links';
import { ticketView } from '$lib/server/tickets/view';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params }) => {
	const user = requireUser(locals);
	const db = await database();
	const view = await ticketView(db, params.number, user.role, Date.now());
	if (!view) error(404, `There is no ticket ${params.number}. Check the number on the tag.`);
	const link = user.role === 'technician' ? null : ownPath(view.ticket.number);
	return { view, own: link, bench: benchCatalog((await shopMemory(db)).catalog, view.ticket.model) };
};
