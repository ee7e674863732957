import type { Knex } from 'knex';
import { z } from 'zod';
import type { Catalog } from '$lib/core/catalog/catalog';
import type { KnownGood } from '$lib/core/diagnosis/learn/evidence';
import { knownGoodBook, type KnownGoodBook } from '$lib/core/readings/known-good-book';
import { estimateMeterFactors, factorsAsShown, type MeterFactors } from '$lib/core/readings/meter-factor';
import { referenceFromRecord, type ReferenceRecord } from '$lib/core/readings/reference';
import { formatInstant } from '$lib/core/units/instant';
import { recordAudit } from '../audit/commands';
import { inTransaction, type Database, type Queryable } from '../database/connection';
import { advanceCounter } from '../database/counters';
import { asJson } from '../database/json';
import { putReferences, referenceText } from './commands';
import { groupBy } from '$lib/core/units/group-by';

export interface StoredReference {
	id: number;
	reference: ReferenceRecord;
}

/** Known-good readings in the order of entry: all of them, or a model's. */
export async function allReferences(db: Queryable, model?: string): Promise<StoredReference[]> {
	const query = db('reference_readings').orderBy('id').select('id', 'record');
	const rows = await (model === undefined ? query : query.where({ model }));
	return rows.map(({ id, record }) => ({ id, reference: referenceFromRecord(asJson(record)) }));
}

/** All that is known good in a shop, model by model. */
export interface KnownGoodShelf {
	byModel: ReadonlyMap<string, readonly StoredReference[]>;
	factors: MeterFactors;
	book: KnownGood;
	/** a model's book with other readings of its own than those that stand */
	bookWith(model: string, references: readonly ReferenceRecord[]): KnownGoodBook;
	/** by model, a mark that changes with its readings, and with what brings one meter to another where it was read with any */
	marks: ReadonlyMap<string, string>;
}

/** Opens the books of all models; a model's sisters are those of its family with the same connector. */
export function knownGoodShelf(stored: readonly StoredReference[], catalog: Catalog): KnownGoodShelf {
	const byModel = groupBy(stored, ({ reference }) => reference.model);
	const referencesOf = (model: string) => (byModel.get(model) ?? []).map(({ reference }) => reference);
	const factors = factorsAsShown(estimateMeterFactors(stored.map(({ reference }) => reference)));
	const factorMark = JSON.stringify([...factors].sort(([a], [b]) => (a < b ? -1 : 1)));
	const books = new Map<string, KnownGoodBook>();
	const bookWith = (model: string, references: readonly ReferenceRecord[]) =>
		knownGoodBook({ own: references, sisters: sistersOf(model, catalog).flatMap(referencesOf), factors });
	return {
		byModel,
		factors,
		bookWith,
		book: (model) => {
			const cached = books.get(model) ?? bookWith(model, referencesOf(model));
			books.set(model, cached);
			return cached;
		},
		marks: new Map(
			[...byModel].map(([model, entries]) => {
				const metered = entries.some(({ reference }) => reference.meter !== undefined);
				return [model, metered ? `${markOf(entries)} ${factorMark}` : markOf(entries)];
			})
		)
	};
}

const markOf = (entries: readonly StoredReference[]): string =>
	entries.map(({ id, reference }) => `${id}${reference.grade[0]}${reference.withdrawn ? 'w' : ''}`).join(' ');

/** Other models of the family with the same connector. */
export function sistersOf(model: string, catalog: Catalog): string[] {
	const modelInfo = catalog.models.get(model);
	if (!modelInfo?.family) return [];
	return [...catalog.models.values()]
		.filter(
			({ code, family, connector }) =>
				code !== model && family === modelInfo.family && connector === modelInfo.connector
		)
		.map(({ code }) => code);
}

/** Withdraws a stored reading or takes that back: what it is known by stays. */
const markReference = (trx: Knex.Transaction, id: number, reference: ReferenceRecord) =>
	trx('reference_readings')
		.where({ id })
		.update({ record: referenceText(reference).record });

/** Marks a reading as somebody said, and notes who. */
async function markAs(
	trx: Knex.Transaction,
	{ actor, now }: { actor: string; now: number },
	id: number,
	reference: ReferenceRecord,
	verb: 'withdraw' | 'put-back',
	detail: Record<string, unknown>
): Promise<ReferenceAnswer> {
	await markReference(trx, id, reference);
	await advanceCounter(trx, 'reference');
	const key = `${reference.model} ${reference.pin}`;
	await recordAudit(trx, { at: now, actor, subject: 'reference', key, verb, detail: { id, ...detail } });
	return { ok: true };
}

/** Puts another record in the place of a stored one; equal ones are counted as that many boards. */
async function replaceReference(
	trx: Knex.Transaction,
	id: number,
	reference: ReferenceRecord
): Promise<void> {
	const { record, digest } = referenceText(reference);
	const alike = await trx('reference_readings')
		.where({ digest })
		.first<{ most: number | null }>(trx.raw('MAX(occurrence) AS most'));
	await trx('reference_readings')
		.where({ id })
		.update({ record, digest, occurrence: Number(alike.most ?? 0) + 1 });
}

export type ReferenceAnswer = { ok: true } | { ok: false; field: string; message: string };

export const withdrawBody = z.strictObject({
	id: z.coerce.number().int().min(1),
	because: z.string().trim().min(1, 'is empty; say what is wrong with the reading').max(500)
});

/** Takes a reading out of what is known good, with why. It is kept, and shown with every verdict that leaned on it. */
export async function withdrawReference(
	db: Database,
	actor: string,
	now: number,
	{ id, because }: z.output<typeof withdrawBody>
): Promise<ReferenceAnswer> {
	return inTransaction(db, async (trx) => {
		const row = await trx('reference_readings').where({ id }).forUpdate().first('record');
		if (!row)
			return { ok: false, field: 'id', message: 'names a reading that is not there; reload the page' };
		const reference = referenceFromRecord(asJson(row.record));
		if (reference.withdrawn) {
			return { ok: false, field: 'id', message: 'was withdrawn already by somebody else; reload to see why' };
		}
		const withdrawn = { at: formatInstant(now), because };
		return markAs(trx, { actor, now }, id, { ...reference, withdrawn }, 'withdraw', { because, reference });
	});
}

/** Takes a withdrawal back: the reading counts again. */
export async function restoreReference(
	db: Database,
	actor: string,
	now: number,
	id: number
): Promise<ReferenceAnswer> {
	return inTransaction(db, async (trx): Promise<ReferenceAnswer> => {
		const row = await trx('reference_readings').where({ id }).forUpdate().first('record');
		const stored = row && referenceFromRecord(asJson(row.record));
		if (!stored?.withdrawn) {
			return { ok: false, field: 'id', message: 'names a reading that is not withdrawn; reload the page' };
		}
		const { withdrawn, ...reference } = stored;
		return markAs(trx, { actor, now }, id, reference, 'put-back', { withdrawn, reference });
	});
}

/** Adds known-good readings that a person entered. */
export async function addReferences(
	db: Database,
	actor: string,
	now: number,
	references: readonly ReferenceRecord[]
): Promise<void> {
	await inTransaction(db, async (trx) => {
		await putReferences(trx, references);
		await recordAudit(trx, {
			at: now,
			actor,
			subject: 'reference',
			key: references[0]?.model ?? '',
			verb: 'add',
			detail: { references }
		});
	});
}

/** Readings that one ticket brought, withdrawn ones too. */
export async function referencesOf(
	trx: Knex.Transaction,
	{ model, number }: { model: string; number: string }
): Promise<StoredReference[]> {
	return (await allReferences(trx, model)).filter(({ reference }) => reference.ticket === number);
}

/** What becomes of stored readings: withdrawn or standing again, and of which grade. */
export interface Fate {
	entries: readonly StoredReference[];
	withdrawn?: ReferenceRecord['withdrawn'] | null;
	grade?: ReferenceRecord['grade'];
}

/** Writes what became of some readings; nothing moves where there are none. */
export async function settleReferences(trx: Knex.Transaction, fates: readonly Fate[]): Promise<void> {
	let changed = false;
	for (const { entries, withdrawn, grade } of fates) {
		for (const { id, reference } of entries) {
			const { withdrawn: withdrawal, ...standing } = reference;
			const kept = withdrawn === undefined ? withdrawal : withdrawn;
			const updated = { ...standing, grade: grade ?? standing.grade, ...(kept ? { withdrawn: kept } : {}) };
			if (updated.grade === reference.grade) await markReference(trx, id, updated);
			else await replaceReference(trx, id, updated);
			changed = true;
		}
	}
	if (changed) await advanceCounter(trx, 'reference');
}
