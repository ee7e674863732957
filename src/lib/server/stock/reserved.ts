import type { Catalog } from '$lib/core/catalog/catalog';
import { reservedOf } from '$lib/core/stock/reserved';
import { agreedFromRecord, agreedOperations } from '$lib/core/tickets/agreed';
import type { Queryable } from '../database/connection';
import { asJson } from '../database/json';

/** Pieces that open tickets with an accepted price still need, by part. */
export async function reservedParts(db: Queryable, catalog: Catalog): Promise<Map<string, number>> {
	const rows = (await db('tickets').whereNull('closed_at').andWhere({ accepted: true }).select('record')) as {
		record: unknown;
	}[];
	const jobs = rows.map(({ record }) => {
		const { faults, parts, dealings } = agreedFromRecord(asJson(record));
		return { operations: agreedOperations({ dealings }), faults: faults ?? [], parts };
	});
	return reservedOf(jobs, catalog);
}
