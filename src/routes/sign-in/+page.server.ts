import { fail, redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { database } from '$lib/server/database/connection';
import { readForm } from '$lib/server/http/read-form';
import { deviceCookie, setDeviceCookie, setSessionCookie } from '$lib/server/identity/cookie';
import { signIn } from '$lib/server/identity/sessions';
import { hasUsers } from '$lib/server/identity/users';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	if (locals.user) redirect(303, '/floor');
	if (!(await hasUsers(await database()))) redirect(303, '/first-visit');
};

/** Only a place of this site is one to go on to: as the browser will read it, not as it is written. */
function onwards(to: string | null, base: URL): string {
	try {
		const place = new URL(to ?? '/floor', base.origin);
		return place.origin === base.origin && place.pathname.startsWith('/') && !place.pathname.startsWith('//')
			? place.pathname + place.search
			: '/floor';
	} catch {
		return '/floor';
	}
}

/** Whatever was typed is looked at as a name and a password: only their lengths are bounded. */
const signInBody = z.object({
	signIn: z
		.string()
		.default('')
		.transform((name) => name.slice(0, 64)),
	password: z
		.string()
		.default('')
		.transform((password) => password.slice(0, 200))
});

export const actions: Actions = {
	default: async (event) => {
		const form = await readForm(event.request, signInBody);
		const { signIn: name, password } = form.ok ? form.value : { signIn: '', password: '' };
		const answer = await signIn(await database(), Date.now(), {
			signIn: name,
			password,
			address: event.getClientAddress(),
			device: event.cookies.get(deviceCookie())
		});
		if (!answer.ok) {
			if (answer.waitSeconds) event.setHeaders({ 'retry-after': String(answer.waitSeconds) });
			return fail(answer.waitSeconds ? 429 : 400, { signIn: name, message: answer.message });
		}
		setSessionCookie(event, answer.token);
		setDeviceCookie(event, answer.device);
		redirect(303, onwards(event.url.searchParams.get('to'), event.url));
	}
};
