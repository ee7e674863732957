import { fail } from '@sveltejs/kit';
import { z } from 'zod';
import { roleSchema } from '$lib/core/units/role';
import { database } from '$lib/server/database/connection';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { readForm } from '$lib/server/http/read-form';
import { requireUser } from '$lib/server/http/guard';
import { listApiTokens, makeApiToken, revokeApiToken, TOKEN_DAYS } from '$lib/server/identity/api-tokens';
import { IDLE_HOURS, LONGEST_DAYS } from '$lib/server/identity/sessions';
import { addUser, listUsers, newUserBody, resetPassword, setUserActive } from '$lib/server/identity/users';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	requireUser(locals, ['manager']);
	const db = await database();
	const [users, tokens, catalog] = await Promise.all([
		listUsers(db),
		listApiTokens(db, Date.now()),
		shopCatalog(db)
	]);
	const technicians = [...catalog.technicians.values()].map(({ code, name }) => ({ code, name }));
	return {
		users,
		tokens,
		technicians,
		tokenDays: TOKEN_DAYS,
		session: { idleHours: IDLE_HOURS, longestDays: LONGEST_DAYS }
	};
};

const tokenBody = z.strictObject({
	label: z.string().trim().min(1, 'is empty. Write what the token is for.').max(200),
	role: roleSchema,
	days: z.coerce
		.number()
		.refine((days) => (TOKEN_DAYS as readonly number[]).includes(days), 'is no choice; reload the page')
});
const activeBody = z.strictObject({
	id: z.coerce.number().int().min(1).max(Number.MAX_SAFE_INTEGER),
	version: z.coerce.number().int().min(1).max(4_000_000_000),
	active: z.enum(['yes', 'no'])
});

const idBody = z.strictObject({ id: z.coerce.number().int().min(1).max(Number.MAX_SAFE_INTEGER) });

export const actions: Actions = {
	add: async ({ request, locals }) => {
		const actor = requireUser(locals, ['manager']);
		const form = await readForm(request, newUserBody, (values) => ({
			...values,
			technician: values.technician || null
		}));
		const { kept } = form;
		if (!form.ok) return fail(400, { kept, problems: form.problems });
		const answer = await addUser(await database(), actor.name, Date.now(), form.value);
		if (!answer.ok) return fail(400, { kept, problems: { [answer.field]: answer.message } });
		return { added: form.value.name };
	},
	active: async ({ request, locals }) => {
		const actor = requireUser(locals, ['manager']);
		const form = await readForm(request, activeBody);
		if (!form.ok) return fail(400, { problems: form.problems });
		const { id, version, active } = form.value;
		const answer = await setUserActive(await database(), actor.name, Date.now(), {
			id,
			version,
			active: active === 'yes'
		});
		if (!answer.ok) return fail(409, { problems: { people: answer.message } });
	},
	reset: async ({ request, locals }) => {
		const actor = requireUser(locals, ['manager']);
		const form = await readForm(request, idBody);
		if (!form.ok) return fail(400, { problems: { people: 'names nobody; reload the page' } });
		const answer = await resetPassword(await database(), actor.name, Date.now(), form.value);
		if (!answer.ok) return fail(409, { problems: { people: answer.message } });
		return { reset: { name: answer.name, password: answer.password } };
	},
	token: async ({ request, locals }) => {
		const actor = requireUser(locals, ['manager']);
		const form = await readForm(request, tokenBody);
		if (!form.ok) return fail(400, { problems: form.problems });
		return { token: await makeApiToken(await database(), actor, Date.now(), form.value) };
	},
	revoke: async ({ request, locals }) => {
		const actor = requireUser(locals, ['manager']);
		const form = await readForm(request, idBody);
		if (!form.ok) return fail(400, { problems: { tokens: 'names no token; reload the page' } });
		await revokeApiToken(await database(), actor.name, Date.now(), form.value.id);
	}
};
