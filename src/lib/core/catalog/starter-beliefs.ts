import type { CatalogRecord } from './kinds';

/**
 * What the trade believes of its faults before a shop has a record of its own: signs, tests and measurements, and what is
 * usual whatever is wrong. Common practice, no source; all of them give way to the shop's own record.
 */
type Outcomes = Record<string, number>;

/** Under each fault: signs by their chance, tests and measurements by the chances of their outcomes. */
interface Believed {
	signs?: Record<string, number>;
	tests?: Record<string, Outcomes>;
	measured?: Record<string, Outcomes>;
}

/**
 * Tests whose finding is the fault itself, and what was counted or seen as plainly: their beliefs are not doubted. Each with how rarely it is
 * found where that fault is not there.
 */
const SURE: readonly string[] = [
	'vbus-fuse',
	'filter-through',
	'coil-through',
	'flex-look',
	'battery-connector-look',
	'pads-look',
	'board-look',
	'cable-known-good',
	'count:pads',
	'look:joints'
];

/** Signs of any device, whatever is wrong. */
const SIGN: Record<string, number> = {
	dead: 0.08,
	'no-picture': 0.02,
	'drops-out': 0.06,
	'wireless-only': 0.06,
	'burnt-smell': 0.02,
	'no-charge': 0.4,
	intermittent: 0.1,
	'one-way-round': 0.03,
	'slow-charge': 0.08,
	'port-loose': 0.08,
	'no-start': 0.1,
	'no-lamp': 0.1,
	restarts: 0.03,
	'flex-function-lost': 0.02,
	'gets-hot': 0.05,
	'short-runtime': 0.08,
	dropped: 0.2,
	'got-wet': 0.07,
	'port-replaced': 0.06,
	'battery-replaced': 0.06,
	'wrong-charger': 0.06,
	'long-unused': 0.07,
	'opened-before': 0.1,
	cracked: 0.1,
	'lint-seen': 0.06
};

/** A sign that is so many times as frequent under a fault as it is usually. */
const times = (sign: string, factor: number): Record<string, number> => ({
	[sign]: Math.min(0.97, (SIGN[sign] ?? 0) * factor)
});
const signs = (...all: [sign: string, factor: number][]): Record<string, number> =>
	Object.assign({}, ...all.map(([sign, factor]) => times(sign, factor)));

/** Two answers, the first with this chance. */
const two = (first: string, second: string, chance: number): Outcomes => ({
	[first]: chance,
	[second]: Number((1 - chance).toFixed(6))
});

const CONTACTS: Outcomes = {
	straight: 0.93,
	bent: 0.03,
	folded: 0.01,
	touching: 0.005,
	missing: 0.005,
	burnt: 0.002,
	corroded: 0.018
};
/** Chips and lines behind the port. */
const CONTACTS_BEHIND: Outcomes = {
	straight: 0.86,
	bent: 0.03,
	folded: 0.02,
	touching: 0.01,
	missing: 0.02,
	burnt: 0.02,
	corroded: 0.04
};

const USUAL: Believed = {
	signs: SIGN,
	tests: {
		'port-clean': { 'dirt-out': 0.1, 'was-clean': 0.9 },
		'cable-known-good': two('charges', 'no-change', 0.015),
		'wireless-try': two('charges', 'no-change', 0.35),
		'cc-tester': { passes: 0.6, 'one-side': 0.06, fails: 0.3, 'no-battery': 0.04 },
		'wiggle-load': two('holds', 'drops', 0.9),
		'supply-port': {
			'jump-and-back': 0.3,
			'steady-climb': 0.25,
			'one-side': 0.05,
			hangs: 0.1,
			nothing: 0.25,
			short: 0.05
		},
		'display-known-good': two('picture', 'no-picture', 0.6),
		'vbus-ground': { normal: 0.96, low: 0.03, short: 0.01 },
		'vbus-ground-off': { normal: 0.96, low: 0.03, short: 0.01 },
		'vbus-behind-port': two('there', 'lost', 0.9),
		'chip-caps': {
			none: 0.954,
			'port-chip': 0.015,
			'charge-chip': 0.015,
			'display-chip': 0.008,
			'other-chip': 0.008
		},
		'pads-look': { 'all-there': 0.9842, 'few-torn': 0.0005, 'many-torn': 0.0003, burnt: 0.015 },
		'flex-look': { sound: 0.9862, burnt: 0.0002, torn: 0.0002, corroded: 0.0134 },
		'battery-connector-look': { flush: 0.9991, bent: 0.0003, lifted: 0.0003, burnt: 0.0003 },
		'port-known-good': two('charges', 'no-change', 0.05),
		'touch-heat': { cool: 0.85, 'port-warm': 0.05, 'chip-hot': 0.06, 'battery-warm': 0.04 },
		'supply-battery': { 'steady-climb': 0.6, 'jump-and-back': 0.2, hangs: 0.1, nothing: 0.07, short: 0.03 },
		'port-joint-push': { 'all-firm': 0.94, 'some-move': 0.06 },
		'vbus-fuse': { through: 0.9995, open: 0.0005 },
		'caps-ground': { 'none-shorted': 0.97, 'one-shorted': 0.03 },
		'filter-through': { through: 0.9996, open: 0.0004 },
		'coil-through': { through: 0.9997, open: 0.0003 },
		'battery-swap': { charges: 0.04, 'no-change': 0.96 },
		'battery-reseat': { charges: 0.03, 'no-change': 0.97 },
		thermal: { nothing: 0.85, 'port-area': 0.08, 'charger-area': 0.07 },
		'controller-diode': { normal: 0.92, odd: 0.08 },
		'board-look': { clean: 0.9984, corroded: 0.0011, torn: 0.0005 }
	},
	measured: {
		'meter:draw': {
			healthy: 0.2,
			precharge: 0.08,
			slow: 0.12,
			trickle: 0.2,
			nothing: 0.3,
			'contract-nothing': 0.05,
			sagging: 0.03,
			over: 0.01,
			full: 0.01
		},
		'meter:sides': two('alike', 'one-only', 0.95),
		'meter:hold': two('steady', 'pulsing', 0.92),
		'meter:contract': two('base', 'raised', 0.7),
		'battery:state': {
			'in-range': 0.72,
			precharge: 0.1,
			watch: 0.03,
			discard: 0.03,
			'cut-off': 0.02,
			full: 0.09,
			over: 0.005,
			reversed: 0.005
		},
		'look:contacts': CONTACTS,
		'look:tongue': { straight: 0.95, bent: 0.02, missing: 0.01, burnt: 0.01, corroded: 0.01 },
		'look:shell': { straight: 0.9, bent: 0.08, missing: 0.01, corroded: 0.01 },
		'look:joints': { firm: 0.9635, moves: 0.02, cracked: 0.0035, dry: 0.003, bridged: 0.01 },
		'count:pads': { none: 0.9965, few: 0.0025, many: 0.001 },
		'supply:start': {
			'steady-climb': 0.35,
			'jump-and-back': 0.35,
			hangs: 0.1,
			cycles: 0.02,
			nothing: 0.15,
			short: 0.03
		},
		'pins:vbus': { agrees: 0.5, value: 0.46, short: 0.01, open: 0.01, low: 0.01, high: 0.005, mixed: 0.005 },
		'off:vbus': { agrees: 0.5, value: 0.46, short: 0.01, open: 0.01, low: 0.01, high: 0.005, mixed: 0.005 },
		'pins:gnd': { agrees: 0.5, short: 0.47, value: 0.01, open: 0.01, mixed: 0.01 },
		...Object.fromEntries(
			['pins:cc1', 'pins:cc2', 'pins:d+', 'pins:d-'].map((question) => [
				question,
				{ agrees: 0.5, value: 0.43, short: 0.01, open: 0.02, low: 0.02, high: 0.01, mixed: 0.01 }
			])
		)
	}
};

/** A contact of the port that makes no connection any more, or a line torn behind it. */
const LINE_OPEN: Outcomes = { open: 0.35, mixed: 0.1, high: 0.05, agrees: 0.3, value: 0.2 };
const CONTROLLER_LINE: Outcomes = { short: 0.2, low: 0.3, high: 0.05, open: 0.1, agrees: 0.2, value: 0.15 };
/** The supply line to ground reads short so often. */
const vbusShort = (chance: number): Outcomes => ({
	short: chance,
	low: Math.min(0.05, 1 - chance),
	agrees: Number(((1 - chance - Math.min(0.05, 1 - chance)) / 2).toFixed(6)),
	value: Number(((1 - chance - Math.min(0.05, 1 - chance)) / 2).toFixed(6))
});
const groundShort = (chance: number): Outcomes => ({
	short: chance,
	low: 0.03,
	normal: Number((0.97 - chance).toFixed(6))
});
/** A supply line of this fault, with its port on and off, as pins, ohms and ohms with the old port off. */
const supplyLine = (on: number, off: number): Believed => ({
	tests: { 'vbus-ground': groundShort(on), 'vbus-ground-off': groundShort(off) },
	measured: { 'pins:vbus': vbusShort(on), 'off:vbus': vbusShort(off) }
});
const draw = (nothing: number, outcomes: Outcomes): Outcomes => ({ nothing, ...outcomes });
/** One side only: nothing behind the port does that. */
const BOTH_SIDES: Outcomes = two('alike', 'one-only', 0.995);
/** Moved under load it holds: a chip does not mind. */
const HOLDS = two('holds', 'drops', 0.98);
/** Not the user's cable: another one changes nothing. */
const OWN_CABLE_SOUND = two('charges', 'no-change', 0.001);

function merged(...all: Believed[]): Believed {
	const result: Required<Believed> = { signs: {}, tests: {}, measured: {} };
	for (const one of all) {
		Object.assign(result.signs, one.signs);
		Object.assign(result.tests, one.tests);
		Object.assign(result.measured, one.measured);
	}
	return result;
}

/** What holds of all chips and lines behind the port. */
const BEHIND: Believed = {
	signs: signs(['drops-out', 0.2], ['one-way-round', 0.1]),
	tests: { 'wiggle-load': HOLDS, 'cable-known-good': OWN_CABLE_SOUND },
	measured: { 'meter:sides': BOTH_SIDES }
};

const BELIEFS: Record<string, Believed> = {
	'port-contacts': merged(supplyLine(0.15, 0.01), {
		signs: {
			'no-charge': 0.6,
			intermittent: 0.4,
			...signs(
				['one-way-round', 5],
				['port-loose', 4.5],
				['drops-out', 3.5],
				['burnt-smell', 2],
				['no-picture', 13],
				['wireless-only', 2.5],
				['port-replaced', 0.5]
			)
		},
		tests: {
			'wiggle-load': two('holds', 'drops', 0.65),
			'cable-known-good': OWN_CABLE_SOUND,
			'cc-tester': { passes: 0.25, 'one-side': 0.35, fails: 0.4 },
			'supply-port': {
				'jump-and-back': 0.15,
				'steady-climb': 0.1,
				'one-side': 0.4,
				hangs: 0.03,
				nothing: 0.27,
				short: 0.05
			},
			'vbus-behind-port': two('there', 'lost', 0.45),
			'port-known-good': two('charges', 'no-change', 0.75),
			'display-known-good': two('picture', 'no-picture', 0.2),
			'touch-heat': { cool: 0.65, 'port-warm': 0.32, 'chip-hot': 0.02, 'battery-warm': 0.01 },
			'wireless-try': two('charges', 'no-change', 0.85),
			'pads-look': { 'all-there': 0.9392, 'few-torn': 0.0005, 'many-torn': 0.0003, burnt: 0.06 }
		},
		measured: {
			'meter:draw': draw(0.45, { trickle: 0.15, slow: 0.1, healthy: 0.24, sagging: 0.06 }),
			'meter:sides': two('alike', 'one-only', 0.75),
			'look:contacts': {
				straight: 0.12,
				bent: 0.2,
				folded: 0.22,
				touching: 0.08,
				missing: 0.14,
				burnt: 0.14,
				corroded: 0.1
			},
			'look:tongue': { straight: 0.55, bent: 0.12, missing: 0.2, burnt: 0.09, corroded: 0.04 },
			'look:shell': { straight: 0.81, bent: 0.16, missing: 0.02, corroded: 0.01 },
			'pins:cc1': LINE_OPEN,
			'pins:cc2': LINE_OPEN
		}
	}),
	'port-joints': merged(supplyLine(0.01, 0.01), {
		signs: {
			'no-charge': 0.45,
			intermittent: 0.55,
			dropped: 0.4,
			...signs(
				['port-loose', 4.5],
				['drops-out', 5],
				['one-way-round', 3],
				['port-replaced', 3],
				['no-lamp', 2],
				['no-picture', 4],
				['wireless-only', 2.5]
			)
		},
		tests: {
			'port-joint-push': { 'all-firm': 0.15, 'some-move': 0.85 },
			'wiggle-load': two('holds', 'drops', 0.5),
			'cable-known-good': OWN_CABLE_SOUND,
			'cc-tester': { passes: 0.4, 'one-side': 0.2, fails: 0.4 },
			'supply-port': {
				'jump-and-back': 0.2,
				'steady-climb': 0.15,
				'one-side': 0.2,
				hangs: 0.03,
				nothing: 0.4,
				short: 0.02
			},
			'vbus-behind-port': two('there', 'lost', 0.35),
			'port-known-good': two('charges', 'no-change', 0.75),
			'wireless-try': two('charges', 'no-change', 0.85)
		},
		measured: {
			'meter:draw': draw(0.6, { trickle: 0.1, slow: 0.08, healthy: 0.15, sagging: 0.07 }),
			'meter:hold': two('steady', 'pulsing', 0.5),
			'meter:sides': two('alike', 'one-only', 0.85),
			'look:shell': { straight: 0.75, bent: 0.22, missing: 0.02, corroded: 0.01 },
			'look:joints': { firm: 0.08, moves: 0.33, cracked: 0.27, dry: 0.27, bridged: 0.05 }
		}
	}),
	'port-debris': {
		signs: {
			intermittent: 0.5,
			...signs(
				['port-loose', 4.5],
				['drops-out', 1.5],
				['lint-seen', 12],
				['port-replaced', 0.5],
				['wireless-only', 2.5]
			)
		},
		tests: {
			'port-clean': { 'dirt-out': 0.95, 'was-clean': 0.05 },
			'cable-known-good': OWN_CABLE_SOUND,
			'wiggle-load': two('holds', 'drops', 0.85),
			'wireless-try': two('charges', 'no-change', 0.85)
		},
		measured: {
			'meter:draw': draw(0.15, { trickle: 0.2, slow: 0.25, healthy: 0.35, sagging: 0.05 }),
			'meter:hold': two('steady', 'pulsing', 0.7)
		}
	},
	'torn-pads': {
		signs: {
			'no-charge': 0.7,
			...signs(
				['port-replaced', 4],
				['opened-before', 2],
				['port-loose', 3],
				['one-way-round', 2],
				['no-picture', 5],
				['wireless-only', 2.5],
				['drops-out', 1.2]
			)
		},
		tests: {
			'board-look': { clean: 0.2, corroded: 0.01, torn: 0.79 },
			'pads-look': { 'all-there': 0.04, 'few-torn': 0.5, 'many-torn': 0.42, burnt: 0.04 },
			'cable-known-good': OWN_CABLE_SOUND,
			'supply-port': {
				'jump-and-back': 0.2,
				'steady-climb': 0.1,
				'one-side': 0.15,
				hangs: 0.05,
				nothing: 0.48,
				short: 0.02
			},
			'vbus-behind-port': two('there', 'lost', 0.6),
			'wireless-try': two('charges', 'no-change', 0.85)
		},
		measured: {
			'meter:draw': draw(0.6, { trickle: 0.2, slow: 0.08, healthy: 0.12 }),
			'meter:sides': two('alike', 'one-only', 0.9),
			'look:shell': { straight: 0.75, bent: 0.22, missing: 0.02, corroded: 0.01 },
			'look:joints': { firm: 0.2, moves: 0.65, cracked: 0.08, dry: 0.04, bridged: 0.03 },
			'count:pads': { none: 0.099, few: 0.4, many: 0.501 },
			'pins:cc1': LINE_OPEN,
			'pins:cc2': LINE_OPEN,
			'pins:d+': LINE_OPEN,
			'pins:d-': LINE_OPEN
		}
	},
	'charge-flex': {
		signs: {
			'no-charge': 0.6,
			...signs(
				['drops-out', 3],
				['burnt-smell', 3],
				['flex-function-lost', 8],
				['restarts', 3],
				['port-loose', 1.5],
				['wireless-only', 2.5]
			)
		},
		tests: {
			'flex-look': { sound: 0.3, burnt: 0.3, torn: 0.28, corroded: 0.12 },
			'port-known-good': two('charges', 'no-change', 0.75),
			'cable-known-good': OWN_CABLE_SOUND,
			'wiggle-load': two('holds', 'drops', 0.7),
			'wireless-try': two('charges', 'no-change', 0.85)
		},
		measured: {
			'meter:draw': draw(0.45, { trickle: 0.15, slow: 0.1, healthy: 0.24, sagging: 0.06 }),
			'look:contacts': {
				straight: 0.4,
				bent: 0.12,
				folded: 0.12,
				touching: 0.03,
				missing: 0.08,
				burnt: 0.17,
				corroded: 0.08
			}
		}
	},
	'wireless-coil': {
		signs: { 'no-charge': 0.1 },
		tests: { 'wireless-try': two('charges', 'no-change', 0.03), 'cable-known-good': OWN_CABLE_SOUND },
		measured: { 'meter:draw': { healthy: 0.7, full: 0.1, slow: 0.1, precharge: 0.1 } }
	},
	'port-controller': merged(BEHIND, supplyLine(0.08, 0.08), {
		signs: {
			'no-charge': 0.8,
			...signs(
				['wrong-charger', 4],
				['no-lamp', 2],
				['burnt-smell', 2.5],
				['port-replaced', 1.4],
				['battery-replaced', 1.9],
				['wireless-only', 2.5]
			)
		},
		tests: {
			'controller-diode': { normal: 0.15, odd: 0.85 },
			thermal: { nothing: 0.45, 'port-area': 0.5, 'charger-area': 0.05 },
			'chip-caps': {
				none: 0.64,
				'port-chip': 0.3,
				'charge-chip': 0.03,
				'display-chip': 0.015,
				'other-chip': 0.015
			},
			'cc-tester': { passes: 0.1, 'one-side': 0.05, fails: 0.82, 'no-battery': 0.03 },
			'supply-port': {
				'jump-and-back': 0.08,
				'steady-climb': 0.05,
				'one-side': 0.03,
				hangs: 0.3,
				nothing: 0.5,
				short: 0.04
			},
			'touch-heat': { cool: 0.7, 'port-warm': 0.05, 'chip-hot': 0.23, 'battery-warm': 0.02 },
			'vbus-behind-port': two('there', 'lost', 0.95),
			'wireless-try': two('charges', 'no-change', 0.85)
		},
		measured: {
			'meter:draw': draw(0.72, { trickle: 0.18, slow: 0.07, healthy: 0.01, sagging: 0.02 }),
			'meter:sides': two('alike', 'one-only', 0.94),
			'meter:contract': two('base', 'raised', 0.97),
			'look:contacts': CONTACTS_BEHIND,
			'pins:cc1': CONTROLLER_LINE,
			'pins:cc2': CONTROLLER_LINE
		}
	}),
	'charge-controller': merged(BEHIND, supplyLine(0.12, 0.12), {
		signs: {
			'no-charge': 0.75,
			'gets-hot': 0.3,
			...signs(
				['wrong-charger', 3],
				['burnt-smell', 2.5],
				['port-replaced', 1.4],
				['battery-replaced', 1.9],
				['wireless-only', 0.15]
			)
		},
		tests: {
			thermal: { nothing: 0.3, 'port-area': 0.05, 'charger-area': 0.65 },
			'chip-caps': {
				none: 0.64,
				'port-chip': 0.03,
				'charge-chip': 0.3,
				'display-chip': 0.015,
				'other-chip': 0.015
			},
			'supply-port': {
				'jump-and-back': 0.15,
				'steady-climb': 0.1,
				'one-side': 0.01,
				hangs: 0.44,
				nothing: 0.24,
				short: 0.06
			},
			'supply-battery': {
				'steady-climb': 0.3,
				'jump-and-back': 0.25,
				hangs: 0.25,
				nothing: 0.12,
				short: 0.08
			},
			'touch-heat': { cool: 0.5, 'port-warm': 0.03, 'chip-hot': 0.45, 'battery-warm': 0.02 },
			'wireless-try': two('charges', 'no-change', 0.05)
		},
		measured: {
			'meter:draw': { 'contract-nothing': 0.2, nothing: 0.45, trickle: 0.27, slow: 0.06, over: 0.02 },
			'meter:contract': two('base', 'raised', 0.5),
			'look:contacts': CONTACTS_BEHIND
		}
	}),
	'display-controller': merged(BEHIND, {
		signs: signs(['no-picture', 48], ['wrong-charger', 3], ['burnt-smell', 2.5], ['no-charge', 0.5]),
		tests: {
			'chip-caps': {
				none: 0.75,
				'port-chip': 0.02,
				'charge-chip': 0.02,
				'display-chip': 0.2,
				'other-chip': 0.01
			},
			'display-known-good': two('picture', 'no-picture', 0.03)
		},
		measured: {
			'meter:draw': { healthy: 0.35, slow: 0.15, trickle: 0.15, nothing: 0.25, full: 0.05, precharge: 0.05 },
			'look:contacts': CONTACTS
		}
	}),
	'other-chip': merged(BEHIND, supplyLine(0.12, 0.12), {
		signs: signs(['dead', 5], ['gets-hot', 3], ['restarts', 3], ['burnt-smell', 2.5]),
		tests: {
			'chip-caps': {
				none: 0.77,
				'port-chip': 0.02,
				'charge-chip': 0.02,
				'display-chip': 0.01,
				'other-chip': 0.18
			},
			'supply-battery': { 'steady-climb': 0.1, 'jump-and-back': 0.25, hangs: 0.4, nothing: 0.1, short: 0.15 },
			'touch-heat': { cool: 0.4, 'port-warm': 0.02, 'chip-hot': 0.55, 'battery-warm': 0.03 }
		},
		measured: { 'meter:draw': { slow: 0.35, nothing: 0.25, trickle: 0.2, healthy: 0.15, sagging: 0.05 } }
	}),
	'input-fuse': merged(BEHIND, {
		signs: {
			'no-charge': 0.95,
			...signs(
				['wrong-charger', 4],
				['no-lamp', 2],
				['port-replaced', 1.4],
				['battery-replaced', 1.9],
				['wireless-only', 2.5]
			)
		},
		tests: {
			'vbus-fuse': { through: 0.02, open: 0.98 },
			'cc-tester': { passes: 0.5, 'one-side': 0.02, fails: 0.45, 'no-battery': 0.03 },
			'supply-port': {
				'jump-and-back': 0.02,
				'steady-climb': 0.02,
				'one-side': 0.01,
				hangs: 0.02,
				nothing: 0.92,
				short: 0.01
			},
			'vbus-behind-port': two('there', 'lost', 0.97),
			'wireless-try': two('charges', 'no-change', 0.85)
		},
		measured: { 'meter:draw': { nothing: 0.93, trickle: 0.07 }, 'look:contacts': CONTACTS_BEHIND }
	}),
	'shorted-capacitor': merged(BEHIND, supplyLine(0.9, 0.9), {
		signs: {
			'no-charge': 0.85,
			'gets-hot': 0.3,
			...signs(['burnt-smell', 3], ['wrong-charger', 2], ['got-wet', 1.5])
		},
		tests: {
			'caps-ground': { 'none-shorted': 0.05, 'one-shorted': 0.95 },
			thermal: { nothing: 0.2, 'port-area': 0.45, 'charger-area': 0.35 },
			'chip-caps': {
				none: 0.7,
				'port-chip': 0.1,
				'charge-chip': 0.1,
				'display-chip': 0.05,
				'other-chip': 0.05
			},
			'supply-port': {
				'jump-and-back': 0.05,
				'steady-climb': 0.03,
				'one-side': 0.02,
				hangs: 0.1,
				nothing: 0.1,
				short: 0.7
			},
			'touch-heat': { cool: 0.4, 'port-warm': 0.15, 'chip-hot': 0.43, 'battery-warm': 0.02 }
		},
		measured: {
			'meter:draw': { nothing: 0.7, sagging: 0.18, over: 0.1, trickle: 0.02 },
			'look:contacts': CONTACTS_BEHIND
		}
	}),
	'line-filter': merged(BEHIND, {
		signs: signs(['slow-charge', 5], ['got-wet', 1.5]),
		tests: { 'filter-through': { through: 0.03, open: 0.97 } },
		measured: { 'meter:draw': { slow: 0.42, trickle: 0.21, nothing: 0.36, healthy: 0.01 } }
	}),
	'coil-open': merged(BEHIND, {
		signs: { 'no-charge': 0.8, ...signs(['no-start', 2]) },
		tests: { 'coil-through': { through: 0.03, open: 0.97 } },
		measured: {
			'meter:draw': { 'contract-nothing': 0.25, nothing: 0.4, trickle: 0.35 },
			'meter:contract': two('base', 'raised', 0.5)
		}
	}),
	'board-corrosion': merged(supplyLine(0.08, 0.08), {
		signs: signs(['got-wet', 12], ['no-start', 3], ['dead', 3], ['flex-function-lost', 2]),
		tests: {
			'board-look': { clean: 0.06, corroded: 0.93, torn: 0.01 },
			'flex-look': { sound: 0.7, burnt: 0.003, torn: 0.003, corroded: 0.294 },
			'cable-known-good': OWN_CABLE_SOUND
		},
		measured: {
			'meter:hold': two('steady', 'pulsing', 0.6),
			'look:contacts': { straight: 0.5, burnt: 0.01, corroded: 0.49 }
		}
	}),
	'battery-worn': merged(BEHIND, {
		signs: {
			'short-runtime': 0.75,
			...signs(
				['no-start', 2.5],
				['long-unused', 2],
				['battery-replaced', 0.4],
				['restarts', 2],
				['wireless-only', 0.15],
				['no-charge', 0.7]
			)
		},
		tests: {
			'battery-swap': { charges: 0.9, 'no-change': 0.1 },
			'cc-tester': { passes: 0.72, 'one-side': 0.01, fails: 0.03, 'no-battery': 0.24 },
			'supply-battery': {
				'steady-climb': 0.9,
				'jump-and-back': 0.06,
				hangs: 0.02,
				nothing: 0.01,
				short: 0.01
			},
			'wireless-try': two('charges', 'no-change', 0.05),
			'touch-heat': { cool: 0.7, 'port-warm': 0.02, 'chip-hot': 0.02, 'battery-warm': 0.26 }
		},
		measured: {
			'meter:draw': draw(0.045, {
				healthy: 0.44,
				precharge: 0.25,
				trickle: 0.1,
				slow: 0.085,
				full: 0.06,
				'contract-nothing': 0.02
			}),
			'battery:state': {
				'in-range': 0.52,
				precharge: 0.15,
				watch: 0.08,
				discard: 0.16,
				'cut-off': 0.03,
				full: 0.06
			}
		}
	}),
	'battery-flat': merged(BEHIND, {
		signs: signs(['long-unused', 8], ['dead', 3], ['wireless-only', 0.5]),
		tests: {
			'battery-swap': { charges: 0.9, 'no-change': 0.1 },
			'supply-battery': {
				'steady-climb': 0.85,
				'jump-and-back': 0.1,
				hangs: 0.02,
				nothing: 0.02,
				short: 0.01
			},
			'cc-tester': { passes: 0.75, 'one-side': 0.01, fails: 0.04, 'no-battery': 0.2 }
		},
		measured: {
			'meter:draw': draw(0.2, { precharge: 0.45, trickle: 0.2, 'contract-nothing': 0.14, slow: 0.01 }),
			'battery:state': { precharge: 0.58, 'cut-off': 0.2, watch: 0.18, 'in-range': 0.02, discard: 0.02 }
		}
	}),
	'battery-plug': merged(BEHIND, {
		signs: {
			dropped: 0.45,
			...signs(['no-start', 4], ['battery-replaced', 3], ['opened-before', 2], ['dead', 2])
		},
		tests: {
			'battery-reseat': { charges: 0.9, 'no-change': 0.1 },
			'battery-swap': { charges: 0.6, 'no-change': 0.4 },
			'cc-tester': { passes: 0.73, 'one-side': 0.01, fails: 0.02, 'no-battery': 0.24 },
			'supply-battery': {
				'steady-climb': 0.85,
				'jump-and-back': 0.1,
				hangs: 0.02,
				nothing: 0.02,
				short: 0.01
			}
		},
		measured: {
			'meter:draw': draw(0.25, { 'contract-nothing': 0.4, trickle: 0.28, slow: 0.07 }),
			'meter:contract': two('base', 'raised', 0.5),
			'battery:state': { 'in-range': 0.76, precharge: 0.1, full: 0.09, watch: 0.03, 'cut-off': 0.02 }
		}
	}),
	'battery-connector': merged(BEHIND, {
		signs: signs(
			['battery-replaced', 5],
			['opened-before', 3],
			['restarts', 2],
			['no-start', 3],
			['dead', 3]
		),
		tests: {
			'battery-connector-look': { flush: 0.1, bent: 0.37, lifted: 0.33, burnt: 0.2 },
			'battery-swap': { charges: 0.1, 'no-change': 0.9 },
			'battery-reseat': { charges: 0.15, 'no-change': 0.85 },
			'cc-tester': { passes: 0.73, 'one-side': 0.01, fails: 0.02, 'no-battery': 0.24 }
		},
		measured: {
			'meter:draw': draw(0.2, { 'contract-nothing': 0.33, trickle: 0.2, slow: 0.27 }),
			'meter:contract': two('base', 'raised', 0.5)
		}
	}),
	accessory: {
		signs: signs(['drops-out', 2], ['no-lamp', 1.5], ['no-picture', 12], ['intermittent', 2]),
		tests: {
			'cable-known-good': two('charges', 'no-change', 0.95),
			'display-known-good': two('picture', 'no-picture', 0.95),
			'wiggle-load': two('holds', 'drops', 0.95)
		},
		measured: {
			'meter:draw': { healthy: 0.75, full: 0.1, slow: 0.1, precharge: 0.05 },
			'meter:sides': BOTH_SIDES,
			'look:contacts': CONTACTS
		}
	},
	software: merged(BEHIND, {
		signs: signs(['restarts', 3], ['short-runtime', 2], ['slow-charge', 2], ['dead', 1.5]),
		measured: { 'meter:draw': { healthy: 0.75, full: 0.15, slow: 0.1 } }
	})
};

/** A belief that holds in the place of the plain one, where another question was answered so. */
interface Given {
	/** without, of every fault of which nothing else is said */
	fault?: string;
	question: string;
	outcomes: Outcomes;
	where: { test?: string; measured?: string; outcomes: string[] };
}
const DAMAGED = ['folded', 'touching', 'missing', 'burnt'];
const contactsSeen = { measured: 'look:contacts', outcomes: DAMAGED };
const bridged = { measured: 'look:joints', outcomes: ['bridged'] };
const bothSides = { measured: 'meter:sides', outcomes: ['alike'] };
/** Both sides charge as they should: nothing on the supply side is wrong. Nothing on both: what lies under the port before what lies in it. */
const UNDER_THE_PORT: Outcomes = { healthy: 0.01, nothing: 0.6, trickle: 0.2, slow: 0.14, sagging: 0.05 };
const IN_THE_PORT: Outcomes = { healthy: 0.01, nothing: 0.3, trickle: 0.32, slow: 0.27, sagging: 0.1 };
const ON_BOTH_SIDES: Readonly<Record<string, Outcomes>> = {
	'port-joints': UNDER_THE_PORT,
	'torn-pads': UNDER_THE_PORT,
	'port-contacts': IN_THE_PORT,
	'port-debris': IN_THE_PORT,
	'charge-flex': IN_THE_PORT
};

const SHORT_SEEN = [
	{ measured: 'pins:vbus', outcomes: ['short'] },
	{ test: 'vbus-ground', outcomes: ['short'] }
];
/** The supply line with the old port off, as it is asked in ohms and at the contacts. */
const OFF_QUESTIONS = [
	{ question: 'vbus-ground-off', short: groundShort },
	{ question: 'off:vbus', short: vbusShort }
];
const PORT_SIDE = ['port-contacts', 'port-joints', 'charge-flex'];
const SHORTS_BEHIND = [
	'shorted-capacitor',
	'charge-controller',
	'other-chip',
	'port-controller',
	'board-corrosion'
];
const drawsHalf = { measured: 'meter:draw', outcomes: ['slow'] };
const CONDITIONAL: readonly Given[] = [
	// moving a plug that carries nothing tells nothing
	{
		question: 'wiggle-load',
		outcomes: two('holds', 'drops', 0.5),
		where: { measured: 'meter:draw', outcomes: ['nothing'] }
	},
	// a contact that lies on its neighbour or the shell shorts the supply
	{ fault: 'port-contacts', question: 'pins:vbus', outcomes: vbusShort(0.5), where: contactsSeen },
	{ fault: 'port-contacts', question: 'vbus-ground', outcomes: groundShort(0.5), where: contactsSeen },
	// a bridge of solder does, before any capacitor
	{ fault: 'port-joints', question: 'pins:vbus', outcomes: vbusShort(0.9), where: bridged },
	{ fault: 'port-joints', question: 'vbus-ground', outcomes: groundShort(0.9), where: bridged },
	// the short is gone with the old port: the port was it; what lies behind it stays
	...SHORT_SEEN.flatMap((where) =>
		OFF_QUESTIONS.flatMap(({ question, short }) => [
			...PORT_SIDE.map((fault) => ({ fault, question, outcomes: short(0.01), where })),
			...SHORTS_BEHIND.map((fault) => ({ fault, question, outcomes: short(0.965), where })),
			{ question, outcomes: short(0.955), where }
		])
	),
	// half an ampere that stays and a known good display dark as well: what the board starts from, not what shows its picture
	{ question: 'display-known-good', outcomes: two('picture', 'no-picture', 0.5), where: drawsHalf },
	...['battery-connector', 'battery-worn', 'other-chip'].map((fault) => ({
		fault,
		question: 'display-known-good',
		outcomes: two('picture', 'no-picture', 0.04),
		where: drawsHalf
	})),
	...Object.entries(ON_BOTH_SIDES).map(([fault, outcomes]) => ({
		fault,
		question: 'meter:draw',
		outcomes,
		where: bothSides
	}))
];

/** What is found when a device comes back after the shop's own work; what a row leaves is another fault, wrong at first. */
const AFTER_A_CHIP = (chip: string): Record<string, number> => ({
	[chip]: 0.45,
	'torn-pads': 0.03,
	'battery-plug': 0.05
});
const COMEBACKS: Record<string, Record<string, number>> = {
	...Object.fromEntries(
		['replace-port', 'reflow-port'].map((operation) => [
			operation,
			{ 'port-joints': 0.5, 'torn-pads': 0.12, 'port-contacts': 0.08, 'battery-plug': 0.05 }
		])
	),
	...Object.fromEntries(
		['rebuild-traces', 'jumper-track'].map((operation) => [
			operation,
			{ 'port-joints': 0.38, 'torn-pads': 0.35, 'port-contacts': 0.04, 'battery-plug': 0.03 }
		])
	),
	'replace-port-controller': AFTER_A_CHIP('port-controller'),
	'replace-charger': AFTER_A_CHIP('charge-controller'),
	'replace-display-controller': AFTER_A_CHIP('display-controller'),
	'replace-chip': AFTER_A_CHIP('other-chip'),
	'reflow-chip': {
		'port-controller': 0.2,
		'charge-controller': 0.18,
		'display-controller': 0.05,
		'other-chip': 0.05
	},
	...Object.fromEntries(
		['replace-battery', 'wake-pack', 'reseat-battery'].map((operation) => [
			operation,
			{ 'battery-worn': 0.22, 'battery-plug': 0.35, 'battery-connector': 0.13 }
		])
	),
	'fit-charge-flex': { 'charge-flex': 0.35, 'battery-plug': 0.2 },
	'clean-port': { 'port-contacts': 0.4, 'port-joints': 0.2, 'port-debris': 0.2 }
};

/** What a belief is worth in tickets: a check of the part itself says more than what a customer reports. Choices. */
const WORTH = { sign: 20, test: 40, measured: 20, comeback: 20 };

function recordsOf(fault: string | undefined, { signs, tests, measured }: Believed): CatalogRecord[] {
	const base = { record: 'expectation' as const, ...(fault === undefined ? {} : { given: fault }) };
	const recordsFor = <Said>(
		statements: Record<string, Said> | undefined,
		make: (code: string, statement: Said) => object
	) => Object.entries(statements ?? {}).map(([code, statement]) => ({ ...base, ...make(code, statement) }));
	const sureness = (question: string) => (SURE.includes(question) ? { sure: true } : {});
	// what is asked of the supply is the same whether it is answered in words or by its amperes
	const fed = tests?.['supply-battery'];
	const measurements = fed ? { ...measured, 'supply:battery': { ...fed, cycles: 0 } } : measured;
	return [
		...recordsFor(signs, (sign, chance) => ({ sign, chance, weight: WORTH.sign })),
		...recordsFor(tests, (test, outcomes) => ({ test, outcomes, ...sureness(test), weight: WORTH.test })),
		...recordsFor(measurements, (question, outcomes) => ({
			measured: question,
			outcomes,
			...sureness(question),
			weight: WORTH.measured
		}))
	];
}

export const STARTER_BELIEFS: readonly CatalogRecord[] = [
	...recordsOf(undefined, USUAL),
	...Object.entries(BELIEFS).flatMap(([fault, believed]) => recordsOf(fault, believed)),
	...CONDITIONAL.map(({ fault, question, outcomes, where }): CatalogRecord => ({
		record: 'expectation',
		...(fault === undefined ? {} : { given: fault }),
		...(question.includes(':') ? { measured: question } : { test: question }),
		outcomes,
		where,
		weight: WORTH.measured
	})),
	...Object.entries(COMEBACKS).map(([operation, faults]): CatalogRecord => ({
		record: 'comeback-belief',
		operation,
		faults,
		weight: WORTH.comeback
	}))
];
