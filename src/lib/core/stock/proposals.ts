import type { CatalogRecordOf } from '../catalog/kinds';
import { sumOf } from '../statistics/sum';
import { toMinor, type Minor } from '../units/money';
import { stockIsLow, type ShelfPart } from './shelf';

/** One line of an order that is proposed. */
interface ProposedLine {
	sku: string;
	label: string;
	quantity: number;
	costMinor: Minor;
	/** weeks before its own point is expected to be reached; 0 where it is reached */
	earlyWeeks: number;
}

/** What to order of one supplier now. */
export interface Proposal {
	supplier: string | null;
	lines: ProposedLine[];
	totalMinor: Minor;
	/** less than the supplier takes as an order; null where it states none, or where it is reached */
	underMinimumMinor: Minor | null;
}

export interface Ordering {
	suppliers: ReadonlyMap<string, CatalogRecordOf<'supplier'>>;
	/** what one piece costs, by part */
	unitMinor: (sku: string) => Minor;
	/** a year's cost of holding a part over what it costs */
	holdingShare: number;
}

const WEEKS_A_YEAR = 52;

/**
 * Orders by supplier: every part whose stock (on hand, less reserved, plus on order) has fallen to its point, its quantity or as many
 * times it as lift the stock over the point. Parts of the same supplier that are not there yet join the order where holding them
 * until then costs less than the order that is saved (the marginal rule of joint replenishment), and, while the total is under the
 * supplier's minimum, those that cost least to hold. Shipping and handling is the supplier's `order_cost`.
 */
export function proposeOrders(shelf: readonly ShelfPart[], ordering: Ordering): Proposal[] {
	const suppliers = [...new Set(shelf.filter(stockIsLow).map(({ supplier }) => supplier))];
	return suppliers
		.map((supplier) =>
			proposalFor(
				supplier,
				shelf.filter((part) => part.supplier === supplier),
				ordering
			)
		)
		.sort((a, b) => ((a.supplier ?? '~') < (b.supplier ?? '~') ? -1 : 1));
}

function proposalFor(
	supplier: string | null,
	parts: readonly ShelfPart[],
	{ suppliers, unitMinor, holdingShare }: Ordering
): Proposal {
	const { order_cost = 0, minimum = 0 } = suppliers.get(supplier ?? '') ?? {};
	const line = (part: ShelfPart, quantity: number, earlyWeeks: number): ProposedLine => ({
		sku: part.sku,
		label: part.label,
		quantity,
		costMinor: Math.round(quantity * unitMinor(part.sku)),
		earlyWeeks
	});
	const lines = parts.filter(stockIsLow).map((part) => {
		const missing = (part.reorderAt ?? 0) + 1 - positionOf(part);
		return line(part, Math.ceil(missing / part.orderQuantity) * part.orderQuantity, 0);
	});
	let totalMinor = sumOf(lines.map(({ costMinor }) => costMinor));
	const early =
		supplier === null
			? []
			: parts.flatMap((part) => {
					const weeks = weeksToPoint(part);
					if (weeks === null) return [];
					const added = line(part, part.orderQuantity, weeks);
					return [{ added, holdingMinor: (added.costMinor * holdingShare * weeks) / WEEKS_A_YEAR }];
				});
	for (const { added, holdingMinor } of early.sort((a, b) => a.holdingMinor - b.holdingMinor)) {
		if (holdingMinor >= toMinor(order_cost) && totalMinor >= toMinor(minimum)) continue;
		lines.push(added);
		totalMinor += added.costMinor;
	}
	const lacking = toMinor(minimum) - totalMinor;
	return { supplier, lines, totalMinor, underMinimumMinor: lacking > 0 ? lacking : null };
}

const positionOf = ({ onHand, reserved, onOrder }: ShelfPart) => onHand - reserved + onOrder;

/** Weeks until a part's point is expected to be reached; null where it is, or where nobody asks for it. */
function weeksToPoint(part: ShelfPart): number | null {
	if (part.reorderAt === null || stockIsLow(part) || !(part.perWeek.mean > 0)) return null;
	return (positionOf(part) - part.reorderAt) / part.perWeek.mean;
}
