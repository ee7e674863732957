import { z } from 'zod';
import { amountSchema } from '../units/money';
import { labelSchema } from './record-fields';
import { kind, type Kind } from './kind';
import { KINDS_OF_DEVICES } from './kinds-of-devices';
import { KINDS_OF_FINDING } from './kinds-of-finding';
import { closedDays, weekHours } from './bench-hours';
import { KINDS_OF_BENCH } from './kinds-of-bench';
import { KINDS_OF_BOOKS } from './kinds-of-books';
import { KINDS_OF_RETURNS } from './kinds-of-returns';
import { KINDS_OF_STOCK, SOURCES } from './kinds-of-stock';
import { KINDS_OF_WORK } from './kinds-of-work';

/**
 * Every kind of catalog record of the exchange format, version 1. The same schemas check an imported line, an API body and
 * an edited form.
 */
const shop = kind({
	schema: z.strictObject({
		record: z.literal('shop'),
		name: labelSchema,
		currency: z.string().regex(/^[A-Z]{3}$/, 'is a three-letter currency code such as EUR'),
		time_zone: z.string().max(64).refine(isTimeZone, 'is not a time zone; write one such as Europe/Berlin'),
		locale: z.string().max(35).refine(isLocale, 'is not a language tag; write one such as en-GB'),
		/** what is lost beside the job where a device is given up whose data is what counts */
		data_worth: amountSchema.optional(),
		/** prices are multiples of it; one unit of the currency without */
		price_step: amountSchema.refine((step) => step > 0, 'is 0; prices need a step').optional(),
		/** what is paid where the device could not be repaired; without, no fix means no fee */
		diagnosis_fee: amountSchema.optional(),
		/** share of the pieces asked for that must be on the shelf at once */
		service: z.number().min(0.5).max(0.999).optional(),
		/** a year's cost of holding a part, as a share of what it cost */
		holding_share: z.number().min(0.01).max(2).optional(),
		/** value added or sales tax that is in every price, in per cent of the price without it */
		tax: z
			.strictObject({ label: z.string().trim().min(1).max(40), percent: z.number().min(0).max(100) })
			.optional(),
		/** days for which repairs are under warranty, where the operation does not say */
		warranty_days: z.int().min(0).max(3650).optional(),
		/** days for which parts are under warranty, by their source, where that is not what the work has */
		part_warranty: z.partialRecord(z.enum(SOURCES), z.int().min(0).max(3650)).optional(),
		/** days after which a customer who was not here again may be erased */
		keep_customers: z.int().min(30).max(36_500).optional(),
		/** days for which a customer's page stands after the device was handed over */
		page_days: z.int().min(0).max(3650).optional(),
		/** days for which an offer holds */
		offer_days: z.int().min(1).max(365).optional(),
		/** days in which an invoice is to be paid */
		invoice_days: z.int().min(0).max(365).optional(),
		/** share of a price that is asked for before the work begins */
		deposit_share: z.number().min(0).max(1).optional(),
		/** when it is open, by the clock on its wall; nine to six with an hour at noon, not on Sundays, where nothing is said */
		hours: weekHours.optional(),
		/** days on which it is closed beside */
		closed_days: closedDays.optional()
	}),
	about:
		'the shop itself: name, currency, time zone, way of writing; `data_worth`: what giving up loses beside, where the data counts; `price_step`: prices are multiples of it; `diagnosis_fee`: paid where nothing could be repaired; `service`: share of pieces that must be on the shelf (.95), `holding_share`: a year of a part there over its cost (.25); `tax`: what is in every price, kept with each payment at the rate of its day; `warranty_days` (90), `part_warranty`: days by the source of a part, `keep_customers`: days after which a customer who was not here again may be erased (1095), `page_days`: days for which a customer’s page stands after handing over (30), `offer_days` (14), `invoice_days` (14), `deposit_share` (0); `hours`: seven days, Monday first, each a list of stretches such as "09:00-12:30" (nine to six with an hour at noon, not on Sundays), `closed_days`: dates',
	key: () => 'shop',
	form: null,
	relearns: 'never',
	order: 1
});

function isTimeZone(zone: string): boolean {
	try {
		new Intl.DateTimeFormat('en', { timeZone: zone });
		return true;
	} catch {
		return false;
	}
}

/** A language tag that this machine can write numbers and days by. */
export function isLocale(tag: string): boolean {
	try {
		return Intl.getCanonicalLocales(tag).length === 1;
	} catch {
		return false;
	}
}

export const CATALOG_KINDS = {
	shop,
	...KINDS_OF_FINDING,
	...KINDS_OF_WORK,
	...KINDS_OF_DEVICES,
	...KINDS_OF_STOCK,
	...KINDS_OF_BENCH,
	...KINDS_OF_BOOKS,
	...KINDS_OF_RETURNS
};

type Kinds = typeof CATALOG_KINDS;
export type CatalogKind = keyof Kinds;
export type CatalogRecordOf<Name extends CatalogKind> = z.output<Kinds[Name]['schema']>;
export type CatalogRecord = { [Name in CatalogKind]: CatalogRecordOf<Name> }[CatalogKind];

/** A kind whose records are any of the catalog's. */
export const catalogKind = (name: CatalogKind) =>
	CATALOG_KINDS[name] as unknown as Kind<z.ZodType<CatalogRecord>>;
export const isCatalogKind = (name: string): name is CatalogKind => Object.hasOwn(CATALOG_KINDS, name);

/** Kinds that lie on the shelf. */
export const SHELF_KINDS: readonly CatalogKind[] = (Object.keys(CATALOG_KINDS) as CatalogKind[]).filter(
	(name) => catalogKind(name).shelf
);

/** Kinds that people edit under Settings, models first: what a shop adds most. */
export const FORM_KINDS: readonly CatalogKind[] = [
	'model',
	...(Object.keys(CATALOG_KINDS) as CatalogKind[]).filter(
		(name) => name !== 'model' && catalogKind(name).form !== null
	)
];

/** The stable key of a record within its kind: its code, where it has one. */
export const catalogKey = (record: CatalogRecord): string => catalogKind(record.record).key(record);

/** Why one more record of a kind is refused; null where it fits. */
export function fullOf(name: CatalogKind, count: number): string | null {
	const { most: limit } = catalogKind(name);
	return limit === undefined || count < limit
		? null
		: `is one too many: a catalog holds ${limit} records of the kind ${name} at most; change one that is there`;
}

/** A record of the kind that its place says. @throws where it is of another: it was put there by mistake */
export function recordOfKind<Name extends CatalogKind>(
	kind: Name,
	record: CatalogRecord
): CatalogRecordOf<Name> {
	if (record.record !== kind)
		throw new Error(`a record of the kind ${record.record} stands among those of ${kind}`);
	return record as CatalogRecordOf<Name>;
}
