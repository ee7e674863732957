import { fail, redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { openOwnPage } from '$lib/server/customers/own-page-access';
import { answerOnPage } from '$lib/server/customers/own-page';
import { database } from '$lib/server/database/connection';
import { readForm } from '$lib/server/http/read-form';
import * as words from '$lib/core/words/compiled/messages.js';
import type { Actions, PageServerLoad } from './$types';

/** The page of a device for its owner: no script, nobody signed in. */
export const csr = false;

export const load: PageServerLoad = async ({ params, getClientAddress, locals, setHeaders, url }) => {
	// the address is the secret: it is not passed on, and nothing in between keeps the page
	setHeaders({ 'cache-control': 'no-store', 'referrer-policy': 'no-referrer', 'x-robots-tag': 'noindex' });
	const now = Date.now();
	const page = await openOwnPage(await database(), params, getClientAddress(), now);
	locals.language = page.language;
	return { page, now, path: url.pathname, thanked: url.searchParams.has('answered') };
};

const answerBody = z.object({
	once: z.uuid(),
	version: z.coerce.number().int().min(1),
	// nothing chosen is sent as an empty text
	option: z
		.union([z.literal('').transform(() => undefined), z.coerce.number().int().min(0).max(7)])
		.optional(),
	answer: z.enum(['accept', 'decline'])
});

export const actions: Actions = {
	default: async ({ request, params, getClientAddress, url }) => {
		const db = await database();
		const now = Date.now();
		const page = await openOwnPage(db, params, getClientAddress(), now);
		const form = await readForm(request, answerBody);
		if (!form.ok) return fail(400, { problem: words.answer_unreadable({}, { locale: page.language }) });
		const { once, version, option, answer } = form.value;
		const reply = { once, version, accepted: answer === 'accept', option: option ?? null };
		const problem = await answerOnPage(db, page, now, reply);
		if (problem) return fail(409, { problem });
		redirect(303, `${url.pathname}?answered`);
	}
};
