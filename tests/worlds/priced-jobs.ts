import { buildCatalog } from '$lib/core/catalog/catalog';
import type { CatalogRecord } from '$lib/core/catalog/kinds';
import { emptyPast } from '$lib/core/quoting/past';
import { jobCost, type JobCost } from '$lib/core/quoting/job-cost';
import type { PriceInput } from '$lib/core/quoting/price';

/** Invented jobs with round sums: what the tests of prices begin with. */

export const records: CatalogRecord[] = [
	{ record: 'fault', code: 'fuse', label: 'Fuse' },
	{ record: 'fault', code: 'port', label: 'Port' },
	{ record: 'fault', code: 'mystery', label: 'Mystery' },
	{ record: 'test', code: 'look-hard', label: 'Look hard', minutes: 12, cost: 3, outcomes: ['a', 'b'] },
	{ record: 'part', sku: 'fuse', label: 'Fuse', unit_cost: 2 },
	{ record: 'part', sku: 'board', label: 'Board', unit_cost: 90 },
	{
		record: 'operation',
		code: 'fit-fuse',
		label: 'Fit a fuse',
		minutes: 30,
		fixes: ['fuse'],
		success: 1,
		parts: [{ sku: 'fuse', quantity: 1 }]
	},
	{ record: 'operation', code: 'fit-port', label: 'Fit a port', minutes: 60, fixes: ['port'], success: 1 },
	{
		record: 'operation',
		code: 'swap-board',
		label: 'Swap the board',
		minutes: 20,
		fixes: ['fuse', 'port'],
		success: 1,
		parts: [{ sku: 'board', quantity: 1 }]
	},
	{ record: 'cause', code: 'misuse', label: 'Misuse', counts: false },
	{ record: 'cause', code: 'joint', label: 'A joint' },
	{ record: 'technician', code: 'ada', name: 'Ada', hourly_cost: 30 },
	{ record: 'model', code: 'm', label: 'M', value: 120 },
	{ record: 'model', code: 'worthless', label: 'Worthless' }
];
export const catalog = buildCatalog(records);
export const sure = [
	{ code: 'fit-fuse', fixes: new Set([0]), success: 1 },
	{ code: 'fit-port', fixes: new Set([1]), success: 1 },
	{ code: 'swap-board', fixes: new Set([0, 1]), success: 1 }
];
export const cost = (more: Partial<Parameters<typeof jobCost>[0]> = {}): JobCost =>
	jobCost({
		catalog,
		past: emptyPast(),
		remedies: sure,
		model: 'm',
		possible: [{ faults: ['fuse'], probability: 1 }],
		testsDone: [],
		hourlyMinor: 3000,
		...more
	});

/** What the tests of prices judge: a job that is worth doing at the shop's usual markup. */
export const pricing = (more: Partial<PriceInput> = {}): PriceInput => ({
	job: cost(),
	acceptance: null,
	ceilingMinor: 12_000,
	askedMinor: null,
	policy: { stepMinor: 100, feeMinor: 0 },
	markup: { ratio: 2, from: 9 },
	topChance: 0.9,
	first: 'repair',
	...more
});
