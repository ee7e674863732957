import { error, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { photoResponse } from '$lib/server/photos/photo-response';
import { readPhoto } from '$lib/server/photos/store';
import { findTicket } from '$lib/server/tickets/queries';

/** A picture of a ticket; one of another ticket, or one that was struck out, is not there. */
export const GET: RequestHandler = async ({ locals, params, url }) => {
	requireUser(locals);
	const { number = '', hash = '' } = params;
	const stored = await findTicket(await database(), number);
	const named = stored?.ticket.photos.some(({ photo }) => photo === hash);
	const data = named ? await readPhoto(hash, url.searchParams.has('small')) : null;
	if (!data) error(404, `${number} has no such picture`);
	return photoResponse(data);
};
