import { requireUser } from '$lib/server/house/guard';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = ({ locals }) => {
	requireUser(locals, ['manager']);
};
