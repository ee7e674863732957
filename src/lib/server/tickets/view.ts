import { gateStates, type GateState } from '$lib/core/bench/gates';
import type { Catalog, Connector } from '$lib/core/catalog/catalog';
import { evidenceWords } from '$lib/core/diagnosis/evidence';
import type { Odds } from '$lib/core/diagnosis/odds';
import type { Quote } from '$lib/core/quoting/quote';
import { acceptanceChance, type LearnedAnswers } from '$lib/core/quoting/acceptance';
import type { PlugContext } from '$lib/core/charging/judge-plug-in';
import { walkPath, type PathFinding, type PathNode } from '$lib/core/charging/power-path';
import { boardsForSteadyTolerance, type Expected, type TakenWith } from '$lib/core/readings/expected';
import type { InstrumentInfo } from '$lib/core/readings/instrument';
import { MODES } from '$lib/core/readings/reference';
import { quantileSorted } from '$lib/core/statistics/quantile';
import { ticketTrail, type TrailEntry } from '$lib/core/tickets/trail';
import { plugContextOf } from '$lib/core/tickets/plug-context';
import { beforeRepair, type Ticket } from '$lib/core/tickets/ticket-record';
import { seesCosts, type Role } from '$lib/core/units/role';
import type { Database } from '../database/connection';
import { advise, type Advice } from '../diagnosis/advice';
import { shopMemory, type ShopMemory } from '../diagnosis/shop-memory';
import { instrumentInfos } from '../instruments/instruments';
import { earlierVisits, findTicket, type EarlierVisit } from './queries';
import { planView, type PlanView } from './plan-view';
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
		/** chance on this model before any evidence; its odds times all factors are the odds */
		usual: number;
		reasons: { words: string; factor: number }[];
	}[];
	pairs: { labels: string[]; probability: number }[];
	none: number;
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
	/** what plug-in readings are judged with */
	plug: PlugContext;
	/** by contact and mode ("A4 diode"), for the meter and board of the last reading; judged on the screen as it is typed */
	expected: Record<string, Expected>;
	/** meters and board revisions that the shop has read this model with */
	meters: string[];
	boards: string[];
	/** boards that it takes until more of them hardly narrow the tolerance */
	steadyFrom: number;
	/** the charging path with what was measured on this side of the repair; null where the model names none */
	path: { nodes: PathNode[]; measured: Record<string, number>; finding: PathFinding } | null;
	/** what the model should lose while it is used, per cent an hour; null where it says nothing */
	drainPerHour: number | null;
	instruments: InstrumentInfo[];
	trail: TrailEntry[];
	odds: OddsView;
	plan: PlanView;
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
	const visits = await earlierVisits(db, {
		number,
		serial: ticket.serial,
		customer: ticket.customer?.name ?? null,
		model: ticket.model
	});
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
		plug: plugContextOf(ticket, catalog),
		expected: expectedByContact(memory, ticket.model, takenWith(ticket)),
		...readWith(memory, ticket),
		steadyFrom: STEADY_FROM,
		path: pathView(ticket, model?.path, advice.inference.odds),
		drainPerHour: model?.drain?.percent_per_hour ?? null,
		instruments: instrumentInfos(),
		trail: ticketTrail(ticket, catalog),
		odds: oddsView(advice.inference.odds, catalog),
		plan: planView(advice, catalog, role),
		price: priceView(advice, memory.past.answers, role),
		gates: gateStates(ticket, catalog),
		visits,
		now
	};
}

const STEADY_FROM = boardsForSteadyTolerance();

/** How the last contact was read: the next one is taken the same way. */
function takenWith({ readings }: Ticket): TakenWith {
	const { meter, board } = readings.at(-1) ?? {};
	return { meter, board };
}

/** What each contact of a model should read, by contact and mode. */
export function expectedByContact(
	{ catalog, shelf }: ShopMemory,
	model: string,
	taken: TakenWith
): Record<string, Expected> {
	const connector = catalog.connectors.get(catalog.models.get(model)?.connector ?? '');
	const book = shelf.book(model);
	const expected: Record<string, Expected> = {};
	for (const { pin } of connector?.pins ?? []) {
		for (const mode of MODES) {
			const found = book.expected(pin, mode, taken);
			if (found) expected[`${pin} ${mode}`] = found;
		}
	}
	return expected;
}

function readWith(
	{ shelf }: ShopMemory,
	{ model, readings }: Ticket
): { meters: string[]; boards: string[] } {
	const references = (shelf.byModel.get(model) ?? []).map(({ reference }) => reference);
	const names = (all: (string | undefined)[]) =>
		[...new Set(all.filter((name) => name !== undefined))].sort();
	return {
		meters: names([...references, ...readings].map(({ meter }) => meter)),
		boards: names([...references, ...readings].map(({ board }) => board))
	};
}

/** The path with its readings of the latest stage, weighted by what the odds make of the faults on its way. */
function pathView(
	{ path, attempts }: Ticket,
	nodes: readonly PathNode[] | undefined,
	odds: Odds
): TicketView['path'] {
	if (!nodes || nodes.length === 0) return null;
	const late = attempts.length > 0;
	const measured = new Map(
		path.filter(({ stage }) => beforeRepair(stage) !== late).map(({ node, volts }) => [node, volts])
	);
	const chance = new Map(odds.faults.map(({ code, probability }) => [code, probability]));
	const weight = ({ faults = [] }: PathNode) =>
		0.02 + faults.reduce((sum, fault) => sum + (chance.get(fault) ?? 0), 0);
	return {
		nodes: [...nodes],
		measured: Object.fromEntries(measured),
		finding: walkPath(nodes, measured, weight)
	};
}

const SHOWN_FAULTS = 6;

function oddsView(odds: Odds, catalog: Catalog): OddsView {
	return {
		learnedFrom: odds.learnedFrom,
		fromModel: odds.fromModel,
		none: odds.none,
		faults: odds.faults.slice(0, SHOWN_FAULTS).map(({ reasons, ...fault }) => ({
			...fault,
			reasons: reasons.map(({ evidence, factor }) => ({ words: evidenceWords(catalog, evidence), factor }))
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

function priceView({ quote }: Advice, answers: LearnedAnswers, role: Role): PriceView {
	const { job } = quote;
	// of what every role sees alone: a scale that ended at the cost would tell it
	const top = Math.max(quote.ceilingMinor ?? 0, 2 * quote.priceMinor, 100) * 1.25;
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
