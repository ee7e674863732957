import type { Connector, Model } from '../catalog/catalog';
import type { PlugIn, Ticket } from '../tickets/ticket-record';
import { PORT_PLACES, type ContactState } from '../units/seen-codes';
import { FAULT_TRUTHS } from './demo-faults';
import { drawIndex, drawNormal, drawOne, type Random } from '../units/random';
import { BACKGROUND_LOOK, SHORTS_SHARE, SHORTS_WHERE, type FaultTruth, type LookTruth } from './demo-world';

/**
 * What the demo shop's technicians see beside their tests: the port under the lens, batteries that cut themselves off,
 * contracts above 5 V, and what still is wrong after a repair that failed. Drawn apart, so that all else of a seed stays.
 */
interface Stamp {
	at: number;
	by: string;
}

/** What a port is like, place by place, whether anybody looks or not. */
export type PortState = Record<keyof LookTruth, ContactState>;

export function drawPort(eyes: Random, truths: readonly FaultTruth[]): PortState {
	const stateAt = (place: keyof LookTruth): ContactState => {
		const chances = truths.find(({ look }) => look?.[place])?.look?.[place] ?? BACKGROUND_LOOK[place];
		const odd = Object.entries(chances);
		const straight = 1 - odd.reduce((sum, [, chance]) => sum + chance, 0);
		const drawn = drawIndex(eyes, [straight, ...odd.map(([, chance]) => chance)]);
		return drawn === 0 ? 'straight' : (odd[drawn - 1]?.[0] as ContactState);
	};
	return {
		contacts: stateAt('contacts'),
		tongue: stateAt('tongue'),
		shell: stateAt('shell'),
		joints: stateAt('joints')
	};
}

/** Contacts that are folded onto the shell short the supply on every other board; the short goes with the old port. */
export function shortedBy(
	eyes: Random,
	truths: readonly FaultTruth[],
	{ contacts }: PortState
): readonly FaultTruth[] {
	const damaged = FAULT_TRUTHS['port-contacts'];
	if (!SHORTS_WHERE.has(contacts) || eyes() >= SHORTS_SHARE) return truths;
	return truths.map((truth) =>
		truth === damaged
			? {
					...truth,
					draw: { centre: 0.004, spread: 0.004 },
					pins: { vbus: 'short' as const },
					tests: {
						...truth.tests,
						'vbus-ground': { normal: 0.03, low: 0.05, short: 0.92 },
						'vbus-ground-off': { normal: 0.97, low: 0.02, short: 0.01 }
					}
				}
			: truth
	);
}

/** Nobody plugs where it was seen that a contact may short the supply. */
export const mayShort = ({ inspection }: Ticket): boolean =>
	inspection.some(({ state }) => SHORTS_WHERE.has(state as ContactState));

/** Looks into the port before anything is plugged, on four tickets of five. */
export function lookInto(
	eyes: Random,
	ticket: Ticket,
	connector: Connector | undefined,
	port: PortState,
	stamp: Stamp
): void {
	if (!connector || eyes() > 0.8) return;
	const contact = port.contacts;
	const pins = connector.pins.map(({ pin }) => pin);
	// a port that was torn out lacks many, a plug put in askew bends one or two
	const pinCount = contact === 'missing' && eyes() < 0.4 ? pins.length - 2 : 1 + Math.floor(2 * eyes());
	const from = Math.floor(eyes() * (pins.length - pinCount + 1));
	pins.forEach((place, i) => {
		const state = i >= from && i < from + pinCount ? contact : 'straight';
		ticket.inspection.push({ place, state, ...stamp });
	});
	for (const place of PORT_PLACES) ticket.inspection.push({ place, state: port[place], ...stamp });
}

/** Some packs have cut themselves off, a worn one more often than another. */
export const cutsOff = (eyes: Random, truths: readonly FaultTruth[]): boolean =>
	eyes() < Math.max(0.02, ...truths.map(({ cutOff }) => cutOff ?? 0));

/** Half of the looks at a model that takes more than 5 V are at its higher contract, unless its port controller is gone. */
export function raiseContract(
	eyes: Random,
	meter: PlugIn[],
	{ charge, charges = [] }: Model,
	truths: readonly FaultTruth[]
): PlugIn[] {
	const [highCharge] = charges.filter(({ volts }) => volts > 5);
	if (!highCharge || !charge || truths.some(({ noContract }) => noContract) || eyes() < 0.5) return meter;
	return meter.map((look) => ({
		...look,
		volts: Math.round((highCharge.volts + 0.05 + 0.03 * drawNormal(eyes)) * 100) / 100,
		amps: Math.round(look.amps * (highCharge.amps / charge.amps) * 100) / 100,
		contract: highCharge.volts
	}));
}

/** After two failed repairs of three the device is plugged in again: what is drawn is what the faults that are left let through. */
export function plugInAgain(
	eyes: Random,
	ticket: Ticket,
	{ charge }: Model,
	faults: readonly string[],
	stamp: Stamp
): void {
	const worst = faults
		.flatMap((fault) => FAULT_TRUTHS[fault] ?? [])
		.sort((a, b) => a.draw.centre - b.draw.centre)[0];
	if (!worst || eyes() > 0.66) return;
	const amps = (charge?.amps ?? 0.5) * (worst.draw.centre + worst.draw.spread * drawNormal(eyes));
	ticket.meter.push({
		stage: 'after-repair',
		orientation: drawOne(eyes, ['a', 'b'] as const),
		volts: 5.06,
		amps: Math.max(0, Math.round(amps * 100) / 100),
		seconds: 20,
		...stamp
	});
}

/** Two of three repaired devices are plugged in both ways before they are sealed, and draw what a healthy one does. */
export function proveCurrent(proof: Random, ticket: Ticket, { charge }: Model, stamp: Stamp): void {
	if (!charge || proof() > 0.66) return;
	// batteries are not equally empty
	const share = 0.92 + 0.06 * drawNormal(proof);
	for (const orientation of ['a', 'b'] as const) {
		const amps = charge.amps * (share + 0.01 * drawNormal(proof));
		ticket.meter.push({
			stage: 'closing',
			orientation,
			volts: charge.volts + 0.06,
			amps: Math.max(0, Math.round(amps * 100) / 100),
			seconds: 30,
			...stamp
		});
	}
}
