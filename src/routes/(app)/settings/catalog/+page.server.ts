import { knownIn } from '$lib/core/evidence/known-codes';
import { fail } from '@sveltejs/kit';
import { recordFromForm } from '$lib/core/catalog/form-fields';
import { catalogKey, catalogKind, FORM_KINDS, type CatalogKind } from '$lib/core/catalog/kinds';
import { unmetOf } from '$lib/core/exchange/check-references';
import { saveCatalogRecord } from '$lib/server/catalog/commands';
import { catalogRecordsOf } from '$lib/server/catalog/queries';
import { database } from '$lib/server/database/connection';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { problemsOf, readForm } from '$lib/server/http/read-form';
import { requireUser } from '$lib/server/http/guard';
import type { Actions, PageServerLoad } from './$types';

const kindOf = (name: string | null): CatalogKind => FORM_KINDS.find((kind) => kind === name) ?? 'model';

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
		const { schema, form: described } = catalogKind(kind);
		const db = await database();
		const catalog = await shopCatalog(db);
		const form = await readForm(request, schema, (typed) =>
			recordFromForm(kind, described?.fields ?? [], typed, catalog.shop.locale)
		);
		const { version, ...kept } = form.kept;
		const refuse = (status: number, problems: Record<string, string>) =>
			fail(status, { kept, version, problems });
		if (!form.ok) return refuse(400, form.problems);
		const record = form.value;
		const dangling = unmetOf(kind, record, knownIn(catalog));
		if (dangling.length > 0) return refuse(400, problemsOf(dangling));
		const read = version ? Number(version) : null;
		const answer = await saveCatalogRecord(db, user.name, Date.now(), record, read);
		if (!answer.ok) return refuse(409, { [answer.field]: answer.message });
		return { saved: catalogKey(record) };
	}
};
