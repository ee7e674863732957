import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import { lognormalMean } from '../statistics/lognormal';
import { addDuration, durationLaw, emptyDurations } from './durations';
import { jobCost } from './job-cost';
import { addShare, emptyPast, shareOf, usualMarkup, type PastJob } from './past';
import { chanceOfLoss, judgePrice } from './price';
import type { NamedPrice } from './quote';

const catalog = buildCatalog([
	{ record: 'fault', code: 'port', label: 'Port' },
	{ record: 'fault', code: 'fuse', label: 'Fuse' },
	{ record: 'fault', code: 'odd', label: 'Odd' },
	{ record: 'test', code: 'look', label: 'Look', minutes: 6, cost: 1, outcomes: ['a', 'b'] },
	{ record: 'part', sku: 'p', label: 'P', unit_cost: 4 },
	{
		record: 'operation',
		code: 'fit',
		label: 'Fit',
		minutes: 40,
		fixes: ['port'],
		parts: [{ sku: 'p', quantity: 2 }]
	},
	{ record: 'operation', code: 'fuse', label: 'Fuse', minutes: 20, fixes: ['fuse'] },
	{ record: 'technician', code: 't', name: 'T', hourly_cost: 30 },
	{ record: 'model', code: 'm', label: 'M', value: 100 }
]);
const remedies = [
	{ code: 'fit', fixes: new Set([0]), success: 0.9 },
	{ code: 'fuse', fixes: new Set([1]), success: 1 }
];
const job = (faults: string[], testsDone: string[] = []) =>
	jobCost({
		catalog,
		past: emptyPast(),
		remedies,
		model: 'm',
		possible: [{ faults, probability: 1 }],
		testsDone: testsDone.map((test) => ({ test, outcome: 'a' })),
		hourlyMinor: 3000
	});

describe('durations', () => {
	it('start from the catalog and move to the shop’s own jobs', () => {
		expect(Math.exp(durationLaw(catalog, emptyDurations(), 'fit', 'm').mu)).toBeCloseTo(40, 9);
		const learned = emptyDurations();
		for (let i = 0; i < 200; i++) addDuration(learned, { operation: 'fit', model: 'other', minutes: 20 });
		const law = durationLaw(catalog, learned, 'fit', 'm');
		expect(Math.exp(law.mu)).toBeGreaterThan(20);
		expect(Math.exp(law.mu)).toBeLessThan(20.5);
		expect(law).toMatchObject({ from: 200, fromModel: 0 });
		expect(law.sigma).toBeLessThan(0.1);
	});
	it('shrink a model with few jobs towards the operation: (n mean + 5 overall) / (n + 5)', () => {
		const learned = emptyDurations();
		addDuration(learned, { operation: 'fit', model: 'm', minutes: 80 });
		const overall = (Math.log(80) + 3 * Math.log(40)) / 4;
		expect(durationLaw(catalog, learned, 'fit', 'm').mu).toBeCloseTo((Math.log(80) + 5 * overall) / 6, 12);
	});
	it('forget what is taken out, and do not take zero minutes for a duration', () => {
		const learned = emptyDurations();
		addDuration(learned, { operation: 'fit', model: 'm', minutes: 80 });
		addDuration(learned, { operation: 'fit', model: 'm', minutes: 80 }, -1);
		addDuration(learned, { operation: 'fit', model: 'm', minutes: 0 });
		expect(durationLaw(catalog, learned, 'fit', 'm').from).toBe(0);
	});
});

describe('cost of a job', () => {
	it('is the same for the same evidence', () => expect(job(['port'])).toEqual(job(['port'])));
	it('has the mean that the laws say: tries, minutes, parts', () => {
		const found = job(['port'], ['look']);
		const once = lognormalMean(durationLaw(catalog, emptyDurations(), 'fit', 'm'));
		const tries = 1 + 0.1;
		const wanted = 6 + tries * once;
		expect(Math.abs(found.minutes.mean / wanted - 1)).toBeLessThan(0.03);
		const cost = 100 + tries * 800 + (wanted / 60) * 3000;
		expect(Math.abs(found.costMinor.mean / cost - 1)).toBeLessThan(0.03);
		expect(found.chanceFixed).toBeCloseTo(0.99, 1);
		expect(found.minutes.p10).toBeLessThan(found.minutes.p50);
		expect(found.minutes.p50).toBeLessThan(found.minutes.p90);
	});
	it('needs both operations for two faults', () => {
		expect(job(['port', 'fuse']).operations.sort()).toEqual(['fit', 'fuse']);
		expect(job(['port', 'fuse']).minutes.mean).toBeGreaterThan(job(['port']).minutes.mean + 15);
	});
	it('cannot fix what no operation fixes, nor what nobody knows', () => {
		expect(job(['odd']).chanceFixed).toBe(0);
		expect(job([], ['look'])).toMatchObject({ chanceFixed: 0, minutes: { p50: 6 }, costMinor: { p50: 400 } });
	});
});

describe('price', () => {
	const input = {
		job: job(['port']),
		acceptance: null,
		policy: { stepMinor: 100, feeMinor: 0 },
		ceilingMinor: 10_000,
		askedMinor: null,
		markup: { ratio: 2, from: 0 },
		topChance: 1,
		first: 'repair' as const
	};
	it('is suggested between floor and ceiling, in whole units', () => {
		const found = judgePrice(input) as NamedPrice;
		expect(found.priceMinor).toBeGreaterThanOrEqual(found.floorMinor);
		expect(found.priceMinor).toBeLessThanOrEqual(10_000);
		expect(found.priceMinor % 100).toBe(0);
		expect(found.verdict).toBe('quote');
	});
	it('is judged where it is asked: below the floor it loses', () => {
		expect(judgePrice({ ...input, askedMinor: 500 }).expectedProfitMinor).toBeLessThan(0);
		expect(chanceOfLoss(input.job.draws, 500)).toBe(1);
	});
	it('is not worth it where the floor lies above the ceiling', () =>
		expect(judgePrice({ ...input, ceilingMinor: 1000 }).verdict).toBe('not-worth-it'));
	it('waits for measuring where nothing is likely', () =>
		expect(judgePrice({ ...input, topChance: 0.3, first: 'measure' }).verdict).toBe('diagnose-first'));
	it('loses more seldom the higher it is', () => {
		const chances = [0, 2000, 4000, 8000, 20_000].map((price) => chanceOfLoss(input.job.draws, price));
		for (let i = 1; i < chances.length; i++) expect(chances[i]).toBeLessThanOrEqual(chances[i - 1] as number);
	});
});

describe('the past', () => {
	const done: PastJob = {
		model: 'm',
		openedAt: 0,
		closedAt: 1,
		outcome: 'fixed',
		quotedMinor: 6000,
		accepted: true,
		paidMinor: 6000,
		comebackOf: null,
		attempts: [{ operation: 'fit', minutes: 60, technician: 't' }],
		parts: []
	};
	it('knows what jobs were paid over their cost, and forgets again', () => {
		const past = emptyPast();
		expect(usualMarkup(past)).toEqual({ ratio: 2, from: 0 });
		addShare(past, shareOf(done, catalog));
		expect(usualMarkup(past)).toEqual({ ratio: 2, from: 1 });
		addShare(past, shareOf({ ...done, paidMinor: 6000 }, catalog), -1);
		expect(past).toMatchObject({ paidJobs: 0, costMinor: 0 });
		expect(past.answers.valued.size).toBe(0);
	});
});
