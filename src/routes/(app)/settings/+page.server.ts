import { fail } from '@sveltejs/kit';
import { shopRecord } from '$lib/core/catalog/records';
import { describeIssue } from '$lib/core/exchange/read-lines';
import { saveCatalogRecord } from '$lib/server/catalog/commands';
import { catalogRecordsOf } from '$lib/server/catalog/queries';
import { database } from '$lib/server/database/connection';
import { importLines } from '$lib/server/exchange/import';
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
		const { version, ...kept } = Object.fromEntries(await request.formData()) as Record<string, string>;
		const parsed = shopRecord.safeParse({ record: 'shop', ...kept });
		if (!parsed.success) {
			const problems = Object.fromEntries(
				parsed.error.issues.map(describeIssue).map(({ path, message }) => [path, message])
			);
			return fail(400, { kept, problems });
		}
		const read = version ? Number(version) : null;
		const answer = await saveCatalogRecord(await database(), user.name, Date.now(), parsed.data, read);
		return answer.ok ? { saved: true } : fail(409, { kept, problems: { [answer.field]: answer.message } });
	},
	import: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager']);
		const form = await request.formData();
		const file = form.get('file');
		if (!(file instanceof File) || file.size === 0) {
			return fail(400, { importProblem: 'Choose a file of JSON Lines first.' });
		}
		const mode = form.get('lenient') === 'on' ? 'lenient' : 'strict';
		const answer = await importLines(await database(), user.name, Date.now(), await file.text(), mode);
		const { accepted, rejected } = answer;
		return { imported: { accepted, rejected: rejected.slice(0, 100), count: rejected.length, mode } };
	}
};
