import type { z } from 'zod';
import { SUPPLY_WORDS, type judgeSupplies } from '$lib/core/charging/judge-supply';
import type { CurrentFinding } from '$lib/core/charging/judge-current';
import type { PlugVerdict } from '$lib/core/charging/judge-plug-in';
import type { SoakFinding } from '$lib/core/charging/soak';
import type { InterpretedLog } from '$lib/core/charging/interpret-log';
import type {
	comebacksAnswer,
	compareAnswer,
	judgeAnswer,
	oddsAnswer,
	quoteAnswer,
	shelfAnswer,
	traceAnswer
} from '$lib/core/exchange/api-schemas';
import type { Comparison } from '$lib/core/readings/compare';
import type { Odds } from '$lib/core/diagnosis/infer/odds';
import type { Spread } from '$lib/core/quoting/job-cost';
import { chanceAccepted } from '$lib/core/quoting/acceptance';
import type { PriceJudgement } from '$lib/core/quoting/price';
import type { Option, Quote } from '$lib/core/quoting/quote';
import { STEP_CAUTIONS } from '$lib/core/diagnosis/plan/advice-rules';
import type { Plan } from '$lib/core/diagnosis/plan/plan-view';
import type { ShelfPart } from '$lib/core/stock/shelf';
import { formatInstant } from '$lib/core/units/instant';
import { fromMinor, type Minor } from '$lib/core/units/money';
import type { Comebacks } from '../returns/comebacks';
import { seesCosts, type Role } from '$lib/core/units/role';

const money = (minor: number) => fromMinor(Math.round(minor));

export function toOddsAnswer(
	odds: Odds,
	{ next }: Plan,
	role: Role,
	{ measures }: { measures: boolean }
): z.output<typeof oddsAnswer> {
	return {
		learned_from: odds.learnedFrom,
		learned_from_model: odds.fromModel,
		faults: odds.faults,
		sets: odds.sets,
		none: odds.none,
		unseen: odds.unseen,
		next: next.flatMap(({ kind, code, expectedCostMinor, expectedMinutes, why: reason, cautions }) => {
			if (kind === 'measure' && !measures) return [];
			const cost = seesCosts(role) ? { expected_cost: money(expectedCostMinor) } : {};
			const told = cautions.map((caution) => ({ code: caution, text: STEP_CAUTIONS[caution] }));
			return [
				{
					kind,
					code,
					...cost,
					expected_minutes: expectedMinutes,
					why: reason,
					...(told.length > 0 ? { cautions: told } : {})
				}
			];
		})
	};
}

export function toShelfAnswer(
	parts: readonly ShelfPart[],
	asOf: number,
	service: number,
	role: Role
): z.output<typeof shelfAnswer> {
	const sees = seesCosts(role);
	return {
		as_of: formatInstant(asOf),
		service,
		parts: parts.map((part) => ({
			sku: part.sku,
			on_hand: part.onHand,
			reserved: part.reserved,
			on_order: part.onOrder,
			short: part.short,
			...(sees ? { value: money(part.valueMinor) } : {}),
			per_week: {
				mean: part.perWeek.mean,
				low: part.perWeek.low,
				high: part.perWeek.high,
				from_weeks: part.perWeek.fromWeeks
			},
			lead_days: { mean: part.lead.mean, from: part.lead.from },
			reorder_at: part.reorderAt,
			order_quantity: part.orderQuantity,
			fill: part.fill,
			lots: part.lots.map(({ lot, onHand, unitMinor }) => ({
				lot,
				on_hand: onHand,
				...(sees ? { unit_cost: money(unitMinor) } : {})
			}))
		}))
	};
}

const orNothing = (minor: Minor | null) => (minor === null ? null : money(minor));

/** What a job at a price comes to: the same figures for the quote and for each way to do it. */
function pricedFigures({ job, price, acceptance }: Priced, role: Role) {
	const costs = {
		cost: inMoney(job.costMinor),
		floor: orNothing(price.floorMinor),
		expected_profit: money(price.expectedProfitMinor),
		chance_of_loss: price.chanceOfLoss
	};
	return {
		minutes: job.minutes,
		chance_fixed: job.chanceFixed,
		comeback_chance: job.comebackChance,
		price: orNothing(price.priceMinor),
		chance_accepted:
			acceptance && price.priceMinor !== null ? chanceAccepted(acceptance, price.priceMinor) : null,
		...(seesCosts(role) ? costs : {})
	};
}
interface Priced {
	job: Quote['job'];
	price: PriceJudgement;
	acceptance: Quote['acceptance'];
}

export function toQuoteAnswer(quote: Quote, role: Role): z.output<typeof quoteAnswer> {
	const { job, acceptance } = quote;
	return {
		...pricedFigures({ job, price: quote, acceptance }, role),
		usual_price: orNothing(quote.usualPriceMinor),
		range: quote.range && {
			low: money(quote.range.lowMinor),
			high: money(quote.range.highMinor),
			from: quote.range.from
		},
		ceiling: orNothing(quote.ceilingMinor),
		from: job.from,
		from_walks: job.fromWalks,
		verdict: quote.verdict,
		options: quote.options.map((option) => toOption(option, acceptance, role)),
		reasons: seesCosts(role) ? quote.reasons : []
	};
}

const NOTHING: Spread = { p10: 0, p50: 0, p90: 0, mean: 0 };

function toOption(
	option: Option,
	acceptance: Quote['acceptance'],
	role: Role
): z.output<typeof quoteAnswer>['options'][number] {
	if (option.kind === 'repair') {
		const { operations, label, job, price } = option;
		return { operations, label, ...pricedFigures({ job, price, acceptance }, role) };
	}
	const costs = {
		floor: null,
		cost: NOTHING,
		expected_profit: option.kind === 'decline' ? 0 : null,
		chance_of_loss: null
	};
	return {
		operations: [],
		label: option.kind,
		price: null,
		chance_fixed: 0,
		comeback_chance: 0,
		minutes: NOTHING,
		chance_accepted: null,
		...(seesCosts(role) ? costs : {})
	};
}

function inMoney({ p10, p50, p90, mean }: Spread): Spread {
	return { p10: money(p10), p50: money(p50), p90: money(p90), mean: money(mean) };
}

const plugWords = ({ kind, reason, open }: PlugVerdict) => ({ kind, text: reason, open });

const BOTH_SIDES = {
	kind: 'both-sides' as const,
	text: 'Both sides answer the supply: the port and its lines reach the board.',
	open: 'A device without a battery stops there. It is proved once it charges one.'
};

export function toJudgeAnswer(
	{ looks, together, battery, cautions }: CurrentFinding,
	soak: SoakFinding | null,
	supplies: ReturnType<typeof judgeSupplies>
): z.output<typeof judgeAnswer> {
	return {
		looks: looks.map(({ wait, ...verdict }, index) => ({
			index,
			...plugWords(verdict),
			...(wait ? { wait } : {})
		})),
		together: [...together.map(plugWords), ...(supplies.bothSides ? [BOTH_SIDES] : [])],
		...(supplies.looks.length > 0
			? {
					supply: supplies.looks.map(({ kind, good }, index) => ({
						index,
						kind,
						good,
						text: SUPPLY_WORDS[kind]
					}))
				}
			: {}),
		battery: battery && { state: battery.state, volts_per_cell: battery.cellVolts, text: battery.text },
		cautions,
		soak: soak && { verdict: soak.verdict, per_hour: soak.perHour }
	};
}

export function toCompareAnswer({ pins, nets, findings }: Comparison): z.output<typeof compareAnswer> {
	return {
		pins: pins.map(({ expected, ...pin }) => {
			if (!expected) return { ...pin, expected: null };
			const { scale: _, freedom: __, ...shown } = expected;
			return { ...pin, expected: shown };
		}),
		nets,
		findings
	};
}

const span = ({ fromSeconds, toSeconds }: { fromSeconds: number; toSeconds: number }) => ({
	from_seconds: fromSeconds,
	to_seconds: toSeconds
});

export function toTraceAnswer(log: InterpretedLog): z.output<typeof traceAnswer> {
	return {
		columns: log.columns,
		assumed: log.assumed,
		rows: { read: log.rows.read, rejected: log.rows.rejected, rejected_count: log.rows.rejectedCount },
		phases: log.phases.map(({ kind, volts, amps, ...phase }) => ({ kind, ...span(phase), volts, amps })),
		charge_mah: log.chargeMah,
		energy_mwh: log.energyMwh,
		gaps: log.gaps.map(span),
		path_ohms: log.path
	};
}

/** Comebacks as the contract writes them; numbers are not rounded. */
export const toComebacksAnswer = ({ asOf, rows, ...rest }: Comebacks): z.output<typeof comebacksAnswer> => ({
	...rest,
	as_of: formatInstant(asOf),
	rows: rows.map(({ alarm, ...row }) => ({
		...row,
		alarm: alarm && { at: formatInstant(alarm.at), ticket: alarm.ticket }
	}))
});
