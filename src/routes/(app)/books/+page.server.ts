import { sumBooks, monthKeys } from '$lib/core/ledger/book-sums';
import { quoteAccuracy } from '$lib/core/ledger/quote-accuracy';
import { wilsonInterval } from '$lib/core/statistics/rate-interval';
import { bookLines } from '$lib/server/books/queries';
import { database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { requireUser } from '$lib/server/house/guard';
import type { PageServerLoad } from './$types';

const SHOWN = 60;
/** those who cost most */
const SHOWN_CUSTOMERS = 8;

export const load: PageServerLoad = async ({ locals, url }) => {
	requireUser(locals, ['manager']);
	const db = await database();
	const [{ catalog }, lines] = await Promise.all([shopMemory(db), bookLines(db)]);
	const monthOf = monthKeys(catalog.shop.timeZone);
	const dated = lines.map((line) => ({ ...line, month: monthOf(line.closedAt) }));
	const model = url.searchParams.get('model') ?? '';
	const month = url.searchParams.get('month') ?? '';
	const chosen = dated.filter((line) => (!model || line.model === model) && (!month || line.month === month));
	const label = (code: string) => catalog.models.get(code)?.label ?? code;
	return {
		asked: { model, month },
		months: sumBooks(
			dated.filter((line) => !model || line.model === model),
			(line) => line.month
		).reverse(),
		models: sumBooks(
			dated.filter((line) => !month || line.month === month),
			(line) => line.model
		)
			.map((sum) => ({ ...sum, label: label(sum.key) }))
			.sort((a, b) => b.profitMinor - a.profitMinor),
		customers: sumBooks(
			chosen.filter(({ customer }) => customer !== null),
			(line) => line.customer as string
		)
			.sort((a, b) => a.profitMinor - b.profitMinor)
			.slice(0, SHOWN_CUSTOMERS),
		kinds: sumBooks(chosen, (line) => line.customerKind ?? 'nobody named'),
		quotes: quoteAccuracy(
			chosen.flatMap(({ model: key, quotedMinor, paidMinor, profitMinor }) =>
				quotedMinor === null ? [] : [{ key, quotedMinor, paidMinor, costMinor: paidMinor - profitMinor }]
			)
		).map((sum) => ({ ...sum, label: label(sum.key), share: wilsonInterval(sum.overran, sum.jobs, 0.8) })),
		total: sumBooks(chosen, () => 'total')[0] ?? null,
		lines: chosen.slice(0, SHOWN).map((line) => ({ ...line, label: label(line.model) })),
		count: chosen.length
	};
};
