import type { Catalog } from '$lib/core/catalog/catalog';
import { reservedOf } from '$lib/core/stock/reserved';
import type { Queryable } from '../database/connection';
import { asJson } from '../database/json';

/** Pieces that open tickets with an accepted price still need, by part. */
export async function reservedParts(db: Queryable, catalog: Catalog): Promise<Map<string, number>> {
	const open = await db('tickets').whereNull('closed_at').whereNotNull('agreed').select('agreed', 'model');
	return reservedOf(
		open.flatMap(({ agreed, model }) => (agreed === null ? [] : { ...asJson(agreed), model })),
		catalog
	);
}
