import { requireUser } from '$lib/server/house/guard';
import type { PageServerLoad } from './$types';

const TOOLS = ['log', 'jumper', 'charge', 'pack', 'heat', 'supply'] as const;
export type ToolName = (typeof TOOLS)[number];

export const load: PageServerLoad = ({ locals, url }) => {
	requireUser(locals);
	const asked = url.searchParams.get('tool');
	return { tool: TOOLS.find((tool) => tool === asked) ?? 'log' };
};
