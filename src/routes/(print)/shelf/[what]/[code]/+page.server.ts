import { error } from '@sveltejs/kit';
import { parseInstant } from '$lib/core/units/instant';
import { toMinor } from '$lib/core/units/money';
import { catalogNow } from '$lib/server/catalog/queries';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { scanCode } from '$lib/server/http/scan-code';
import { shelfStore } from '$lib/server/stock/queries';
import type { PageServerLoad } from './$types';

/** A lot's label, for everybody; an order, which names prices, for the manager. */
export const load: PageServerLoad = async ({ locals, params }) => {
	const { role } = requireUser(locals);
	const db = await database();
	const [catalog, store] = await Promise.all([catalogNow(db), shelfStore(db)]);
	const { shop } = catalog;
	const labelOf = (sku: string) => catalog.parts.get(sku)?.label ?? sku;
	const lot = params.what === 'label' ? store.lots.find(({ code }) => code === params.code) : undefined;
	if (lot) {
		return {
			shop,
			lot: {
				code: lot.code,
				label: labelOf(lot.sku),
				sku: lot.sku,
				source: lot.source ?? catalog.parts.get(lot.sku)?.source ?? null,
				receivedAt: parseInstant(lot.received_at)
			},
			order: null,
			scan: scanCode(lot.code)
		};
	}
	const order = params.what === 'order' ? store.orders.find(({ code }) => code === params.code) : undefined;
	if (!order) error(404, 'There is no such lot or order. Reload the shelf to see what there is.');
	requireUser(locals, ['manager']);
	const supplier = catalog.records.supplier.get(order.supplier);
	return {
		shop,
		role,
		lot: null,
		order: {
			code: order.code,
			supplier: supplier?.label ?? order.supplier,
			placedAt: parseInstant(order.placed_at),
			lines: order.lines.map(({ sku, quantity, unit_cost }) => ({
				sku,
				label: labelOf(sku),
				quantity,
				unitMinor: unit_cost === undefined ? null : toMinor(unit_cost)
			}))
		},
		scan: scanCode(order.code)
	};
};
