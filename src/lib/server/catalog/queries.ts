import { buildCatalog, type Catalog } from '$lib/core/catalog/catalog';
import { SHELF_KINDS, type CatalogKind, type CatalogRecord } from '$lib/core/catalog/kinds';
import type { Queryable } from '../database/connection';
import { byCounter } from '../database/by-counter';
import { asJson } from '../database/json';

export interface StoredCatalogRecord {
	record: CatalogRecord;
	version: number;
}

export async function allCatalogRecords(db: Queryable): Promise<CatalogRecord[]> {
	const rows = await db('catalog').orderBy('id').select('record');
	return rows.map(({ record }) => asJson(record));
}

/** What everything is judged with: without what lies on the shelf. */
async function loadCatalog(db: Queryable): Promise<Catalog> {
	const rows = await db('catalog').whereNotIn('kind', SHELF_KINDS).orderBy('id').select('record');
	return buildCatalog(rows.map(({ record }) => asJson(record)));
}

/** The catalog, read only where it has changed. */
export const catalogNow = byCounter('catalog', loadCatalog);

export async function catalogRecordsOf(db: Queryable, kind: CatalogKind): Promise<StoredCatalogRecord[]> {
	const rows = await db('catalog').where({ kind }).orderBy('id').select('record', 'version');
	return rows.map(({ record, version }) => ({ record: asJson(record), version }));
}

/** The version of one record, by its key; null where there is none. */
export async function recordVersion(db: Queryable, kind: CatalogKind, code: string): Promise<number | null> {
	const row = await db('catalog').where({ kind, code }).first('version');
	return row?.version ?? null;
}

/** How many known-good readings each model has. */
export async function referenceCounts(db: Queryable): Promise<Map<string, number>> {
	const rows = await db('reference_readings').groupBy('model').select('model').count({ count: '*' });
	return new Map(rows.map(({ model, count }) => [model, Number(count)]));
}
