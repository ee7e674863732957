/** Pieces for longer than this are not ordered at once. A choice. */
const MOST_YEARS = 3;

/** What ordering so many at a time costs in a year: orders, and half of them lying there. Textbook. */
export const yearlyCost = (
	quantity: number,
	{ perYear, orderMinor, holdingMinor }: { perYear: number; orderMinor: number; holdingMinor: number }
): number => (perYear / quantity) * orderMinor + (quantity / 2) * holdingMinor;

/**
 * How many to order at a time: the multiple of the pack with the least yearly cost (Harris 1913, the square root of twice the
 * year's pieces times an order's cost over a piece's holding), never for longer than three years.
 * @param orderMinor shipping and handling of one order, hundredths
 * @param holdingMinor a year's holding of one piece, hundredths
 * @example orderQuantity({ perYear: 1200, orderMinor: 2000, holdingMinor: 150, pack: 1 }) // 179
 */
export function orderQuantity(input: {
	perYear: number;
	orderMinor: number;
	holdingMinor: number;
	pack: number;
}): number {
	const { perYear, orderMinor, holdingMinor, pack } = input;
	const longest = Math.max(pack, Math.ceil((MOST_YEARS * perYear) / pack) * pack);
	if (perYear <= 0 || orderMinor <= 0) return pack;
	const wished = holdingMinor > 0 ? Math.sqrt((2 * perYear * orderMinor) / holdingMinor) : longest;
	const below = Math.max(pack, Math.floor(wished / pack) * pack);
	const above = below + pack;
	const best = yearlyCost(above, input) < yearlyCost(below, input) ? above : below;
	return Math.min(best, longest);
}
