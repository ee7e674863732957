import { error, json, type RequestHandler } from '@sveltejs/kit';
import { seesCosts } from '$lib/core/units/role';
import { database } from '$lib/server/database/connection';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { askerOf, requireUser } from '$lib/server/http/guard';
import { planFurther } from '$lib/server/worker/ask';
import { planView } from '$lib/core/diagnosis/plan/plan-view';

/** A plan that looks further ahead than a page waits for; thought of beside the thread that answers requests. */
export const GET: RequestHandler = async ({ locals, params }) => {
	const user = requireUser(locals);
	const further = await planFurther(params.number ?? '', askerOf(locals));
	if (!further) error(404, `There is no ticket ${params.number}.`);
	const catalog = await shopCatalog(await database());
	return json({ version: further.version, plan: planView(further.plan, catalog, seesCosts(user.role)) });
};
