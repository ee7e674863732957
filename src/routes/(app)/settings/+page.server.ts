import { fail } from '@sveltejs/kit';
import { CATALOG_KINDS } from '$lib/core/catalog/kinds';
import { saveCatalogRecord } from '$lib/server/catalog/commands';
import { catalogRecordsOf } from '$lib/server/catalog/queries';
import { database } from '$lib/server/database/connection';
import { readForm } from '$lib/server/house/read-form';
import { requireUser } from '$lib/server/house/guard';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	requireUser(locals, ['manager']);
	const [stored] = await catalogRecordsOf(await database(), 'shop');
	return {
		version: stored?.version ?? null,
		zones: Intl.supportedValuesOf('timeZone'),
		currencies: Intl.supportedValuesOf('currency')
	};
};

export const actions: Actions = {
	shop: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager']);
		const form = await readForm(request, CATALOG_KINDS.shop.schema, ({ version: _, ...typed }) => ({
			record: 'shop',
			...typed
		}));
		const { version, ...kept } = form.kept;
		if (!form.ok) return fail(400, { kept, problems: form.problems });
		const seen = version ? Number(version) : null;
		const answer = await saveCatalogRecord(await database(), user.name, Date.now(), form.value, seen);
		return answer.ok ? { saved: true } : fail(409, { kept, problems: { [answer.field]: answer.message } });
	}
};
