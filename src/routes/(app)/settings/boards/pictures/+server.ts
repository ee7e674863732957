import { json, type RequestHandler } from '@sveltejs/kit';
import { requireUser } from '$lib/server/http/guard';
import { keepPhoto } from '$lib/server/photos/store';

/** Keeps a picture of a board. It is a model's once its record is saved with it; one that none names goes after a day. */
export const POST: RequestHandler = async ({ locals, request }) => {
	requireUser(locals, ['manager']);
	if (!request.body) return json({ ok: false, message: 'is empty; choose a picture' }, { status: 422 });
	const kept = await keepPhoto(request.body);
	if ('message' in kept) return json({ ok: false, message: kept.message }, { status: 422 });
	return json({ ok: true, photo: kept.photo });
};
