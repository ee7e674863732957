import type { CatalogRecord } from '../catalog/kinds';
import type { Ticket } from '../tickets/ticket-record';
import { DAY_MS, formatInstant, MINUTE_MS, type Instant } from '../units/instant';
import { drawOne, seededRandom, type Random } from '../units/random';
import { STARTER_PROCEDURES } from '../catalog/starter-procedures';

/**
 * What goes wrong in the demo shop after its jobs are handed over, all invented: a lot of ports that fail, a way of working that does
 * not hold, and a technician who gets the torn pads, which come back whoever does them.
 */
export interface Troubles {
	/** a lot of so many ports, bought so many days before the end */
	lot: { sku: string; quantity: number; boughtBefore: number };
	why: Map<string, Why>;
	dice: Random;
}
type Why = 'lot' | 'method' | 'pads' | 'usual';

/** Days before the shop's last moment within which the failing lot is what there is. */
const FAILING = { from: 80, to: 3 } as const;
const TRIED = { from: 330, to: 110 } as const;
const COMES_BACK: Record<Why, number> = { lot: 0.6, method: 0.37, pads: 0.24, usual: 0 };
const LOW_MELT = 'port-low-melt';
const HOT_AIR = 'port-hot-air';

export const troublesOf = (seed: number): Troubles => ({
	lot: { sku: 'port-smd', quantity: 75, boughtBefore: 145 },
	why: new Map(),
	dice: seededRandom(seed + 8)
});

const isWithin = (at: Instant, endsAt: Instant, { from, to }: { from: number; to: number }) =>
	at >= endsAt - from * DAY_MS && at < endsAt - to * DAY_MS;

/** The hard pads go to one of the two who solder, most often. */
export const whoGetsIt = (drawn: string, faults: readonly string[], { dice }: Troubles): string =>
	faults.includes('torn-pads') && dice() < 0.85 ? 'tomasz' : drawn;

/** Notes which way a port was fitted, while one of them was tried. */
export function followAWay(ticket: Ticket, endsAt: Instant, { dice }: Troubles): void {
	const fitted = ticket.attempts.find(({ operation }) => operation === 'replace-port');
	const at = fitted?.at;
	if (!fitted || at === undefined || !isWithin(at, endsAt, { from: TRIED.from, to: 0 })) return;
	const tried = isWithin(at, endsAt, TRIED);
	// since it was given up, not every job is run by a procedure
	if (!tried && dice() < 0.5) return;
	const procedure = tried && dice() < 0.4 ? LOW_MELT : HOT_AIR;
	const way = STARTER_PROCEDURES.find((each) => each.record === 'procedure' && each.code === procedure);
	const steps = way?.record === 'procedure' ? way.steps : [];
	const stamp = { at, by: fitted.technician ?? 'ines' };
	const one = { procedure, version: 1, technician: stamp.by };
	ticket.steps = [
		{ ...one, step: 0, did: 'begun', ...stamp },
		...steps.map((_, step) => ({ ...one, step, did: 'done' as const, ...stamp })),
		{ ...one, step: steps.length - 1, did: 'ended', ...stamp }
	];
}

/** Whether a job comes back for what is wrong, and when; null where it does not for that. */
export function troubleWith(
	ticket: Ticket,
	endsAt: Instant,
	{ why: causes, dice, lot }: Troubles
): Instant | null {
	if (ticket.outcome !== 'fixed' || ticket.closedAt === null || ticket.comebackOf) return null;
	const used = ticket.parts.some(({ sku, at }) => sku === lot.sku && isWithin(at ?? 0, endsAt, FAILING));
	const followed = ticket.steps.some(({ procedure }) => procedure === LOW_MELT);
	const rebuilt = ticket.attempts.some(
		({ operation }) => operation === 'rebuild-traces' || operation === 'jumper-track'
	);
	const reason: Why = used ? 'lot' : followed ? 'method' : rebuilt ? 'pads' : 'usual';
	const delayDays = 2 + 26 * dice() ** 2;
	if (dice() >= COMES_BACK[reason]) return null;
	causes.set(ticket.number, reason);
	return ticket.closedAt + delayDays * DAY_MS;
}

const AFTER_PORT = { 'port-joints': 0.48, 'torn-pads': 0.13, 'port-contacts': 0.09, 'battery-plug': 0.05 };
const AFTER_WIRES = { 'port-joints': 0.38, 'torn-pads': 0.34, 'port-contacts': 0.04, 'battery-plug': 0.03 };
const AFTER_BATTERY = { 'battery-worn': 0.22, 'battery-plug': 0.34, 'battery-connector': 0.14 };
/** By what was done, what is wrong when it comes back; what is left is another fault. Invented, after the trade’s practice. */
const AFTER: Record<string, Record<string, number>> = {
	'replace-port': AFTER_PORT,
	'reflow-port': AFTER_PORT,
	'rebuild-traces': AFTER_WIRES,
	'jumper-track': AFTER_WIRES,
	'replace-battery': AFTER_BATTERY,
	'wake-pack': AFTER_BATTERY,
	'reseat-battery': AFTER_BATTERY,
	'fit-charge-flex': { 'charge-flex': 0.34, 'battery-plug': 0.2 },
	'clean-port': { 'port-contacts': 0.4, 'port-joints': 0.2, 'port-debris': 0.2 }
};

/** What is wrong with a device that comes back, by fault, for why it does and what was done. */
export function sharesOfComeback(first: Ticket, troubles: Troubles | null): Record<string, number> {
	const reason = troubles?.why.get(first.number) ?? 'usual';
	if (reason === 'lot') return { 'port-contacts': 0.85, 'port-joints': 0.15 };
	if (reason === 'method') return { 'port-joints': 1 };
	const operation = first.attempts.findLast(({ resolved }) => resolved)?.operation ?? '';
	const sameFault = first.faults?.[0];
	return AFTER[operation] ?? (sameFault ? { [sameFault]: 0.45, 'battery-plug': 0.05 } : {});
}

/** Says why devices came back, as far as it was found; what suppliers are asked for, and what they gave. */
export function nameCauses(
	tickets: readonly Ticket[],
	{ why: causes, dice, lot }: Troubles
): CatalogRecord[] {
	const byNumber = new Map(tickets.map((ticket) => [ticket.number, ticket]));
	const claims: CatalogRecord[] = [];
	for (const ticket of tickets) {
		const first = byNumber.get(ticket.comebackOf ?? '');
		if (!first || ticket.closedAt === null || dice() < 0.15) continue;
		const reason = causes.get(first.number) ?? 'usual';
		const [cause, from] = causeOf(reason, first, ticket, dice, lot.sku);
		ticket.cause = cause;
		if (from) ticket.cameFrom = from;
		if (from?.pays === 'supplier' && from.sku) {
			claims.push({
				record: 'claim',
				ticket: ticket.number,
				sku: from.sku,
				supplier: 'north-quay',
				...(from.lot ? { lot: from.lot } : {}),
				amount: 3.9,
				at: formatInstant(ticket.closedAt + 30 * MINUTE_MS),
				state: 'open',
				by: 'odile'
			});
		}
	}
	// the older ones were answered
	return claims.map((claim, i) =>
		claim.record === 'claim' && i < claims.length - 4
			? i % 3 === 1
				? { ...claim, state: 'refused', settled_at: claim.at }
				: { ...claim, state: 'granted', granted: 3.9, settled_at: claim.at }
			: claim
	);
}

/** Words of the shop's own to those who read German. */
export const DEMO_TEMPLATES: CatalogRecord[] = [
	{
		record: 'template',
		code: 'taken-in-de',
		about: 'taken-in',
		channel: 'mail',
		language: 'de',
		subject: '{device} ist bei uns ({number})',
		text: 'Guten Tag {name},\n\nIhr {device} ist unter der Nummer {number} angenommen. Wie weit es ist, steht hier: {link}\n\n{shop}'
	},
	{
		record: 'template',
		code: 'ready-de',
		about: 'ready',
		channel: 'mail',
		language: 'de',
		subject: '{device} ist fertig ({number})',
		text: 'Guten Tag {name},\n\nIhr {device} ist fertig und liegt zum Abholen bereit. Garantie: {warranty}.\n\n{shop}'
	}
];

/** Some left a mail address and agreed to hear by it; others by text message. The same person the same way. */
export function leaveAddresses(tickets: readonly Ticket[], { dice }: Troubles): void {
	const customers = new Map<string, Ticket['customer']>();
	for (const ticket of tickets) {
		const { customer } = ticket;
		if (!customer || customer.kind === 'trade') continue;
		const key = `${customer.name} ${customer.phone ?? ''}`;
		if (!customers.has(key)) customers.set(key, agreed(customer, dice()));
		ticket.customer = customers.get(key) ?? customer;
	}
}

function agreed(customer: NonNullable<Ticket['customer']>, chance: number): NonNullable<Ticket['customer']> {
	const email = `${customer.name.toLowerCase().replace(' ', '.')}@example.net`;
	if (chance < 0.03) return { ...customer, email, hears_by: 'mail', language: 'de' };
	if (chance < 0.25) return { ...customer, email, hears_by: 'mail' };
	return chance < 0.35 ? { ...customer, hears_by: 'text' } : customer;
}

type Found = [cause: string, from: Ticket['cameFrom']];
function causeOf(reason: Why, first: Ticket, ticket: Ticket, dice: Random, sku: string): Found {
	const part = first.parts.find((use) => use.sku === sku);
	const doneSteps = first.steps.filter(({ did: action }) => action === 'done');
	// fluxed and placed: late in the procedure
	const step = doneSteps[Math.max(0, doneSteps.length - 6)];
	const at = step ? { step: { procedure: step.procedure, version: step.version, step: step.step } } : {};
	const operation = first.attempts.findLast(({ resolved }) => resolved)?.operation;
	const fields = operation ? { operation } : {};
	switch (reason) {
		case 'lot':
			return ['part-failed', { ...fields, sku, ...(part?.lot ? { lot: part.lot } : {}), pays: 'supplier' }];
		case 'method':
			return ['joint-not-holding', { ...fields, ...at, pays: 'shop' }];
		case 'pads':
			return [drawOne(dice, ['anchors-missed', 'joint-not-holding']), { ...fields, ...at, pays: 'shop' }];
		case 'usual': {
			const sameFault = ticket.faults?.some((fault) => first.faults?.includes(fault)) ?? false;
			if (!sameFault && operation !== undefined && ticket.faults?.some((fault) => AFTER[operation]?.[fault]))
				return [
					drawOne(
						dice,
						ticket.faults.includes('battery-plug')
							? ['cover-forgotten']
							: ['joint-not-holding', 'joint-not-holding', 'anchors-missed']
					),
					{ ...fields, pays: 'shop' }
				];
			if (sameFault)
				return [
					drawOne(dice, ['same-again', 'joint-not-holding', 'cover-forgotten']),
					{ ...fields, pays: 'shop' }
				];
			const cause = drawOne(dice, ['another-fault', 'wrong-fault', 'customer-strain', 'wet-again']);
			const pays = cause === 'wrong-fault' ? 'shop' : 'customer';
			return [cause, { pays }];
		}
	}
}
