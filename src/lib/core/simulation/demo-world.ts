/**
 * The truth of the demo shop: how faults behave. Invented numbers that follow the trade's common
 * practice; the engine never sees them, only the tickets that they make.
 */
import type { ContactState } from '../units/seen-codes';

export type PinTruth = 'short' | 'open-one' | 'high' | 'low';

/** By place of the port, chance of each state that is not straight. */
export type LookTruth = Partial<
	Record<'contacts' | 'tongue' | 'shell' | 'joints', Partial<Record<ContactState, number>>>
>;

export interface FaultTruth {
	/** share among faults, before the model's own weighting */
	share: number;
	/** families that have it more often, as a factor */
	families?: Record<string, number>;
	/** how many times its share counts where the port sits on the board, or on a flex */
	portOn?: Partial<Record<'board' | 'flex', number>>;
	/** only on models that carry it */
	carries?: string;
	signs: Record<string, number>;
	/** per test, chance of each outcome */
	tests: Record<string, Record<string, number>>;
	/** amperes seen at plug-in, as a share of healthy: centre and spread; a second side if it differs */
	draw: { centre: number; spread: number; otherSide?: number };
	batteryVolts: { centre: number; spread: number };
	/** nets whose contacts read wrongly, with how */
	pins?: Record<string, PinTruth>;
	/** node of the charging path from which on the supply is lost, or sags */
	path?: { from: string; how: 'lost' | 'low' };
	/** the contact opens now and then: the current drops out; or the device starts and falls back */
	unsteady?: 'dropouts' | 'pulsing';
	/** what it does to the port, as it is seen */
	look?: LookTruth;
	/** share of devices whose pack has cut itself off */
	cutOff?: number;
	/** no contract above 5 V is agreed any more */
	noContract?: boolean;
	/** how much faster its battery empties */
	drain?: number;
	/** what mends it */
	operation: string;
}

/** A fault that no code stands for: what it was, in words. */
export const OTHER_FAULTS = [
	'power key stuck in the case: freed',
	'display cable half out of its socket: pressed home',
	'short in the loudspeaker: unplugged, works without',
	'cover switch saw no magnet: magnet glued back'
] as const;

/** What a plug through folded contacts may meet: they touch the shell, and with it the supply ground. */
export const SHORTS_WHERE: ReadonlySet<ContactState> = new Set(['folded', 'touching']);
export const SHORTS_SHARE = 0.5;

/** Signs that any device shows now and then, whatever is wrong. */
export const BACKGROUND_SIGNS: Record<string, number> = {
	'no-charge': 0.35,
	intermittent: 0.08,
	'one-way-round': 0.02,
	'slow-charge': 0.08,
	'port-loose': 0.06,
	'no-start': 0.08,
	'gets-hot': 0.05,
	'short-runtime': 0.08,
	dropped: 0.18,
	'got-wet': 0.07,
	'port-replaced': 0.05,
	'battery-replaced': 0.05,
	'wrong-charger': 0.05,
	'long-unused': 0.07,
	'opened-before': 0.09,
	cracked: 0.1,
	dead: 0.05,
	'drops-out': 0.05,
	'no-lamp': 0.06,
	restarts: 0.03,
	'burnt-smell': 0.015,
	'flex-function-lost': 0.01,
	'lint-seen': 0.1,
	'no-picture': 0.01,
	'wireless-only': 0.02
};

/** Signs that only models with such a thing can show. */
export const SIGN_CARRIES: Record<string, string> = { 'no-picture': 'picture', 'wireless-only': 'wireless' };

/** What any port shows now and then. */
export const BACKGROUND_LOOK: Required<LookTruth> = {
	contacts: { corroded: 0.03, bent: 0.03, touching: 0.005, burnt: 0.005 },
	tongue: { bent: 0.02, burnt: 0.005 },
	shell: { bent: 0.07, missing: 0.01 },
	joints: { bent: 0.02, corroded: 0.03, missing: 0.01 }
};

export const BACKGROUND_TESTS: Record<string, Record<string, number>> = {
	'port-clean': { 'dirt-out': 0.07, 'was-clean': 0.93 },
	'port-joint-push': { 'all-firm': 0.95, 'some-move': 0.05 },
	'vbus-fuse': { through: 0.985, open: 0.015 },
	'caps-ground': { 'none-shorted': 0.97, 'one-shorted': 0.03 },
	'filter-through': { through: 0.98, open: 0.02 },
	'coil-through': { through: 0.985, open: 0.015 },
	'battery-swap': { charges: 0.03, 'no-change': 0.97 },
	'battery-reseat': { charges: 0.02, 'no-change': 0.98 },
	thermal: { nothing: 0.86, 'port-area': 0.07, 'charger-area': 0.07 },
	'controller-diode': { normal: 0.93, odd: 0.07 },
	'board-look': { clean: 0.92, corroded: 0.05, torn: 0.03 },
	'cable-known-good': { charges: 0.02, 'no-change': 0.98 },
	'wireless-try': { charges: 0.9, 'no-change': 0.1 },
	'wiggle-load': { holds: 0.94, drops: 0.06 },
	'supply-port': {
		'jump-and-back': 0.5,
		'steady-climb': 0.36,
		'one-side': 0.04,
		hangs: 0.06,
		nothing: 0.03,
		short: 0.01
	},
	'vbus-ground': { normal: 0.97, low: 0.02, short: 0.01 },
	'vbus-ground-off': { normal: 0.98, low: 0.01, short: 0.01 },
	'pads-look': { 'all-there': 0.95, 'few-torn': 0.02, 'many-torn': 0.005, burnt: 0.025 },
	'flex-look': { sound: 0.96, burnt: 0.01, torn: 0.01, corroded: 0.02 },
	'battery-connector-look': { flush: 0.97, bent: 0.015, lifted: 0.01, burnt: 0.005 },
	'display-known-good': { picture: 0.3, 'no-picture': 0.7 },
	'touch-heat': { cool: 0.85, 'port-warm': 0.06, 'chip-hot': 0.05, 'battery-warm': 0.04 },
	'chip-caps': {
		none: 0.94,
		'port-chip': 0.015,
		'charge-chip': 0.015,
		'display-chip': 0.015,
		'other-chip': 0.015
	}
};

/** Share of tickets that a test is made on: what is free often, what takes a known good part or the board open seldom. */
export const TEST_SHARES: Record<string, number> = {
	'port-clean': 0.7,
	'cable-known-good': 0.55,
	'wiggle-load': 0.35,
	'supply-port': 0.12,
	'display-known-good': 0.6,
	'wireless-try': 0.6,
	'vbus-ground': 0.35,
	'battery-connector-look': 0.3,
	'flex-look': 0.4,
	'touch-heat': 0.2,
	'chip-caps': 0.12
};
export const USUAL_TEST_SHARE = 0.3;
/** Nobody likes to fit a part before it was measured: what tells of the fault that is there is tried more often. */
export const TELLING_SHARE = 0.65;
/** Only where the old port came off. */
export const PORT_OFF_TESTS = ['pads-look', 'vbus-ground-off'] as const;
