import { detailWords } from '$lib/core/catalog/detail-words';
import { latestAudit } from '$lib/server/audit/queries';
import { database } from '$lib/server/database/connection';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { requireUser } from '$lib/server/http/guard';
import type { PageServerLoad } from './$types';

/** Letters of a line's detail that are shown. */
const MOST = 200;

export const load: PageServerLoad = async ({ locals }) => {
	requireUser(locals, ['manager']);
	const db = await database();
	const [lines, catalog] = await Promise.all([latestAudit(db), shopCatalog(db)]);
	return {
		lines: lines.map(({ detail, ...line }) => ({
			...line,
			words: detailWords(detail, catalog).slice(0, MOST)
		}))
	};
};
