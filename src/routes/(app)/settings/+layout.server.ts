import { requireUser } from '$lib/server/http/guard';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = ({ locals }) => {
	requireUser(locals, ['manager']);
};
