import { describe, expect, it } from 'vitest';
import { catalog, sure, cost } from '$worlds/priced-jobs';
import { addDuration, durationLaw, emptyDurations, spreadsWithin } from './durations';
import { emptyPast, JOBS, lossOfGivingUpMinor, shareOf, usualMarkup, type PastJob } from './past';

const looked = { test: 'look-hard', outcome: 'burnt' };

describe('what a job may cost', () => {
	it('is the operation that is cheapest for what it still fixes, by hand', () => {
		// half an hour and two of parts against twenty minutes and ninety
		expect(cost().operations).toEqual(['fit-fuse']);
		expect(cost({ hourlyMinor: 1_000_000 }).operations).toEqual(['swap-board']);
		expect(cost({ possible: [{ faults: ['fuse', 'port'], probability: 1 }] }).operations).toEqual([
			'fit-fuse',
			'fit-port'
		]);
		const shaky = sure.map((remedy) => (remedy.code === 'fit-fuse' ? { ...remedy, success: 0.05 } : remedy));
		expect(cost({ remedies: shaky }).operations).toEqual(['swap-board']);
	});
	it('names the operations of the likeliest first', () => {
		const possible = [
			{ faults: ['port'], probability: 0.3 },
			{ faults: ['fuse'], probability: 0.7 }
		];
		expect(cost({ possible }).operations).toEqual(['fit-fuse', 'fit-port']);
		expect(cost({ possible: [...possible].reverse() }).operations).toEqual(['fit-fuse', 'fit-port']);
	});
	it('has two thousand draws: parts, minutes at the hour’s cost, and the tests that were done', () => {
		const job = cost();
		expect(job.draws).toHaveLength(2000);
		expect(job.chanceFixed).toBe(1);
		const mean = job.minutes.mean;
		expect(job.costMinor.mean).toBeCloseTo(200 + mean * 50, 6);
		// lognormal about 30 minutes with the usual spread of 0.45: median 30, mean 30 exp(0.45² / 2)
		expect(job.minutes.p50).toBeGreaterThan(28);
		expect(job.minutes.p50).toBeLessThan(32);
		expect(Math.abs(mean - 30 * Math.exp(0.45 ** 2 / 2))).toBeLessThan(1);
		expect(job.minutes.p10 < job.minutes.p50 && job.minutes.p50 < job.minutes.p90).toBe(true);
		const tested = cost({ testsDone: [looked, { test: 'no such test', outcome: 'a' }] });
		expect(tested.minutes.mean).toBeCloseTo(mean + 12, 6);
		expect(tested.costMinor.mean).toBeCloseTo(job.costMinor.mean + 300 + 12 * 50, 6);
	});
	it('is never fixed where nothing fixes it or nothing is known, and costs nothing but the tests', () => {
		for (const faults of [['mystery'], [], ['fuse', 'mystery']]) {
			const job = cost({ possible: [{ faults, probability: 1 }], testsDone: [looked] });
			expect(job).toMatchObject({ chanceFixed: 0, operations: [], from: 0 });
			expect(job.costMinor.mean).toBeCloseTo(300 + 600, 6);
		}
	});
	it('an operation that fails is tried once more and no third time', () => {
		const never = [{ code: 'fit-fuse', fixes: new Set([0]), success: 1e-9 }];
		const job = cost({ remedies: never });
		expect(job.chanceFixed).toBe(0);
		expect(job.costMinor.mean - job.minutes.mean * 50).toBeCloseTo(400, 6);
		const half = cost({ remedies: [{ code: 'fit-fuse', fixes: new Set([0]), success: 0.5 }] });
		// by hand: a half at the first, three quarters by the second; the standard error is under 0.012
		expect(Math.abs(half.chanceFixed - 0.75)).toBeLessThan(0.04);
	});
	it('says how many past jobs its minutes rest on', () => {
		const durations = emptyDurations();
		for (let i = 0; i < 5; i++) addDuration(durations, { operation: 'fit-fuse', model: 'm', minutes: 40 });
		expect(cost({ past: { ...emptyPast(), durations } }).from).toBe(5);
		expect(cost().from).toBe(0);
	});
});

describe('minutes of an operation', () => {
	const learned = () => {
		const durations = emptyDurations();
		for (const minutes of [20, 40]) addDuration(durations, { operation: 'fit-fuse', model: 'm', minutes });
		return durations;
	};
	it('by hand: the catalog is worth three jobs, the operation five of a model, the usual spread five', () => {
		const law = durationLaw(catalog, learned(), 'fit-fuse', 'm');
		const [a, b, usual] = [Math.log(20), Math.log(40), Math.log(30)];
		const overall = (a + b + 3 * usual) / 5;
		expect(law.mu).toBeCloseTo((a + b + 5 * overall) / 7, 10);
		const scatter = a * a + b * b - (a + b) ** 2 / 2;
		expect(law.sigma).toBeCloseTo(Math.sqrt((scatter + 5 * 0.45 ** 2) / 6), 10);
		expect(law).toMatchObject({ from: 2, fromModel: 2 });
	});
	it('with no record it is the catalog’s with the usual spread; of an unknown operation half an hour', () => {
		const law = durationLaw(catalog, emptyDurations(), 'fit-port', 'm');
		expect(law).toMatchObject({ from: 0, fromModel: 0 });
		expect(law.mu).toBeCloseTo(Math.log(60), 10);
		expect(law.sigma).toBeCloseTo(0.45, 10);
		expect(durationLaw(catalog, emptyDurations(), 'unknown', 'm').mu).toBe(Math.log(30));
	});
	it('scatter of one technician on one model: without what lies between technicians and between models', () => {
		const spread = (lies: { technicians: number; models: number; rest: number }) => {
			const durations = emptyDurations();
			for (let i = 0; i < 400; i++) {
				const sign = (bit: number) => ((i >> bit) & 1 ? 1 : -1);
				const [byTechnician, byModel, rest] = [sign(0), sign(1), sign(2)];
				const log = lies.technicians * byTechnician + lies.models * byModel + lies.rest * rest;
				addDuration(durations, {
					operation: 'fit-fuse',
					model: `m${byModel}`,
					technician: `t${byTechnician}`,
					minutes: 30 * Math.exp(log)
				});
			}
			const law = durationLaw(catalog, durations, 'fit-fuse', 'm1');
			return { within: spreadsWithin(durations)('fit-fuse', law), whole: law.sigma };
		};
		const all = spread({ technicians: 0.2, models: 0.3, rest: 0.25 });
		expect(all.whole).toBeCloseTo(Math.sqrt(0.2 ** 2 + 0.3 ** 2 + 0.25 ** 2), 2);
		expect(all.within).toBeCloseTo(0.25, 2);
		expect(spread({ technicians: 0, models: 0.3, rest: 0.25 }).within).toBeCloseTo(0.25, 2);
		expect(spread({ technicians: 0.2, models: 0, rest: 0.25 }).within).toBeCloseTo(0.25, 2);
		expect(spread({ technicians: 0, models: 0, rest: 0.25 }).within).toBeCloseTo(0.25, 2);
		// never less than half of the whole spread
		const apart = spread({ technicians: 0.6, models: 0.6, rest: 0.01 });
		expect(apart.within).toBeCloseTo(apart.whole / 2, 10);
	});
	it('zero minutes are no duration, and what is taken out leaves nothing', () => {
		const durations = learned();
		addDuration(durations, { operation: 'fit-fuse', model: 'm', minutes: 0 });
		addDuration(durations, { operation: 'fit-fuse', model: 'm', minutes: -3 });
		expect(durations.operations.get('fit-fuse')?.count).toBe(2);
		for (const minutes of [40, 20])
			addDuration(durations, { operation: 'fit-fuse', model: 'm', minutes }, -1);
		expect(durations).toEqual(emptyDurations());
	});
});

describe('what past jobs add', () => {
	it('steps of an operation count with the attempt that ends it, and by themselves where nothing does', () => {
		const step = (operation: string, minutes: number | undefined, part?: boolean) => ({
			operation,
			minutes,
			part
		});
		const durations = (...attempts: PastJob['attempts'][number][]) =>
			shareOf(job({ attempts }), catalog).durations.map(({ operation, minutes }) => [operation, minutes]);
		expect(durations(step('a', 20, true), step('b', 5), step('a', 25))).toEqual([
			['b', 5],
			['a', 45]
		]);
		expect(durations(step('a', 20, true), step('a', 4, true))).toEqual([['a', 24]]);
		expect(durations(step('a', 20), step('a', 25))).toEqual([
			['a', 20],
			['a', 25]
		]);
		expect(durations(step('a', 20, true), step('a', undefined), step('a', 3))).toEqual([
			['a', 20],
			['a', 3]
		]);
	});
	const job = (more: Partial<PastJob> = {}): PastJob => ({
		model: 'm',
		openedAt: 0,
		closedAt: 1,
		outcome: 'fixed',
		quotedMinor: 8000,
		accepted: true,
		paidMinor: 8000,
		comebackOf: null,
		faults: ['fuse'],
		tests: [{ test: 'look-hard', outcome: 'fine' }, { test: 'unknown', outcome: 'fine' }, looked],
		attempts: [{ operation: 'fit-fuse', resolved: true, minutes: 30, technician: 'ada' }],
		parts: [{ sku: 'fuse', quantity: 1, unitCostMinor: 200 }],
		...more
	});
	it('a fixed job: its minutes, its answer, what it was paid over its cost', () => {
		expect(shareOf(job(), catalog)).toEqual({
			model: 'm',
			answer: { priceMinor: 8000, valueMinor: 12_000, kind: 'unknown', accepted: true },
			durations: [{ operation: 'fit-fuse', model: 'm', technician: 'ada', minutes: 30 }],
			fixedBy: ['fit-fuse'],
			backAfter: [],
			walk: {
				faults: 'fuse',
				// once, by its last answer
				tests: [looked],
				operations: ['fit-fuse'],
				fixed: true
			},
			comebackMinor: null,
			fixed: true,
			paid: { paidMinor: 8000, costMinor: 200 + 1500 }
		});
		expect(shareOf(job({ model: 'unknown' }), catalog).answer?.valueMinor).toBeNull();
	});
	const again: Partial<PastJob> = {
		comebackOf: 'K-1',
		earlierVisit: { outcome: 'fixed', closedAt: 0 },
		paidMinor: 0
	};
	it.each<[string, Partial<PastJob>, object]>([
		[
			'an open one only answers',
			{ closedAt: null, outcome: null },
			{ durations: [], fixed: false, comebackMinor: null, paid: null }
		],
		[
			'one that was not fixed earns nothing to judge by',
			{ outcome: 'not-fixed' },
			{ fixed: false, paid: null, fixedBy: [], walk: { fixed: false } }
		],
		[
			'a comeback costs its work and parts less what was paid, and earns nothing to judge by',
			{ ...again, paidMinor: 500 },
			{ comebackMinor: 200 + 1500 - 500, fixed: true, paid: null }
		],
		['one that was paid for in full costs nothing', { ...again, paidMinor: 9000 }, { comebackMinor: 0 }],
		[
			'it counts against what fixed the device before',
			{ ...again, fixedBefore: ['fit-port'] },
			{ backAfter: ['fit-port'] }
		],
		[
			'an open one is none yet',
			{ ...again, fixedBefore: ['fit-port'], closedAt: null },
			{ comebackMinor: null, backAfter: [], walk: null }
		],
		[
			'one whose cause does not speak against the work is none',
			{ ...again, fixedBefore: ['fit-port'], cause: 'misuse' },
			{ comebackMinor: null, backAfter: [] }
		],
		['one whose cause does is', { ...again, cause: 'joint' }, { comebackMinor: 1700 }],
		[
			'one of a job that was not fixed is none',
			{ ...again, earlierVisit: { outcome: 'declined', closedAt: 0 } },
			{ comebackMinor: null }
		],
		['one of a job that nobody knows is none', { ...again, earlierVisit: null }, { comebackMinor: null }],
		[
			'one that came in before the job was closed is none',
			{ ...again, openedAt: -1 },
			{ comebackMinor: null }
		],
		[
			'nothing found is no way to a repair',
			{ outcome: 'no-fault-found', faults: [] },
			{ walk: { fixed: false } }
		],
		['one that was declined has no end', { outcome: 'declined' }, { walk: null }],
		['one of which nothing was confirmed neither', { faults: null }, { walk: null }],
		[
			'steps of the work are no attempts of their own',
			{ attempts: [{ operation: 'fit-port', part: true, minutes: 5 }] },
			{ walk: { operations: [] }, fixedBy: [] }
		],
		['unpaid work says nothing of the markup', { paidMinor: 0 }, { fixed: true, paid: null }],
		['nor does work that cost nothing', { attempts: [], parts: [] }, { fixed: true, paid: null }],
		['without a quote there is no answer', { quotedMinor: null }, { answer: null }],
		['without an answer neither', { accepted: null }, { answer: null }]
	])('%s', (_, more, share) => expect(shareOf(job(more), catalog)).toMatchObject(share));
	it('comes in and goes out without a trace', () => {
		const shares = [job(), job(again), job({ model: 'worthless', accepted: false })].map((one) =>
			shareOf(one, catalog)
		);
		const past = JOBS.empty();
		for (const share of shares) JOBS.add(past, share);
		expect(past).toMatchObject({ paidJobs: 2, paidMinor: 16_000, costMinor: 3400 });
		const kept = JOBS.settled(past);
		for (const share of shares) JOBS.remove(past, share);
		expect(past).toEqual(emptyPast());
		expect(kept.paidJobs).toBe(2);
		expect(kept.fixed.get('m')).toBe(2);
		expect(kept.comebacks.get('m')).toBe(1);
		expect(kept.answers.unvalued.size).toBe(1);
		expect([...kept.walks.keys()]).toEqual(['fuse']);
	});
	it('markup and loss of giving up, before and after there is any', () => {
		expect(usualMarkup(emptyPast())).toEqual({ ratio: 2, from: 0 });
		expect(usualMarkup({ ...emptyPast(), paidJobs: 1, paidMinor: 500, costMinor: 0 })).toEqual({
			ratio: 2,
			from: 0
		});
		expect(usualMarkup({ ...emptyPast(), paidJobs: 0, paidMinor: 500, costMinor: 100 })).toEqual({
			ratio: 2,
			from: 0
		});
		expect(usualMarkup({ ...emptyPast(), paidJobs: 4, paidMinor: 900, costMinor: 300 })).toEqual({
			ratio: 3,
			from: 4
		});
		const device = { valueMinor: null, dataWorthMinor: 6000 };
		const paid = { ...emptyPast(), paidJobs: 4, paidMinor: 1000 };
		expect(lossOfGivingUpMinor(emptyPast(), device)).toBe(8000);
		expect(lossOfGivingUpMinor(paid, device)).toBe(250);
		// nobody pays more than the device is worth; the data is lost beside
		expect(lossOfGivingUpMinor(paid, { ...device, valueMinor: 249 })).toBe(249);
		expect(lossOfGivingUpMinor(paid, { ...device, valueMinor: 251 })).toBe(250);
		expect(lossOfGivingUpMinor(paid, { ...device, matters: 'data' })).toBe(6250);
		expect(lossOfGivingUpMinor(paid, { ...device, valueMinor: 100, matters: 'both' })).toBe(6100);
		expect(lossOfGivingUpMinor(paid, { ...device, matters: 'device' })).toBe(250);
	});
});
