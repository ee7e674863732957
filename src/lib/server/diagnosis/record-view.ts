import type { Catalog } from '$lib/core/catalog/catalog';
import { findingsOf } from '$lib/core/diagnosis/record/findings';
import { trackRecord, type Group } from '$lib/core/diagnosis/record/track-record';
import { monthKeys } from '$lib/core/ledger/months';
import type { Database } from '../database/connection';
import type { Sum } from '../database/tables';
import { shopMemory, type ShopMemory } from '../memory/shop-memory';
import { predictionProgress, storedPredictions } from './predictions';

export type RecordView = Awaited<ReturnType<typeof workOut>>;

/** Whose claims or guesses: a trade customer, all other customers, a technician. */
function sourceWords(source: string, catalog: Catalog): string {
	const [kind, sourceName] = [source.slice(0, source.indexOf(':')), source.slice(source.indexOf(':') + 1)];
	if (kind === 'customer') return sourceName ? `${sourceName}, claims` : 'Private customers, claims';
	return `${catalog.technicians.get(sourceName)?.name ?? (sourceName || 'Somebody')}, first guesses`;
}

/** As it was worked out last, per pool, with what it rests on. */
const cache = new WeakMap<Database, { key: string; view: Promise<RecordView> }>();

/** How right the odds were on the shop's own closed tickets, in words, with what it costs; worked out anew where something moved. */
export async function recordView(db: Database): Promise<RecordView> {
	const memory = await shopMemory(db);
	const foretold = await db('predictions').first<{ n: Sum; digests: Sum }>(
		db.raw('COUNT(*) AS n'),
		db.raw('COALESCE(SUM(CRC32(digest)), 0) AS digests')
	);
	const { catalog, history, relearn } = memory.counters;
	const key = [catalog, history, relearn, memory.behind, foretold.n, foretold.digests].join(' ');
	const cached = cache.get(db);
	if (cached?.key === key) return cached.view;
	const view = workOut(db, memory);
	view.catch(() => cache.delete(db));
	cache.set(db, { key, view });
	return view;
}

async function workOut(db: Database, memory: ShopMemory) {
	const { catalog } = memory;
	const [progress, predictions] = await Promise.all([predictionProgress(db, memory), storedPredictions(db)]);
	const record = trackRecord(predictions, monthKeys(catalog.shop.timeZone));
	const modelLabel = (code: string) => catalog.models.get(code)?.label ?? code;
	const faultLabel = (code: string) => catalog.faults.get(code)?.label ?? code;
	const labelled = <Some extends Group>(groups: Some[], labelOf: (key: string) => string) =>
		groups.map((group) => ({ ...group, label: labelOf(group.key) }));
	const findings = findingsOf(memory.engine);
	return {
		progress,
		/** what the record shows of the shop beyond shares and answers */
		learnt: {
			fading: findings.fading.map(({ model, keep }) => ({ label: modelLabel(model), keep })),
			together: findings.together.map(({ faults, lift }) => ({ labels: faults.map(faultLabel), lift })),
			sources: findings.sources.map(({ source, ...rate }) => ({
				words: sourceWords(source, catalog),
				...rate
			})),
			ownAnswers: findings.ownAnswers.map((row) => ({
				...row,
				model: modelLabel(row.model),
				fault: faultLabel(row.fault)
			}))
		},
		record: record && {
			...record,
			models: labelled(record.models, modelLabel),
			faults: labelled(record.faults, faultLabel),
			mostWrong: record.mostWrong.map(
				({ number, model, closedAt, faults, first, chances, came: outcomes }) => ({
					number,
					model: modelLabel(model),
					closedAt,
					said: first && { label: faultLabel(first.fault), chance: first.chance },
					was: faults.map(faultLabel),
					/** of the likeliest of those that it was */
					wasChance: Math.max(0, ...chances.filter((_, i) => outcomes[i] === 1))
				})
			)
		}
	};
}
