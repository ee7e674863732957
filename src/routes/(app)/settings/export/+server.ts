import type { RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { exportResponse } from '$lib/server/exchange/export-response';
import { requireUser } from '$lib/server/http/guard';

export const GET: RequestHandler = async ({ locals }) => {
	const { name } = requireUser(locals, ['manager']);
	return exportResponse(await database(), name, Date.now());
};
