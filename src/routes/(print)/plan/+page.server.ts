import { error } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { startPlan } from '$lib/server/workbook/start-plan';
import { askerOf, requireUser } from '$lib/server/http/guard';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, url }) => {
	const user = requireUser(locals);
	const catalog = await shopCatalog(await database());
	const queryParam = (name: string) => url.searchParams.get(name) ?? '';
	const plan = await startPlan(catalog, user.role, queryParam('model'), queryParam('sign'), askerOf(locals));
	if (!plan) error(404, 'The catalog has no such model or symptom. Choose them in the Workbook.');
	return { plan, shop: catalog.shop, now: Date.now() };
};
