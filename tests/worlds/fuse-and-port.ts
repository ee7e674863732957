import { buildCatalog } from '$lib/core/catalog/catalog';
import type { CatalogRecord } from '$lib/core/catalog/kinds';
import type { Evidence, Features } from '$lib/core/diagnosis/learn/evidence';
import type { Lesson } from '$lib/core/diagnosis/learn/learn';

/** A small invented catalog, two faults of one model, and what its tickets taught: sums of it can be made by hand. */

export const records: CatalogRecord[] = [
	{ record: 'fault', code: 'fuse', label: 'Fuse' },
	{ record: 'fault', code: 'port', label: 'Port' },
	{ record: 'sign', code: 'dead', label: 'dead', kind: 'symptom' },
	{
		record: 'test',
		code: 'probe',
		label: 'Probe the fuse',
		minutes: 6,
		cost: 1,
		risk: 0.1,
		outcomes: ['open', 'through']
	},
	{ record: 'test', code: 'safe', label: 'Look again', minutes: 6, cost: 1, outcomes: ['odd', 'plain'] },
	{
		record: 'expectation',
		given: 'fuse',
		test: 'probe',
		outcomes: { open: 0.95, through: 0.05 },
		weight: 40
	},
	{
		record: 'expectation',
		given: 'port',
		test: 'probe',
		outcomes: { open: 0.05, through: 0.95 },
		weight: 40
	},
	{
		record: 'operation',
		code: 'fit-fuse',
		label: 'Fit a fuse',
		minutes: 30,
		fixes: ['fuse'],
		success: 0.9,
		parts: [{ sku: 'fuse', quantity: 2 }],
		caution: 'heat'
	},
	{ record: 'operation', code: 'fit-port', label: 'Fit a port', minutes: 60, fixes: ['port'], success: 0.9 },
	{
		record: 'operation',
		code: 'swap',
		label: 'Swap the board',
		minutes: 10,
		fixes: ['fuse', 'port'],
		success: 0.9
	},
	{ record: 'operation', code: 'wipe', label: 'Clear', minutes: 5, fixes: [] },
	{ record: 'part', sku: 'fuse', label: 'Fuse', unit_cost: 1.5 },
	{ record: 'technician', code: 'ada', name: 'Ada', hourly_cost: 60 },
	{
		record: 'connector',
		code: 'c',
		label: 'C',
		pins: [
			{ pin: '1', net: 'vbus' },
			{ pin: '2', net: 'vbus' },
			{ pin: '3', net: 'd+' }
		]
	},
	{
		record: 'model',
		code: 'm',
		label: 'M',
		connector: 'c',
		battery: { chemistry: 'li-ion', cells: 1, capacity_mah: 1000 }
	}
];
export const catalog = buildCatalog(records);
export const none: Features = { signs: [], answers: [], attempts: [] };
/** A device on which nothing was seen yet. */
export const unseen = (model: string): Evidence => ({
	model,
	signs: {},
	inspection: [],
	observations: [],
	meter: [],
	battery: [],
	readings: [],
	attempts: []
});
export const lesson = (more: Partial<Lesson> = {}): Lesson => ({
	model: 'm',
	closedAt: 1,
	faults: ['fuse'],
	features: none,
	tried: [],
	...more
});
export const times = <Item>(count: number, item: Item) => Array.from({ length: count }, () => item);
