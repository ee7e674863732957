import { fail, redirect } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { setSessionCookie } from '$lib/server/identity/cookie';
import { signIn } from '$lib/server/identity/sessions';
import { hasUsers } from '$lib/server/identity/users';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	if (locals.user) redirect(303, '/floor');
	if (!(await hasUsers(await database()))) redirect(303, '/first-visit');
};

/** Only a path of this site is a place to go on to. */
const onwards = (to: string | null) => (to && /^\/(?!\/|\\)/.test(to) ? to : '/floor');

export const actions: Actions = {
	default: async (event) => {
		const form = await event.request.formData();
		const name = String(form.get('signIn') ?? '').slice(0, 64);
		const answer = await signIn(await database(), Date.now(), {
			signIn: name,
			password: String(form.get('password') ?? '').slice(0, 200),
			address: event.getClientAddress()
		});
		if (!answer.ok) return fail(400, { signIn: name, message: answer.message });
		setSessionCookie(event, answer.token);
		redirect(303, onwards(event.url.searchParams.get('to')));
	}
};
