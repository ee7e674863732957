import { operationParts, type Catalog } from '../catalog/catalog';

/** What a piece of a kit may be taken from. */
interface KitChoice {
	sku: string;
	label: string;
	/** null: the oldest lot with stock, whichever that is */
	lot: string | null;
	source: string | null;
	/** pieces there; null of what is not counted */
	onHand: number | null;
}

/** One part of what an operation takes, with what it may be taken from: the oldest first, then other sources, then other parts. */
export interface KitPart {
	sku: string;
	label: string;
	quantity: number;
	choices: KitChoice[];
}

interface LotThere {
	lot: string;
	sku: string;
	onHand: number;
	source: string | null;
}

/**
 * The kit of an operation: its parts, each with the lots and parts that may take their place. Of lots of one source the oldest
 * stands for all.
 * @param lots with stock, the oldest first
 */
export function kitOf(
	operation: string,
	model: string | undefined,
	catalog: Pick<Catalog, 'operations' | 'parts'>,
	lots: readonly LotThere[]
): KitPart[] {
	const { parts } = catalog;
	const label = (sku: string) => parts.get(sku)?.label ?? sku;
	const onHand = (sku: string) =>
		parts.get(sku)?.consumable
			? null
			: lots.reduce((sum, lot) => sum + (lot.sku === sku ? lot.onHand : 0), 0);
	return operationParts(catalog, operation, model).map(({ sku, quantity }) => {
		const partLots = lots.filter((lot) => lot.sku === sku);
		const oldest: KitChoice = {
			sku,
			label: label(sku),
			lot: null,
			source: partLots[0]?.source ?? null,
			onHand: onHand(sku)
		};
		const sources = firstOfEach(partLots).slice(1);
		const substitutes = [...parts.values()].filter(({ stands_for }) => stands_for?.includes(sku));
		return {
			sku,
			label: label(sku),
			quantity,
			choices: [
				oldest,
				...sources.map((lot) => ({
					sku,
					label: label(sku),
					lot: lot.lot,
					source: lot.source,
					onHand: lot.onHand
				})),
				...substitutes.map((part) => ({
					sku: part.sku,
					label: part.label,
					lot: null,
					source: part.source ?? null,
					onHand: onHand(part.sku)
				}))
			]
		};
	});
}

/** The oldest lot of each source. */
const firstOfEach = (lots: readonly LotThere[]) =>
	lots.filter((lot, i) => lots.findIndex(({ source }) => source === lot.source) === i);

/** Skus that a kit may be taken from. */
export const kitSkus = (
	operation: string,
	model: string | undefined,
	catalog: Pick<Catalog, 'operations' | 'parts'>
): string[] => {
	const partSkus = operationParts(catalog, operation, model).map(({ sku }) => sku);
	const substitutes = [...catalog.parts.values()].flatMap(({ sku, stands_for }) =>
		stands_for?.some((sku) => partSkus.includes(sku)) ? [sku] : []
	);
	return [...new Set([...partSkus, ...substitutes])];
};
