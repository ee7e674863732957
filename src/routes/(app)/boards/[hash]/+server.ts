import { error, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { readPhoto } from '$lib/server/photos/store';

/** A picture of a model's board; one that no model names is not there. */
export const GET: RequestHandler = async ({ locals, params: { hash = '' } }) => {
	requireUser(locals);
	const { models } = await shopCatalog(await database());
	const isNamed = [...models.values()].some(({ pictures = {} }) => Object.values(pictures).includes(hash));
	const data = isNamed ? await readPhoto(hash) : null;
	if (!data) error(404, 'No board has such a picture');
	return new Response(data, {
		headers: {
			'content-type': 'image/jpeg',
			// what a hash names never changes; it is not for others than who is signed in
			'cache-control': 'private, max-age=86400, immutable'
		}
	});
};
