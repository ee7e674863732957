import { json, type RequestHandler } from '@sveltejs/kit';
import type { Refusal } from '$lib/core/tickets/refusal';
import { requireUser } from '$lib/server/http/guard';
import { keepPhoto } from '$lib/server/photos/store';

/** Keeps a picture of a board. It is a model's once its record is saved with it; one that none names goes after a day. */
export const POST: RequestHandler = async ({ locals, request }) => {
	requireUser(locals, ['manager']);
	const refused = (refusal: Refusal) => json({ ok: false, refusal }, { status: 422 });
	if (!request.body) return refused({ field: 'photo', message: 'is empty; choose a picture' });
	const kept = await keepPhoto(request.body);
	return 'message' in kept ? refused(kept) : json({ ok: true, ...kept });
};
