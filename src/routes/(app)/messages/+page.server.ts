import { fail } from '@sveltejs/kit';
import { z } from 'zod';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { readForm } from '$lib/server/http/read-form';
import { caughtMessages, decideMessage, queuedMessages } from '$lib/server/messages/queries';
import { standsIn, waysOut } from '$lib/server/messages/transports';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	requireUser(locals, ['manager', 'counter']);
	const db = await database();
	const [messages, caught] = await Promise.all([queuedMessages(db), standsIn() ? caughtMessages(db) : null]);
	return {
		messages,
		caught,
		ways: waysOut()
	};
};

const decideBody = z.object({
	id: z.coerce.number().int().min(1),
	again: z.enum(['yes', 'no']).transform((typed) => typed === 'yes')
});

export const actions: Actions = {
	decide: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager', 'counter']);
		const form = await readForm(request, decideBody);
		if (!form.ok) return fail(400, { problem: Object.values(form.problems)[0] ?? 'was refused' });
		const changed = await decideMessage(await database(), user.name, Date.now(), form.value);
		return changed ? { saved: true } : fail(409, { problem: 'It was sent or discarded in the meantime.' });
	}
};
