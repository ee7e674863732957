import { VERB_ROLES } from '$lib/core/tickets/verb-roles';
import { bytesWords } from '$lib/server/house/bodies';
import { DOORS, type Door } from '$lib/server/house/doors';
import { requireUser } from '$lib/server/house/guard';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals }) => {
	requireUser(locals, ['manager']);
	const said = (roles: Door['see'] | undefined) => (roles === 'anybody' ? ['anybody'] : [...(roles ?? [])]);
	return {
		verbs: Object.entries(VERB_ROLES).map(([verb, roles]) => ({ verb, roles: [...roles] })),
		doors: Object.entries(DOORS).map(([route, { see, send, most }]) => ({
			route: route.replace(/^\/\([a-z]+\)/, ''),
			see: said(see),
			send: said(send),
			most: most === undefined ? null : bytesWords(most)
		}))
	};
};
