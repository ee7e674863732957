import { fail, redirect } from '@sveltejs/kit';
import { describeIssue } from '$lib/core/exchange/read-lines';
import { database } from '$lib/server/database/connection';
import { readForm } from '$lib/server/house/read-form';
import { requireUser } from '$lib/server/house/guard';
import { countAttempt } from '$lib/server/identity/attempts';
import { sessionCookie } from '$lib/server/identity/cookie';
import { endOtherSessions } from '$lib/server/identity/sessions';
import { changeOwnPassword, ownPasswordBody } from '$lib/server/identity/users';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals }) => ({ mustChange: requireUser(locals).mustChange });

export const actions: Actions = {
	default: async ({ request, locals, cookies, getClientAddress }) => {
		const user = requireUser(locals);
		const form = await readForm(request);
		if (!form.ok) return fail(400, { problems: form.problems });
		const parsed = ownPasswordBody.safeParse(form.values);
		if (!parsed.success) {
			const problems = parsed.error.issues.map(describeIssue).map(({ path, message }) => [path, message]);
			return fail(400, { problems: Object.fromEntries(problems) as Record<string, string> });
		}
		const db = await database();
		const attempt = await countAttempt(db, `own ${user.signIn}`, getClientAddress());
		const refuse = (field: string, message: string) =>
			fail(400, { problems: { [field]: message } as Record<string, string> });
		if (!attempt.allowed) return refuse('current', `too many attempts; wait ${attempt.waitSeconds} seconds`);
		const answer = await changeOwnPassword(db, Date.now(), user.id, parsed.data);
		if (!answer.ok) return refuse(answer.field, answer.message);
		await endOtherSessions(db, user.id, cookies.get(sessionCookie()) ?? null);
		if (user.mustChange) redirect(303, '/floor');
		return { saved: true };
	}
};
