import { json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { matchCustomers } from '$lib/server/tickets/queries';

export const GET: RequestHandler = async ({ locals, url }) => {
	requireUser(locals);
	const typed = (url.searchParams.get('typed') ?? '').trim().slice(0, 100);
	return json(typed.length < 2 ? [] : await matchCustomers(await database(), typed));
};
