import { fail } from '@sveltejs/kit';
import { z } from 'zod';
import { catalogKey, catalogKind, recordOfKind } from '$lib/core/catalog/kinds';
import { knownIn } from '$lib/core/evidence/known-codes';
import { unmetOf } from '$lib/core/exchange/check-references';
import { describeIssue } from '$lib/core/exchange/read-lines';
import { saveCatalogRecord } from '$lib/server/catalog/commands';
import { catalogRecordsOf } from '$lib/server/catalog/queries';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { photoIsKept } from '$lib/server/photos/store';
import type { Actions, PageServerLoad } from './$types';

/** Where the boards of the shop's models are read: the points of one, on its pictures. */
export const load: PageServerLoad = async ({ locals, url }) => {
	requireUser(locals, ['manager']);
	const db = await database();
	const stored = await catalogRecordsOf(db, 'model');
	const models = stored.map(({ record, version }) => ({ record: recordOfKind('model', record), version }));
	const requested = url.searchParams.get('model');
	const chosen = models.find(({ record }) => record.code === requested) ?? models[0] ?? null;
	const { faults } = await shopCatalog(db);
	return {
		models: models.map(({ record: { code, label, points = [] } }) => ({
			code,
			label,
			points: points.length
		})),
		chosen: chosen && {
			version: chosen.version,
			code: chosen.record.code,
			label: chosen.record.label,
			points: chosen.record.points ?? [],
			pictures: chosen.record.pictures ?? {}
		},
		faults: [...faults.values()].map(({ code, label }) => ({ code, label }))
	};
};

const sentSchema = z.strictObject({
	model: z.string().max(64),
	version: z.coerce.number().int(),
	board: z.string().max(200_000)
});
const parsed = (text: string): unknown => {
	try {
		return JSON.parse(text);
	} catch {
		return null;
	}
};

export const actions: Actions = {
	save: async ({ locals, request }) => {
		const user = requireUser(locals, ['manager']);
		const refuse = (status: number, problems: { path: string; message: string }[]) =>
			fail(status, { problems });
		const sent = sentSchema.safeParse(Object.fromEntries(await request.formData()));
		if (!sent.success) return refuse(400, sent.error.issues.map(describeIssue));
		const db = await database();
		const stored = (await catalogRecordsOf(db, 'model')).find(
			({ record }) => catalogKey(record) === sent.data.model
		);
		if (!stored)
			return refuse(404, [{ path: 'model', message: `${sent.data.model} is not there; reload the page` }]);
		const board = z.object({ points: z.unknown(), pictures: z.unknown() }).safeParse(parsed(sent.data.board));
		if (!board.success)
			return refuse(400, [{ path: 'board', message: 'could not be read; reload the page' }]);
		const record = catalogKind('model').schema.safeParse({ ...stored.record, ...board.data });
		if (!record.success) return refuse(400, record.error.issues.map(describeIssue));
		const model = recordOfKind('model', record.data);
		for (const [side, picture] of Object.entries(model.pictures ?? {})) {
			if (!(await photoIsKept(picture)))
				return refuse(422, [
					{ path: `pictures.${side}`, message: 'is no picture that is kept; send it again' }
				]);
		}
		const unmet = unmetOf('model', model, knownIn(await shopCatalog(db)));
		if (unmet.length > 0) return refuse(400, unmet);
		const answer = await saveCatalogRecord(db, user.name, Date.now(), model, sent.data.version);
		if (!answer.ok) return refuse(409, [{ path: answer.field, message: answer.message }]);
		return { saved: model.code };
	}
};
