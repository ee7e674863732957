import { requireUser } from '$lib/server/http/guard';
import { floorShown } from '$lib/server/worker/ask';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	const { signIn } = requireUser(locals);
	const { newer, ...shown } = await floorShown(signIn);
	return { shown, newer };
};
