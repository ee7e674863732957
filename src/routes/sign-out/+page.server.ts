import { redirect } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { clearSessionCookie, sessionCookie } from '$lib/server/identity/cookie';
import { endSession } from '$lib/server/identity/sessions';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = () => redirect(303, '/floor');

export const actions: Actions = {
	default: async (event) => {
		const token = event.cookies.get(sessionCookie());
		if (token) await endSession(await database(), token);
		clearSessionCookie(event);
		redirect(303, '/sign-in');
	}
};
