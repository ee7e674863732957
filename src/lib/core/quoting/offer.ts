import { meanHourlyCostMinor, operationPartsMinor, type Catalog } from '../catalog/catalog';
import { ASSUMED_HOURLY_MINOR } from '../diagnosis/plan/plan-world';
import { toMinor, type Minor } from '../units/money';
import { chanceAccepted } from './acceptance';
import type { Option, Quote } from './quote';

/** One way as it may be put before a customer, with what the shop thinks of it beside. */
export interface OfferDraft {
	kind: 'repair' | 'instead' | 'find-out';
	/** in the customer's words */
	label: string;
	operations: string[];
	priceMinor: Minor;
	/** what it may come to without asking again; null where the price is the whole */
	capMinor: Minor | null;
	warrantyDays: number;
	risks: string | null;
	/** middle of its minutes; null where nothing is done yet */
	minutes: number | null;
	chanceFixed: number | null;
	comebackChance: number | null;
	accepted: number | null;
	/** expected, counting acceptance; null where it is not worked out */
	profitMinor: number | null;
	/** among those that are offered at first */
	chosen: boolean;
}

/** So many ways to mend it are put before a customer at first; more can be ticked. A choice. */
const AT_FIRST = 3;

/**
 * The ways of a quote in a customer's words: what mends the likeliest fault, and the two likeliest at once, then what stands beside
 * the repairs (another port, the data alone), then finding out first for the shop's fee, with what it may come to.
 */
export function offerDrafts(
	quote: Pick<Quote, 'options' | 'acceptance' | 'verdict' | 'priceMinor' | 'proposal' | 'together'>,
	{ catalog, model, matters }: { catalog: Catalog; model: string; matters?: string | undefined }
): OfferDraft[] {
	const repairs = quote.options.flatMap((option) =>
		option.kind === 'repair' && option.operations.length > 0 ? [repairDraft(option, quote, catalog)] : []
	);
	const first = quote.verdict === 'diagnose-first';
	const combined = quote.together ? [repairDraft(quote.together, quote, catalog)] : [];
	return [
		...[...repairs.slice(0, AT_FIRST - combined.length), ...combined].map((draft) => ({
			...draft,
			chosen: !first
		})),
		...repairs.slice(AT_FIRST - combined.length),
		...insteadDrafts(catalog, model, matters),
		findOut(quote, catalog, first)
	];
}

/** What a way is called, what can go wrong with it and how long it is under warranty, from its operations. */
function wordsOf({ operations, shop }: Catalog, codes: readonly string[]) {
	const records = codes.flatMap((code) => operations.get(code) ?? []);
	const risks = [...new Set(records.flatMap(({ risks }) => risks ?? []))].join(' ');
	return {
		label: records.map(({ says, label }) => says ?? label).join(' + '),
		risks: risks === '' ? null : risks.slice(0, 500),
		warrantyDays: Math.min(...records.map((record) => record.warranty_days ?? shop.warrantyDays))
	};
}

function repairDraft(
	{ job, price: judged, operations }: Extract<Option, { kind: 'repair' }>,
	{ acceptance }: Pick<Quote, 'acceptance'>,
	catalog: Catalog
): OfferDraft {
	const price = judged.proposal ?? judged;
	return {
		kind: 'repair',
		...wordsOf(catalog, operations),
		operations: [...operations],
		priceMinor: price.priceMinor,
		capMinor: null,
		minutes: job.minutes.p50,
		chanceFixed: job.chanceFixed,
		comebackChance: job.comebackChance,
		accepted: acceptance && chanceAccepted(acceptance, price.priceMinor),
		profitMinor: price.expectedProfitMinor,
		chosen: false
	};
}

function insteadDrafts(catalog: Catalog, model: string, matters?: string): OfferDraft[] {
	const hourly = meanHourlyCostMinor(catalog) ?? ASSUMED_HOURLY_MINOR;
	return [...catalog.operations.values()].flatMap((operation) => {
		const { instead, models, code, minutes, price, success } = operation;
		if (!instead || (models && !models.includes(model))) return [];
		const costMinor = (minutes / 60) * hourly + operationPartsMinor(catalog, code, model);
		const wantsData = matters === 'data' || matters === 'both';
		return [
			{
				kind: 'instead' as const,
				...wordsOf(catalog, [code]),
				// nothing was repaired that could be under warranty, unless the shop says so
				warrantyDays: operation.warranty_days ?? 0,
				operations: [code],
				priceMinor: price === undefined ? twice(costMinor, catalog.shop.priceStepMinor) : toMinor(price),
				capMinor: null,
				minutes,
				chanceFixed: success ?? null,
				comebackChance: null,
				accepted: null,
				profitMinor: null,
				chosen: instead === 'data' ? wantsData : true
			}
		];
	});
}

/** Before the shop names a price: twice what it costs, in its steps. */
const twice = (costMinor: number, stepMinor: Minor) => Math.ceil((2 * costMinor) / stepMinor) * stepMinor;

const findOut = (
	{ priceMinor, proposal }: Pick<Quote, 'priceMinor' | 'proposal'>,
	{ shop }: Catalog,
	chosen: boolean
): OfferDraft => ({
	kind: 'find-out',
	label: 'Diagnosis first',
	operations: [],
	priceMinor: shop.diagnosisFeeMinor,
	capMinor: Math.max(proposal?.priceMinor ?? priceMinor ?? 0, shop.diagnosisFeeMinor),
	warrantyDays: 0,
	risks: null,
	minutes: null,
	chanceFixed: null,
	comebackChance: null,
	accepted: null,
	profitMinor: null,
	chosen
});
