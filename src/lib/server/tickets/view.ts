import type { Catalog } from '$lib/core/catalog/catalog';
import type { Short } from '../stock/take-from-shelf';
import { gateStates, type GateState } from '$lib/core/bench/gates';
import type { Connector, Model } from '$lib/core/catalog/catalog';
import type { PlugContext } from '$lib/core/charging/judge-plug-in';
import { boardsForSteadyTolerance, type Expected, type TakenWith } from '$lib/core/readings/expected';
import type { InstrumentInfo } from '$lib/core/readings/instrument';
import { sliceBetween, spliceBetween, type Splice, type TicketSlice } from '$lib/core/tickets/slices';
import type { TicketChange } from '$lib/core/tickets/ticket-change';
import { ticketTrail, type TrailEntry } from '$lib/core/tickets/trail';
import { batteryOfLook } from '$lib/core/charging/battery-of-look';
import { plugContext } from '$lib/core/charging/judge-plug-in';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { seesCosts, type Role } from '$lib/core/units/role';
import type { Database } from '../database/connection';
import { advise, adviseSteps } from '../diagnosis/advice';
import { fittedMemory, type ShopMemory } from '../memory/shop-memory';
import { instrumentInfos } from '../instruments/instruments';
import { oddsView, type OddsView } from '$lib/core/diagnosis/infer/odds-view';
import { pathView, type PathView } from '$lib/core/diagnosis/infer/path-view';
import { priceView, type PriceView } from '$lib/core/quoting/price-view';
import { expectedByPlace, probedPlaces, readWith } from '$lib/core/readings/expected-by-place';
import { firstJobOf, type FirstJob } from './first-job';
import { comebacksOf, earlierVisits, findTicket, type EarlierVisit } from './queries';
import { planView, type PlanView } from '$lib/core/diagnosis/plan/plan-view';
import { stageOfRun } from '$lib/core/tickets/port-off-step';
import { PORT_OFF } from '$lib/core/units/stage';
import type { StoredTicket } from './rows';
import { withoutCosts } from './without-costs';

export interface TicketView {
	/** what the last change met that somebody should know at once */
	notice?: string | null;
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
	path: PathView | null;
	/** what the model should lose while it is used, per cent an hour; null where it says nothing */
	drainPerHour: number | null;
	instruments: InstrumentInfo[];
	trail: TrailEntry[];
	odds: OddsView;
	plan: PlanView;
	price: PriceView;
	gates: GateState[];
	/** tickets on which the device came back from this one, in the order of their opening */
	comebacks: { number: string; cause: string | null }[];
	/** of the customer's own page here; null for who does not see it */
	customerId: number | null;
	/** the job that it comes back from */
	first: FirstJob | null;
	/** what hands should know of the model: notes, what its flex carries, its map of screws */
	about: Pick<Model, 'notes' | 'carries' | 'screws' | 'points' | 'pictures'>;
	/** operations that take the old port off */
	takesOff: readonly string[];
	/** of what is entered now, where the procedure that is followed says so */
	stageOfRun: 'port-off' | null;
	/** seconds of heat that the board had on earlier tickets */
	heatBefore: number;
	/** gates that an operation undoes, where it names them */
	undoes: Readonly<Record<string, readonly string[]>>;
	visits: Omit<EarlierVisit, 'ticket'>[];
	/** closed tickets that came in and are still being learnt from */
	behind: number;
	now: number;
}

/** What a change made of what a ticket's screen shows; price and further plan are asked for when the hand rests. */
export interface ViewSlices {
	/** of the ticket after the change; it fits the view of the version before */
	version: number;
	ticket: TicketSlice;
	trail: Splice<TrailEntry> | null;
	odds: OddsView;
	plan: PlanView;
	behind: number;
	now: number;
	/** what changed of the rest of the view */
	beside: Partial<Omit<TicketView, 'ticket' | 'version' | 'trail' | 'odds' | 'plan' | 'behind' | 'now'>>;
}

/** What a view draws from the ticket itself, its model and what is known good: judged without the odds. */
function plainView(memory: ShopMemory, ticket: Ticket) {
	const { catalog, shelf } = memory;
	const model = catalog.models.get(ticket.model);
	const connector = catalog.connectors.get(model?.connector ?? '') ?? null;
	const references = (shelf.byModel.get(ticket.model) ?? []).map(({ reference }) => reference);
	return {
		modelLabel: model?.label ?? ticket.model,
		connector,
		plug: plugContext(catalog, ticket.model, batteryOfLook(ticket.battery)),
		expected: expectedByPlace(shelf.book(ticket.model), probedPlaces(connector, model), takenWith(ticket)),
		...readWith(references, ticket.readings),
		about: {
			...(model?.notes ? { notes: model.notes } : {}),
			...(model?.carries ? { carries: model.carries } : {}),
			...(model?.screws ? { screws: model.screws } : {}),
			...(model?.points ? { points: model.points } : {}),
			...(model?.pictures ? { pictures: model.pictures } : {})
		},
		takesOff: [...catalog.operations.values()].flatMap(({ code, opens }) =>
			opens?.includes(PORT_OFF) ? [code] : []
		),
		stageOfRun: stageOfRun(ticket, catalog),
		drainPerHour: model?.drain?.percent_per_hour ?? null,
		gates: gateStates(ticket, catalog),
		undoes: Object.fromEntries(
			[...catalog.operations.values()].flatMap(({ code, undoes }) => (undoes ? [[code, undoes]] : []))
		)
	};
}

const nodesOf = ({ catalog }: ShopMemory, { model }: Ticket) => catalog.models.get(model)?.path;

/** All that the ticket's screen shows, for one role. Costs are left out here, not in the screen. */
export async function ticketView(
	db: Database,
	number: string,
	role: Role,
	now: number
): Promise<TicketView | null> {
	const [memory, stored] = await Promise.all([fittedMemory(db), findTicket(db, number)]);
	if (!stored) return null;
	const { ticket } = stored;
	const { catalog } = memory;
	const visits = await earlierVisits(db, {
		number,
		serial: ticket.serial,
		customer: ticket.customer?.name ?? null,
		model: ticket.model
	});
	const labelled = await comebacksOf(db, number);
	const comebacks = labelled.map(({ number, cause }) => ({
		number,
		cause: cause === null ? null : (catalog.records.cause.get(cause)?.label ?? cause)
	}));
	const first = await firstJobOf(db, ticket, catalog);
	const advice = advise(memory, ticket, { faults: ticket.faults, askedMinor: ticket.quotedMinor });
	return {
		...plainView(memory, ticket),
		ticket: withoutCosts(ticket, role),
		version: stored.version,
		hasPasscode: stored.hasPasscode,
		steadyFrom: STEADY_FROM,
		path: pathView(ticket, nodesOf(memory, ticket), advice.inference),
		instruments: instrumentInfos(),
		comebacks,
		customerId: role === 'technician' ? null : stored.customerId,
		first,
		heatBefore: visits.reduce((sum, { heatSeconds }) => sum + heatSeconds, 0),
		trail: ticketTrail(ticket, catalog),
		odds: oddsView(advice.inference.odds, catalog),
		plan: planView(advice, catalog, seesCosts(role)),
		price: priceView(advice.quote, role, catalog, ticket),
		visits: visits.map(({ ticket: _, ...visit }) => visit),
		behind: memory.behind,
		now
	};
}

/** The price panel of a ticket as it stands. */
export async function ticketPrice(
	db: Database,
	number: string,
	role: Role
): Promise<{ version: number; price: PriceView } | null> {
	const [memory, stored] = await Promise.all([fittedMemory(db), findTicket(db, number)]);
	return stored && { version: stored.version, price: priceOf(memory, stored.ticket, role) };
}

/** The odds of a ticket as it stands, with every reason. */
export async function ticketReasons(
	db: Database,
	number: string
): Promise<{ version: number; odds: OddsView } | null> {
	const [memory, stored] = await Promise.all([fittedMemory(db), findTicket(db, number)]);
	if (!stored) return null;
	const { inference } = adviseSteps(memory, stored.ticket, NO_STEPS);
	return { version: stored.version, odds: oddsView(inference.odds, memory.catalog) };
}

const NO_STEPS = { depth: 0, firsts: 0, thinkMs: 0 };

const priceOf = (memory: ShopMemory, ticket: Ticket, role: Role) =>
	priceView(
		advise(memory, ticket, { faults: ticket.faults, askedMinor: ticket.quotedMinor }).quote,
		role,
		memory.catalog,
		ticket
	);

/** Changes that are about the price: it comes with their answer. */
const OF_PRICE: ReadonlySet<TicketChange['verb']> = new Set([
	'quote',
	'offer',
	'answer',
	'close',
	'reopen',
	'close-again'
]);

/** What a change made of the view, without reading anything of the ticket again. */
const shortWords = (short: readonly Short[], { parts }: Pick<Catalog, 'parts'>): string | null =>
	short.length === 0
		? null
		: `The shelf is short: ${short
				.map(({ sku, quantity }) => `${quantity} × ${parts.get(sku)?.label ?? sku}`)
				.join(', ')} not on it. Count the shelf, or take another part.`;

export async function viewSlices(
	db: Database,
	{ previous, stored, short }: { previous: Ticket; stored: StoredTicket; short: readonly Short[] },
	verb: TicketChange['verb'],
	role: Role,
	now: number
): Promise<ViewSlices> {
	const memory = await fittedMemory(db);
	const { catalog } = memory;
	const { ticket, version, hasPasscode } = stored;
	const { inference, plan } = adviseSteps(memory, ticket);
	const [earlier, current] = [plainView(memory, previous), plainView(memory, ticket)];
	const extras: Record<string, unknown> = { hasPasscode, notice: shortWords(short, catalog) };
	for (const key of Object.keys(current) as (keyof typeof current)[]) {
		if (JSON.stringify(earlier[key]) !== JSON.stringify(current[key])) extras[key] = current[key];
	}
	const nodes = nodesOf(memory, ticket);
	// where on the path it breaks is told by the odds
	if (nodes) extras.path = pathView(ticket, nodes, inference);
	if (OF_PRICE.has(verb)) extras.price = priceOf(memory, ticket, role);
	return {
		version,
		ticket: sliceBetween(withoutCosts(previous, role), withoutCosts(ticket, role)),
		trail: spliceBetween(ticketTrail(previous, catalog), ticketTrail(ticket, catalog)),
		odds: oddsView(inference.odds, catalog, false),
		plan: withoutOutcomes(planView(plan, catalog, seesCosts(role))),
		behind: memory.behind,
		now,
		beside: extras
	};
}

/** The first step and the schools in their words; what each answer would change comes with the further plan. */
function withoutOutcomes({ steps, schools, ...plan }: PlanView): PlanView {
	const bare = (step: PlanView['steps'][number]) => ({ ...step, outcomes: [] });
	return {
		...plan,
		steps: steps.map(bare),
		schools: schools && { measure: bare(schools.measure), swap: bare(schools.swap) }
	};
}

const STEADY_FROM = boardsForSteadyTolerance();

/** How the last contact was read: the next one is taken the same way. */
function takenWith({ readings }: Ticket): TakenWith {
	const { meter, board } = readings.at(-1) ?? {};
	return { meter, board };
}
