import { gateStates, type GateState } from '$lib/core/bench/gates';
import type { Catalog, Connector } from '$lib/core/catalog/catalog';
import { evidenceWords } from '$lib/core/diagnosis/evidence';
import type { Step } from '$lib/core/diagnosis/next-step';
import type { Odds } from '$lib/core/diagnosis/odds';
import type { Quote } from '$lib/core/quoting/quote';
import { acceptanceChance, type LearnedAnswers } from '$lib/core/quoting/acceptance';
import { compareReadings, type Finding } from '$lib/core/readings/compare';
import { expectedReading, type Expected } from '$lib/core/readings/verdict';
import type { ReferenceRecord } from '$lib/core/readings/reference';
import { quantileSorted } from '$lib/core/statistics/quantile';
import { ticketTrail, type TrailEntry } from '$lib/core/tickets/trail';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { seesCosts, type Role } from '$lib/core/units/role';
import type { Database } from '../database/connection';
import { advise, type Advice } from '../diagnosis/advice';
import { shopMemory } from '../diagnosis/shop-memory';
import { earlierVisits, findTicket, type EarlierVisit } from './queries';
import { withoutCosts } from './without-costs';

export interface OddsView {
	learnedFrom: number;
	fromModel: number;
	faults: {
		code: string;
		label: string;
		probability: number;
		low: number;
		high: number;
		from: number;
		reasons: { words: string; factor: number }[];
	}[];
	pairs: { labels: string[]; probability: number }[];
	none: number;
}

export interface StepView {
	kind: Step['kind'];
	code: string;
	label: string;
	minutes: number;
	why: string;
	caution: string | null;
	/** near tie with the best: within a twentieth of its cost */
	tie: boolean;
	/** manager only */
	costMinor?: number;
}

export interface PriceView {
	priceMinor: number;
	ceilingMinor: number | null;
	verdict: Quote['verdict'];
	minutes: Quote['job']['minutes'];
	chanceFixed: number;
	from: number;
	/** chance of acceptance at some prices, to be read between; empty with too few answered quotes */
	acceptance: { priceMinor: number; chance: number; low: number; high: number; from: number }[];
	/** manager only */
	costs?: {
		floorMinor: number;
		meanMinor: number;
		comebackChance: number;
		comebackFrom: number;
		p10: number;
		p50: number;
		p90: number;
		/** 61 quantiles of the cost of jobs that end fixed, evenly from 0 to 1 */
		fixedCostQuantiles: number[];
		reasons: string[];
	};
}

export interface TicketView {
	ticket: Ticket;
	version: number;
	modelLabel: string;
	hasPasscode: boolean;
	connector: Connector | null;
	healthyAmps: number | null;
	batteryCells: number;
	expected: Record<string, Expected>;
	/** what the readings say by themselves; each reading is judged on the screen as it is typed */
	findings: Finding[];
	trail: TrailEntry[];
	odds: OddsView;
	next: StepView[];
	price: PriceView;
	gates: GateState[];
	visits: EarlierVisit[];
	now: number;
}

/** All that the ticket's screen shows, for one role. Costs are left out here, not in the screen. */
export async function ticketView(
	db: Database,
	number: string,
	role: Role,
	now: number
): Promise<TicketView | null> {
	const [memory, stored] = await Promise.all([shopMemory(db), findTicket(db, number)]);
	if (!stored) return null;
	const { ticket } = stored;
	const { catalog } = memory;
	const model = catalog.models.get(ticket.model);
	const connector = catalog.connectors.get(model?.connector ?? '') ?? null;
	const [references, visits] = await Promise.all([
		memory.references(ticket.model),
		earlierVisits(db, {
			number,
			serial: ticket.serial,
			customer: ticket.customer?.name ?? null,
			model: ticket.model
		})
	]);
	const advice = advise(memory, ticket, {
		faults: ticket.faults,
		askedMinor: ticket.quotedMinor
	});
	return {
		ticket: withoutCosts(ticket, role),
		version: stored.version,
		modelLabel: model?.label ?? ticket.model,
		hasPasscode: stored.hasPasscode,
		connector,
		healthyAmps: model?.charge?.amps ?? null,
		batteryCells: model?.battery?.cells ?? 1,
		expected: connector ? expectedByPin(connector, references) : {},
		findings: connector ? compareReadings(connector, stageReadings(ticket), references).findings : [],
		trail: ticketTrail(ticket, catalog),
		odds: oddsView(advice.inference.odds, catalog),
		next: stepViews(advice.next, role),
		price: priceView(advice, memory.past.answers, role),
		gates: gateStates(ticket, catalog),
		visits,
		now
	};
}

/** The readings of the latest stage that has any: after a repair the board is judged anew. */
function stageReadings({ readings }: Ticket): Ticket['readings'] {
	const last = readings.at(-1)?.stage;
	return readings.filter(({ stage }) => stage === last);
}

function expectedByPin(
	connector: Connector,
	references: readonly ReferenceRecord[]
): Record<string, Expected> {
	const expected: Record<string, Expected> = {};
	for (const { pin } of connector.pins) {
		const own = references.filter((reference) => reference.pin === pin && reference.mode === 'diode');
		const found = expectedReading(own);
		if (found) expected[pin] = found;
	}
	return expected;
}

const SHOWN_FAULTS = 6;
const SHOWN_REASONS = 4;

function oddsView(odds: Odds, catalog: Catalog): OddsView {
	return {
		learnedFrom: odds.learnedFrom,
		fromModel: odds.fromModel,
		none: odds.none,
		faults: odds.faults.slice(0, SHOWN_FAULTS).map(({ reasons, ...fault }) => ({
			...fault,
			reasons: reasons.slice(0, SHOWN_REASONS).map(({ evidence, factor }) => ({
				words: evidenceWords(catalog, evidence),
				factor
			}))
		})),
		pairs: odds.sets
			.filter(({ faults, probability }) => faults.length > 1 && probability >= 0.02)
			.slice(0, 2)
			.map(({ faults, probability }) => ({
				labels: faults.map((fault) => catalog.faults.get(fault)?.label ?? fault),
				probability
			}))
	};
}

function stepViews(next: readonly Step[], role: Role): StepView[] {
	const best = next[0]?.expectedCostMinor ?? 0;
	return next.slice(0, 4).map((step, i) => ({
		kind: step.kind,
		code: step.code,
		label: step.label,
		minutes: step.expectedMinutes,
		why: step.why,
		caution: step.caution,
		tie: i > 0 && step.expectedCostMinor <= best * 1.05,
		...(seesCosts(role) ? { costMinor: Math.round(step.expectedCostMinor) } : {})
	}));
}

function priceView({ quote }: Advice, answers: LearnedAnswers, role: Role): PriceView {
	const { job } = quote;
	const top = Math.max(quote.ceilingMinor ?? 0, quote.priceMinor, job.costMinor.p90) * 1.25;
	const acceptance = Array.from({ length: 13 }, (_, i) => (top * (i + 1)) / 13).flatMap((priceMinor) => {
		const chance = acceptanceChance(priceMinor, quote.ceilingMinor, answers);
		return chance ? [{ priceMinor: Math.round(priceMinor), ...chance }] : [];
	});
	return {
		priceMinor: quote.priceMinor,
		ceilingMinor: quote.ceilingMinor,
		verdict: quote.verdict,
		minutes: job.minutes,
		chanceFixed: job.chanceFixed,
		from: job.from,
		acceptance,
		...(seesCosts(role) ? { costs: costView(quote) } : {})
	};
}

function costView(quote: Quote): NonNullable<PriceView['costs']> {
	const { job } = quote;
	const fixed = Float64Array.from(
		job.draws.filter(({ fixed }) => fixed).map(({ costMinor }) => costMinor)
	).sort();
	return {
		floorMinor: quote.floorMinor,
		meanMinor: job.costMinor.mean,
		comebackChance: quote.comebackChance,
		comebackFrom: quote.comebackFrom,
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
