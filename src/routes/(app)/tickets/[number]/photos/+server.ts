import { json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/house/guard';
import { keepPhoto } from '$lib/server/photos/store';
import { findTicket } from '$lib/server/tickets/queries';

/** Keeps a picture for a ticket. It is on the ticket once a change names it. */
export const POST: RequestHandler = async ({ locals, params, request }) => {
	requireUser(locals);
	if (!(await findTicket(await database(), params.number ?? ''))) {
		const refusal = { field: 'ticket', message: `${params.number} is no ticket of this shop` };
		return json({ ok: false, refusal }, { status: 404 });
	}
	const kept = await keepPhoto(new Uint8Array(await request.arrayBuffer()));
	return 'message' in kept
		? json({ ok: false, refusal: kept }, { status: 422 })
		: json({ ok: true, ...kept });
};
