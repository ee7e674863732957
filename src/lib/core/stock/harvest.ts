import type { Part } from '../catalog/catalog';
import type { Minor } from '../units/money';

/** Good pieces of one sku that taking donors apart gave. */
export interface Yielded {
	sku: string;
	quantity: number;
}

/**
 * What each harvested piece costs: the donors' cost goes to what they gave, by the shares that the donor's record states (of what
 * has none, even parts of the rest), whether or not every piece came off whole: failures make the good ones dearer.
 * Rounded to hundredths a piece; nothing where nothing came off.
 * @param donorMinor cost of the donors that were taken apart, together
 */
export function harvestedCosts(
	donorMinor: Minor,
	yields: NonNullable<Part['yields']>,
	gave: readonly Yielded[]
): Map<string, Minor> {
	const harvested = gave.filter(({ quantity }) => quantity > 0);
	const stated = (sku: string) => yields.find((one) => one.sku === sku)?.share;
	const statedMinor = harvested.reduce((sum, { sku }) => sum + (stated(sku) ?? 0), 0);
	const open = harvested.filter(({ sku }) => stated(sku) === undefined).length;
	const rest = open > 0 ? Math.max(0, 1 - statedMinor) / open : 0;
	// what gave nothing leaves its share to the others
	const total = statedMinor + rest * open;
	return new Map(
		harvested.map(({ sku, quantity }) => {
			const share = total > 0 ? (stated(sku) ?? rest) / total : 1 / harvested.length;
			return [sku, Math.round((share * donorMinor) / quantity)];
		})
	);
}

/** What donors of one kind gave so far, by what they yield. */
export interface LearntYield {
	sku: string;
	/** donors that were taken apart */
	donors: number;
	/** good pieces that came off */
	good: number;
	/** pieces a donor gives, leaning on what its record states */
	perDonor: number;
}

/** What a donor's record states is worth so many donors of the shop's own. A choice. */
const STATED_WEIGHT = 5;

/**
 * What donors give, learnt from those that were taken apart: (good + stated · weight) / (donors + weight).
 * @param lots of the donor, and those that were harvested from them
 */
export function learntYields(
	donor: Pick<Part, 'sku' | 'yields'>,
	lots: readonly { code: string; sku: string; quantity: number; harvested_from?: string | undefined }[],
	movements: readonly { lot: string; quantity: number; why: string }[]
): LearntYield[] {
	const donorLots = new Set(lots.flatMap(({ code, sku }) => (sku === donor.sku ? [code] : [])));
	const donors = movements.reduce(
		(sum, { lot, quantity, why: reason }) =>
			sum + (reason === 'harvest' && donorLots.has(lot) ? -quantity : 0),
		0
	);
	return (donor.yields ?? []).map(({ sku, quantity: stated }) => {
		const good = lots.reduce(
			(sum, lot) => sum + (lot.sku === sku && donorLots.has(lot.harvested_from ?? '') ? lot.quantity : 0),
			0
		);
		return { sku, donors, good, perDonor: (good + stated * STATED_WEIGHT) / (donors + STATED_WEIGHT) };
	});
}
