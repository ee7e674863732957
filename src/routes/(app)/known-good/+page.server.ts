import { expectedReading } from '$lib/core/readings/verdict';
import { referenceCounts } from '$lib/server/catalog/queries';
import { database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/diagnosis/shop-memory';
import { requireUser } from '$lib/server/house/guard';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, url }) => {
	requireUser(locals);
	const db = await database();
	const memory = await shopMemory(db);
	const counts = await referenceCounts(db);
	const { models, connectors } = memory.catalog;
	const list = [...models.values()]
		.map(({ code, label, connector }) => ({
			code,
			label,
			connector: connector ?? null,
			readings: counts.get(code) ?? 0
		}))
		.sort((a, b) => b.readings - a.readings || (a.label < b.label ? -1 : 1));
	const chosen = models.get(url.searchParams.get('model') ?? '') ?? models.get(list[0]?.code ?? '');
	const connector = connectors.get(chosen?.connector ?? '') ?? null;
	const references = chosen ? await memory.references(chosen.code) : [];
	const contacts = (connector?.pins ?? []).map(({ pin, net }) => ({
		pin,
		net,
		expected: expectedReading(references.filter((r) => r.pin === pin && r.mode === 'diode'))
	}));
	return { list, chosen: chosen ? { code: chosen.code, label: chosen.label } : null, connector, contacts };
};
