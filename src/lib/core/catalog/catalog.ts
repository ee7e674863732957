import type { SOURCES } from './kinds-of-stock';
import { fromMinor, toMinor, type Minor } from '../units/money';
import { procedureKey } from './kinds-of-bench';
import {
	CATALOG_KINDS,
	catalogKey,
	type CatalogKind,
	type CatalogRecord,
	type CatalogRecordOf
} from './kinds';
import { openingHours } from './bench-hours';
import type { OpeningHours } from '../units/calendar';

/** Everything that the shop knows how to see and do, as the rooms of core read it. */
export interface Catalog {
	/** every kind's records by their keys, as they were written; what follows is drawn from them */
	records: { readonly [Kind in CatalogKind]: ReadonlyMap<string, CatalogRecordOf<Kind>> };
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
	stations: ReadonlyMap<string, CatalogRecordOf<'station'>>;
	/** the highest version of each that is still followed */
	procedures: ReadonlyMap<string, Procedure>;
}

export type Shop = {
	name: string;
	currency: string;
	timeZone: string;
	locale: string;
	/** what giving up loses beside the job, where the data counts */
	dataWorthMinor: Minor;
	/** prices are multiples of it */
	priceStepMinor: Minor;
	/** what is paid where the device could not be repaired */
	diagnosisFeeMinor: Minor;
	/** share of the pieces asked for that must be on the shelf at once */
	service: number;
	/** a year's cost of holding a part over what it cost; a quarter is common practice, no source */
	holdingShare: number;
	/** in every price, in per cent of the price without it; null where there is none */
	tax: { label: string; percent: number } | null;
	warrantyDays: number;
	/** by the source of a part, where that is not what the work has */
	partWarranty: Readonly<Partial<Record<(typeof SOURCES)[number], number>>>;
	keepCustomersDays: number;
	/** a customer's page stands for so many days after the device was handed over */
	pageDays: number;
	offerDays: number;
	invoiceDays: number;
	depositShare: number;
	opening: OpeningHours;
};
export type Procedure = CatalogRecordOf<'procedure'>;
export type Connector = CatalogRecordOf<'connector'>;
type Test = Omit<CatalogRecordOf<'test'>, 'cost'> & { costMinor: Minor };
export type Model = Omit<CatalogRecordOf<'model'>, 'value' | 'battery'> & {
	valueMinor: Minor | null;
	battery: { chemistry: string; cells: number; capacityMah: number } | null;
	/** closed tickets that its charge was learnt of; nothing where the shop named it */
	chargesFrom?: number;
};
export type Part = Omit<CatalogRecordOf<'part'>, 'unit_cost'> & { unitCostMinor: Minor };
type Technician = Omit<CatalogRecordOf<'technician'>, 'hourly_cost'> & {
	hourlyCostMinor: Minor | null;
};

const DEFAULT_SHOP: Shop = {
	name: 'Repair shop',
	currency: 'EUR',
	timeZone: 'UTC',
	locale: 'en-GB',
	dataWorthMinor: 0,
	priceStepMinor: 100,
	diagnosisFeeMinor: 0,
	service: 0.95,
	holdingShare: 0.25,
	tax: null,
	warrantyDays: 90,
	partWarranty: {},
	keepCustomersDays: 1095,
	pageDays: 30,
	offerDays: 14,
	invoiceDays: 14,
	depositShare: 0,
	opening: openingHours('UTC', undefined, undefined)
};

/** Hashes of the pictures of all boards. */
export const boardPictures = ({ models }: Pick<Catalog, 'models'>): Set<string> =>
	new Set([...models.values()].flatMap(({ pictures = {} }) => Object.values(pictures)));

/** Builds the catalog from its records; a later record of the same key replaces an earlier one. */
export function buildCatalog(all: Iterable<CatalogRecord>): Catalog {
	const records = byKindAndKey(all);
	const recordsOf = <Kind extends CatalogKind>(kind: Kind) => [...records[kind].values()];
	const shop = records.shop.get('shop');
	return {
		records,
		shop: shop
			? {
					name: shop.name,
					currency: shop.currency,
					timeZone: shop.time_zone,
					locale: shop.locale,
					dataWorthMinor: toMinor(shop.data_worth ?? 0),
					priceStepMinor: toMinor(shop.price_step ?? fromMinor(DEFAULT_SHOP.priceStepMinor)),
					diagnosisFeeMinor: toMinor(shop.diagnosis_fee ?? 0),
					service: shop.service ?? DEFAULT_SHOP.service,
					holdingShare: shop.holding_share ?? DEFAULT_SHOP.holdingShare,
					tax: shop.tax ?? null,
					warrantyDays: shop.warranty_days ?? DEFAULT_SHOP.warrantyDays,
					partWarranty: shop.part_warranty ?? {},
					keepCustomersDays: shop.keep_customers ?? DEFAULT_SHOP.keepCustomersDays,
					pageDays: shop.page_days ?? DEFAULT_SHOP.pageDays,
					offerDays: shop.offer_days ?? DEFAULT_SHOP.offerDays,
					invoiceDays: shop.invoice_days ?? DEFAULT_SHOP.invoiceDays,
					depositShare: shop.deposit_share ?? 0,
					opening: openingHours(shop.time_zone, shop.hours, shop.closed_days)
				}
			: DEFAULT_SHOP,
		faults: records.fault,
		signs: records.sign,
		tests: byCode(recordsOf('test').map(({ cost, ...test }) => ({ ...test, costMinor: toMinor(cost ?? 0) }))),
		operations: records.operation,
		gates: records.gate,
		expectations: recordsOf('expectation'),
		connectors: records.connector,
		models: byCode(recordsOf('model').map(toModel)),
		parts: new Map(
			recordsOf('part').map(({ unit_cost, ...part }) => [
				part.sku,
				{ ...part, unitCostMinor: toMinor(unit_cost) }
			])
		),
		technicians: byCode(
			recordsOf('technician').map(({ hourly_cost, ...technician }) => ({
				...technician,
				hourlyCostMinor: hourly_cost === undefined ? null : toMinor(hourly_cost)
			}))
		),
		stations: records.station,
		procedures: newestProcedures(records.procedure.values())
	};
}

function byKindAndKey(all: Iterable<CatalogRecord>): Catalog['records'] {
	const records = Object.fromEntries(Object.keys(CATALOG_KINDS).map((kind) => [kind, new Map()]));
	for (const record of all) records[record.record]?.set(catalogKey(record), record);
	return records as unknown as Catalog['records'];
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

/**
 * The part that is taken where a repair names `sku`, on a model: one of its kind that is made for the model, else what is named where it is
 * made for any, else another of its kind that is.
 * @example fittingPart(parts, 'battery-pack', 'tern-9') // 'battery-tern-9'
 */
export function fittingPart(parts: Catalog['parts'], sku: string, model: string | undefined): string {
	const named = parts.get(sku);
	const kin = [...parts.values()].filter((part) => part.sku !== sku && part.kind === sku);
	if (kin.length === 0 || model === undefined) return sku;
	const all = named ? [named, ...kin] : kin;
	const fitting = all.find(({ fits }) => fits?.includes(model)) ?? all.find(({ fits }) => !fits);
	return fitting?.sku ?? sku;
}

/** What one run of an operation takes on a model. */
export const operationParts = (
	{ operations, parts }: Pick<Catalog, 'operations' | 'parts'>,
	operation: string,
	model: string | undefined
): { sku: string; quantity: number }[] =>
	(operations.get(operation)?.parts ?? []).map(({ sku, quantity }) => ({
		sku: fittingPart(parts, sku, model),
		quantity
	}));

/** Parts of one run of an operation on a model at the catalog's unit cost, in hundredths. */
export function operationPartsMinor(catalog: Catalog, operation: string, model: string): Minor {
	return operationParts(catalog, operation, model).reduce(
		(sum, { sku, quantity }) => sum + Math.round((catalog.parts.get(sku)?.unitCostMinor ?? 0) * quantity),
		0
	);
}

/** The highest version of each procedure, those left out that are not followed any more; in the order of their codes. */
export function newestProcedures(all: Iterable<Procedure>): Map<string, Procedure> {
	const newest = new Map<string, Procedure>();
	for (const procedure of all) {
		const newestVersion = newest.get(procedure.code);
		if (!newestVersion || newestVersion.version < procedure.version) newest.set(procedure.code, procedure);
	}
	return new Map([...newest].filter(([, { retired }]) => !retired).sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** One version of a procedure, the newest or an old one. */
export const procedureAt = (
	{ records }: Pick<Catalog, 'records'>,
	code: string,
	version: number
): Procedure | undefined => records.procedure.get(procedureKey(code, version));
