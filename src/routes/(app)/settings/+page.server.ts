import { fail } from '@sveltejs/kit';
import { CATALOG_KINDS, isLocale, type CatalogRecordOf } from '$lib/core/catalog/kinds';
import { SOURCES } from '$lib/core/catalog/kinds-of-stock';
import { CODES, HOURS } from '$lib/core/catalog/form-fields';
import { saveCatalogRecord } from '$lib/server/catalog/commands';
import { catalogRecordsOf } from '$lib/server/catalog/queries';
import { database } from '$lib/server/database/connection';
import { readForm } from '$lib/server/http/read-form';
import { readCounted, readNumber } from '$lib/core/units/typed-number';
import { requireUser } from '$lib/server/http/guard';
import { lanesNow } from '$lib/server/worker/ask';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	requireUser(locals, ['manager']);
	const [stored] = await catalogRecordsOf(await database(), 'shop');
	return {
		workers: lanesNow(),
		version: stored?.version ?? null,
		policy: policyOf(stored?.record as CatalogRecordOf<'shop'> | undefined),
		tax: taxOf(stored?.record as CatalogRecordOf<'shop'> | undefined),
		partWarranty: partWarrantyOf(stored?.record as CatalogRecordOf<'shop'> | undefined),
		sources: SOURCES,
		opening: openingOf(stored?.record as CatalogRecordOf<'shop'> | undefined),
		zones: Intl.supportedValuesOf('timeZone'),
		currencies: Intl.supportedValuesOf('currency')
	};
};

/** Figures of the shop's own policy: what is left empty is as usual. */
const POLICY = [
	'data_worth',
	'price_step',
	'diagnosis_fee',
	'deposit_share',
	'warranty_days',
	'keep_customers',
	'page_days',
	'offer_days',
	'invoice_days',
	'service',
	'holding_share'
] as const;
/** Shares are typed as per cent. */
const IN_MONEY: readonly string[] = ['data_worth', 'price_step', 'diagnosis_fee'];
const PERCENT: readonly string[] = ['service', 'holding_share', 'deposit_share'];

const policyOf = (shop: CatalogRecordOf<'shop'> | undefined) =>
	Object.fromEntries(
		POLICY.map((name) => {
			const value = shop?.[name];
			if (value === undefined) return [name, ''];
			return [name, String(PERCENT.includes(name) ? Math.round(value * 1e6) / 1e4 : value)];
		})
	) as Record<(typeof POLICY)[number], string>;

const taxOf = (shop: CatalogRecordOf<'shop'> | undefined) => ({
	tax_label: shop?.tax?.label ?? '',
	tax_percent: shop?.tax ? String(shop.tax.percent) : ''
});

/** Both left empty: there is no tax. */
function taxTyped({ tax_label = '', tax_percent = '' }: Record<string, string>) {
	if (!tax_label.trim() && !tax_percent.trim()) return {};
	return { tax: { label: tax_label, percent: readNumber(tax_percent) ?? tax_percent } };
}

/** Warranty of parts by their source, each of its own field; left empty, as long as the work. */
const partWarrantyOf = (shop: CatalogRecordOf<'shop'> | undefined) =>
	Object.fromEntries(
		SOURCES.map((source) => [`part_warranty_${source}`, String(shop?.part_warranty?.[source] ?? '')])
	);
function partWarrantyTyped(typed: Record<string, string>) {
	const days = SOURCES.flatMap((source) => {
		const text = typed[`part_warranty_${source}`]?.trim() ?? '';
		return text === '' ? [] : [[source, readNumber(text) ?? text]];
	});
	return days.length === 0 ? {} : { part_warranty: Object.fromEntries(days) as unknown };
}
const withoutParts = (typed: Record<string, string>) =>
	Object.fromEntries(Object.entries(typed).filter(([name]) => !name.startsWith('part_warranty_')));

/** Opening hours as they are typed, seven lines, and days on which it is closed beside; left empty, as usual and none. */
const openingOf = (shop: CatalogRecordOf<'shop'> | undefined) => ({
	hours: HOURS.write(shop?.hours),
	closed_days: CODES.write(shop?.closed_days)
});
const openingTyped = ({ hours = '', closed_days = '' }: Record<string, string>) => ({
	hours: hours.trim() ? HOURS.read(hours.trim(), null) : undefined,
	closed_days: closed_days.trim() ? CODES.read(closed_days, null) : undefined
});

function policyTyped(typed: Record<string, string>): Record<string, unknown> {
	const locale = isLocale(typed.locale ?? '') ? (typed.locale ?? null) : null;
	return Object.fromEntries(
		POLICY.map((name) => {
			const text = typed[name]?.trim() ?? '';
			if (text === '') return [name, undefined];
			const value = IN_MONEY.includes(name) ? readCounted(text, locale) : readNumber(text);
			return [name, value === null ? text : PERCENT.includes(name) ? Math.round(value * 1e4) / 1e6 : value];
		})
	);
}

export const actions: Actions = {
	shop: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager']);
		const form = await readForm(
			request,
			CATALOG_KINDS.shop.schema,
			({ version: _, tax_label, tax_percent, ...typed }) => ({
				record: 'shop',
				...withoutParts(typed),
				...partWarrantyTyped(typed),
				...policyTyped(typed),
				...openingTyped(typed),
				...taxTyped({ tax_label: tax_label ?? '', tax_percent: tax_percent ?? '' })
			})
		);
		const { version, ...kept } = form.kept;
		if (!form.ok) return fail(400, { kept, problems: form.problems });
		const seen = version ? Number(version) : null;
		const answer = await saveCatalogRecord(await database(), user.name, Date.now(), form.value, seen);
		return answer.ok ? { saved: true } : fail(409, { kept, problems: { [answer.field]: answer.message } });
	}
};
