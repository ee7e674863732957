import { fail } from '@sveltejs/kit';
import { CATALOG_KINDS, type CatalogRecordOf } from '$lib/core/catalog/kinds';
import { saveCatalogRecord } from '$lib/server/catalog/commands';
import { catalogRecordsOf } from '$lib/server/catalog/queries';
import { database } from '$lib/server/database/connection';
import { readForm } from '$lib/server/house/read-form';
import { readNumber } from '$lib/core/units/typed-number';
import { requireUser } from '$lib/server/house/guard';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	requireUser(locals, ['manager']);
	const [stored] = await catalogRecordsOf(await database(), 'shop');
	return {
		version: stored?.version ?? null,
		dataWorth: (stored?.record as CatalogRecordOf<'shop'> | undefined)?.data_worth ?? null,
		zones: Intl.supportedValuesOf('timeZone'),
		currencies: Intl.supportedValuesOf('currency')
	};
};

export const actions: Actions = {
	shop: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager']);
		const form = await readForm(
			request,
			CATALOG_KINDS.shop.schema,
			({ version: _, data_worth, ...typed }) => ({
				record: 'shop',
				...typed,
				...(data_worth?.trim() ? { data_worth: readNumber(data_worth) ?? data_worth } : {})
			})
		);
		const { version, ...kept } = form.kept;
		if (!form.ok) return fail(400, { kept, problems: form.problems });
		const seen = version ? Number(version) : null;
		const answer = await saveCatalogRecord(await database(), user.name, Date.now(), form.value, seen);
		return answer.ok ? { saved: true } : fail(409, { kept, problems: { [answer.field]: answer.message } });
	}
};
