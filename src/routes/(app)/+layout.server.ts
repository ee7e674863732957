import { database } from '$lib/server/database/connection';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { requireUser } from '$lib/server/http/guard';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals }) => {
	const { signIn, name, role, technician } = requireUser(locals);
	const catalog = await shopCatalog(await database());
	return { user: { signIn, name, role, technician }, shop: catalog.shop, theme: locals.theme };
};
