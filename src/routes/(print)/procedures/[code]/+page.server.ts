import { error } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params }) => {
	requireUser(locals);
	const catalog = await shopCatalog(await database());
	const procedure = catalog.procedures.get(params.code);
	if (!procedure) error(404, 'There is no such procedure; choose one in the Workbook.');
	return {
		procedure,
		operation: catalog.operations.get(procedure.operation)?.label ?? procedure.operation,
		stations: [...catalog.stations.values()].map(({ code, label }) => ({ code, label })),
		shop: catalog.shop
	};
};
