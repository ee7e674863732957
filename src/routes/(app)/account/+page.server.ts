import { fail, redirect } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { readForm } from '$lib/server/http/read-form';
import { requireUser } from '$lib/server/http/guard';
import { countAttempt } from '$lib/server/identity/attempts';
import { sessionCookie } from '$lib/server/identity/cookie';
import { endOtherSessions } from '$lib/server/identity/sessions';
import { changeOwnPassword, ownPasswordBody } from '$lib/server/identity/users';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals }) => ({ mustChange: requireUser(locals).mustChange });

export const actions: Actions = {
	default: async ({ request, locals, cookies, getClientAddress }) => {
		const user = requireUser(locals);
		const form = await readForm(request, ownPasswordBody);
		if (!form.ok) return fail(400, { problems: form.problems });
		const db = await database();
		const attempt = await countAttempt(db, `own ${user.signIn}`, getClientAddress());
		const refuse = (field: string, message: string) =>
			fail(400, { problems: { [field]: message } as Record<string, string> });
		if (!attempt.allowed) return refuse('current', `Too many attempts. Wait ${attempt.waitSeconds} seconds`);
		const answer = await changeOwnPassword(db, Date.now(), user.id, form.value);
		if (!answer.ok) return refuse(answer.field, answer.message);
		await endOtherSessions(db, user.id, cookies.get(sessionCookie()) ?? null);
		if (user.mustChange) redirect(303, '/floor');
		return { saved: true };
	}
};
