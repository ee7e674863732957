import { database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { startPlan } from '$lib/server/workbook/start-plan';
import { askerOf, requireUser } from '$lib/server/http/guard';
import type { PageServerLoad } from './$types';

const TOOLS = ['plan', 'log', 'jumper', 'charge', 'pack', 'heat', 'supply'] as const;
export type ToolName = (typeof TOOLS)[number];

export const load: PageServerLoad = async ({ locals, url }) => {
	const user = requireUser(locals);
	const toolName = url.searchParams.get('tool');
	const tool = TOOLS.find((tool) => tool === toolName) ?? 'plan';
	if (tool !== 'plan') return { tool, start: null };
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
		start: {
			models: models.map(({ code, label }) => ({ code, label })),
			signs: signs.map(({ code, label }) => ({ code, label })),
			asked: { model, sign },
			plan: await startPlan(catalog, user.role, model, sign, askerOf(locals))
		}
	};
};
