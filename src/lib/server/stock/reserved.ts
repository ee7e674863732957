import type { Catalog } from '$lib/core/catalog/catalog';
import { reservedOf } from '$lib/core/stock/reserved';
import type { Queryable } from '../database/connection';
import { asJson } from '../database/json';

/** Pieces that open tickets with an accepted price still need, by part. */
export async function reservedParts(db: Queryable, catalog: Catalog): Promise<Map<string, number>> {
	const agreed = await db('tickets').whereNull('closed_at').whereNotNull('agreed').pluck('agreed');
	return reservedOf(
		agreed.flatMap((job) => asJson(job) ?? []),
		catalog
	);
}
