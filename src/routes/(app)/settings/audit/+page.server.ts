import { latestAudit } from '$lib/server/audit/queries';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/house/guard';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	requireUser(locals, ['manager']);
	return { lines: await latestAudit(await database()) };
};
