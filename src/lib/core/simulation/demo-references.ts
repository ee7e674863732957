import type { Catalog } from '../catalog/catalog';
import type { ReferenceRecord } from '../readings/reference';
import { DAY_MS, formatInstant, type Instant } from '../units/instant';
import type { Random } from '../units/random';
import { boardDiode, meterShows } from './simulated-device';

/** The bench's two meters differ in their test current: the handheld one reads this much higher. */
export const METERS = [
	['bench meter', 1],
	['handheld', 1.04]
] as const;

/** Known-good readings: a dozen verified boards of some models, a few provisional ones of others. */
export function simulateReferences({
	random,
	catalog,
	endsAt
}: {
	random: Random;
	catalog: Catalog;
	endsAt: Instant;
}): ReferenceRecord[] {
	const references: ReferenceRecord[] = [];
	for (const [model, boards, grade] of [
		['pelagic-40', 12, 'verified'],
		['tern-6', 6, 'verified'],
		['halyard-spoke', 4, 'verified'],
		['fathom-count', 3, 'verified'],
		['gannet-c', 5, 'verified'],
		['quayline-2', 2, 'verified'],
		['strandpay-t1', 1, 'provisional']
	] as const) {
		const connector = catalog.connectors.get(catalog.models.get(model)?.connector ?? '');
		if (!connector) continue;
		for (let board = 0; board < boards; board++) {
			const taken_at = formatInstant(Math.floor((endsAt - (30 + 41 * board) * DAY_MS) / DAY_MS) * DAY_MS);
			const [meter, factor] = METERS[board % METERS.length] as (typeof METERS)[number];
			for (const [pin, value] of boardDiode(random, connector, model, [])) {
				const shown = meterShows(random, value, factor);
				const revision = model === 'pelagic-40' ? { board: board < 8 ? 'r2' : 'r1' } : {};
				references.push({
					record: 'reference',
					model,
					pin,
					mode: 'diode',
					...shown,
					grade,
					taken_at,
					meter,
					...revision
				});
			}
		}
	}
	return references;
}
