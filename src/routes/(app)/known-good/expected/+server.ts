import { json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { requireUser } from '$lib/server/http/guard';
import { expectedByContact } from '$lib/server/tickets/view';

/** What each contact of a model should read, on a meter and a board revision. */
export const GET: RequestHandler = async ({ locals, url }) => {
	requireUser(locals);
	const memory = await shopMemory(await database());
	const ask = (name: string) => url.searchParams.get(name)?.slice(0, 64) || undefined;
	return json(expectedByContact(memory, ask('model') ?? '', { meter: ask('meter'), board: ask('board') }));
};
