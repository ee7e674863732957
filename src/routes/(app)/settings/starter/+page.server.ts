import { fail } from '@sveltejs/kit';
import { z } from 'zod';
import { catalogKey, catalogKind } from '$lib/core/catalog/kinds';
import { offeredOf } from '$lib/core/catalog/starter-offer';
import { catalogNow } from '$lib/server/catalog/queries';
import { takeStarter } from '$lib/server/catalog/take-starter';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	requireUser(locals, ['manager']);
	const offered = offeredOf(await catalogNow(await database()));
	const kinds = [...new Set(offered.map(({ record }) => record))];
	return {
		groups: kinds.map((kind) => ({
			title: catalogKind(kind).form?.title ?? kind,
			records: offered
				.filter(({ record }) => record === kind)
				.map((record) => ({
					name: `${kind} ${catalogKey(record)}`,
					label: 'label' in record ? record.label : catalogKey(record)
				}))
		}))
	};
};

const wantedSchema = z.array(z.string().max(120)).min(1).max(500);

export const actions: Actions = {
	take: async ({ locals, request }) => {
		const user = requireUser(locals, ['manager']);
		const read = wantedSchema.safeParse((await request.formData()).getAll('take').map(String));
		if (!read.success) return fail(422, { problem: 'Nothing is chosen. Choose what to add.' });
		const answer = await takeStarter(await database(), user.signIn, Date.now(), new Set(read.data));
		return answer.ok ? { taken: answer.taken } : fail(422, { problem: answer.message });
	}
};
