import type { CatalogRecordOf } from '../catalog/kinds';
import { toMinor, type Minor } from '../units/money';
import { stockIsLow, type ShelfPart } from './shelf';

/** What to order of one supplier now. */
export interface Proposal {
	supplier: string | null;
	lines: { sku: string; label: string; quantity: number; costMinor: Minor }[];
	totalMinor: Minor;
	/** less than the supplier takes as an order; null where it states none */
	underMinimumMinor: Minor | null;
}

/**
 * Orders of all parts whose stock (on hand, less reserved, plus on order) has fallen to its point: the part's quantity, or as
 * many times it as lift the stock over the point.
 * @param unitMinor what one piece costs, by part
 */
export function proposeOrders(
	shelf: readonly ShelfPart[],
	suppliers: ReadonlyMap<string, CatalogRecordOf<'supplier'>>,
	unitMinor: (sku: string) => Minor
): Proposal[] {
	const bySupplier = new Map<string | null, Proposal>();
	for (const part of shelf) {
		if (!stockIsLow(part)) continue;
		const missing = (part.reorderAt ?? 0) + 1 - (part.onHand - part.reserved + part.onOrder);
		const quantity = Math.ceil(missing / part.orderQuantity) * part.orderQuantity;
		const proposal = bySupplier.get(part.supplier) ?? {
			supplier: part.supplier,
			lines: [],
			totalMinor: 0,
			underMinimumMinor: null
		};
		bySupplier.set(part.supplier, proposal);
		const costMinor = Math.round(quantity * unitMinor(part.sku));
		proposal.lines.push({ sku: part.sku, label: part.label, quantity, costMinor });
		proposal.totalMinor += costMinor;
	}
	for (const proposal of bySupplier.values()) {
		const minimum = suppliers.get(proposal.supplier ?? '')?.minimum;
		const lacking = toMinor(minimum ?? 0) - proposal.totalMinor;
		if (lacking > 0) proposal.underMinimumMinor = lacking;
	}
	return [...bySupplier.values()].sort((a, b) => ((a.supplier ?? '~') < (b.supplier ?? '~') ? -1 : 1));
}
