import { requireUser } from '$lib/server/house/guard';
import { floorShown } from '$lib/server/thinker/thinker';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	requireUser(locals);
	const { newer, ...shown } = await floorShown();
	return { shown, newer };
};
