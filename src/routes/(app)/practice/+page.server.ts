import { trackRecord, type Group } from '$lib/core/diagnosis/track-record';
import { monthKeys } from '$lib/core/ledger/book-sums';
import { seesCosts } from '$lib/core/units/role';
import { database } from '$lib/server/database/connection';
import { predictionProgress, storedPredictions } from '$lib/server/diagnosis/predictions';
import { shopMemory } from '$lib/server/diagnosis/shop-memory';
import { requireUser } from '$lib/server/house/guard';
import { keepPredictionsUp } from '$lib/server/thinker/thinker';
import type { PageServerLoad } from './$types';

/** How right the odds were on the shop's own closed tickets. Money is for who sees costs. */
export const load: PageServerLoad = async ({ locals, depends }) => {
	depends('tavrek:practice');
	const user = requireUser(locals, ['manager', 'technician']);
	const db = await database();
	const working = await keepPredictionsUp(db);
	const memory = await shopMemory(db);
	const { catalog } = memory;
	const [progress, predictions] = await Promise.all([predictionProgress(db, memory), storedPredictions(db)]);
	const record = trackRecord(predictions, monthKeys(catalog.shop.timeZone));
	const modelLabel = (code: string) => catalog.models.get(code)?.label ?? code;
	const faultLabel = (code: string) => catalog.faults.get(code)?.label ?? code;
	const labelled = <Some extends Group>(groups: Some[], labelOf: (key: string) => string) =>
		groups.map((group) => ({ ...group, label: labelOf(group.key) }));
	return {
		working,
		progress,
		record: record && {
			...record,
			models: labelled(record.models, modelLabel),
			faults: labelled(record.faults, faultLabel),
			cost: seesCosts(user.role) ? record.cost : null,
			mostWrong: record.mostWrong.map(({ number, model, closedAt, faults, first, chances, came }) => ({
				number,
				model: modelLabel(model),
				closedAt,
				said: first && { label: faultLabel(first.fault), chance: first.chance },
				was: faults.map(faultLabel),
				/** of the likeliest of those that it was */
				wasChance: Math.max(0, ...chances.filter((_, i) => came[i] === 1))
			}))
		}
	};
};
