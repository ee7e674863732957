import { fail } from '@sveltejs/kit';
import { DAY_MS } from '$lib/core/units/instant';
import { seesCosts } from '$lib/core/units/role';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { readForm } from '$lib/server/http/read-form';
import { cameBack, claims, foundTheSameDay } from '$lib/server/returns/came-back';
import { claimBody, makeClaim, settleBody, settleClaim } from '$lib/server/returns/commands';
import type { Actions, PageServerLoad } from './$types';

const LOOKED_BACK_DAYS = 90;

/** Devices that came back with their causes; claims on suppliers are money, for who sees it. */
export const load: PageServerLoad = async ({ locals }) => {
	const user = requireUser(locals);
	const db = await database();
	const sees = seesCosts(user.role);
	const [back, asked, own] = await Promise.all([
		cameBack(db, Date.now()),
		sees ? claims(db) : null,
		foundTheSameDay(db, Date.now() - LOOKED_BACK_DAYS * DAY_MS)
	]);
	return {
		back: back.map((visit) => ({ ...visit, toClaim: sees ? visit.toClaim : null })),
		claims: asked,
		own
	};
};

export const actions: Actions = {
	claim: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager']);
		const form = await readForm(request, claimBody);
		if (!form.ok) return fail(400, { problems: form.problems, kept: form.kept });
		const answer = await makeClaim(await database(), user.name, Date.now(), form.value);
		return answer.ok
			? { saved: true }
			: fail(409, { problems: { [answer.field]: answer.message }, kept: form.kept });
	},
	settle: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager']);
		const form = await readForm(request, settleBody);
		if (!form.ok) return fail(400, { problems: form.problems, kept: form.kept });
		const answer = await settleClaim(await database(), user.name, Date.now(), form.value);
		return answer.ok
			? { saved: true }
			: fail(409, { problems: { [answer.field]: answer.message }, kept: form.kept });
	}
};
