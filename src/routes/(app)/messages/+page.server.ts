import { fail } from '@sveltejs/kit';
import process from 'node:process';
import { z } from 'zod';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/house/guard';
import { readForm } from '$lib/server/house/read-form';
import { caughtMessages, decideMessage, queuedMessages } from '$lib/server/messages/queries';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	requireUser(locals, ['manager', 'counter']);
	const db = await database();
	const standIn = process.env.TAVREK_DEMO === '1' || process.env.TAVREK_MESSAGES === 'stand-in';
	const [messages, caught] = await Promise.all([queuedMessages(db), standIn ? caughtMessages(db) : null]);
	return {
		messages,
		caught,
		ways: {
			mail: standIn || Boolean(process.env.TAVREK_SMTP),
			text: standIn || Boolean(process.env.TAVREK_TEXT_GATEWAY)
		}
	};
};

const decideBody = z.object({
	id: z.coerce.number().int().min(1),
	again: z.enum(['yes', 'no']).transform((said) => said === 'yes')
});

export const actions: Actions = {
	decide: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager', 'counter']);
		const form = await readForm(request, decideBody);
		if (!form.ok) return fail(400, { problem: Object.values(form.problems)[0] ?? 'was refused' });
		const changed = await decideMessage(await database(), user.name, Date.now(), form.value);
		return changed ? { saved: true } : fail(409, { problem: 'It has left meanwhile, or was let go.' });
	}
};
