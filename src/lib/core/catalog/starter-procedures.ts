import type { CatalogRecord, CatalogRecordOf } from './kinds';
import type { ProcedureStep } from './kinds-of-bench';

/**
 * How a shop of the trade works, school beside school. Temperatures, minutes and cautions are common practice of the trade, no source;
 * the maker's data comes first.
 */
type Step = ProcedureStep;
const step =
	(kind: Step['kind']) =>
	(says: string, minutes?: number, fields: Partial<Step> = {}): Step => ({
		kind,
		says,
		...(minutes === undefined ? {} : { minutes }),
		...fields
	});
const hands = step('hands');
const heat = step('heat');
const look = step('look');
const measure = step('measure');
const caution = (says: string): Step => ({ kind: 'caution', says, must: true });
const gate = (code: string, says: string, minutes: number): Step => ({
	kind: 'gate',
	says,
	minutes,
	gate: code
});
const part = (sku: string, says: string, quantity = 1): Step => ({ kind: 'part', says, sku, quantity });
const wait = (waitFor: Step['wait'], says: string, minutes: number): Step => ({
	kind: 'wait',
	says,
	minutes,
	wait: waitFor
});

const OUT = caution(
	'Battery out of the circuit, and say so: unplugged, or cells cut free and taped. Extraction on.'
);
const SHIELD = hands('Shield plastics and the microphone with tape', 3, {
	protects: 'melted plastic, a deaf microphone'
});
const PREHEAT = heat('Preheat from below until the board is warm through', 4, {
	celsius: 120,
	station: 'preheater',
	protects: 'pads that tear because the board is cold'
});
const COOL = wait('cooling', 'Let it cool by itself, no draught', 12);
/** What soldering at the port undoes. */
const UNDONE = ['joints-pushed', 'continuity', 'both-ways'];
const NEW_PORT = part('port-smd', 'The new port: tongue straight, every contact there');
const COVER_BACK = gate('cover-back', 'Battery plug pressed home, insulating cover back', 2);
const LIFT = 'Hot air round the port; look every 5 to 10 s; lift when it falls by itself, never pull';
/** The old port comes off by hot air. */
const hotAirOff = (says: string, undoes?: string[]): Step =>
	heat(says, 4, {
		celsius: 350,
		air: 45,
		station: 'hot-air',
		skill: 'soldering',
		must: true,
		protects: 'torn pads',
		...(undoes ? { undoes } : {})
	});
/** A new port is set by hot air. */
const placePort = (says: string, fields: Pick<Step, 'celsius' | 'air' | 'alloy'>): Step =>
	heat(says, 1, { ...fields, station: 'hot-air', skill: 'soldering', undoes: UNDONE });
const PROVE: Step[] = [
	gate('joints-pushed', 'Push every joint and anchor under the lens: firm, moves, or to be done again', 3),
	hands('Brush the row: nothing lifts, nothing bridges', 1, { tool: 'soft brush' }),
	gate('continuity', 'Continuity where it must be, nowhere else', 3),
	measure('Bench supply in place of the battery: a jump and back on both sides, or a steady climb', 2, {
		tool: 'bench supply'
	}),
	gate('both-ways', 'Plug in both ways: healthy current before it is sealed', 4),
	gate('wiggle-load', 'Move the plug under load: it does not drop', 1),
	COVER_BACK
];
/** Between the old port and the new one: what is wrong behind the port shows now, and is not buried under a new one. */
const PORT_OFF_CHECKS: Step[] = [
	measure(
		'Old port off: supply line to ground, the points that the board names for it, fuse through, filters through and not across, coil not to ground',
		3,
		{ must: true, protects: 'a new port on a line that is shorted behind it' }
	),
	look(
		'Pads under the microscope: all there, flat; count what is torn, and ask the price anew where any is',
		3,
		{
			station: 'microscope',
			must: true
		}
	)
];
const OPEN: Step[] = [
	hands('Open; screws out in the order of the map, each to its place on the mat', 6, { skill: 'open-close' })
];

const procedure = (
	code: string,
	operation: string,
	label: string,
	fields: Partial<CatalogRecordOf<'procedure'>>,
	steps: Step[]
): CatalogRecord => ({ record: 'procedure', code, version: 1, label, operation, ...fields, steps });

/** A chip off and another on: the same work whatever the chip does. */
const chipSwap = (code: string, operation: string, label: string, sku: string): CatalogRecord =>
	procedure(
		code,
		operation,
		label,
		{ school: 'hot air alone', about: 'Large chips take 400 to 440 °C at a third to a half of the air.' },
		[
			...OPEN,
			OUT,
			SHIELD,
			PREHEAT,
			hands('Covers off; flux; mark how pin 1 lies', 1, {
				must: true,
				protects: 'a chip fitted the wrong way round'
			}),
			heat('Lift with the tweezers once it swims', 3, {
				celsius: 420,
				air: 40,
				station: 'hot-air',
				skill: 'boards',
				must: true
			}),
			COOL,
			hands('Wick, clean, tin the row', 6, { station: 'microscope' }),
			part(sku, 'The chip; pulled ones are tried on the bench first'),
			heat('Place, nudge: it swims back', 1, {
				celsius: 400,
				air: 40,
				station: 'hot-air',
				skill: 'boards',
				undoes: UNDONE
			}),
			COOL,
			look('Bridges under the chip and beside it', 2, { station: 'microscope' }),
			measure('Diode mode at the chip against known good', 4),
			...PROVE
		]
	);

/** Places that these ways need, one each. */
export const STARTER_STATIONS: readonly CatalogRecord[] = [
	{ record: 'station', code: 'microscope', label: 'Microscope', count: 1 },
	{ record: 'station', code: 'hot-air', label: 'Hot air', count: 1 },
	{ record: 'station', code: 'preheater', label: 'Preheater', count: 1 }
];

export const STARTER_PROCEDURES: readonly CatalogRecord[] = [
	procedure(
		'port-hot-air',
		'replace-port',
		'New port by hot air with preheat',
		{
			school: 'hot air alone',
			about: 'Boards with much copper, ports with through-hole anchors.',
			usual: true
		},
		[
			...OPEN,
			OUT,
			SHIELD,
			PREHEAT,
			hands('Flux the whole row, front and back', 1),
			hotAirOff(LIFT, ['joints-pushed', 'continuity']),
			COOL,
			...PORT_OFF_CHECKS,
			hands('Clear the holes, wick the row, clean with alcohol on the cold board, tin thinly', 6, {
				station: 'microscope'
			}),
			NEW_PORT,
			placePort('Place: anchors first, then the contacts', { celsius: 290, air: 40, alloy: 'sn63pb37' }),
			COOL,
			...PROVE
		]
	),
	procedure(
		'port-low-melt',
		'replace-port',
		'New port by low melt',
		{ school: 'low melt, low heat', about: 'Thin boards and plastics close by.' },
		[
			...OPEN,
			OUT,
			SHIELD,
			hands('Flow low melt over every joint with the iron', 5, { alloy: 'sn42bi58', skill: 'soldering' }),
			heat('Low heat; the port slides off by itself', 2, {
				celsius: 220,
				air: 35,
				station: 'hot-air',
				skill: 'soldering',
				must: true,
				protects: 'torn pads, melted plastic'
			}),
			COOL,
			...PORT_OFF_CHECKS,
			hands('Wick every trace of low melt away: it is brittle in a joint; 138 °C alloy never stays', 6, {
				must: true,
				protects: 'joints that break within two weeks',
				station: 'microscope'
			}),
			NEW_PORT,
			placePort('Place: anchors first, then the contacts', { celsius: 280, air: 35, alloy: 'paste-158' }),
			COOL,
			...PROVE
		]
	),
	procedure(
		'port-cut-and-draw',
		'replace-port',
		'New port: cut the old one, draw pin by pin',
		{ school: 'cut and draw', about: 'Where pads already lift, or heat has been spent.' },
		[
			...OPEN,
			OUT,
			caution('Eye protection on: pieces fly when the shell is cut.'),
			hands('Cut the shell away in small bites; no twisting', 8, { protects: 'pads torn by levering' }),
			hands('Draw pin by pin with the iron, one touch each', 10, {
				skill: 'soldering',
				station: 'microscope',
				alloy: 'sn63pb37'
			}),
			...PORT_OFF_CHECKS,
			hands('Clear the holes, wick, clean on the cold board, tin thinly', 6, { station: 'microscope' }),
			NEW_PORT,
			hands('Solder anchors, then contact by contact', 9, {
				alloy: 'sn60pb40',
				skill: 'soldering',
				station: 'microscope',
				undoes: UNDONE
			}),
			...PROVE
		]
	),
	procedure(
		'traces-keep-port',
		'rebuild-traces',
		'Traces rebuilt, the sound port kept',
		{ school: 'keep the port', about: 'The port is sound; what is torn is behind it.', usual: true },
		[
			...OPEN,
			OUT,
			look('Which traces are torn: count them, say so on the ticket', 4, {
				station: 'microscope',
				must: true
			}),
			hands('Scrape the mask back to clean copper, 1 mm on both sides', 8, { station: 'microscope' }),
			part('jumper-wire', 'Enamelled wire, 0.1 mm for lines, doubled for supply', 1),
			hands('Wires from the port outwards; supply lines doubled', 25, {
				skill: 'soldering',
				station: 'microscope',
				alloy: 'sn60pb40',
				protects: 'a supply wire that gets hot',
				undoes: ['continuity', 'both-ways']
			}),
			gate('continuity', 'Continuity of each line, none to its neighbour', 3),
			hands('Mask over every wire', 3),
			caution('UV lamp: shield on or eyes away.'),
			wait('cure', 'Cure the mask under the lamp', 10),
			...PROVE
		]
	),
	procedure(
		'pads-jumpers-first',
		'rebuild-traces',
		'Torn pads: wires first, then the port',
		{ school: 'wires first', about: 'Many pads gone: the wires lie under the port.' },
		[
			...OPEN,
			OUT,
			look('Count torn pads; photograph the board before', 4, { station: 'microscope', must: true }),
			part('jumper-wire', 'Enamelled wire, per job', 1),
			hands('Wires to the next via, formed where the pad was', 30, {
				skill: 'soldering',
				station: 'microscope',
				alloy: 'sn60pb40'
			}),
			hands('Mask under the wires', 3),
			wait('cure', 'Cure the mask under the lamp', 10),
			hands('Port on the wires: anchors first', 12, { skill: 'soldering', alloy: 'paste-158' }),
			...PROVE
		]
	),
	chipSwap('controller-swap', 'replace-port-controller', 'Port controller swapped', 'port-controller-ic'),
	chipSwap('charger-swap', 'replace-charger', 'Charge controller swapped', 'charge-controller-ic'),
	chipSwap(
		'display-chip-swap',
		'replace-display-controller',
		'Video or display chip swapped',
		'display-controller-ic'
	),
	chipSwap('other-chip-swap', 'replace-chip', 'Another chip swapped', 'other-ic'),
	procedure(
		'port-off-look',
		'remove-port',
		'Old port off, and look',
		{
			about: 'The supply reads short, or a contact is folded: see what is left once the port is gone.',
			usual: true
		},
		[
			...OPEN,
			OUT,
			SHIELD,
			PREHEAT,
			hotAirOff(LIFT, UNDONE),
			COOL,
			hands('Wick the row, clean with alcohol on the cold board', 3, { station: 'microscope' }),
			...PORT_OFF_CHECKS,
			look('Photograph the pads', 1, { station: 'microscope' })
		]
	),
	procedure(
		'port-on-flex',
		'replace-port',
		'New port alone on its flex',
		{
			school: 'hot air from below',
			about: 'The port sits on a flex of its own, and no whole flex is to be had.'
		},
		[
			...OPEN,
			OUT,
			hands('Lift the sticker whole, do not tear it', 3, { protects: 'sensors that lose their seal' }),
			heat('Hot air from below; the port falls by itself', 3, {
				celsius: 350,
				air: 30,
				station: 'hot-air',
				skill: 'soldering',
				must: true,
				protects: 'a flex that blisters',
				undoes: UNDONE
			}),
			COOL,
			...PORT_OFF_CHECKS,
			NEW_PORT,
			hands('Contacts first, holes last; pull the solder through from both sides', 9, {
				skill: 'soldering',
				station: 'microscope',
				alloy: 'sn63pb37',
				undoes: UNDONE
			}),
			...PROVE,
			gate('functions', 'Every function of the flex, one by one', 3)
		]
	),
	procedure(
		'flex-swap',
		'fit-charge-flex',
		'Charging flex swapped',
		{ about: 'Flex or dock as one part; a pulled one brings its own sensors.', usual: true },
		[
			...OPEN,
			caution('Battery unplugged before the flex is touched.'),
			hands('Screws on a map, each to its place', 3),
			hands('Solvent under the flex, lift it slowly; sensors moved over, or on the part already', 8, {
				tool: 'plastic card',
				protects: 'a microphone or sensor that goes deaf'
			}),
			part(
				'charge-flex',
				'The flex: pulled before aftermarket; one without its sensors makes some devices restart'
			),
			hands('Align the port in its opening before any screw is tight', 3),
			gate('both-ways', 'Plug in both ways before the adhesive: healthy current', 4),
			gate('functions', 'Every function of the flex, one by one', 3),
			wait('adhesive', 'Adhesive under light pressure', 20),
			COVER_BACK
		]
	),
	procedure(
		'single-track',
		'jumper-track',
		'A single track bridged',
		{ about: 'One or two pads or tracks; more are rebuilt.', usual: true },
		[
			...OPEN,
			OUT,
			hands('Scrape 1 mm of clean copper on both sides', 4, { station: 'microscope' }),
			part('jumper-wire', 'Enamelled wire, 0.1 mm for lines, doubled for supply'),
			hands('Wire on, anchored with mask', 8, {
				skill: 'soldering',
				station: 'microscope',
				alloy: 'sn60pb40',
				undoes: ['continuity', 'both-ways']
			}),
			caution('UV lamp: shield on or eyes away.'),
			wait('cure', 'Cure the mask under the lamp', 10),
			...PROVE
		]
	),
	procedure(
		'battery-connector-new',
		'fit-battery-connector',
		'Battery connector fitted',
		{ about: 'Lifted or burnt; one that was bent once is pressed back, not twice.', usual: true },
		[
			...OPEN,
			OUT,
			SHIELD,
			heat('Low heat, lift it when it swims', 3, {
				celsius: 330,
				air: 35,
				station: 'hot-air',
				skill: 'soldering',
				must: true,
				protects: 'melted plastic close by'
			}),
			COOL,
			hands('Old pads cleaned and tinned', 4, { station: 'microscope', skill: 'soldering' }),
			part('battery-connector-smd', 'The connector: rows straight'),
			heat('Place it, hold until it is set', 1, {
				celsius: 320,
				air: 30,
				station: 'hot-air',
				skill: 'soldering',
				undoes: ['both-ways', 'cover-back']
			}),
			COOL,
			look('Flush, every leaf wetted, none bridged', 2, { station: 'microscope' }),
			gate('both-ways', 'Healthy current before it is sealed', 4),
			COVER_BACK
		]
	),
	procedure(
		'battery-fit',
		'replace-battery',
		'Battery fitted',
		{ about: 'Glued packs: solvent and a card, never a blade.' },
		[
			...OPEN,
			caution(
				'Swollen, punctured, hot or under 1.5 V per cell: do not charge it, isolate it, take it to a collection point.'
			),
			hands('Unplug first; loosen the adhesive with a card, no bending, no blade', 6, {
				tool: 'plastic card',
				protects: 'a cell that catches fire'
			}),
			measure('Cell voltage of the new pack before it is plugged', 1),
			part('battery-pack', 'The new pack: date, label, no dents'),
			hands('New adhesive, plug pressed home', 4),
			wait('adhesive', 'Adhesive under light pressure', 15),
			gate('both-ways', 'Healthy current before it is sealed', 4),
			COVER_BACK
		]
	),
	procedure(
		'pack-woken',
		'wake-pack',
		'Flat pack woken',
		{ version: 2, school: 'bench supply', about: 'A pack cut off by its protection reads 0 V.' },
		[
			...OPEN,
			caution(
				'Current-limited, watched, on a fireproof surface, within the cell maker’s limits. Never a pack that is swollen, hot or punctured. Under 1.5 V per cell at the cells: do not charge, isolate.'
			),
			measure('Cell voltage behind the protection', 2, { must: true }),
			hands('3 V at 0.1 A for a few seconds; stop when it answers', 1, { tool: 'bench supply', must: true }),
			wait('charge', 'Precharge, watched', 60),
			measure('Voltage again; no warmth anywhere', 2),
			gate('both-ways', 'Healthy current both ways', 4),
			COVER_BACK
		]
	),
	procedure(
		'plug-bent-back',
		'bend-battery-connector',
		'Battery connector bent back',
		{ version: 2, about: 'One row of the plug was folded when it was pressed home.' },
		[
			...OPEN,
			look('Which leaf is folded', 1, { station: 'microscope' }),
			hands('Bend it back once, with a needle, in one go: it breaks at the second', 4, {
				station: 'microscope',
				tool: 'needle',
				protects: 'a leaf that breaks'
			}),
			gate('cover-back', 'Plug pressed home, insulating cover back', 2),
			gate('both-ways', 'Healthy current both ways', 4)
		]
	),
	procedure(
		'rework-comeback',
		'reflow-port',
		'Rework of a comeback',
		{ about: 'The device came back: first see what was done, then touch.' },
		[
			look('Read the first ticket: method, part, lot, who; no blame, the joint speaks', 3, { must: true }),
			...OPEN,
			OUT,
			look('Every joint and anchor under the microscope before heat', 4, {
				station: 'microscope',
				must: true
			}),
			measure('Heat that the board had already: mind the budget', 1),
			hands('Wick old alloy where it was low melt', 5, { alloy: 'sn63pb37', skill: 'soldering' }),
			hands('Anchors again, then the contacts, by hand', 9, {
				alloy: 'sn63pb37',
				skill: 'soldering',
				station: 'microscope',
				undoes: UNDONE
			}),
			...PROVE
		]
	),
	procedure('board-cleaned', 'clean-board', 'Board cleaned after water', {}, [
		...OPEN,
		caution('Alcohol on cold boards only, away from heat. Battery out first.'),
		look('Where it went: under shields, into plugs', 3, { station: 'microscope' }),
		hands('Brush with alcohol, again with fresh', 10, { tool: 'soft brush' }),
		wait('cure', 'Dry in moving air', 30),
		look('White, green, or black left: again', 4, { station: 'microscope' }),
		measure('Supply lines to ground: none short', 3),
		gate('both-ways', 'Healthy current both ways', 4),
		COVER_BACK
	]),
	procedure(
		'donor-port',
		'replace-port',
		'Port harvested from a donor cable, then fitted',
		{ school: 'donor', about: 'No port on the shelf, a donor cable is.' },
		[
			hands('Open the donor; cut the overmould, no heat on its tongue', 6, { tool: 'cutters' }),
			look('Contacts of the donor port straight, shell tight', 1, { station: 'microscope' }),
			...OPEN,
			OUT,
			SHIELD,
			hotAirOff('Hot air; lift when it falls by itself, never pull'),
			COOL,
			...PORT_OFF_CHECKS,
			hands('Clear, wick, clean on the cold board, tin', 6, { station: 'microscope' }),
			part('port-smd', 'The donor’s port'),
			placePort('Place: anchors first', { celsius: 290, air: 40, alloy: 'sn63pb37' }),
			COOL,
			...PROVE
		]
	)
];
