import type { Catalog } from '$lib/core/catalog/catalog';
import { reservedOf, type AcceptedJob } from '$lib/core/stock/reserved';
import type { Queryable } from '../database/connection';

/** Pieces that open tickets with an accepted price still need, by part. */
export async function reservedParts(db: Queryable, catalog: Catalog): Promise<Map<string, number>> {
	const rows = (await db('tickets').whereNull('closed_at').whereNotNull('agreed').select('agreed')) as {
		agreed: string;
	}[];
	return reservedOf(
		rows.map(({ agreed }) => JSON.parse(agreed) as AcceptedJob),
		catalog
	);
}
