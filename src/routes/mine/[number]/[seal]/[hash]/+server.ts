import { error, type RequestHandler } from '@sveltejs/kit';
import { openOwnPage } from '$lib/server/customers/own-page-access';
import { database } from '$lib/server/database/connection';
import { readPhoto } from '$lib/server/photos/store';

/** A picture that was released to the owner of a device. */
export const GET: RequestHandler = async ({ params, getClientAddress }) => {
	const page = await openOwnPage(await database(), params, getClientAddress(), Date.now());
	const { hash = '' } = params;
	const data = page.photos.some((photo) => photo.hash === hash) ? await readPhoto(hash, false) : null;
	if (!data) error(404, 'There is no such picture.');
	return new Response(data, {
		headers: {
			'content-type': 'image/jpeg',
			'cache-control': 'private, no-store',
			'referrer-policy': 'no-referrer'
		}
	});
};
