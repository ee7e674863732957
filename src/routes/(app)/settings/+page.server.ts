import { fail } from '@sveltejs/kit';
import { shopRecord } from '$lib/core/catalog/records';
import { describeIssue } from '$lib/core/exchange/read-lines';
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
		const read = await readForm(request);
		const { version, ...kept } = read.values;
		if (!read.ok) return fail(400, { kept, problems: read.problems });
		const parsed = shopRecord.safeParse({ record: 'shop', ...kept });
		if (!parsed.success) {
			const problems = Object.fromEntries(
				parsed.error.issues.map(describeIssue).map(({ path, message }) => [path, message])
			);
			return fail(400, { kept, problems });
		}
		const seen = version ? Number(version) : null;
		const answer = await saveCatalogRecord(await database(), user.name, Date.now(), parsed.data, seen);
		return answer.ok ? { saved: true } : fail(409, { kept, problems: { [answer.field]: answer.message } });
	}
};
