import { fail } from '@sveltejs/kit';
import { z } from 'zod';
import { describeIssue } from '$lib/core/exchange/read-lines';
import { roleSchema } from '$lib/core/units/role';
import { database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/diagnosis/shop-memory';
import { requireUser } from '$lib/server/house/guard';
import { listApiTokens, makeApiToken, revokeApiToken } from '$lib/server/identity/api-tokens';
import { addUser, listUsers, newUserBody, setUserActive } from '$lib/server/identity/users';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	requireUser(locals, ['manager']);
	const db = await database();
	const [users, tokens, { catalog }] = await Promise.all([listUsers(db), listApiTokens(db), shopMemory(db)]);
	const technicians = [...catalog.technicians.values()].map(({ code, name }) => ({ code, name }));
	return { users, tokens, technicians };
};

const tokenBody = z.strictObject({
	label: z.string().trim().min(1, 'is empty; say what the token is for').max(200),
	role: roleSchema
});
const activeBody = z.strictObject({
	id: z.coerce.number().int(),
	version: z.coerce.number().int(),
	active: z.enum(['yes', 'no'])
});

const problemsOf = (error: z.ZodError) =>
	Object.fromEntries(error.issues.map(describeIssue).map(({ path, message }) => [path, message]));

export const actions: Actions = {
	add: async ({ request, locals }) => {
		const actor = requireUser(locals, ['manager']);
		const values = Object.fromEntries(await request.formData()) as Record<string, string>;
		const { password: _, ...kept } = values;
		const parsed = newUserBody.safeParse({ ...values, technician: values.technician || null });
		if (!parsed.success) return fail(400, { kept, problems: problemsOf(parsed.error) });
		const answer = await addUser(await database(), actor.name, Date.now(), parsed.data);
		if (!answer.ok) return fail(400, { kept, problems: { [answer.field]: answer.message } });
		return { added: parsed.data.name };
	},
	active: async ({ request, locals }) => {
		const actor = requireUser(locals, ['manager']);
		const parsed = activeBody.safeParse(Object.fromEntries(await request.formData()));
		if (!parsed.success) return fail(400, { problems: problemsOf(parsed.error) });
		const { id, version, active } = parsed.data;
		const answer = await setUserActive(await database(), actor.name, Date.now(), {
			id,
			version,
			active: active === 'yes'
		});
		if (!answer.ok) return fail(409, { problems: { people: answer.message } });
	},
	token: async ({ request, locals }) => {
		const actor = requireUser(locals, ['manager']);
		const parsed = tokenBody.safeParse(Object.fromEntries(await request.formData()));
		if (!parsed.success) return fail(400, { problems: problemsOf(parsed.error) });
		return { token: await makeApiToken(await database(), actor.name, Date.now(), parsed.data) };
	},
	revoke: async ({ request, locals }) => {
		const actor = requireUser(locals, ['manager']);
		const id = z.coerce
			.number()
			.int()
			.safeParse((await request.formData()).get('id'));
		if (!id.success) return fail(400, { problems: { tokens: 'names no token; reload the page' } });
		await revokeApiToken(await database(), actor.name, Date.now(), id.data);
	}
};
