import { database } from '$lib/server/database/connection';
import { shopCatalog, shopMemory } from '$lib/server/memory/shop-memory';
import { otherFaults } from '$lib/server/tickets/other-faults';
import { startPlan } from '$lib/server/workbook/start-plan';
import { askerOf, requireUser } from '$lib/server/http/guard';
import type { PageServerLoad } from './$types';

const TOOLS = ['plan', 'log', 'jumper', 'charge', 'pack', 'heat', 'supply', 'others'] as const;
export type ToolName = (typeof TOOLS)[number];

export const load: PageServerLoad = async ({ locals, url }) => {
	const user = requireUser(locals);
	const toolName = url.searchParams.get('tool');
	const tool = TOOLS.find((tool) => tool === toolName) ?? 'plan';
	if (tool === 'others') {
		const db = await database();
		return { tool, start: null, others: await otherFaults(db, await shopCatalog(db)) };
	}
	if (tool !== 'plan') return { tool, start: null, others: null };
	const { catalog, engine } = await shopMemory(await database());
	const { learned } = engine;
	const signs = [...catalog.signs.values()].filter(({ kind }) => kind === 'symptom');
	const models = [...catalog.models.values()].sort(
		(a, b) => (learned.models.get(b.code)?.tickets ?? 0) - (learned.models.get(a.code)?.tickets ?? 0)
	);
	const model = url.searchParams.get('model') ?? models[0]?.code ?? '';
	const sign = url.searchParams.get('sign') ?? signs[0]?.code ?? '';
	return {
		tool,
		others: null,
		start: {
			models: models.map(({ code, label }) => ({ code, label })),
			signs: signs.map(({ code, label }) => ({ code, label })),
			asked: { model, sign },
			plan: await startPlan(catalog, user.role, model, sign, askerOf(locals))
		}
	};
};
