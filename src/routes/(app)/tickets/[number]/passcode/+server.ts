import { json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { actorOf, requireUser } from '$lib/server/http/guard';
import { showPasscode } from '$lib/server/tickets/passcodes';

/** The passcode of an open ticket. A POST: showing it is noted in the audit trail. */
export const POST: RequestHandler = async ({ locals, params }) => {
	const user = requireUser(locals);
	const viewer = { ...actorOf(user), role: user.role, technician: user.technician };
	return json(await showPasscode(await database(), viewer, Date.now(), params.number ?? ''));
};
