import { buildCatalog, type Catalog } from '$lib/core/catalog/catalog';
import { SHELF_KINDS, type CatalogKind, type CatalogRecord } from '$lib/core/catalog/kinds';
import type { Queryable } from '../database/connection';
import { readCounters } from '../database/counters';
import { asJson } from '../database/json';

export interface StoredCatalogRecord {
	record: CatalogRecord;
	version: number;
}

export async function allCatalogRecords(db: Queryable): Promise<CatalogRecord[]> {
	const rows = (await db('catalog').orderBy('id').select('record')) as { record: unknown }[];
	return rows.map(({ record }) => asJson(record) as CatalogRecord);
}

/** What everything is judged with: without what lies on the shelf. */
export async function loadCatalog(db: Queryable): Promise<Catalog> {
	const rows = (await db('catalog').whereNotIn('kind', SHELF_KINDS).orderBy('id').select('record')) as {
		record: unknown;
	}[];
	return buildCatalog(rows.map(({ record }) => asJson(record) as CatalogRecord));
}

/** The catalog as it was last read, by the counter that it was read at: counters and catalog move in one transaction. */
const last = new Map<string, { version: number; catalog: Catalog }>();

/**
 * The catalog, read only where it has changed. A copy that saves reading: the counter is compared at every use.
 * @param version of the catalog, where the caller has read it already
 */
export async function catalogNow(db: Queryable, version?: number): Promise<Catalog> {
	const { host, port, database } = db.client.config.connection as Record<string, string>;
	const shop = `${host}:${port}/${database}`;
	const now = version ?? (await readCounters(db)).catalog;
	const known = last.get(shop);
	if (known?.version === now) return known.catalog;
	const catalog = await loadCatalog(db);
	last.set(shop, { version: now, catalog });
	return catalog;
}

export async function catalogRecordsOf(db: Queryable, kind: CatalogKind): Promise<StoredCatalogRecord[]> {
	const rows = (await db('catalog').where({ kind }).orderBy('id').select('record', 'version')) as {
		record: unknown;
		version: number;
	}[];
	return rows.map(({ record, version }) => ({ record: asJson(record) as CatalogRecord, version }));
}

/** How many known-good readings each model has. */
export async function referenceCounts(db: Queryable): Promise<Map<string, number>> {
	const rows = (await db('reference_readings').groupBy('model').select('model').count({ count: '*' })) as {
		model: string;
		count: number | string;
	}[];
	return new Map(rows.map(({ model, count }) => [model, Number(count)]));
}
