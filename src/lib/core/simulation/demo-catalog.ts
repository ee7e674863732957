import type { CatalogRecord, CatalogRecordOf } from '../catalog/kinds';
import { STARTER_CATALOG } from '../catalog/starter-catalog';
import { DEMO_SCREWS } from './demo-places';
import { DEMO_POINTS } from './demo-points';

/** The catalog of the demo shop: the starter catalog with devices, suppliers and people, all invented. */
const node = (
	code: string,
	label: string,
	[low, high]: [number, number],
	through: string,
	faults: string[],
	minutes: number
) => ({ node: code, label, volts: { low, high }, through, faults, minutes });

/** The charging path that the demo shop's devices share, from the port to the battery, at 5 V. */
const CHARGE_PATH = [
	node(
		'port-vbus',
		'VBUS behind the port',
		[4.75, 5.5],
		'port',
		['port-contacts', 'port-joints', 'port-debris', 'torn-pads'],
		1
	),
	node('fuse-out', 'Behind the fuse', [4.7, 5.5], 'input fuse', ['input-fuse'], 1),
	node('filter-out', 'Behind the line filter', [4.7, 5.5], 'line filter', ['line-filter'], 2),
	node(
		'controller-out',
		'Behind the port controller',
		[4.6, 5.5],
		'port controller',
		['port-controller', 'shorted-capacitor'],
		2
	),
	node(
		'charger-out',
		'Charger, switching side of the coil',
		[2.8, 4.6],
		'charge controller',
		['charge-controller'],
		3
	),
	node('coil-out', 'Behind the coil', [2.8, 4.5], 'coil', ['coil-open'], 2),
	node('battery-plug', 'At the battery plug', [2.7, 4.4], 'battery plug', ['battery-plug'], 1)
];

const model = (
	code: string,
	label: string,
	family: string,
	connector: string,
	value: number,
	amps: number,
	capacity: number,
	fields: Partial<CatalogRecordOf<'model'>> = {}
): CatalogRecord => ({
	record: 'model',
	code,
	label,
	family,
	connector,
	value,
	battery: { chemistry: 'li-ion', cells: 1, capacity_mah: capacity },
	charge: { volts: 5, amps },
	path: CHARGE_PATH,
	drain: { percent_per_hour: 9 },
	screws: [...DEMO_SCREWS],
	...(DEMO_POINTS[code] ? { points: DEMO_POINTS[code] } : {}),
	...fields
});

const MODELS: CatalogRecord[] = [
	model('pelagic-40', 'Pelagic 40 dive light', 'dive-light', 'type-c-24', 210, 1.4, 5000, {
		notes:
			'Same story every time: traces behind the port torn. Double the supply wires; the seal ring goes back greased.',
		carries: ['depth sensor', 'magnetic switch']
	}),
	model('pelagic-25', 'Pelagic 25 dive light', 'dive-light', 'type-c-16', 140, 1.0, 3400),
	model('tern-6', 'Tern 6 radio', 'radio', 'micro-b', 120, 0.7, 2200),
	model('tern-9', 'Tern 9 radio', 'radio', 'type-c-16', 190, 1.0, 2600, {
		carries: ['microphone', 'loudspeaker', 'radio']
	}),
	model('quayline', 'Quayline reader', 'reader', 'micro-b', 95, 0.5, 1500),
	model('quayline-2', 'Quayline 2 reader', 'reader', 'type-c-16', 130, 0.7, 1900, { port_on: 'flex' }),
	model('halyard-spoke', 'Halyard Spoke bicycle computer', 'bike', 'type-c-16', 240, 0.6, 1200),
	model('fathom-count', 'Fathom Count scanner', 'scanner', 'type-c-24', 420, 1.5, 4100, {
		charges: [{ volts: 9, amps: 1.6 }]
	}),
	model('strandpay-t1', 'Strandpay T1 terminal', 'terminal', 'type-c-16', 180, 0.9, 2600),
	model('murmur-case', 'Murmur charging case', 'case', 'type-c-16', 160, 0.5, 600, {
		carries: ['wireless']
	}),
	model('gannet-c', 'Gannet C action camera', 'camera', 'type-c-24', 260, 1.2, 1400, {
		charges: [{ volts: 9, amps: 1 }],
		carries: ['microphone', 'picture', 'memory card'],
		port_on: 'flex'
	})
];

const TECHNICIANS: CatalogRecord[] = (
	[
		['ines', 'Ines', ['soldering'], 31],
		['tomasz', 'Tomasz', ['soldering', 'boards'], 34.5],
		['noor', 'Noor', ['open-close'], 26],
		['bram', 'Bram', ['open-close'], 25]
	] as const
).map(([code, name, skills, hourly_cost]) => ({
	record: 'technician',
	code,
	name,
	skills: [...skills],
	hourly_cost
}));

/** Where the demo shop buys, and why things come back to it. */
const AROUND: CatalogRecord[] = [
	{ record: 'supplier', code: 'north-quay', label: 'North Quay Parts', lead_days: 4, order_cost: 7.5 },
	{
		record: 'supplier',
		code: 'tidewater',
		label: 'Tidewater Components',
		lead_days: 12,
		order_cost: 4,
		minimum: 25
	},
	{ record: 'cause', code: 'same-again', label: 'The same fault again' }
];

/** Chips and ports come from afar; what is bought by the reel from near by. */
const FROM_AFAR = ['port-smd', 'port-controller-ic', 'charge-controller-ic', 'filter-smd', 'battery-pack'];
function boughtFrom(record: CatalogRecord): CatalogRecord {
	if (record.record !== 'part') return record;
	const afar = FROM_AFAR.includes(record.sku);
	const pack = afar ? {} : { pack: 10 };
	return { ...record, supplier: afar ? 'tidewater' : 'north-quay', ...pack };
}

/** Fine work is done under the lens, what needs much heat at the one hot-air station. */
const STATIONS: Record<string, string> = {
	'replace-port': 'hot-air',
	'replace-port-controller': 'hot-air',
	'replace-charger': 'hot-air',
	'rebuild-traces': 'microscope',
	'reflow-port': 'microscope'
};
function atStation(record: CatalogRecord): CatalogRecord {
	const station = record.record === 'operation' ? STATIONS[record.code] : undefined;
	return record.record === 'operation' && station ? { ...record, station } : record;
}

const withTwoMicroscopes = (record: CatalogRecord): CatalogRecord =>
	record.record === 'station' && record.code === 'microscope' ? { ...record, count: 2 } : record;

const DONOR_CABLE: CatalogRecord = {
	record: 'part',
	sku: 'donor-cable',
	label: 'Donor cable, for its port',
	unit_cost: 5.8,
	source: 'donor',
	supplier: 'north-quay',
	yields: [{ sku: 'port-smd', quantity: 1 }]
};

/** What the demo shop offers beside repairs. */
const INSTEAD: CatalogRecord[] = [
	{
		record: 'operation',
		code: 'save-data',
		label: 'Save the data only',
		says: 'Save the data only; the device stays as it is',
		risks: 'A board that is too damaged gives nothing back; then nothing is paid.',
		minutes: 35,
		fixes: [],
		success: 0.8,
		instead: 'data',
		price: 69
	},
	{
		record: 'operation',
		code: 'second-port',
		label: 'Use the cradle contacts',
		says: 'Charge over the cradle contacts; the port stays as it is',
		minutes: 12,
		fixes: [],
		success: 0.9,
		instead: 'device',
		price: 29,
		models: ['fathom-count', 'strandpay-t1']
	}
];

/** The demo's own way beside those of the trade. */
const DOCK_SOLDERLESS: CatalogRecord = {
	record: 'procedure',
	code: 'dock-solderless',
	version: 1,
	label: 'Dock swapped without solder',
	operation: 'second-port',
	school: 'no heat',
	about: 'The dock is a module on its own flex.',
	steps: [
		{
			kind: 'hands',
			says: 'Open; screws out in the order of the map, each to its place on the mat',
			minutes: 6,
			skill: 'open-close'
		},
		{ kind: 'caution', says: 'Battery unplugged before the flex is touched.', must: true },
		{
			kind: 'hands',
			says: 'Lift the dock off its adhesive; old adhesive off',
			minutes: 5,
			tool: 'plastic card'
		},
		{ kind: 'hands', says: 'New adhesive, new dock, flex plug home', minutes: 5 },
		{ kind: 'wait', says: 'Adhesive under light pressure', minutes: 20, wait: 'adhesive' },
		{ kind: 'gate', says: 'Charges over the cradle', minutes: 4, gate: 'both-ways' },
		{ kind: 'gate', says: 'Battery plug pressed home, insulating cover back', minutes: 2, gate: 'cover-back' }
	]
};

export const DEMO_CATALOG: readonly CatalogRecord[] = [
	{
		record: 'shop',
		name: 'Saltmarsh Bench',
		currency: 'EUR',
		time_zone: 'Europe/Lisbon',
		locale: 'en-GB',
		hours: [...Array.from({ length: 6 }, () => ['09:00-13:00', '14:00-18:00']), []]
	},
	...STARTER_CATALOG.map(boughtFrom).map(atStation).map(withTwoMicroscopes),
	DONOR_CABLE,
	...MODELS,
	...INSTEAD,
	...AROUND,
	...TECHNICIANS,
	DOCK_SOLDERLESS
];
