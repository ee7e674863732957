import { fail } from '@sveltejs/kit';
import { CATALOG_FORMS, recordFromForm } from '$lib/components/ui/catalog-forms';
import { catalogKey, catalogRecords, type CatalogKind } from '$lib/core/catalog/records';
import { checkReferences } from '$lib/core/exchange/check-references';
import { describeIssue } from '$lib/core/exchange/read-lines';
import { saveCatalogRecord } from '$lib/server/catalog/commands';
import { catalogRecordsOf } from '$lib/server/catalog/queries';
import { database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/diagnosis/shop-memory';
import { knownKeysOf } from '$lib/server/exchange/known-keys';
import { readForm } from '$lib/server/house/read-form';
import { requireUser } from '$lib/server/house/guard';
import type { Actions, PageServerLoad } from './$types';

const kindOf = (asked: string | null): CatalogKind =>
	asked && Object.hasOwn(CATALOG_FORMS, asked) ? (asked as CatalogKind) : 'model';

export const load: PageServerLoad = async ({ locals, url }) => {
	requireUser(locals, ['manager']);
	const kind = kindOf(url.searchParams.get('kind'));
	const stored = await catalogRecordsOf(await database(), kind);
	return {
		kind,
		entries: stored.map(({ record, version }) => ({ key: catalogKey(record), record, version }))
	};
};

export const actions: Actions = {
	save: async ({ request, locals, url }) => {
		const user = requireUser(locals, ['manager']);
		const kind = kindOf(url.searchParams.get('kind'));
		const form = await readForm(request);
		const { version, ...kept } = form.values;
		if (!form.ok) return fail(400, { kept, version, problems: form.problems });
		const parsed = catalogRecords[kind].safeParse(recordFromForm(kind, kept));
		const refuse = (status: number, errors: { path: string; message: string }[]) =>
			fail(status, {
				kept,
				version,
				problems: Object.fromEntries(errors.map(({ path, message }) => [path.split('.')[0] ?? '', message]))
			});
		if (!parsed.success) return refuse(400, parsed.error.issues.map(describeIssue));
		const db = await database();
		const { catalog } = await shopMemory(db);
		const dangling = checkReferences([{ line: 1, record: parsed.data }], knownKeysOf(catalog));
		if (dangling.length > 0) return refuse(400, dangling);
		const read = version ? Number(version) : null;
		const answer = await saveCatalogRecord(db, user.name, Date.now(), parsed.data, read);
		if (!answer.ok) return refuse(409, [{ path: answer.field, message: answer.message }]);
		return { saved: catalogKey(parsed.data) };
	}
};
