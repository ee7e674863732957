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
	operation: string;
}

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
	cracked: 0.1
};

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
	'board-look': { clean: 0.92, corroded: 0.05, torn: 0.03 }
};

const dead = { centre: 0.004, spread: 0.004 };
const full = { centre: 0.95, spread: 0.1 };
const midVolts = { centre: 3.45, spread: 0.3 };
const flat = { centre: 2.7, spread: 0.4 };

export const FAULT_TRUTHS: Record<string, FaultTruth> = {
	'port-contacts': {
		share: 0.24,
		families: { radio: 1.6, camera: 1.4, case: 0.6 },
		signs: { 'no-charge': 0.6, intermittent: 0.45, 'one-way-round': 0.4, 'port-loose': 0.55, dropped: 0.3 },
		tests: { 'port-joint-push': { 'all-firm': 0.8, 'some-move': 0.2 } },
		draw: { centre: 0.02, spread: 0.03, otherSide: 0.8 },
		batteryVolts: flat,
		pins: { cc1: 'open-one', 'd+': 'open-one' },
		path: { from: 'port-vbus', how: 'low' },
		look: {
			contacts: { bent: 0.22, folded: 0.17, touching: 0.06, missing: 0.16, burnt: 0.08, corroded: 0.07 },
			tongue: { bent: 0.14, missing: 0.07, burnt: 0.06 },
			shell: { bent: 0.24 }
		},
		noContract: true,
		operation: 'replace-port'
	},
	'port-joints': {
		share: 0.13,
		families: { 'dive-light': 1.5, terminal: 1.5 },
		signs: { intermittent: 0.7, 'port-loose': 0.4, dropped: 0.4, 'port-replaced': 0.25 },
		tests: { 'port-joint-push': { 'all-firm': 0.15, 'some-move': 0.85 } },
		draw: { centre: 0.35, spread: 0.3 },
		batteryVolts: midVolts,
		pins: { vbus: 'open-one' },
		path: { from: 'port-vbus', how: 'low' },
		unsteady: 'dropouts',
		look: { joints: { bent: 0.3, missing: 0.25, corroded: 0.08 } },
		operation: 'reflow-port'
	},
	'port-debris': {
		share: 0.09,
		families: { bike: 2, case: 1.8 },
		signs: { intermittent: 0.6, 'port-loose': 0.5 },
		tests: { 'port-clean': { 'dirt-out': 0.95, 'was-clean': 0.05 } },
		draw: { centre: 0.3, spread: 0.35 },
		batteryVolts: midVolts,
		path: { from: 'port-vbus', how: 'low' },
		unsteady: 'dropouts',
		operation: 'clean-port'
	},
	'torn-pads': {
		share: 0.04,
		signs: { 'no-charge': 0.8, 'port-replaced': 0.8, 'opened-before': 0.75 },
		tests: { 'board-look': { clean: 0.1, corroded: 0.02, torn: 0.88 } },
		draw: dead,
		batteryVolts: flat,
		pins: { cc2: 'open-one', 'd-': 'open-one' },
		path: { from: 'port-vbus', how: 'lost' },
		look: { joints: { missing: 0.62, bent: 0.12 } },
		noContract: true,
		operation: 'rebuild-traces'
	},
	'port-controller': {
		share: 0.1,
		families: { scanner: 1.8, camera: 1.5 },
		signs: { 'no-charge': 0.85, 'wrong-charger': 0.35 },
		tests: {
			'controller-diode': { normal: 0.12, odd: 0.88 },
			thermal: { nothing: 0.4, 'port-area': 0.55, 'charger-area': 0.05 }
		},
		draw: { centre: 0.03, spread: 0.03 },
		batteryVolts: flat,
		pins: { cc1: 'low' },
		path: { from: 'controller-out', how: 'lost' },
		noContract: true,
		operation: 'replace-port-controller'
	},
	'charge-controller': {
		share: 0.08,
		families: { scanner: 1.5, radio: 1.3 },
		signs: { 'no-charge': 0.8, 'gets-hot': 0.55, 'wrong-charger': 0.3 },
		tests: { thermal: { nothing: 0.2, 'port-area': 0.05, 'charger-area': 0.75 } },
		draw: { centre: 0.06, spread: 0.05 },
		batteryVolts: flat,
		path: { from: 'charger-out', how: 'lost' },
		operation: 'replace-charger'
	},
	'input-fuse': {
		share: 0.05,
		signs: { 'no-charge': 0.97, 'wrong-charger': 0.4 },
		tests: { 'vbus-fuse': { through: 0.02, open: 0.98 } },
		draw: dead,
		batteryVolts: flat,
		path: { from: 'fuse-out', how: 'lost' },
		noContract: true,
		operation: 'replace-fuse'
	},
	'shorted-capacitor': {
		share: 0.05,
		signs: { 'no-charge': 0.9, 'gets-hot': 0.5, 'got-wet': 0.25 },
		tests: {
			'caps-ground': { 'none-shorted': 0.05, 'one-shorted': 0.95 },
			thermal: { nothing: 0.15, 'port-area': 0.5, 'charger-area': 0.35 }
		},
		draw: { centre: 0.01, spread: 0.01 },
		batteryVolts: flat,
		pins: { vbus: 'short' },
		path: { from: 'controller-out', how: 'lost' },
		noContract: true,
		operation: 'replace-capacitor'
	},
	'line-filter': {
		share: 0.04,
		signs: { 'slow-charge': 0.6, 'one-way-round': 0.1 },
		tests: { 'filter-through': { through: 0.04, open: 0.96 } },
		draw: { centre: 0.42, spread: 0.1 },
		batteryVolts: midVolts,
		path: { from: 'filter-out', how: 'low' },
		operation: 'bridge-filter'
	},
	'coil-open': {
		share: 0.02,
		signs: { 'no-charge': 0.8, 'no-start': 0.3 },
		tests: { 'coil-through': { through: 0.03, open: 0.97 } },
		draw: { centre: 0.02, spread: 0.02 },
		batteryVolts: flat,
		path: { from: 'coil-out', how: 'lost' },
		operation: 'bridge-filter'
	},
	'board-corrosion': {
		share: 0.05,
		families: { 'dive-light': 2.2, bike: 1.6 },
		signs: { 'got-wet': 0.85, 'no-start': 0.4, 'no-charge': 0.5 },
		tests: { 'board-look': { clean: 0.05, corroded: 0.93, torn: 0.02 } },
		draw: { centre: 0.2, spread: 0.25 },
		batteryVolts: { centre: 3.1, spread: 0.5 },
		path: { from: 'filter-out', how: 'low' },
		unsteady: 'pulsing',
		look: { contacts: { corroded: 0.5, burnt: 0.04 }, joints: { corroded: 0.3 } },
		operation: 'clean-board'
	},
	'battery-worn': {
		share: 0.15,
		families: { reader: 1.7, case: 1.8, terminal: 1.2 },
		signs: { 'short-runtime': 0.8, 'no-start': 0.3, 'long-unused': 0.35, 'no-charge': 0.2 },
		tests: { 'battery-swap': { charges: 0.95, 'no-change': 0.05 } },
		draw: full,
		batteryVolts: { centre: 2.6, spread: 0.9 },
		cutOff: 0.22,
		drain: 1.9,
		operation: 'replace-battery'
	},
	'battery-plug': {
		share: 0.06,
		families: { camera: 1.5 },
		signs: { 'no-start': 0.7, dropped: 0.6, 'battery-replaced': 0.35, 'opened-before': 0.35 },
		tests: {
			'battery-reseat': { charges: 0.93, 'no-change': 0.07 },
			'battery-swap': { charges: 0.8, 'no-change': 0.2 }
		},
		draw: { centre: 0.05, spread: 0.05 },
		batteryVolts: { centre: 0.1, spread: 0.1 },
		path: { from: 'battery-plug', how: 'lost' },
		operation: 'reseat-battery'
	}
};
