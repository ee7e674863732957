import type { Catalog } from '../catalog/catalog';
import { quantileSorted } from '../statistics/quantile';
import type { Minor } from '../units/money';
import { seesCosts, type Role } from '../units/role';
import { acceptedWithin, chanceAccepted } from './acceptance';
import { offerDrafts, type OfferDraft } from './offer';
import { netOf, type PricePolicy } from './price';
import { policyOf, type Option, type Quote } from './quote';

type OptionView =
	| {
			kind: 'repair';
			label: string;
			operations: string[];
			priceMinor: number;
			/** middle of its minutes */
			minutes: number;
			chanceFixed: number;
			comebackChance: number;
			accepted: number | null;
			profitMinor?: number;
	  }
	| { kind: 'diagnose-first' | 'decline' };

/** What the price panel shows. */
export interface PriceView {
	/** quoted, or proposed: the usual price; null where none can be named */
	priceMinor: number | null;
	/** a step from the proposed price that is expected to pay; what it gains with costs alone. Null where none does, or a price was quoted */
	step: { priceMinor: number; chance: number; low: number; high: number; gainMinor?: number } | null;
	/** what the usual markup would ask; null likewise */
	usualPriceMinor: number | null;
	/** why no price can be named; null where one can */
	unpriced: string | null;
	ceilingMinor: number | null;
	verdict: Quote['verdict'];
	minutes: Quote['job']['minutes'];
	chanceFixed: number;
	from: number;
	/** chance of acceptance at some prices, to be read between; empty with too few answered quotes */
	acceptance: { priceMinor: number; chance: number; low: number; high: number; from: number }[];
	/** between which prices such jobs were asked for: nothing is known beyond them. Null while too few were answered to say */
	range: Quote['range'];
	/** ways to do the job, best first; no profit without costs */
	options: OptionView[];
	/** the same in the customer's words, with what stands beside the repairs; no profit without costs */
	drafts: OfferDraft[];
	/** share of every price that is tax */
	taxShare: number;
	/** manager only */
	costs?: {
		/** paid where nothing could be repaired */
		feeMinor: number;
		/** chance that it ends unfixed and costs more than that */
		unfixedLoses: number;
		floorMinor: number | null;
		meanMinor: number;
		comebackChance: number;
		comebackCostMinor: number;
		p10: number;
		p50: number;
		p90: number;
		/** 61 quantiles of the cost of jobs that end fixed, evenly from 0 to 1 */
		fixedCostQuantiles: number[];
		reasons: string[];
	};
}

/** Enough that a straight line between two of them is right to a thousandth. */
const POINTS = 40;

/** A quote as one role may see it: without costs, what they could be told from is left out too. */
export function priceView(
	quote: Quote,
	role: Role,
	catalog: Catalog,
	{ model, matters, quotedMinor }: { model: string; matters?: string | undefined; quotedMinor: Minor | null }
): PriceView {
	const { job, proposal } = quote;
	const priceMinor = quotedMinor ?? proposal?.priceMinor ?? quote.priceMinor;
	const policy = policyOf(catalog.shop);
	const drafts = offerDrafts(quote, { catalog, model, matters });
	// of what every role sees alone: a scale that ended at the cost would tell it
	const top = Math.max(quote.ceilingMinor ?? 0, 2 * (priceMinor ?? 0), 100) * 1.25;
	const { acceptance: learnt } = quote;
	const { lowMinor, highMinor } = learnt?.asked ?? { lowMinor: top / POINTS, highMinor: top };
	const acceptance = !learnt
		? []
		: Array.from({ length: POINTS }, (_, i) =>
				Math.round(lowMinor + ((highMinor - lowMinor) * i) / (POINTS - 1))
			).map((priceMinor) => ({
				priceMinor,
				...acceptedWithin(learnt, priceMinor),
				from: learnt.from
			}));
	return {
		priceMinor,
		step: quotedMinor === null ? stepView(quote, role) : null,
		usualPriceMinor: quote.usualPriceMinor,
		unpriced: priceMinor === null ? (quote.reasons[0] ?? null) : null,
		ceilingMinor: quote.ceilingMinor,
		verdict: quote.verdict,
		minutes: job.minutes,
		chanceFixed: job.chanceFixed,
		from: job.from,
		acceptance,
		range: quote.range,
		options: quote.options.map((option) => optionView(option, quote, role)),
		drafts: seesCosts(role) ? drafts : drafts.map((draft) => ({ ...draft, profitMinor: null })),
		taxShare: policy.taxShare ?? 0,
		...(seesCosts(role) ? { costs: costView(quote, policy) } : {})
	};
}

function stepView({ proposal, acceptance }: Quote, role: Role): PriceView['step'] {
	const step = proposal?.step;
	if (!step || !acceptance) return null;
	return {
		priceMinor: step.priceMinor,
		...acceptedWithin(acceptance, step.priceMinor),
		...(seesCosts(role) ? { gainMinor: step.gainMinor } : {})
	};
}

function optionView(option: Option, { acceptance }: Quote, role: Role): OptionView {
	if (option.kind !== 'repair') return { kind: option.kind };
	const { job, label, operations } = option;
	const price = option.price.proposal ?? option.price;
	return {
		kind: option.kind,
		label,
		operations,
		priceMinor: price.priceMinor,
		minutes: job.minutes.p50,
		chanceFixed: job.chanceFixed,
		comebackChance: job.comebackChance,
		accepted: acceptance && chanceAccepted(acceptance, price.priceMinor),
		...(seesCosts(role) ? { profitMinor: price.expectedProfitMinor } : {})
	};
}

function costView(quote: Quote, policy: PricePolicy): NonNullable<PriceView['costs']> {
	const { job } = quote;
	const fixed = Float64Array.from(
		job.draws.filter(({ fixed }) => fixed).map(({ costMinor }) => costMinor)
	).sort();
	const { feeMinor } = policy;
	const netFee = netOf(policy, feeMinor);
	const lost = job.draws.filter(({ fixed: isFixed, costMinor }) => !isFixed && costMinor > netFee);
	return {
		feeMinor,
		unfixedLoses: lost.length / Math.max(1, job.draws.length),
		floorMinor: quote.floorMinor,
		meanMinor: job.costMinor.mean,
		comebackChance: job.comebackChance,
		comebackCostMinor: job.comebackCostMinor,
		p10: job.costMinor.p10,
		p50: job.costMinor.p50,
		p90: job.costMinor.p90,
		fixedCostQuantiles:
			fixed.length === 0
				? []
				: Array.from({ length: 61 }, (_, i) => Math.round(quantileSorted(fixed, i / 60))),
		reasons: quote.reasons
	};
}
