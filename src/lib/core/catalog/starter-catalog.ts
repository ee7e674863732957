import type { CatalogRecord, CatalogRecordOf } from './kinds';
import { STANDARD_CONNECTORS } from './standard-connectors';
import { STARTER_BELIEFS } from './starter-beliefs';
import { STARTER_PROCEDURES, STARTER_STATIONS } from './starter-procedures';

/**
 * What a shop of the trade starts from: faults, signs, tests, operations, gates and beliefs, and usual parts. Common practice
 * of the trade, without a source; every shop edits its own copy.
 */
const fault = (
	code: string,
	label: string,
	group: string,
	prior: number,
	fields: Partial<CatalogRecordOf<'fault'>> = {}
): CatalogRecord => ({ record: 'fault', code, label, group, prior, ...fields });
const sign = (code: string, label: string, kind: CatalogRecordOf<'sign'>['kind']): CatalogRecord => ({
	record: 'sign',
	code,
	label,
	kind
});

const FAULTS: CatalogRecord[] = [
	fault('port-contacts', 'Port contacts damaged', 'port', 0.24),
	fault('port-joints', 'Joints or anchors under the port', 'port', 0.12),
	fault('port-debris', 'Port obstructed or dirty', 'port', 0.1),
	fault('torn-pads', 'Pads or tracks torn', 'port', 0.05, { port_on: { flex: 0.2 } }),
	fault('charge-flex', 'Charging flex or dock module', 'port', 0.05, { port_on: { board: 0.1 } }),
	fault('wireless-coil', 'Wireless charging coil or its flex', 'port', 0.005, { carries: ['wireless'] }),
	fault('port-controller', 'Port controller', 'board', 0.07),
	fault('charge-controller', 'Charge controller', 'board', 0.06),
	fault('display-controller', 'Video or display chip', 'board', 0.025),
	fault('other-chip', 'Another chip on the board', 'board', 0.015),
	fault('input-fuse', 'Input fuse open', 'board', 0.03),
	fault('shorted-capacitor', 'Capacitor shorted', 'board', 0.04),
	fault('line-filter', 'Line filter open', 'board', 0.02),
	fault('coil-open', 'Coil open', 'board', 0.01),
	fault('board-corrosion', 'Board corroded', 'board', 0.04),
	fault('battery-worn', 'Battery worn out', 'battery', 0.11),
	fault('battery-flat', 'Battery flat, or cut off by its protection', 'battery', 0.04),
	fault('battery-plug', 'Battery plug loose', 'battery', 0.04),
	fault('battery-connector', 'Battery connector on the board lifted, bent or burnt', 'battery', 0.02),
	fault('accessory', 'The user’s own cable or charger', 'outside', 0.04),
	fault('software', 'Software or settings', 'outside', 0.01),
	fault('other', 'Another fault, in words', 'other', 0.02, { catch_all: true })
];

const SIGNS: CatalogRecord[] = [
	sign('dead', 'does not turn on, whatever is plugged in', 'symptom'),
	sign('no-picture', 'no picture on an external display, does not dock', 'symptom'),
	sign('drops-out', 'drops out when the plug is moved', 'symptom'),
	sign('wireless-only', 'charges wirelessly only', 'symptom'),
	sign('burnt-smell', 'burnt smell or smoke', 'symptom'),
	sign('no-charge', 'does not charge', 'symptom'),
	sign('intermittent', 'charges now and then', 'symptom'),
	sign('one-way-round', 'charges one way round only', 'symptom'),
	sign('slow-charge', 'charges slowly', 'symptom'),
	sign('port-loose', 'plug feels loose', 'symptom'),
	sign('no-start', 'charges but does not start', 'symptom'),
	sign('no-lamp', 'charging lamp or symbol never lit', 'symptom'),
	sign('restarts', 'turns itself off every few minutes', 'symptom'),
	sign('flex-function-lost', 'microphone, loudspeaker or sensor beside the port dead', 'symptom'),
	sign('gets-hot', 'gets hot', 'symptom'),
	sign('short-runtime', 'runs out quickly', 'symptom'),
	sign('dropped', 'was dropped', 'history'),
	sign('got-wet', 'got wet', 'history'),
	sign('port-replaced', 'port replaced before', 'history'),
	sign('battery-replaced', 'battery replaced before', 'history'),
	sign('wrong-charger', 'used with a wrong charger', 'history'),
	sign('long-unused', 'lay unused for long', 'history'),
	sign('opened-before', 'opened before', 'visual'),
	sign('cracked', 'case cracked', 'visual'),
	sign('lint-seen', 'lint or dirt seen in the port', 'visual')
];

const test = (
	code: string,
	label: string,
	minutes: number,
	outcomes: string[],
	fields: Partial<CatalogRecordOf<'test'>> = {}
): CatalogRecord => ({ record: 'test', code, label, minutes, outcomes, ...fields });
const HEAT = 'Battery out of the circuit before heat. Extraction on. Eye protection when cutting.';

const LIVE = 'The board is live: one slip of the probe shorts the supply to its neighbour.';
const LIMITED = 'Limit the current. A swollen, hot or punctured battery stays out.';
const UNPLUGGED = 'Battery unplugged first.';

const TESTS: CatalogRecord[] = [
	test('port-clean', 'Clear and clean the port', 4, ['dirt-out', 'was-clean']),
	test('cable-known-good', 'Known good cable and charger', 2, ['charges', 'no-change'], {
		needs: ['plugged']
	}),
	test('wireless-try', 'On a wireless charger', 2, ['charges', 'no-change'], { carries: ['wireless'] }),
	test('cc-tester', 'Port tester on the contract lines', 2, ['passes', 'one-side', 'fails', 'no-battery'], {
		needs: ['plugged']
	}),
	test('wiggle-load', 'Plug moved under load', 2, ['holds', 'drops'], {
		needs: ['plugged'],
		risk: 0.002,
		caution: 'Stop at heat or smell.'
	}),
	test(
		'supply-port',
		'Bench supply through the port, both sides',
		3,
		['jump-and-back', 'steady-climb', 'one-side', 'hangs', 'nothing', 'short'],
		{ needs: ['plugged'], risk: 0.003, caution: LIMITED }
	),
	test('display-known-good', 'Known good display or dock', 4, ['picture', 'no-picture'], {
		needs: ['plugged']
	}),
	test('vbus-ground', 'VBUS to ground, ohms', 2, ['normal', 'low', 'short'], {
		needs: ['opened', 'battery-out'],
		repeats: ['pins:vbus'],
		caution: UNPLUGGED
	}),
	test('vbus-ground-off', 'VBUS to ground, old port off', 1, ['normal', 'low', 'short'], {
		needs: ['port-off'],
		repeats: ['off:vbus']
	}),
	test('vbus-behind-port', 'Supply voltage just behind the port', 2, ['there', 'lost'], {
		needs: ['opened', 'plugged'],
		risk: 0.003,
		caution: LIVE
	}),
	test(
		'chip-caps',
		'Capacitors by chip, both sides to ground',
		8,
		['none', 'port-chip', 'charge-chip', 'display-chip', 'other-chip'],
		{ needs: ['opened', 'battery-out'], caution: UNPLUGGED }
	),
	test(
		'pads-look',
		'Pads and tracks under the removed port',
		2,
		['all-there', 'few-torn', 'many-torn', 'burnt'],
		{
			needs: ['port-off'],
			repeats: ['count:pads'],
			caution: 'Count them: minutes and price follow.'
		}
	),
	test('flex-look', 'Charging flex and dock, looked over', 2, ['sound', 'burnt', 'torn', 'corroded'], {
		needs: ['opened']
	}),
	test(
		'battery-connector-look',
		'Battery connector on the board, under the lens',
		1,
		['flush', 'bent', 'lifted', 'burnt'],
		{ needs: ['opened'], caution: UNPLUGGED }
	),
	test('port-known-good', 'Known good port, dock or flex at the board’s plug', 8, ['charges', 'no-change'], {
		needs: ['opened', 'plugged']
	}),
	test(
		'touch-heat',
		'Touched for heat, fed for some seconds',
		1,
		['cool', 'port-warm', 'chip-hot', 'battery-warm'],
		{
			needs: ['opened', 'plugged'],
			risk: 0.002,
			caution: 'The back of a finger, briefly; fed from a supply with limited current.'
		}
	),
	test(
		'supply-battery',
		'Bench supply in place of the battery',
		4,
		['steady-climb', 'jump-and-back', 'hangs', 'nothing', 'short'],
		{ needs: ['opened', 'battery-out'], risk: 0.003, caution: LIMITED, repeats: ['supply:battery'] }
	),
	test('port-joint-push', 'Push the joints under the lens', 5, ['all-firm', 'some-move'], {
		needs: ['opened'],
		repeats: ['look:joints']
	}),
	test('vbus-fuse', 'Fuse, continuity', 6, ['through', 'open'], { needs: ['opened'] }),
	test('caps-ground', 'Capacitors at the controllers, to ground', 10, ['none-shorted', 'one-shorted'], {
		needs: ['opened'],
		caution: 'One side at ground is normal. A capacitor with both sides at ground is short.'
	}),
	test('filter-through', 'Line filters, continuity', 8, ['through', 'open'], { needs: ['opened'] }),
	test('coil-through', 'Coil, continuity', 5, ['through', 'open'], { needs: ['opened'] }),
	test('battery-swap', 'Known good battery in', 9, ['charges', 'no-change'], {
		needs: ['opened'],
		risk: 0.002
	}),
	test('battery-reseat', 'Battery plug pressed home', 3, ['charges', 'no-change'], { needs: ['opened'] }),
	test('thermal', 'Feed the board, look for heat', 12, ['nothing', 'port-area', 'charger-area'], {
		needs: ['opened'],
		risk: 0.005,
		caution: LIMITED
	}),
	test('controller-diode', 'Port controller, diode to ground', 9, ['normal', 'odd'], { needs: ['opened'] }),
	test('board-look', 'Board under the microscope', 7, ['clean', 'corroded', 'torn'], { needs: ['opened'] })
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
	operation('replace-port', 'Fit a new port', 42, ['port-contacts', 'port-joints', 'port-debris'], 0.93, {
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
		when: { count: 'pads', least: 2 },
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
	operation('fit-charge-flex', 'Fit a charging flex or dock', 28, ['charge-flex'], 0.93, {
		says: 'A new charging flex',
		risks: 'A flex without its sensors may make the device restart.',
		fixes_on_flex: ['port-contacts', 'port-joints'],
		parts: [part('charge-flex')],
		caution: 'Battery unplugged first. Solvent under the flex, never force.'
	}),
	operation('fit-battery-connector', 'Fit a battery connector', 35, ['battery-connector'], 0.88, {
		says: 'A new battery connector on the board',
		skill: 'boards',
		parts: [part('battery-connector-smd')],
		caution: HEAT
	}),
	operation(
		'bend-battery-connector',
		'Press down or bend back the battery connector',
		10,
		['battery-connector'],
		0.6,
		{
			says: 'The battery connector is set right',
			risks: 'Its springs bend once; after that only a new one holds.',
			unless: [{ test: 'battery-connector-look', outcome: 'burnt' }],
			caution: UNPLUGGED
		}
	),
	operation(
		'reflow-chip',
		'Reflow a chip',
		25,
		['port-controller', 'charge-controller', 'display-controller', 'other-chip'],
		0.25,
		{
			says: 'A chip is soldered again',
			risks: 'It seldom lasts. A new chip does where one can be had.',
			skill: 'boards',
			caution: HEAT
		}
	),
	operation('replace-display-controller', 'Fit a video or display chip', 60, ['display-controller'], 0.85, {
		skill: 'boards',
		parts: [part('display-controller-ic')],
		caution: HEAT
	}),
	operation('replace-chip', 'Fit another chip', 65, ['other-chip'], 0.75, {
		skill: 'boards',
		parts: [part('other-ic')],
		caution: HEAT
	}),
	operation('remove-port', 'Old port off, and look', 18, [], 1, {
		says: 'The old port comes off to look under it',
		risks: 'Pads under an old port may tear when it comes off; then the price is asked anew.',
		skill: 'soldering',
		opens: ['port-off'],
		part_of: 'replace-port',
		caution: HEAT
	}),
	operation('jumper-track', 'Bridge a single track with wire', 25, ['torn-pads'], 0.9, {
		says: 'A torn connection is bridged with wire',
		when: { count: 'pads', most: 2 },
		skill: 'soldering',
		parts: [part('jumper-wire')],
		caution: HEAT
	}),
	operation('wake-pack', 'Wake or precharge a flat pack from a supply', 12, ['battery-flat'], 0.85, {
		says: 'The flat battery is brought back to where it charges by itself',
		unless: ['discard', 'over', 'reversed'].map((outcome) => ({ measured: 'battery:state', outcome })),
		caution:
			'Never a pack that is swollen, hot, punctured or under 1.5 V a cell. 3 V a cell at 0.1 A for some seconds, a large pack at a tenth of its capacity, watched. The maker’s limits come first.'
	}),
	operation('swap-accessory', 'Put cable or charger right', 3, ['accessory'], 0.98, {
		says: 'A cable or charger that works'
	}),
	operation('set-software', 'Settings, update, reset', 12, ['software'], 0.8, {
		says: 'Settings and software set right',
		risks: 'A reset may erase data; it is saved first.',
		caution: 'Save the data first.'
	}),
	operation('fit-wireless-coil', 'Fit a wireless coil', 25, ['wireless-coil'], 0.9, {
		says: 'A new coil for wireless charging',
		parts: [part('wireless-coil')],
		carries: ['wireless'],
		caution: 'Battery unplugged first. The coil lies on the pack: never lever against it.'
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
	gate('wiggle-load', 'Moved under load, does not drop', 'before-sealing', 1),
	gate('dock-picture', 'Picture on an external display', 'before-sealing', 2, { carries: ['picture'] }),
	gate('cover-back', 'Battery plug home, insulating cover back', 'before-sealing', 2),
	gate('charges-closed', 'Closed: charges, stays on over three minutes', 'after-sealing', 5),
	gate('functions', 'What the flex carries works', 'after-sealing', 4, { each: true }),
	gate('wireless', 'Charges wirelessly', 'after-sealing', 2, { carries: ['wireless'] })
];

const BY_THE_REEL: readonly string[] = ['jumper-wire', 'mask-uv', 'low-melt', 'adhesive-set'];
const PARTS: CatalogRecord[] = (
	[
		['port-smd', 'Port, surface mount', 3.9, 'new'],
		['jumper-wire', 'Enamelled wire, per job', 0.4, 'new'],
		['port-controller-ic', 'Port controller, pulled', 9.5, 'pulled'],
		['charge-controller-ic', 'Charge controller', 7.2, 'new'],
		['fuse-smd', 'Fuse, surface mount', 0.35, 'new'],
		['capacitor-smd', 'Capacitor, surface mount', 0.15, 'new'],
		['filter-smd', 'Line filter', 0.6, 'donor'],
		['battery-pack', 'Battery pack', 14.5, 'aftermarket'],
		['charge-flex', 'Charging flex, pulled', 16, 'pulled'],
		['battery-connector-smd', 'Battery connector, surface mount', 1.2, 'new'],
		['display-controller-ic', 'Video or display chip', 8.5, 'pulled'],
		['other-ic', 'Chip, pulled', 8, 'pulled'],
		['wireless-coil', 'Wireless charging coil', 9, 'aftermarket'],
		['mask-uv', 'UV mask, per job', 0.3, 'new'],
		['low-melt', 'Low-melt alloy, per job', 0.6, 'new'],
		['adhesive-set', 'Adhesive, per job', 1.2, 'new']
	] as const
).map(([sku, label, unit_cost, source]) => ({
	record: 'part',
	sku,
	label,
	unit_cost,
	source,
	// by the reel: charged by the job
	...(BY_THE_REEL.includes(sku) ? { consumable: true } : {})
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
	...STARTER_STATIONS,
	...STARTER_PROCEDURES,
	...STARTER_BELIEFS,
	...STANDARD_CONNECTORS
];
