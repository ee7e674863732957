import { requireUser } from '$lib/server/house/guard';
import { floorNow } from '$lib/server/thinker/thinker';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	requireUser(locals);
	return { floor: await floorNow(Date.now()) };
};
