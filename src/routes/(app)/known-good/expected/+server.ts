import { json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { requireUser } from '$lib/server/http/guard';
import { expectedByPlace, probedPlaces } from '$lib/core/readings/expected-by-place';

/** What each contact of a model should read, on a meter and a board revision. */
export const GET: RequestHandler = async ({ locals, url }) => {
	requireUser(locals);
	const { shelf, catalog } = await shopMemory(await database());
	const ask = (name: string) => url.searchParams.get(name)?.slice(0, 64) || undefined;
	const model = catalog.models.get(ask('model') ?? '');
	const connector = catalog.connectors.get(model?.connector ?? '');
	const taken = { meter: ask('meter'), board: ask('board') };
	return json(expectedByPlace(shelf.book(model?.code ?? ''), probedPlaces(connector, model), taken));
};
