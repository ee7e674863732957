import { seesCosts, BENCH_ROLES } from '$lib/core/units/role';
import { database } from '$lib/server/database/connection';
import type { RecordView } from '$lib/server/diagnosis/record-view';
import { requireUser } from '$lib/server/http/guard';
import { keepPredictionsUp, recordShown } from '$lib/server/worker/ask';
import type { PageServerLoad } from './$types';

/** How right the odds were on the shop's own closed tickets. Money is for who sees costs. */
export const load: PageServerLoad = async ({ locals, depends }) => {
	depends('tavrek:practice');
	const user = requireUser(locals, BENCH_ROLES);
	const working = await keepPredictionsUp(await database());
	const { view, asOf, newer } = await recordShown();
	const seen = ({ record, ...rest }: RecordView) => ({
		...rest,
		record: record && { ...record, cost: seesCosts(user.role) ? record.cost : null }
	});
	return {
		working,
		shown: { view: seen(view), asOf },
		newer: newer && newer.then((fresh) => fresh && { view: seen(fresh.view), asOf: fresh.asOf })
	};
};
