import { faultWordsList, type FaultWords } from '$lib/core/tickets/fault-words';
import type { Catalog } from '$lib/core/catalog/catalog';
import type { Queryable } from '../database/connection';

/** So many of the newest closed tickets are read for what their other faults were. */
const NEWEST_READ = 5000;
const SHOWN = 200;

export interface OtherFaults {
	/** the catalog's name of what stands for any other fault; null where it has none */
	label: string | null;
	list: (Omit<FaultWords, 'model' | 'models'> & { models: string[] })[];
	read: number;
}

/** What other faults were, in words, on the newest closed tickets. */
export async function otherFaults(db: Queryable, catalog: Catalog): Promise<OtherFaults> {
	const label = [...catalog.faults.values()].find(({ catch_all: isCatchAll }) => isCatchAll)?.label ?? null;
	const rows = await db
		.from(
			db('tickets')
				.whereNotNull('closed_at')
				.orderBy([
					{ column: 'closed_at', order: 'desc' },
					{ column: 'id', order: 'desc' }
				])
				.limit(NEWEST_READ)
				.select('number', 'model', 'closed_at', {
					words: db.raw("JSON_UNQUOTE(JSON_EXTRACT(record, '$.fault_words'))")
				})
				.as('newest')
		)
		.whereRaw('words IS NOT NULL')
		.select<{ number: string; model: string; closed_at: Date; words: string }[]>(
			'number',
			'model',
			'closed_at',
			db.raw('words')
		);
	const entries = rows.map(({ closed_at, ...row }) => ({ ...row, closedAt: closed_at.getTime() }));
	return {
		label,
		list: faultWordsList(entries)
			.slice(0, SHOWN)
			.map(({ model: _, models, ...words }) => ({
				...words,
				models: models.map((code) => catalog.models.get(code)?.label ?? code)
			})),
		read: NEWEST_READ
	};
}
