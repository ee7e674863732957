import { json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { keepPhoto } from '$lib/server/photos/store';
import { noteUpload } from '$lib/server/tickets/orphan-photos';
import { findTicket } from '$lib/server/tickets/queries';

/** Keeps a picture for a ticket. It is on the ticket once a change names it. */
export const POST: RequestHandler = async ({ locals, params, request }) => {
	requireUser(locals);
	const db = await database();
	const stored = await findTicket(db, params.number ?? '');
	if (!stored || !request.body) {
		const refusal = { field: 'ticket', message: `${params.number} is no ticket of this shop` };
		return json({ ok: false, refusal }, { status: 404 });
	}
	const kept = await keepPhoto(request.body);
	if ('message' in kept) return json({ ok: false, refusal: kept }, { status: 422 });
	await noteUpload(db, kept.photo, stored.id, Date.now());
	return json({ ok: true, ...kept });
};
