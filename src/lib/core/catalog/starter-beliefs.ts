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

const USUAL: Believed = {
	signs: {
		'no-charge': 0.4,
		intermittent: 0.1,
		'one-way-round': 0.03,
		'slow-charge': 0.08,
		'port-loose': 0.08,
		'no-start': 0.1,
		'gets-hot': 0.05,
		'short-runtime': 0.08,
		dropped: 0.2,
		'got-wet': 0.07,
		'port-replaced': 0.06,
		'battery-replaced': 0.06,
		'wrong-charger': 0.06,
		'long-unused': 0.07,
		'opened-before': 0.1,
		cracked: 0.1
	},
	tests: {
		'port-clean': { 'dirt-out': 0.1, 'was-clean': 0.9 },
		'port-joint-push': { 'all-firm': 0.94, 'some-move': 0.06 },
		'vbus-fuse': { through: 0.98, open: 0.02 },
		'caps-ground': { 'none-shorted': 0.97, 'one-shorted': 0.03 },
		'filter-through': { through: 0.97, open: 0.03 },
		'coil-through': { through: 0.98, open: 0.02 },
		'battery-swap': { charges: 0.04, 'no-change': 0.96 },
		'battery-reseat': { charges: 0.03, 'no-change': 0.97 },
		thermal: { nothing: 0.85, 'port-area': 0.08, 'charger-area': 0.07 },
		'controller-diode': { normal: 0.92, odd: 0.08 },
		'board-look': { clean: 0.92, corroded: 0.05, torn: 0.03 }
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
		'meter:sides': { alike: 0.95, 'one-only': 0.05 },
		'meter:hold': { steady: 0.92, pulsing: 0.08 },
		'meter:contract': { base: 0.7, raised: 0.3 },
		'battery:state': {
			'in-range': 0.52,
			precharge: 0.25,
			watch: 0.05,
			discard: 0.04,
			'cut-off': 0.08,
			full: 0.05,
			over: 0.005,
			reversed: 0.005
		},
		'look:contacts': {
			straight: 0.9,
			corroded: 0.03,
			bent: 0.03,
			touching: 0.01,
			folded: 0.01,
			burnt: 0.01,
			missing: 0.01
		},
		'look:tongue': { straight: 0.95, bent: 0.02, missing: 0.01, burnt: 0.01, corroded: 0.01 },
		'look:shell': { straight: 0.9, bent: 0.08, missing: 0.01, corroded: 0.01 },
		'look:joints': { straight: 0.93, bent: 0.02, missing: 0.02, corroded: 0.03 },
		'pins:vbus': { agrees: 0.5, value: 0.46, short: 0.01, open: 0.01, low: 0.01, high: 0.005, mixed: 0.005 },
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

const BELIEFS: Record<string, Believed> = {
	'port-contacts': {
		signs: { 'no-charge': 0.6, intermittent: 0.4, 'one-way-round': 0.35, 'port-loose': 0.5 },
		measured: {
			'meter:draw': { nothing: 0.45, trickle: 0.15, slow: 0.1, healthy: 0.24, sagging: 0.06 },
			'meter:sides': { alike: 0.5, 'one-only': 0.5 },
			'look:contacts': {
				straight: 0.2,
				bent: 0.22,
				folded: 0.15,
				touching: 0.08,
				missing: 0.15,
				burnt: 0.1,
				corroded: 0.1
			},
			'look:tongue': { straight: 0.7, bent: 0.12, missing: 0.08, burnt: 0.07, corroded: 0.03 },
			'look:shell': { straight: 0.7, bent: 0.25, missing: 0.05 },
			'pins:cc1': LINE_OPEN,
			'pins:cc2': LINE_OPEN
		}
	},
	'port-joints': {
		signs: { intermittent: 0.6, 'port-loose': 0.4, dropped: 0.4, 'port-replaced': 0.25 },
		tests: { 'port-joint-push': { 'all-firm': 0.15, 'some-move': 0.85 } },
		measured: {
			'meter:draw': { nothing: 0.3, trickle: 0.15, slow: 0.15, healthy: 0.3, sagging: 0.1 },
			'meter:hold': { steady: 0.5, pulsing: 0.5 },
			'look:joints': { straight: 0.4, bent: 0.25, missing: 0.25, corroded: 0.1 }
		}
	},
	'port-debris': {
		signs: { intermittent: 0.5, 'port-loose': 0.45 },
		tests: { 'port-clean': { 'dirt-out': 0.95, 'was-clean': 0.05 } },
		measured: {
			'meter:draw': { nothing: 0.4, trickle: 0.1, slow: 0.15, healthy: 0.3, sagging: 0.05 },
			'meter:hold': { steady: 0.7, pulsing: 0.3 }
		}
	},
	'torn-pads': {
		signs: { 'no-charge': 0.8, 'port-replaced': 0.65, 'opened-before': 0.65 },
		tests: { 'board-look': { clean: 0.15, corroded: 0.03, torn: 0.82 } },
		measured: {
			'meter:draw': { nothing: 0.85, trickle: 0.1, slow: 0.05 },
			'look:joints': { straight: 0.25, bent: 0.15, missing: 0.6 },
			'pins:cc1': LINE_OPEN,
			'pins:cc2': LINE_OPEN,
			'pins:d+': LINE_OPEN,
			'pins:d-': LINE_OPEN
		}
	},
	'port-controller': {
		signs: { 'no-charge': 0.8, 'wrong-charger': 0.3 },
		tests: {
			'controller-diode': { normal: 0.15, odd: 0.85 },
			thermal: { nothing: 0.45, 'port-area': 0.5, 'charger-area': 0.05 }
		},
		measured: {
			'meter:draw': { nothing: 0.55, trickle: 0.3, slow: 0.08, healthy: 0.05, sagging: 0.02 },
			'meter:contract': { base: 0.97, raised: 0.03 },
			'pins:cc1': CONTROLLER_LINE,
			'pins:cc2': CONTROLLER_LINE
		}
	},
	'charge-controller': {
		signs: { 'no-charge': 0.75, 'gets-hot': 0.4, 'wrong-charger': 0.25 },
		tests: { thermal: { nothing: 0.3, 'port-area': 0.05, 'charger-area': 0.65 } },
		measured: {
			'meter:draw': { 'contract-nothing': 0.3, nothing: 0.3, trickle: 0.32, slow: 0.06, over: 0.02 },
			'meter:contract': { base: 0.5, raised: 0.5 }
		}
	},
	'input-fuse': {
		signs: { 'no-charge': 0.95, 'wrong-charger': 0.35 },
		tests: { 'vbus-fuse': { through: 0.02, open: 0.98 } },
		measured: { 'meter:draw': { nothing: 0.93, trickle: 0.07 } }
	},
	'shorted-capacitor': {
		signs: { 'no-charge': 0.85, 'gets-hot': 0.4, 'got-wet': 0.2 },
		tests: {
			'caps-ground': { 'none-shorted': 0.05, 'one-shorted': 0.95 },
			thermal: { nothing: 0.2, 'port-area': 0.45, 'charger-area': 0.35 }
		},
		measured: {
			'meter:draw': { nothing: 0.7, sagging: 0.18, over: 0.1, trickle: 0.02 },
			'pins:vbus': { short: 0.85, low: 0.05, agrees: 0.06, value: 0.04 }
		}
	},
	'line-filter': {
		signs: { 'slow-charge': 0.5 },
		tests: { 'filter-through': { through: 0.05, open: 0.95 } },
		measured: { 'meter:draw': { slow: 0.45, trickle: 0.2, nothing: 0.3, healthy: 0.05 } }
	},
	'coil-open': {
		signs: { 'no-charge': 0.8, 'no-start': 0.25 },
		tests: { 'coil-through': { through: 0.04, open: 0.96 } },
		measured: {
			'meter:draw': { 'contract-nothing': 0.35, nothing: 0.35, trickle: 0.3 },
			'meter:contract': { base: 0.5, raised: 0.5 }
		}
	},
	'board-corrosion': {
		signs: { 'got-wet': 0.85, 'no-start': 0.35 },
		tests: { 'board-look': { clean: 0.06, corroded: 0.92, torn: 0.02 } },
		measured: {
			'meter:hold': { steady: 0.6, pulsing: 0.4 },
			'look:contacts': { straight: 0.5, corroded: 0.45, burnt: 0.05 }
		}
	},
	'battery-worn': {
		signs: { 'short-runtime': 0.75, 'no-start': 0.25, 'long-unused': 0.3 },
		tests: { 'battery-swap': { charges: 0.93, 'no-change': 0.07 } },
		measured: {
			'meter:draw': { healthy: 0.45, precharge: 0.25, trickle: 0.1, slow: 0.08, full: 0.06, nothing: 0.06 },
			'battery:state': {
				'in-range': 0.3,
				precharge: 0.25,
				watch: 0.12,
				discard: 0.15,
				'cut-off': 0.15,
				full: 0.03
			}
		}
	},
	'battery-plug': {
		signs: { 'no-start': 0.55, dropped: 0.45, 'battery-replaced': 0.3, 'opened-before': 0.3 },
		tests: {
			'battery-reseat': { charges: 0.9, 'no-change': 0.1 },
			'battery-swap': { charges: 0.75, 'no-change': 0.25 }
		},
		measured: {
			'meter:draw': { 'contract-nothing': 0.35, nothing: 0.3, trickle: 0.3, slow: 0.05 },
			'meter:contract': { base: 0.5, raised: 0.5 },
			'battery:state': { 'cut-off': 0.55, 'in-range': 0.3, precharge: 0.1, full: 0.05 }
		}
	}
};

/** What a belief is worth in tickets: a check of the part itself says more than what a customer reports. Choices. */
const WORTH = { sign: 10, test: 40, measured: 20 };

function recordsOf(fault: string | undefined, { signs, tests, measured }: Believed): CatalogRecord[] {
	const base = { record: 'expectation' as const, ...(fault === undefined ? {} : { given: fault }) };
	const recordsFor = <Said>(
		statements: Record<string, Said> | undefined,
		make: (code: string, statement: Said) => object
	) => Object.entries(statements ?? {}).map(([code, statement]) => ({ ...base, ...make(code, statement) }));
	return [
		...recordsFor(signs, (sign, chance) => ({ sign, chance, weight: WORTH.sign })),
		...recordsFor(tests, (test, outcomes) => ({ test, outcomes, weight: WORTH.test })),
		...recordsFor(measured, (question, outcomes) => ({
			measured: question,
			outcomes,
			weight: WORTH.measured
		}))
	];
}

export const STARTER_BELIEFS: readonly CatalogRecord[] = [
	...recordsOf(undefined, USUAL),
	...Object.entries(BELIEFS).flatMap(([fault, believed]) => recordsOf(fault, believed))
];
