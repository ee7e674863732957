import { BENCH_ROLES } from '$lib/core/units/role';
import { fail } from '@sveltejs/kit';
import { RATE_KINDS } from '$lib/core/returns/followed-jobs';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { readForm } from '$lib/server/http/read-form';
import { clearAlarm, clearBody } from '$lib/server/returns/commands';
import { returnsShown } from '$lib/server/worker/ask';
import type { Actions, PageServerLoad } from './$types';

const DAYS = [30, 60, 90, 180] as const;

/** The manager sees all; a technician the shop's numbers and his own. Nobody is put in an order. */
export const load: PageServerLoad = async ({ locals, url }) => {
	const user = requireUser(locals, BENCH_ROLES);
	const onlyTechnician = user.role === 'manager' ? null : (user.technician ?? '');
	const by = RATE_KINDS.find((kind) => kind === url.searchParams.get('by')) ?? 'operation';
	const days = DAYS.find((length) => String(length) === url.searchParams.get('days')) ?? 90;
	const row = url.searchParams.get('row')?.slice(0, 64) || null;
	const { newer, ...shown } = await returnsShown({ by, row, days, only: onlyTechnician }, user.signIn);
	return { shown, newer, days: DAYS, kinds: RATE_KINDS, mayClear: user.role === 'manager' };
};

export const actions: Actions = {
	clear: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager']);
		const form = await readForm(request, clearBody);
		if (!form.ok) return fail(400, { problems: form.problems });
		const answer = await clearAlarm(await database(), user.name, Date.now(), form.value);
		return answer.ok ? { saved: true } : fail(409, { problems: { [answer.field]: answer.message } });
	}
};
