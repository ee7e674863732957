import { PERMISSIONS } from '$lib/core/tickets/verb-roles';
import { bytesWords } from '$lib/server/http/bodies';
import { ROUTE_POLICY, type RoutePolicy } from '$lib/server/http/route-policy';
import { requireUser } from '$lib/server/http/guard';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals }) => {
	requireUser(locals, ['manager']);
	const rolesText = (roles: RoutePolicy['see'] | undefined) =>
		roles === 'anybody' ? ['anybody'] : [...(roles ?? [])];
	return {
		permissions: PERMISSIONS,
		routes: Object.entries(ROUTE_POLICY).map(([route, { see, send, most: maxBytes }]) => ({
			route: route.replace(/^\/\([a-z]+\)/, ''),
			see: rolesText(see),
			send: rolesText(send),
			most: maxBytes === undefined ? null : bytesWords(maxBytes)
		}))
	};
};
