import { error, type RequestHandler } from '@sveltejs/kit';
import { fromMinor } from '$lib/core/units/money';
import { database } from '$lib/server/database/connection';
import { csvResponse } from '$lib/server/http/csv-response';
import { requireUser } from '$lib/server/http/guard';
import { shelfWith } from '$lib/server/stock/queries';

/** The shelf, or one order by its number, as a file for a spreadsheet or a supplier. */
export const GET: RequestHandler = async ({ locals, params }) => {
	requireUser(locals, ['manager']);
	const list = params.list ?? '';
	const { parts: shelf, catalog, store } = await shelfWith(await database(), Date.now());
	if (list === 'parts.csv') {
		return csvResponse(
			'shelf',
			[
				'sku',
				'part',
				'supplier',
				'on_hand',
				'reserved',
				'on_order',
				'per_week',
				'reorder_at',
				'order_quantity',
				'value'
			],
			shelf.map((part) => [
				part.sku,
				part.label,
				part.supplier,
				part.onHand,
				part.reserved,
				part.onOrder,
				Number(part.perWeek.mean.toFixed(3)),
				part.reorderAt,
				part.orderQuantity,
				fromMinor(part.valueMinor)
			])
		);
	}
	const order = store.orders.find(({ code }) => `${code}.csv` === list);
	if (!order) error(404, 'There is no such list. The shelf gives parts.csv, and each order by its number.');
	return csvResponse(
		order.code,
		['sku', 'part', 'pieces', 'unit_cost', 'cost'],
		order.lines.map(({ sku, quantity, unit_cost: unit = 0 }) => [
			sku,
			catalog.parts.get(sku)?.label ?? sku,
			quantity,
			unit,
			Math.round(unit * quantity * 100) / 100
		])
	);
};
