import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	const user = requireUser(locals);
	const catalog = await shopCatalog(await database());
	return {
		mayWrite: user.role === 'manager',
		procedures: [...catalog.procedures.values()].map(
			({ code, version, label, operation, school, about: description, steps }) => ({
				code,
				version,
				label,
				operation: catalog.operations.get(operation)?.label ?? operation,
				school: school ?? '',
				about: description ?? '',
				steps: steps.length,
				hands: steps.reduce((sum, { kind, minutes = 0 }) => sum + (kind === 'wait' ? 0 : minutes), 0),
				waits: steps.reduce((sum, { kind, minutes = 0 }) => sum + (kind === 'wait' ? minutes : 0), 0)
			})
		)
	};
};
