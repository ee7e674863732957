import type { FaultTruth } from './demo-world';

/** How the faults of the demo shop show themselves: invented numbers after the trade's common practice. */
const dead = { centre: 0.004, spread: 0.004 };
const full = { centre: 0.95, spread: 0.1 };
const midVolts = { centre: 3.45, spread: 0.3 };
const flat = { centre: 2.7, spread: 0.4 };

/** The 22 faults of the trade as the demo shop’s devices have them. */
export const FAULT_TRUTHS: Record<string, FaultTruth> = {
	'port-contacts': {
		share: 0.24,
		families: { radio: 1.6, camera: 1.4, case: 0.6 },
		signs: {
			'no-picture': 0.3,
			'wireless-only': 0.6,
			'no-charge': 0.6,
			intermittent: 0.45,
			'one-way-round': 0.4,
			'port-loose': 0.55,
			dropped: 0.3,
			'drops-out': 0.35,
			'lint-seen': 0.12,
			'no-lamp': 0.2
		},
		tests: {
			'port-joint-push': { 'all-firm': 0.8, 'some-move': 0.2 },
			'wiggle-load': { holds: 0.45, drops: 0.55 },
			'supply-port': {
				'jump-and-back': 0.08,
				'steady-climb': 0.06,
				'one-side': 0.56,
				hangs: 0.04,
				nothing: 0.25,
				short: 0.01
			},
			'display-known-good': { picture: 0.2, 'no-picture': 0.8 },
			'pads-look': { 'all-there': 0.88, 'few-torn': 0.04, 'many-torn': 0.01, burnt: 0.07 }
		},
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
		signs: {
			'wireless-only': 0.4,
			intermittent: 0.7,
			'port-loose': 0.4,
			dropped: 0.4,
			'port-replaced': 0.25,
			'drops-out': 0.6,
			'no-lamp': 0.15
		},
		tests: {
			'port-joint-push': { 'all-firm': 0.15, 'some-move': 0.85 },
			'wiggle-load': { holds: 0.14, drops: 0.86 },
			'supply-port': {
				'jump-and-back': 0.1,
				'steady-climb': 0.1,
				'one-side': 0.4,
				hangs: 0.1,
				nothing: 0.3,
				short: 0
			}
		},
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
		signs: { intermittent: 0.6, 'port-loose': 0.5, 'lint-seen': 0.8, 'drops-out': 0.2 },
		tests: {
			'port-clean': { 'dirt-out': 0.95, 'was-clean': 0.05 },
			'wiggle-load': { holds: 0.6, drops: 0.4 }
		},
		draw: { centre: 0.3, spread: 0.35 },
		batteryVolts: midVolts,
		path: { from: 'port-vbus', how: 'low' },
		unsteady: 'dropouts',
		operation: 'clean-port'
	},
	'torn-pads': {
		share: 0.045,
		portOn: { flex: 0.2 },
		signs: {
			'wireless-only': 0.6,
			'no-charge': 0.8,
			'port-replaced': 0.8,
			'opened-before': 0.75,
			'no-lamp': 0.35
		},
		tests: {
			'pads-look': { 'all-there': 0.03, 'few-torn': 0.6, 'many-torn': 0.35, burnt: 0.02 },
			'port-joint-push': { 'all-firm': 0.35, 'some-move': 0.65 },
			'board-look': { clean: 0.1, corroded: 0.02, torn: 0.88 }
		},
		draw: dead,
		batteryVolts: flat,
		pins: { cc2: 'open-one', 'd-': 'open-one' },
		path: { from: 'port-vbus', how: 'lost' },
		look: { joints: { missing: 0.62, bent: 0.12 } },
		noContract: true,
		operation: 'rebuild-traces'
	},
	'port-controller': {
		share: 0.085,
		families: { scanner: 1.8, camera: 1.5 },
		signs: {
			'wireless-only': 0.5,
			'no-charge': 0.85,
			'wrong-charger': 0.35,
			'burnt-smell': 0.06,
			'no-lamp': 0.4
		},
		tests: {
			'controller-diode': { normal: 0.12, odd: 0.88 },
			'chip-caps': {
				none: 0.55,
				'port-chip': 0.39,
				'charge-chip': 0.02,
				'display-chip': 0.02,
				'other-chip': 0.02
			},
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
		share: 0.07,
		families: { scanner: 1.5, radio: 1.3 },
		signs: { 'no-charge': 0.8, 'gets-hot': 0.55, 'wrong-charger': 0.3, 'burnt-smell': 0.06 },
		tests: {
			'wireless-try': { charges: 0.2, 'no-change': 0.8 },
			thermal: { nothing: 0.2, 'port-area': 0.05, 'charger-area': 0.75 },
			'touch-heat': { cool: 0.35, 'port-warm': 0.03, 'chip-hot': 0.6, 'battery-warm': 0.02 },
			'supply-port': {
				'jump-and-back': 0.2,
				'steady-climb': 0.08,
				'one-side': 0.02,
				hangs: 0.6,
				nothing: 0.09,
				short: 0.01
			},
			'chip-caps': {
				none: 0.55,
				'port-chip': 0.02,
				'charge-chip': 0.39,
				'display-chip': 0.02,
				'other-chip': 0.02
			}
		},
		draw: { centre: 0.06, spread: 0.05 },
		batteryVolts: flat,
		path: { from: 'charger-out', how: 'lost' },
		operation: 'replace-charger'
	},
	'input-fuse': {
		share: 0.05,
		signs: { 'wireless-only': 0.5, 'no-charge': 0.97, 'wrong-charger': 0.4, 'no-lamp': 0.55, dead: 0.3 },
		tests: {
			'vbus-fuse': { through: 0.02, open: 0.98 },
			'supply-port': {
				'jump-and-back': 0.02,
				'steady-climb': 0.01,
				'one-side': 0.02,
				hangs: 0.02,
				nothing: 0.92,
				short: 0.01
			}
		},
		draw: dead,
		batteryVolts: flat,
		path: { from: 'fuse-out', how: 'lost' },
		noContract: true,
		operation: 'replace-fuse'
	},
	'shorted-capacitor': {
		share: 0.05,
		signs: { 'no-charge': 0.9, 'gets-hot': 0.5, 'got-wet': 0.25, 'burnt-smell': 0.15, dead: 0.3 },
		tests: {
			'caps-ground': { 'none-shorted': 0.05, 'one-shorted': 0.95 },
			'vbus-ground': { normal: 0.03, low: 0.06, short: 0.91 },
			'vbus-ground-off': { normal: 0.03, low: 0.06, short: 0.91 },
			'supply-port': {
				'jump-and-back': 0.03,
				'steady-climb': 0.01,
				'one-side': 0.02,
				hangs: 0.04,
				nothing: 0.05,
				short: 0.85
			},
			'chip-caps': {
				none: 0.3,
				'port-chip': 0.25,
				'charge-chip': 0.25,
				'display-chip': 0.1,
				'other-chip': 0.1
			},
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
		signs: { 'wireless-only': 0.2, 'slow-charge': 0.6, 'one-way-round': 0.1 },
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
		signs: { 'got-wet': 0.85, 'no-start': 0.4, 'no-charge': 0.5, dead: 0.25 },
		tests: { 'board-look': { clean: 0.05, corroded: 0.93, torn: 0.02 } },
		draw: { centre: 0.2, spread: 0.25 },
		batteryVolts: { centre: 3.1, spread: 0.5 },
		path: { from: 'filter-out', how: 'low' },
		unsteady: 'pulsing',
		look: { contacts: { corroded: 0.5, burnt: 0.04 }, joints: { corroded: 0.3 } },
		operation: 'clean-board'
	},
	'battery-worn': {
		share: 0.13,
		families: { reader: 1.7, case: 1.8, terminal: 1.2 },
		signs: {
			'short-runtime': 0.8,
			'no-start': 0.3,
			'long-unused': 0.35,
			'no-charge': 0.2,
			restarts: 0.3,
			dead: 0.15
		},
		tests: {
			'wireless-try': { charges: 0.4, 'no-change': 0.6 },
			'battery-swap': { charges: 0.95, 'no-change': 0.05 }
		},
		draw: full,
		batteryVolts: { centre: 2.6, spread: 0.9 },
		cutOff: 0.22,
		drain: 1.9,
		operation: 'replace-battery'
	},
	'battery-plug': {
		share: 0.05,
		families: { camera: 1.5 },
		signs: { 'no-start': 0.7, dropped: 0.6, 'battery-replaced': 0.35, 'opened-before': 0.35, dead: 0.35 },
		tests: {
			'wireless-try': { charges: 0.05, 'no-change': 0.95 },
			'battery-reseat': { charges: 0.93, 'no-change': 0.07 },
			'battery-swap': { charges: 0.8, 'no-change': 0.2 }
		},
		draw: { centre: 0.05, spread: 0.05 },
		batteryVolts: { centre: 0.1, spread: 0.1 },
		path: { from: 'battery-plug', how: 'lost' },
		operation: 'reseat-battery'
	},
	'charge-flex': {
		share: 0.2,
		portOn: { board: 0.03 },
		signs: {
			'no-charge': 0.75,
			'flex-function-lost': 0.5,
			'burnt-smell': 0.12,
			restarts: 0.12,
			'drops-out': 0.3
		},
		tests: {
			'flex-look': { sound: 0.12, burnt: 0.42, torn: 0.34, corroded: 0.12 },
			'wiggle-load': { holds: 0.55, drops: 0.45 }
		},
		draw: { centre: 0.03, spread: 0.04 },
		batteryVolts: flat,
		path: { from: 'port-vbus', how: 'lost' },
		look: { contacts: { bent: 0.1, folded: 0.06, missing: 0.06, burnt: 0.18, corroded: 0.1 } },
		noContract: true,
		operation: 'fit-charge-flex'
	},
	'wireless-coil': {
		share: 0.1,
		carries: 'wireless',
		signs: { 'no-charge': 0.3, 'slow-charge': 0.3, dropped: 0.35, 'gets-hot': 0.25 },
		tests: { 'wireless-try': { charges: 0.03, 'no-change': 0.97 } },
		draw: full,
		batteryVolts: midVolts,
		operation: 'fit-wireless-coil'
	},
	'display-controller': {
		share: 0.24,
		carries: 'picture',
		signs: { 'no-picture': 0.9, 'wrong-charger': 0.3 },
		tests: {
			'display-known-good': { picture: 0.04, 'no-picture': 0.96 },
			'chip-caps': {
				none: 0.45,
				'port-chip': 0.02,
				'charge-chip': 0.02,
				'display-chip': 0.49,
				'other-chip': 0.02
			}
		},
		draw: full,
		batteryVolts: midVolts,
		operation: 'replace-display-controller'
	},
	'other-chip': {
		share: 0.02,
		signs: { dead: 0.6, 'gets-hot': 0.45, 'burnt-smell': 0.15, 'no-charge': 0.5, 'no-start': 0.4 },
		tests: {
			'chip-caps': {
				none: 0.3,
				'port-chip': 0.03,
				'charge-chip': 0.03,
				'display-chip': 0.02,
				'other-chip': 0.62
			},
			'touch-heat': { cool: 0.3, 'port-warm': 0.03, 'chip-hot': 0.65, 'battery-warm': 0.02 },
			'supply-port': {
				'jump-and-back': 0.1,
				'steady-climb': 0.05,
				'one-side': 0.02,
				hangs: 0.75,
				nothing: 0.05,
				short: 0.03
			}
		},
		draw: { centre: 0.3, spread: 0.12 },
		batteryVolts: { centre: 3.2, spread: 0.4 },
		operation: 'replace-chip'
	},
	'battery-flat': {
		share: 0.05,
		signs: { dead: 0.6, 'long-unused': 0.7, 'no-start': 0.4, 'no-charge': 0.55 },
		tests: {
			'wireless-try': { charges: 0.1, 'no-change': 0.9 },
			'battery-swap': { charges: 0.93, 'no-change': 0.07 }
		},
		draw: { centre: 0.05, spread: 0.03 },
		batteryVolts: { centre: 2.3, spread: 0.25 },
		cutOff: 0.5,
		operation: 'wake-pack'
	},
	'battery-connector': {
		share: 0.022,
		signs: { 'battery-replaced': 0.5, 'opened-before': 0.5, restarts: 0.3, dead: 0.4, dropped: 0.3 },
		tests: {
			'wireless-try': { charges: 0.1, 'no-change': 0.9 },
			'battery-connector-look': { flush: 0.06, bent: 0.4, lifted: 0.34, burnt: 0.2 },
			'battery-swap': { charges: 0.1, 'no-change': 0.9 }
		},
		draw: { centre: 0.06, spread: 0.05 },
		batteryVolts: { centre: 3.5, spread: 0.3 },
		path: { from: 'battery-plug', how: 'lost' },
		operation: 'fit-battery-connector'
	},
	accessory: {
		share: 0.05,
		signs: { 'no-charge': 0.6, 'slow-charge': 0.35, intermittent: 0.35 },
		tests: { 'cable-known-good': { charges: 0.97, 'no-change': 0.03 } },
		draw: full,
		batteryVolts: midVolts,
		operation: 'swap-accessory'
	},
	software: {
		share: 0.012,
		signs: { restarts: 0.35, 'slow-charge': 0.4, 'short-runtime': 0.4, 'no-charge': 0.3 },
		tests: {},
		draw: full,
		batteryVolts: midVolts,
		operation: 'set-software'
	},
	other: {
		share: 0.02,
		signs: { dead: 0.25, 'no-start': 0.3 },
		tests: {},
		draw: full,
		batteryVolts: midVolts,
		operation: 'reassemble'
	}
};
