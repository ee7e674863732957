import { database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { requireUser } from '$lib/server/http/guard';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	const { role } = requireUser(locals);
	const { catalog, engine } = await shopMemory(await database());
	const { learned } = engine;
	return {
		role,
		models: [...catalog.models.values()].map(({ code, label }) => ({
			code,
			label,
			tickets: learned.models.get(code)?.tickets ?? 0
		})),
		connectors: [...catalog.connectors.values()].map(({ code, label }) => ({ code, label })),
		faults: [...catalog.faults.values()].map(({ code, label }) => ({ code, label })),
		signs: [...catalog.signs.values()].map(({ code, label, kind }) => ({ code, label, kind })),
		now: Date.now()
	};
};
