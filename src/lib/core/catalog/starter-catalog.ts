import type { CatalogRecord, CatalogRecordOf } from './kinds';
import { STANDARD_CONNECTORS } from './standard-connectors';
import { STARTER_BELIEFS } from './starter-beliefs';

/**
 * What a shop of the trade starts from: faults, signs, tests, operations, gates and beliefs, and usual parts. Common practice
 * of the trade, without a source; every shop edits its own copy.
 */
const fault = (code: string, label: string, group: string, prior: number): CatalogRecord => ({
	record: 'fault',
	code,
	label,
	group,
	prior
});
const sign = (code: string, label: string, kind: CatalogRecordOf<'sign'>['kind']): CatalogRecord => ({
	record: 'sign',
	code,
	label,
	kind
});

const FAULTS: CatalogRecord[] = [
	fault('port-contacts', 'Port contacts damaged', 'port', 0.24),
	fault('port-joints', 'Joints open under the port', 'port', 0.14),
	fault('port-debris', 'Port obstructed or dirty', 'port', 0.08),
	fault('torn-pads', 'Pads or traces torn', 'port', 0.05),
	fault('port-controller', 'Port controller', 'board', 0.1),
	fault('charge-controller', 'Charge controller', 'board', 0.08),
	fault('input-fuse', 'Input fuse open', 'board', 0.05),
	fault('shorted-capacitor', 'Capacitor shorted', 'board', 0.05),
	fault('line-filter', 'Line filter open', 'board', 0.04),
	fault('coil-open', 'Coil open', 'board', 0.02),
	fault('board-corrosion', 'Board corroded', 'board', 0.05),
	fault('battery-worn', 'Battery worn out', 'battery', 0.14),
	fault('battery-plug', 'Battery plug loose', 'battery', 0.06)
];

const SIGNS: CatalogRecord[] = [
	sign('no-charge', 'does not charge', 'symptom'),
	sign('intermittent', 'charges now and then', 'symptom'),
	sign('one-way-round', 'charges one way round only', 'symptom'),
	sign('slow-charge', 'charges slowly', 'symptom'),
	sign('port-loose', 'plug feels loose', 'symptom'),
	sign('no-start', 'charges but does not start', 'symptom'),
	sign('gets-hot', 'gets hot', 'symptom'),
	sign('short-runtime', 'runs out quickly', 'symptom'),
	sign('dropped', 'was dropped', 'history'),
	sign('got-wet', 'got wet', 'history'),
	sign('port-replaced', 'port replaced before', 'history'),
	sign('battery-replaced', 'battery replaced before', 'history'),
	sign('wrong-charger', 'used with a wrong charger', 'history'),
	sign('long-unused', 'lay unused for long', 'history'),
	sign('opened-before', 'opened before', 'visual'),
	sign('cracked', 'case cracked', 'visual')
];

const test = (
	code: string,
	label: string,
	minutes: number,
	outcomes: string[],
	fields: Partial<CatalogRecordOf<'test'>> = {}
): CatalogRecord => ({ record: 'test', code, label, minutes, outcomes, ...fields });
const HEAT = 'Battery out of the circuit before heat. Extraction on. Eye protection when cutting.';

const TESTS: CatalogRecord[] = [
	test('port-clean', 'Clear and clean the port', 4, ['dirt-out', 'was-clean']),
	test('port-joint-push', 'Push the joints under the lens', 5, ['all-firm', 'some-move']),
	test('vbus-fuse', 'Fuse, continuity', 6, ['through', 'open']),
	test('caps-ground', 'Capacitors at the controllers, to ground', 10, ['none-shorted', 'one-shorted']),
	test('filter-through', 'Line filters, continuity', 8, ['through', 'open']),
	test('coil-through', 'Coil, continuity', 5, ['through', 'open']),
	test('battery-swap', 'Known good battery in', 9, ['charges', 'no-change'], { risk: 0.002 }),
	test('battery-reseat', 'Battery plug pressed home', 3, ['charges', 'no-change']),
	test('thermal', 'Feed the board, look for heat', 12, ['nothing', 'port-area', 'charger-area'], {
		risk: 0.005,
		caution: 'Limit the current. A swollen, hot or punctured battery stays out.'
	}),
	test('controller-diode', 'Port controller, diode to ground', 9, ['normal', 'odd']),
	test('board-look', 'Board under the microscope', 7, ['clean', 'corroded', 'torn'])
];

const operation = (
	code: string,
	label: string,
	minutes: number,
	fixes: string[],
	success: number,
	fields: Partial<CatalogRecordOf<'operation'>> = {}
): CatalogRecord => ({ record: 'operation', code, label, minutes, fixes, success, ...fields });
const part = (sku: string, quantity = 1) => ({ sku, quantity });

const OPERATIONS: CatalogRecord[] = [
	operation('clean-port', 'Clean the port', 10, ['port-debris'], 0.95, {
		says: 'Clean the charging port'
	}),
	operation('replace-port', 'Fit a new port', 42, ['port-contacts', 'port-joints'], 0.93, {
		says: 'A new charging port',
		risks: 'Pads under an old port may tear when it comes off; then the price is asked anew.',
		skill: 'soldering',
		parts: [part('port-smd')],
		caution: HEAT
	}),
	operation('reflow-port', 'Reflow the port', 22, ['port-joints'], 0.85, {
		says: 'Solder the port that is there again',
		risks: 'It holds less long than a new port where the contacts are worn.',
		skill: 'soldering',
		caution: HEAT
	}),
	// minutes by pad: common practice, no source
	operation('rebuild-traces', 'Rebuild torn pads with wire', 75, ['torn-pads'], 0.85, {
		says: 'Rebuild the torn connections with wire',
		risks: 'How many are torn shows under the microscope; more of them take longer.',
		per: { count: 'pads', usual: 2, each: 6.5 },
		skill: 'soldering',
		parts: [part('jumper-wire')],
		caution: HEAT
	}),
	operation('replace-port-controller', 'Fit a port controller', 55, ['port-controller'], 0.88, {
		skill: 'boards',
		parts: [part('port-controller-ic')],
		caution: HEAT
	}),
	operation('replace-charger', 'Fit a charge controller', 60, ['charge-controller'], 0.86, {
		skill: 'boards',
		parts: [part('charge-controller-ic')],
		caution: HEAT
	}),
	operation('replace-fuse', 'Fit a fuse', 24, ['input-fuse'], 0.95, {
		skill: 'boards',
		parts: [part('fuse-smd')]
	}),
	operation('replace-capacitor', 'Remove the shorted capacitor', 32, ['shorted-capacitor'], 0.92, {
		skill: 'boards',
		parts: [part('capacitor-smd')],
		caution: HEAT
	}),
	operation('bridge-filter', 'Fit a line filter', 28, ['line-filter', 'coil-open'], 0.92, {
		skill: 'boards',
		parts: [part('filter-smd')],
		caution: HEAT
	}),
	operation('clean-board', 'Clean the board', 48, ['board-corrosion'], 0.75, {
		caution: 'Alcohol on cold boards only, away from heat.'
	}),
	operation('replace-battery', 'Fit a battery', 26, ['battery-worn'], 0.97, {
		parts: [part('battery-pack')],
		caution: 'Swollen, punctured, hot or under 1.5 V per cell: isolate it, do not charge it.'
	}),
	operation('reseat-battery', 'Secure the battery plug', 12, ['battery-plug'], 0.95, {
		undoes: ['cover-back', 'charges-closed', 'functions']
	}),
	operation('reassemble', 'Reassemble and seal', 10, [], 1, {
		undoes: ['charges-closed', 'functions'],
		caution: 'Every screw in its own hole: a long one in a short hole breaks the board.'
	})
];

const gate = (
	code: string,
	label: string,
	phase: CatalogRecordOf<'gate'>['when'],
	minutes: number,
	fields: Partial<CatalogRecordOf<'gate'>> = {}
): CatalogRecord => ({ record: 'gate', code, label, when: phase, minutes, ...fields });

const GATES: CatalogRecord[] = [
	gate('joints-pushed', 'Every joint pushed, anchors soldered', 'before-sealing', 3),
	gate('continuity', 'Continuity where it must be, nowhere else', 'before-sealing', 3, {
		shown_by: 'continuity'
	}),
	gate('both-ways', 'Plugged in both ways, healthy current', 'before-sealing', 4, {
		shown_by: 'current'
	}),
	gate('cover-back', 'Battery plug home, insulating cover back', 'before-sealing', 2),
	gate('charges-closed', 'Closed: charges, stays on over three minutes', 'after-sealing', 5),
	gate('functions', 'What the flex carries works', 'after-sealing', 4)
];

const PARTS: CatalogRecord[] = (
	[
		['port-smd', 'Port, surface mount', 3.9, 'new'],
		['jumper-wire', 'Enamelled wire, per job', 0.4, 'new'],
		['port-controller-ic', 'Port controller, pulled', 9.5, 'pulled'],
		['charge-controller-ic', 'Charge controller', 7.2, 'new'],
		['fuse-smd', 'Fuse, surface mount', 0.35, 'new'],
		['capacitor-smd', 'Capacitor, surface mount', 0.15, 'new'],
		['filter-smd', 'Line filter', 0.6, 'donor'],
		['battery-pack', 'Battery pack', 14.5, 'aftermarket']
	] as const
).map(([sku, label, unit_cost, source]) => ({
	record: 'part',
	sku,
	label,
	unit_cost,
	source,
	// by the reel: charged by the job
	...(sku === 'jumper-wire' ? { consumable: true } : {})
}));

/** Why devices come back: common practice, no source. */
const CAUSES: readonly CatalogRecord[] = [
	{ record: 'cause', code: 'joint-not-holding', label: 'A joint did not hold' },
	{ record: 'cause', code: 'anchors-missed', label: 'Anchors were not soldered' },
	{ record: 'cause', code: 'cover-forgotten', label: 'Cover or plug not put back' },
	{ record: 'cause', code: 'part-failed', label: 'The part failed', claimed: true },
	{
		record: 'cause',
		code: 'wrong-fault',
		label: 'Another fault was confirmed than it had',
		wrong_fault: true
	},
	{ record: 'cause', code: 'made-in-repair', label: 'Broken during the repair', made: true },
	{
		record: 'cause',
		code: 'another-fault',
		label: 'Another fault, not there before',
		counts: false,
		wrong_fault: false
	},
	{ record: 'cause', code: 'customer-strain', label: 'Strained by its user', counts: false, charged: true },
	{ record: 'cause', code: 'wear', label: 'Worn since', counts: false, charged: true },
	{ record: 'cause', code: 'wet-again', label: 'Wet again', counts: false, charged: true },
	{
		record: 'cause',
		code: 'not-related',
		label: 'Not related to the earlier job',
		counts: false,
		charged: true
	}
];

/** What any shop of the trade starts from: no people, no models, no parts of its own yet. */
export const STARTER_CATALOG: readonly CatalogRecord[] = [
	...FAULTS,
	...SIGNS,
	...TESTS,
	...PARTS,
	...OPERATIONS,
	...GATES,
	...CAUSES,
	...STARTER_BELIEFS,
	...STANDARD_CONNECTORS
];
