import type { RequestHandler } from '@sveltejs/kit';
import { requireBearer } from '$lib/server/api/requests';
import { database } from '$lib/server/database/connection';
import { exportResponse } from '$lib/server/exchange/export-response';

export const GET: RequestHandler = async (event) => {
	const bearer = requireBearer(event, ['manager']);
	if (bearer instanceof Response) return bearer;
	return exportResponse(await database(), bearer.name, Date.now());
};
