import { error } from '@sveltejs/kit';
import { benchCatalog } from '$lib/server/catalog/bench-catalog';
import { database } from '$lib/server/database/connection';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { requireUser } from '$lib/server/http/guard';
import { ownLink, ownPath } from '$lib/server/messages/links';
import { addressCode, scanCode } from '$lib/server/http/scan-code';
import { paperView, SHEETS } from '$lib/server/tickets/paper-view';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params, url }) => {
	const user = requireUser(locals);
	const what = SHEETS.find((sheet) => sheet === params.what);
	if (!what) error(404, 'There is no such sheet. Print a job sheet, a drop-off slip, a tag or a quote.');
	const db = await database();
	const [view, catalog] = await Promise.all([paperView(db, params.number, user.role, what), shopCatalog(db)]);
	if (!view) error(404, `There is no ticket ${params.number}.`);
	const path = what === 'receipt' ? ownPath(view.ticket.number) : null;
	const link = path && (ownLink(view.ticket.number) ?? `${url.origin}${path}`);
	return {
		what,
		view,
		shop: catalog.shop,
		bench: benchCatalog(catalog, view.ticket.model),
		code: scanCode(view.ticket.number),
		own: link ? { address: link, code: addressCode(link) } : null
	};
};
