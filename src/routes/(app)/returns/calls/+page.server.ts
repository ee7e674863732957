import { fail } from '@sveltejs/kit';
import { z } from 'zod';
import { FOUND_AFTER } from '$lib/core/tickets/ticket-entries';
import { ticketNumberSchema } from '$lib/core/units/code';
import { callsDue, heldWhenAsked } from '$lib/server/customers/calls';
import { database } from '$lib/server/database/connection';
import { actorOf, requireUser } from '$lib/server/http/guard';
import { readForm } from '$lib/server/http/read-form';
import { changeTicket } from '$lib/server/tickets/change-ticket';
import { refusalWords } from '$lib/core/tickets/refusal-words';
import type { Actions, PageServerLoad } from './$types';

const ASKED_DAYS = 180;

export const load: PageServerLoad = async ({ locals }) => {
	requireUser(locals);
	const db = await database();
	const now = Date.now();
	const [calls, followUps] = await Promise.all([callsDue(db, now), heldWhenAsked(db, now, ASKED_DAYS)]);
	return { calls, asked: followUps, now };
};

const answerBody = z.object({
	ticket: ticketNumberSchema,
	version: z.coerce.number().int().min(1),
	once: z.uuid(),
	said: z.string().trim().max(500).optional(),
	found: z.enum([...FOUND_AFTER, 'told'])
});

export const actions: Actions = {
	answer: async ({ request, locals }) => {
		const user = requireUser(locals);
		const form = await readForm(request, answerBody);
		if (!form.ok) return fail(400, { problem: Object.values(form.problems)[0] ?? 'was refused' });
		const { ticket, version, once, said: text, found } = form.value;
		const answer = await changeTicket(await database(), actorOf(user), Date.now(), ticket, {
			version,
			once,
			change:
				found === 'told'
					? { verb: 'tell', how: 'telephone' }
					: { verb: 'follow-up', found, ...(text ? { said: text } : {}) }
		});
		if (answer.ok) return { done: ticket };
		const problem =
			answer.code === 'stale'
				? `${ticket} was changed by someone else in the meantime. Look at it again.`
				: answer.code === 'missing'
					? answer.message
					: refusalWords(answer.refusal);
		return fail(409, { problem });
	}
};
