import { error, type RequestHandler } from '@sveltejs/kit';
import { boardPictures } from '$lib/core/catalog/catalog';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { photoResponse } from '$lib/server/photos/photo-response';
import { readPhoto } from '$lib/server/photos/store';

/** A picture of a model's board; one that no model names is not there. */
export const GET: RequestHandler = async ({ locals, params: { hash = '' } }) => {
	requireUser(locals);
	const named = boardPictures(await shopCatalog(await database()));
	const data = named.has(hash) ? await readPhoto(hash) : null;
	if (!data) error(404, 'No board has this picture');
	return photoResponse(data);
};
