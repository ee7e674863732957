import { toMinor, type Minor } from '../units/money';
import type { CatalogKind, CatalogRecord, CatalogRecordOf } from './records';

/** Everything that the shop knows how to see and do, as the rooms of core read it. */
export interface Catalog {
	shop: Shop;
	faults: ReadonlyMap<string, CatalogRecordOf<'fault'>>;
	signs: ReadonlyMap<string, CatalogRecordOf<'sign'>>;
	tests: ReadonlyMap<string, Test>;
	operations: ReadonlyMap<string, CatalogRecordOf<'operation'>>;
	gates: ReadonlyMap<string, CatalogRecordOf<'gate'>>;
	expectations: readonly CatalogRecordOf<'expectation'>[];
	connectors: ReadonlyMap<string, Connector>;
	models: ReadonlyMap<string, Model>;
	parts: ReadonlyMap<string, Part>;
	technicians: ReadonlyMap<string, Technician>;
}

export type Shop = { name: string; currency: string; timeZone: string; locale: string };
export type Connector = CatalogRecordOf<'connector'>;
export type Test = Omit<CatalogRecordOf<'test'>, 'cost'> & { costMinor: Minor };
export type Model = Omit<CatalogRecordOf<'model'>, 'value' | 'battery'> & {
	valueMinor: Minor | null;
	battery: { chemistry: string; cells: number; capacityMah: number } | null;
};
export type Part = Omit<CatalogRecordOf<'part'>, 'unit_cost'> & { unitCostMinor: Minor };
export type Technician = Omit<CatalogRecordOf<'technician'>, 'hourly_cost'> & {
	hourlyCostMinor: Minor | null;
};

export const DEFAULT_SHOP: Shop = {
	name: 'Repair shop',
	currency: 'EUR',
	timeZone: 'UTC',
	locale: 'en-GB'
};

/** Builds the catalog from its records; a later record of the same key replaces an earlier one. */
export function buildCatalog(records: Iterable<CatalogRecord>): Catalog {
	const byKind = groupByKind(records);
	const of = <Kind extends CatalogKind>(kind: Kind) => (byKind.get(kind) ?? []) as CatalogRecordOf<Kind>[];
	const shop = of('shop').at(-1);
	return {
		shop: shop
			? {
					name: shop.name,
					currency: shop.currency,
					timeZone: shop.time_zone,
					locale: shop.locale
				}
			: DEFAULT_SHOP,
		faults: byCode(of('fault')),
		signs: byCode(of('sign')),
		tests: byCode(of('test').map(({ cost, ...test }) => ({ ...test, costMinor: toMinor(cost ?? 0) }))),
		operations: byCode(of('operation')),
		gates: byCode(of('gate')),
		expectations: of('expectation'),
		connectors: byCode(of('connector')),
		models: byCode(of('model').map(toModel)),
		parts: new Map(
			of('part').map(({ unit_cost, ...part }) => [part.sku, { ...part, unitCostMinor: toMinor(unit_cost) }])
		),
		technicians: byCode(
			of('technician').map(({ hourly_cost, ...technician }) => ({
				...technician,
				hourlyCostMinor: hourly_cost === undefined ? null : toMinor(hourly_cost)
			}))
		)
	};
}

function groupByKind(records: Iterable<CatalogRecord>): Map<CatalogKind, CatalogRecord[]> {
	const groups = new Map<CatalogKind, CatalogRecord[]>();
	for (const record of records) {
		const group = groups.get(record.record);
		if (group) group.push(record);
		else groups.set(record.record, [record]);
	}
	return groups;
}

const byCode = <Item extends { code: string }>(items: Item[]): Map<string, Item> =>
	new Map(items.map((item) => [item.code, item]));

function toModel({ value, battery, ...model }: CatalogRecordOf<'model'>): Model {
	return {
		...model,
		valueMinor: value === undefined ? null : toMinor(value),
		battery: battery
			? {
					chemistry: battery.chemistry,
					cells: battery.cells,
					capacityMah: battery.capacity_mah
				}
			: null
	};
}

/**
 * Labour in estimates: the mean hourly cost of the shop's active technicians, in hundredths.
 * Null where no technician carries a cost: an estimate then counts parts only and must say so.
 */
export function meanHourlyCostMinor(catalog: Catalog): number | null {
	const costs = [...catalog.technicians.values()].flatMap(({ hourlyCostMinor }) =>
		hourlyCostMinor === null ? [] : [hourlyCostMinor]
	);
	return costs.length === 0 ? null : costs.reduce((sum, cost) => sum + cost, 0) / costs.length;
}

/** Parts of one run of an operation at the catalog's unit cost, in hundredths. */
export function operationPartsMinor(catalog: Catalog, operationCode: string): Minor {
	const parts = catalog.operations.get(operationCode)?.parts ?? [];
	return parts.reduce(
		(sum, { sku, quantity }) => sum + Math.round((catalog.parts.get(sku)?.unitCostMinor ?? 0) * quantity),
		0
	);
}
