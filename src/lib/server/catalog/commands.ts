import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import {
	catalogKey,
	catalogKind,
	fullOf,
	SHELF_KINDS,
	type CatalogKind,
	type CatalogRecord
} from '$lib/core/catalog/kinds';
import { referenceRecord, type ReferenceRecord } from '$lib/core/readings/reference';
import { recordAudit } from '../audit/commands';
import { inTransaction, type Database } from '../database/connection';
import { rowCount } from '../database/row-count';
import { inPieces } from '../database/chunks';
import { advanceCounter } from '../database/counters';

/** Kinds whose change gives closed tickets another meaning to the engine, new records of them included. */
const RELEARN: ReadonlySet<CatalogKind> = new Set(['fault', 'sign', 'test', 'operation', 'connector']);
/** Kinds whose changed records do: values, wages and costs count in what jobs were paid over. New ones change nothing. */
const RELEARN_CHANGED: ReadonlySet<CatalogKind> = new Set(['model', 'technician', 'part', 'cause']);
const CHUNK = 500;

/** Writes records by their keys: new ones are added, known ones replaced. */
export async function putCatalogRecords(
	trx: Knex.Transaction,
	records: readonly CatalogRecord[]
): Promise<void> {
	if (records.length === 0) return;
	const latest = new Map(records.map((record) => [`${record.record} ${catalogKey(record)}`, record]));
	const rows = [...latest.values()].map((record) => ({
		kind: record.record,
		code: catalogKey(record),
		record: JSON.stringify(record)
	}));
	let relearn = rows.some(({ kind }) => RELEARN.has(kind));
	for (const chunk of inPieces(rows, CHUNK)) {
		relearn ||= await changesOne(trx, chunk);
		await trx('catalog')
			.insert(chunk)
			.onConflict(['kind', 'code'])
			.merge({ record: trx.raw('VALUES(record)'), version: trx.raw('catalog.version + 1') });
	}
	if (rows.some(({ kind }) => !SHELF_KINDS.includes(kind))) await advanceCounter(trx, 'catalog');
	if (rows.some(({ kind }) => SHELF_KINDS.includes(kind))) await advanceCounter(trx, 'shelf');
	if (relearn) await advanceCounter(trx, 'relearn');
}

async function changesOne(
	trx: Knex.Transaction,
	rows: readonly { kind: CatalogKind; code: string }[]
): Promise<boolean> {
	for (const kind of RELEARN_CHANGED) {
		const codes = rows.filter((row) => row.kind === kind).map(({ code }) => code);
		if (codes.length > 0 && (await trx('catalog').where({ kind }).whereIn('code', codes).first('id')))
			return true;
	}
	return false;
}

export type SaveAnswer = { ok: true } | { ok: false; field: string; message: string };

/**
 * Saves one record as a person edited it.
 * @param version the version that was on the screen; null for a new record
 */
export async function saveCatalogRecord(
	db: Database,
	actor: string,
	now: number,
	edited: CatalogRecord,
	version: number | null
): Promise<SaveAnswer> {
	// its fields in the order of its kind, so that an export of it comes back the same, byte by byte
	const record = catalogKind(edited.record).schema.parse(edited);
	return inTransaction(db, async (trx) => {
		const key = { kind: record.record, code: catalogKey(record) };
		const stored = await trx('catalog').where(key).forUpdate().first('version');
		if (version === null && stored) {
			return {
				ok: false,
				field: 'code',
				message: `${key.code} exists already; choose another code or edit that one`
			};
		}
		if (version !== null && stored?.version !== version) {
			return {
				ok: false,
				field: 'version',
				message:
					'somebody saved this entry after you opened it; reload to see theirs, your entry is kept here'
			};
		}
		const full = stored ? null : fullOf(key.kind, await rowCount(trx('catalog').where({ kind: key.kind })));
		if (full) return { ok: false, field: 'code', message: full };
		if (!stored && !(await addedAlone(trx, record))) {
			return {
				ok: false,
				field: 'code',
				message: `${key.code} was added by somebody at the same moment; reload to see theirs, your entry is kept here`
			};
		}
		if (stored) await putCatalogRecords(trx, [record]);
		await recordAudit(trx, {
			at: now,
			actor,
			subject: 'catalog',
			key: `${key.kind} ${key.code}`,
			verb: stored ? 'change' : 'add',
			detail: { record }
		});
		return { ok: true };
	});
}

/** Adds a record that is new. @returns false where somebody else's was there first */
async function addedAlone(trx: Knex.Transaction, record: CatalogRecord): Promise<boolean> {
	const row = { kind: record.record, code: catalogKey(record), record: JSON.stringify(record) };
	try {
		// a second one waits here until the first has committed, and then finds its row
		await trx('catalog').insert(row);
	} catch (error) {
		if ((error as { code?: string }).code === 'ER_DUP_ENTRY') return false;
		throw error;
	}
	await advanceCounter(trx, 'catalog');
	if (RELEARN.has(row.kind)) await advanceCounter(trx, 'relearn');
	return true;
}

/**
 * A reading as it is stored, in the schema's order, and what it is known by: all that it says but its withdrawal, so that
 * the reading that comes in once more is found again after it was withdrawn.
 */
export function referenceText(reference: ReferenceRecord): { record: string; digest: string } {
	const sound = referenceRecord.encode(reference);
	const { withdrawn: _, ...reading } = sound;
	const digest = createHash('sha256').update(JSON.stringify(reading)).digest('hex');
	return { record: JSON.stringify(sound), digest };
}

/**
 * Adds known-good readings. A reading is known by all that it says but its withdrawal; equal ones of one input count as
 * that many boards, and the same input again changes nothing: what was withdrawn here stays withdrawn.
 */
export async function putReferences(
	trx: Knex.Transaction,
	references: readonly ReferenceRecord[]
): Promise<void> {
	if (references.length === 0) return;
	const seen = new Map<string, number>();
	const rows = references.map((reference) => {
		const { record, digest } = referenceText(reference);
		const occurrence = (seen.get(digest) ?? 0) + 1;
		seen.set(digest, occurrence);
		return { model: reference.model, digest, occurrence, record };
	});
	for (const chunk of inPieces(rows, CHUNK)) {
		await trx('reference_readings')
			.insert(chunk)
			.onConflict(['digest', 'occurrence'])
			.merge({
				record: trx.raw(
					"IF(JSON_CONTAINS_PATH(VALUES(record), 'one', '$.withdrawn'), VALUES(record), reference_readings.record)"
				)
			});
	}
	await advanceCounter(trx, 'reference');
}
