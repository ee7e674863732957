import { buildCatalog } from '$lib/core/catalog/catalog';
import { fullOf } from '$lib/core/catalog/kinds';
import { takenOf } from '$lib/core/catalog/starter-offer';
import { knownIn } from '$lib/core/evidence/known-codes';
import { recordAudit } from '../audit/commands';
import { inTransaction, type Database } from '../database/connection';
import { holdCounter } from '../database/counters';
import { putCatalogRecords } from './commands';
import { allCatalogRecords } from './queries';

/**
 * Takes records of the starter catalog that the shop does not hold, with what they name and the beliefs about them.
 * @param wanted "fault accessory", "test cable-known-good"; what is there already is left as it is
 * @returns how many were written, or why none was
 */
export function takeStarter(
	db: Database,
	actor: string,
	now: number,
	wanted: ReadonlySet<string>
): Promise<{ ok: true; taken: number } | { ok: false; message: string }> {
	return inTransaction(db, async (trx) => {
		// whoever else writes the catalog meanwhile waits
		await holdCounter(trx, 'catalog');
		const catalog = buildCatalog(await allCatalogRecords(trx));
		const chosen = takenOf(catalog, wanted, knownIn);
		for (const kind of new Set(chosen.map(({ record }) => record))) {
			const more = chosen.filter(({ record }) => record === kind).length;
			const full = fullOf(kind, catalog.records[kind].size + more - 1);
			if (full !== null) return { ok: false as const, message: `Nothing was taken: one record ${full}` };
		}
		if (chosen.length === 0)
			return { ok: false as const, message: 'Nothing was taken: your shop holds all of it already.' };
		await putCatalogRecords(trx, chosen);
		await recordAudit(trx, {
			at: now,
			actor,
			subject: 'catalog',
			key: 'starter',
			verb: 'take-starter',
			detail: { wanted: [...wanted], taken: chosen.length }
		});
		return { ok: true as const, taken: chosen.length };
	});
}
