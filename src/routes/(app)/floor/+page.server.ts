import { database } from '$lib/server/database/connection';
import { floorView } from '$lib/server/floor/queries';
import { requireUser } from '$lib/server/house/guard';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	requireUser(locals);
	return { floor: await floorView(await database(), Date.now()) };
};
