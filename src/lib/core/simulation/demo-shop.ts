import type { Stage } from '../units/stage';
import { itemAt } from '../units/vector';
import { buildCatalog, type Catalog, type Model } from '../catalog/catalog';
import { openedTicket, ticketToRecord, type PlugIn, type Ticket } from '../tickets/ticket-record';
import { DAY_MS, MINUTE_MS, type Instant } from '../units/instant';
import { drawIndex, drawNormal, drawOne, seededRandom, type Random } from '../units/random';
import { DEMO_CATALOG } from './demo-catalog';
import { stockShelf } from './demo-shelf';
import { aroundTheClock, openingTimes, workingHours } from './demo-hours';
import { countFactor, latestCounts } from '../quoting/counts';
import { payDemo, quoteDemo, tornPads } from './demo-money';
import { dressedForTheBench, leaveHalfDone, onOpenDay } from './demo-bench';
import { drawCustomer } from './demo-people';
import {
	DEMO_TEMPLATES,
	followAWay,
	leaveAddresses,
	nameCauses,
	sharesOfComeback,
	troublesOf,
	troubleWith,
	whoGetsIt,
	type Troubles
} from './demo-returns';
import {
	cutsOff,
	drawPort,
	lookInto,
	mayShort,
	plugInAgain,
	proveCurrent,
	raiseContract,
	shortedBy,
	type PortState
} from './demo-eyes';
import { FAULT_TRUTHS } from './demo-faults';
import { drawOutcome, probePath, readPins } from './demo-measures';
import { simulateReferences } from './demo-references';
import {
	BACKGROUND_SIGNS,
	BACKGROUND_TESTS,
	OTHER_FAULTS,
	PORT_OFF_TESTS,
	SIGN_CARRIES,
	TELLING_SHARE,
	TEST_SHARES,
	USUAL_TEST_SHARE,
	type FaultTruth
} from './demo-world';

export interface SimulatedShop {
	/** the lines of an export: catalog, references, tickets */
	records: unknown[];
	tickets: Ticket[];
	/** what was really wrong, by ticket number, open tickets too */
	truth: Map<string, string[]>;
}

interface Simulation {
	random: Random;
	/** apart, so that what people say leaves all else of a seed as it is */
	talk: Random;
	/** apart too: what the lens shows, and what is seen after a repair that failed */
	eyes: Random;
	/** apart too: what is measured before sealing */
	proof: Random;
	/** apart too: how many pads are torn */
	pads: Random;
	catalog: Catalog;
	truth: Map<string, string[]>;
	troubles: Troubles | null;
	endsAt: Instant;
}

/**
 * A shop of `count` tickets over two years that ends at `endsAt`; the last days' tickets are still open.
 * The same seed and end give the same shop.
 */
export function simulateShop(options: {
	seed: number;
	endsAt: Instant;
	count: number;
	/** with a lot, a way of working and pads that come back */
	troubled?: boolean;
}): SimulatedShop {
	const { endsAt, count } = options;
	const simulation: Simulation = {
		random: seededRandom(options.seed),
		talk: seededRandom(options.seed + 1),
		eyes: seededRandom(options.seed + 2),
		proof: seededRandom(options.seed + 3),
		pads: seededRandom(options.seed + 5),
		catalog: buildCatalog(DEMO_CATALOG),
		truth: new Map(),
		troubles: options.troubled ? troublesOf(options.seed) : null,
		endsAt
	};
	const { random } = simulation;
	const opened = openingTimes(random, endsAt, count);
	const all: Ticket[] = [];
	const due: { at: Instant; first: Ticket }[] = [];
	opened.forEach((at, i) => {
		const number = `K-${String(i + 1).padStart(5, '0')}`;
		const returning = due.findIndex((comeback) => comeback.at <= at);
		const first = returning < 0 ? null : (due.splice(returning, 1)[0]?.first ?? null);
		const ticket = simulateTicket(simulation, number, at, first);
		all.push(ticket);
		const comes = first ? 0.02 : 0.055;
		if (ticket.outcome === 'fixed' && ticket.closedAt !== null && random() < comes) {
			due.push({ at: ticket.closedAt + (2 + 30 * random() ** 2) * DAY_MS, first: ticket });
		} else if (simulation.troubles) {
			const at = troubleWith(ticket, endsAt, simulation.troubles);
			if (at !== null) due.push({ at, first: ticket });
		}
	});
	const purse = seededRandom(options.seed + 6);
	for (const ticket of all) payDemo(purse, ticket, endsAt);
	const bench = seededRandom(options.seed + 7);
	const tickets = all.map((ticket) => dressedForTheBench(ticket, bench, endsAt));
	const references = simulateReferences(simulation);
	const { troubles } = simulation;
	const shelf = stockShelf(
		seededRandom(options.seed + 4),
		simulation.catalog,
		tickets,
		endsAt,
		troubles?.lot
	);
	const claims = troubles ? [...DEMO_TEMPLATES, ...nameCauses(tickets, troubles)] : [];
	if (troubles) leaveAddresses(tickets, troubles);
	return {
		records: [...DEMO_CATALOG, ...shelf, ...claims, ...references, ...tickets.map(ticketToRecord)],
		tickets,
		truth: simulation.truth
	};
}

function simulateTicket(
	simulation: Simulation,
	number: string,
	openedAt: Instant,
	first: Ticket | null
): Ticket {
	const { random, catalog } = simulation;
	const model = catalog.models.get(first?.model ?? drawOne(random, [...catalog.models.keys()])) as Model;
	const faults = first
		? faultsOfComeback(random, first, model, simulation.troubles)
		: drawFaults(random, model);
	simulation.truth.set(number, faults);
	const usualTruths = faults.map((fault) => FAULT_TRUTHS[fault] as FaultTruth);
	const port = drawPort(simulation.eyes, usualTruths);
	const truths = shortedBy(simulation.eyes, usualTruths, port);
	const daysOpen = 0.4 + 4 * random() ** 2;
	const ticket: Ticket = {
		...openedTicket(number, openedAt, model.code),
		promisedAt: onOpenDay(
			roundToHalfHour(workingHours(aroundTheClock(openedAt) + (daysOpen - 0.1 + random()) * DAY_MS))
		),
		serial:
			first?.serial ?? `${model.code.slice(0, 2).toUpperCase()}-${Math.floor(10_000 + random() * 89_999)}`,
		customer: first?.customer ?? drawCustomer(random),
		matters: random() < 0.12 ? 'data' : 'device',
		signs: drawSigns(random, truths, model),
		comebackOf: first?.number ?? null
	};
	claim(simulation, ticket, faults);
	const closesAt = workingHours(aroundTheClock(openedAt) + daysOpen * DAY_MS);
	progress(simulation, ticket, model, { faults, truths, port }, closesAt);
	if (simulation.troubles && ticket.closedAt !== null)
		followAWay(ticket, simulation.endsAt, simulation.troubles);
	return ticket;
}

const roundToHalfHour = (at: Instant) => Math.round(at / (30 * MINUTE_MS)) * 30 * MINUTE_MS;

/** What comes back: what was done before is looked for first; else a device with a fault of its own. */
function faultsOfComeback(random: Random, first: Ticket, model: Model, troubles: Troubles | null): string[] {
	const shares = sharesOfComeback(first, troubles);
	const codes = Object.keys(shares);
	const rest = 1 - Object.values(shares).reduce((sum, share) => sum + share, 0);
	const drawn = drawIndex(random, [...Object.values(shares), Math.max(0, rest)]);
	return codes[drawn] === undefined ? drawFaults(random, model) : [itemAt(codes, drawn)];
}

function drawFaults(random: Random, model: Model): string[] {
	if (random() < 0.03) return [];
	const codes = Object.keys(FAULT_TRUTHS);
	const weights = codes.map((code) => {
		const truth = FAULT_TRUTHS[code] as FaultTruth;
		if (truth.carries !== undefined && !(model.carries ?? []).includes(truth.carries)) return 0;
		const onSuch = truth.portOn?.[model.port_on ?? 'board'] ?? 1;
		return truth.share * onSuch * (truth.families?.[model.family ?? ''] ?? 1);
	});
	const first = drawIndex(random, weights);
	if (random() > 0.11) return [itemAt(codes, first)];
	weights[first] = 0;
	return [itemAt(codes, first), itemAt(codes, drawIndex(random, weights))];
}

/** Each sign is asked four times of five; present by noisy-OR of the faults over the background. */
function drawSigns(
	random: Random,
	truths: readonly FaultTruth[],
	{ carries = [] }: Model
): Record<string, boolean> {
	const signs: Record<string, boolean> = {};
	for (const [sign, background] of Object.entries(BACKGROUND_SIGNS)) {
		const needs = SIGN_CARRIES[sign];
		if (random() < 0.25 || (needs !== undefined && !carries.includes(needs))) continue;
		const absent = truths.reduce(
			(chanceAbsent, { signs }) => chanceAbsent * (1 - (signs[sign] ?? 0)),
			1 - background
		);
		signs[sign] = random() > absent;
	}
	return signs;
}

interface HiddenDevice {
	faults: string[];
	truths: readonly FaultTruth[];
	port: PortState;
}

/** Carries a ticket on until it closes or the shop's last moment comes first. */
function progress(
	simulation: Simulation,
	ticket: Ticket,
	model: Model,
	device: HiddenDevice,
	closesAt: Instant
): void {
	const { random, endsAt } = simulation;
	const { faults } = device;
	const opened = aroundTheClock(ticket.openedAt);
	const bench = workingHours(opened + 0.35 * (aroundTheClock(closesAt) - opened));
	quoteDemo(simulation, ticket, faults, model);
	const soldering = faults.some((fault) => !/battery|debris|accessory|software|flex|coil|other$/.test(fault));
	const drawn = drawOne(random, soldering ? ['ines', 'tomasz', 'ines', 'tomasz'] : ['noor', 'bram']);
	const technician = simulation.troubles ? whoGetsIt(drawn, faults, simulation.troubles) : drawn;
	if (ticket.accepted === false) {
		if (closesAt < endsAt) close(ticket, closesAt, 'declined', null, 0);
		return;
	}
	if (bench > endsAt) {
		return;
	}
	ticket.assignedTo = technician;
	guess(simulation, ticket, faults, bench, technician);
	measure(simulation, ticket, model, device, bench, technician);
	if (closesAt > endsAt) {
		leaveHalfDone(random, ticket);
		return;
	}
	repair(simulation, ticket, model, device, technician, bench, closesAt);
}

/** Some trade customers know what they send, others say "the port" of everything. */
const CLAIMS_RIGHT: Record<string, number> = { 'Harbour Rentals': 0.8, 'Northpier Couriers': 0.6 };

function claim({ talk }: Simulation, ticket: Ticket, faults: string[]): void {
	if (ticket.customer?.kind !== 'trade' || talk() < 0.2) return;
	const right = talk() < (CLAIMS_RIGHT[ticket.customer.name] ?? 0.25);
	const fault = (right && faults[0]) || (talk() < 0.6 ? 'port-contacts' : 'battery-worn');
	ticket.opinions.push({ from: 'customer', fault, at: ticket.openedAt });
}

/** A technician's first guess on three tickets of five, right as often as experience has it. */
function guess({ talk }: Simulation, ticket: Ticket, faults: string[], at: Instant, author: string): void {
	if (talk() > 0.6) return;
	const right = talk() < ({ ines: 0.62, tomasz: 0.55, noor: 0.5, bram: 0.35 }[author] ?? 0.4);
	const codes = Object.keys(FAULT_TRUTHS).filter((code) => code !== 'other');
	const weights = codes.map((code) => FAULT_TRUTHS[code]?.share ?? 0);
	const fault = (right && faults[0]) || itemAt(codes, drawIndex(talk, weights));
	ticket.opinions.push({ from: 'technician', fault, at, by: author });
}

function measure(
	{ random, eyes, catalog }: Simulation,
	ticket: Ticket,
	model: Model,
	{ truths, port }: HiddenDevice,
	at: Instant,
	author: string
): void {
	const stamp = (minutes: number) => ({ at: Math.round(at / MINUTE_MS + minutes) * MINUTE_MS, by: author });
	lookInto(eyes, ticket, catalog.connectors.get(model.connector ?? ''), port, stamp(1));
	const plugs = !mayShort(ticket);
	const worst = [...truths].sort((a, b) => a.draw.centre - b.draw.centre)[0];
	const healthy = model.charge?.amps ?? 0.5;
	if (plugs && random() < 0.8) {
		const share = worst?.draw ?? { centre: 0.95, spread: 0.08 };
		const amps = (centre: number, spread: number) =>
			Math.max(0, Math.round(healthy * (centre + spread * drawNormal(random)) * 100) / 100);
		const volts = () => Math.round((5.07 + 0.03 * drawNormal(random)) * 100) / 100;
		const reading = (orientation: 'a' | 'b', amps: number, minutes: number): PlugIn => ({
			stage: 'intake',
			orientation,
			volts: volts(),
			amps,
			seconds: 20,
			...stamp(minutes)
		});
		const sideA = amps(share.centre, share.spread);
		const otherSide = worst?.draw.otherSide;
		const sideB = otherSide === undefined ? sideA : random() < 0.5 ? amps(otherSide, 0.1) : sideA;
		ticket.meter.push(reading('a', sideA, 2));
		if (model.connector !== 'micro-b') ticket.meter.push(reading('b', sideB, 3));
		ticket.meter = raiseContract(eyes, ticket.meter, model, truths);
	}
	if (random() < 0.55) {
		const lowest = [...truths].sort((a, b) => a.batteryVolts.centre - b.batteryVolts.centre)[0];
		const { centre, spread } = lowest?.batteryVolts ?? { centre: 3.8, spread: 0.1 };
		const drawn = Math.min(4.2, Math.max(0, centre + spread * drawNormal(random)));
		const volts = cutsOff(eyes, truths) ? 0.02 : drawn;
		ticket.battery.push({ stage: 'diagnosis', volts: Math.round(volts * 100) / 100, ...stamp(6) });
	}
	if (random() < 0.35) readPins(random, catalog, ticket, model, truths, stamp(10));
	if (random() < 0.2) probePath(random, ticket, model, truths, stamp(13));
	for (const { code: test, needs = [], carries } of catalog.tests.values()) {
		const usual = TEST_SHARES[test] ?? USUAL_TEST_SHARE;
		const made = truths.some(({ tests }) => tests[test]) ? Math.max(TELLING_SHARE, usual) : usual;
		if (!(test in BACKGROUND_TESTS) || needs.includes('port-off') || random() > made) continue;
		if (carries && !carries.some((word) => model.carries?.includes(word))) continue;
		if ((needs.includes('plugged') && !plugs) || !isThere(test, model)) continue;
		observe(random, ticket, test, truths, {
			stage: 'diagnosis',
			...stamp(15 + 2 * ticket.observations.length)
		});
	}
}

/** A flex is looked over where there is one, a display tried where one can be plugged in. */
function isThere(test: string, { port_on, carries = [] }: Model): boolean {
	if (test === 'flex-look') return port_on === 'flex';
	return test !== 'display-known-good' || carries.includes('picture');
}

function observe(
	random: Random,
	ticket: Ticket,
	test: string,
	truths: readonly FaultTruth[],
	stamp: { stage: Stage; at: Instant; by: string }
): void {
	ticket.observations.push({ test, outcome: drawOutcome(random, test, truths), ...stamp });
}

/** What mends a fault of such a device: one torn pad is bridged, more are rebuilt; a port on a flex often goes with it. */
function operationFor(fault: string, { port_on }: Model, pads: number, dice: Random): string {
	if (fault === 'torn-pads' && pads === 1) return 'jumper-track';
	if (fault === 'port-contacts' && port_on === 'flex' && dice() < 0.6) return 'fit-charge-flex';
	return FAULT_TRUTHS[fault]?.operation as string;
}

/** Work that begins with the old port off: then pads are counted and the supply is measured to ground again. */
const PORT_WORK: ReadonlySet<string> = new Set(['replace-port', 'rebuild-traces', 'jumper-track']);
const PORT_OFF_MINUTES = 18;

/** What the minutes of mending a fault depend on. */
const perOf = (catalog: Catalog, fault: string) =>
	catalog.operations.get(FAULT_TRUTHS[fault]?.operation ?? '')?.per?.count;

function repair(
	simulation: Simulation,
	ticket: Ticket,
	model: Model,
	{ faults, truths }: HiddenDevice,
	technician: string,
	bench: Instant,
	closesAt: Instant
): void {
	const { random, talk, eyes, proof, pads, catalog } = simulation;
	const per = new Set(faults.flatMap((fault) => perOf(catalog, fault) ?? []));
	for (const item of per)
		ticket.counts.push({ what: item, number: tornPads(pads), at: bench, by: technician });
	const counts = latestCounts(ticket.counts);
	let remaining = faults;
	const pace = { ines: 0.9, tomasz: 1.05, noor: 1.0, bram: 1.15 }[technician] ?? 1;
	const mended = new Map(
		faults.map((fault) => [fault, operationFor(fault, model, counts['pads'] ?? 0, pads)])
	);
	const operations = [...new Set(mended.values())];
	const wrongFirst = random() < 0.12 ? ['replace-port'] : [];
	let minute = 40;
	let fixed = true;
	let portOff = false;
	const attempt = (operation: string, resolved: boolean, dice = random, part = false) => {
		const record = catalog.operations.get(operation);
		const minutes = Math.max(
			3,
			Math.round(
				((record?.minutes ?? 30) - (portOff && operation === 'replace-port' ? PORT_OFF_MINUTES : 0)) *
					countFactor(catalog, operation, counts) *
					pace *
					Math.exp(0.35 * drawNormal(dice))
			)
		);
		minute += minutes;
		const at = Math.min(closesAt, Math.round(bench / MINUTE_MS + minute) * MINUTE_MS);
		ticket.attempts.push({
			operation,
			resolved,
			...(part ? { part } : {}),
			technician,
			minutes,
			at,
			by: technician
		});
		for (const { sku, quantity } of record?.parts ?? []) {
			ticket.parts.push({
				sku,
				quantity,
				unitCostMinor: catalog.parts.get(sku)?.unitCostMinor ?? 0,
				at,
				by: technician
			});
		}
		if (!resolved && !part && at < closesAt)
			plugInAgain(eyes, ticket, model, remaining, { at, by: technician });
	};
	if (operations.some((operation) => PORT_WORK.has(operation)) && eyes() < 0.4) {
		attempt('remove-port', false, eyes, true);
		portOff = true;
		const stamp = { stage: 'port-off' as const, at: ticket.attempts.at(-1)?.at ?? bench, by: technician };
		for (const test of PORT_OFF_TESTS) observe(eyes, ticket, test, truths, stamp);
		if (counts['pads'] === undefined)
			ticket.counts.push({ what: 'pads', number: 0, at: stamp.at, by: technician });
	}
	for (const operation of wrongFirst) if (!operations.includes(operation)) attempt(operation, false);
	const guessed = ticket.opinions.find(({ from }) => from === 'technician')?.fault ?? '';
	const believed = FAULT_TRUTHS[guessed]?.operation;
	// a wrong guess is tried on now and then
	if (believed && !operations.includes(believed) && !wrongFirst.includes(believed) && talk() < 0.6) {
		attempt(believed, false, talk);
	}
	operations.forEach((operation, i) => {
		const success = catalog.operations.get(operation)?.success ?? 0.9;
		const last = i === operations.length - 1;
		let isResolved = random() < success;
		const without = remaining.filter((fault) => mended.get(fault) !== operation);
		if (isResolved) remaining = without;
		attempt(operation, isResolved && last);
		if (!isResolved) {
			isResolved = random() < success;
			if (isResolved) remaining = without;
			attempt(operation, isResolved && last);
		}
		fixed &&= isResolved;
	});
	if (fixed && faults.length > 0) {
		proveCurrent(proof, ticket, model, { at: closesAt, by: technician });
		for (const gate of catalog.gates.keys()) {
			ticket.gates.push({ gate, passed: true, at: closesAt, by: technician });
		}
		if (random() < 0.15) {
			for (const minutes of [0, 30, 60]) {
				const percent = Math.round(96 - (9 * minutes) / 60 + random());
				ticket.soak.push({ minutes, percent, at: closesAt, by: technician });
			}
		}
	}
	const outcome = faults.length === 0 ? 'no-fault-found' : fixed ? 'fixed' : 'not-fixed';
	const confirmed = random() < 0.03 ? ['port-contacts'] : faults;
	const paid = ticket.comebackOf
		? 0
		: outcome === 'fixed'
			? (ticket.quotedMinor ?? 0)
			: outcome === 'no-fault-found'
				? 1500
				: 0;
	if (outcome !== 'no-fault-found' && confirmed.includes('other'))
		ticket.faultWords = drawOne(talk, OTHER_FAULTS);
	close(ticket, closesAt, outcome, outcome === 'no-fault-found' ? [] : confirmed, paid);
}

function close(
	ticket: Ticket,
	at: Instant,
	outcome: NonNullable<Ticket['outcome']>,
	faults: string[] | null,
	paidMinor: number
): void {
	Object.assign(ticket, { closedAt: at, outcome, faults, paidMinor });
}
