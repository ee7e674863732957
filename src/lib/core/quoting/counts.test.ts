import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import type { CatalogRecord } from '../catalog/kinds';
import { emptyLearned } from '../diagnosis/learn/learn';
import { engineOf } from '../diagnosis/engine';
import { remediesOf } from '../diagnosis/infer/odds';
import { seededRandom } from '../units/random';
import { countFactor, countsDrawn, latestCounts } from './counts';
import { addDuration, durationLaw, emptyDurations, pacesOf } from './durations';
import { jobCost, type JobInput } from './job-cost';
import { addShare, emptyPast, shareOf } from './past';

const records: CatalogRecord[] = [
	{ record: 'fault', code: 'torn', label: 'Torn', prior: 0.1 },
	{ record: 'model', code: 'm', label: 'M' },
	{
		record: 'operation',
		code: 'rebuild',
		label: 'Rebuild',
		minutes: 75,
		fixes: ['torn'],
		success: 0.99,
		per: { count: 'pads', usual: 2, each: 6.5 }
	},
	{ record: 'operation', code: 'plain', label: 'Plain', minutes: 30, fixes: [] }
];
const catalog = buildCatalog(records);

describe('what minutes depend on', () => {
	it.each([
		[2, 75],
		[20, 75 + 18 * 6.5],
		[1, 75 - 6.5],
		// never under a fifth of the usual
		[0, 75 - 13]
	])('%i pads take %f minutes', (pads, minutes) =>
		expect(75 * countFactor(catalog, 'rebuild', { pads })).toBeCloseTo(minutes, 9)
	);
	it('nothing where it depends on nothing, or nothing was counted', () => {
		expect(countFactor(catalog, 'plain', { pads: 9 })).toBe(1);
		expect(countFactor(catalog, 'rebuild', { wires: 9 })).toBe(1);
		expect(countFactor(catalog, 'gone', { pads: 9 })).toBe(1);
		const steep = buildCatalog([
			{
				record: 'operation',
				code: 'steep',
				label: 'Steep',
				minutes: 10,
				fixes: [],
				per: { count: 'pads', usual: 5, each: 9 }
			}
		]);
		expect(countFactor(steep, 'steep', { pads: 0 })).toBe(0.2);
	});
	it('the latest count of each is what counts', () =>
		expect(
			latestCounts([
				{ what: 'pads', number: 3 },
				{ what: 'wires', number: 1 },
				{ what: 'pads', number: 5 }
			])
		).toEqual({
			pads: 5,
			wires: 1
		}));
	it('what nobody counted is drawn as the shop met it, with the usual number among it', () => {
		const draw = countsDrawn(
			catalog,
			new Map([
				['pads 8', 6],
				['wires 1', 50]
			]),
			['rebuild', 'plain'],
			{}
		);
		const random = seededRandom(4);
		const drawn = Array.from({ length: 4000 }, () => draw(random).pads);
		const share = drawn.filter((pads) => pads === 8).length / drawn.length;
		expect(share).toBeGreaterThan(0.72);
		expect(share).toBeLessThan(0.78);
		expect(new Set(drawn)).toEqual(new Set([2, 8]));
	});
	it('draws nothing where nothing is open: the same seed goes on as before', () => {
		const random = () => {
			throw new Error('drawn');
		};
		expect(countsDrawn(catalog, new Map(), ['plain'], {})(random)).toEqual({});
		expect(countsDrawn(catalog, new Map(), ['rebuild'], { pads: 4 })(random)).toEqual({ pads: 4 });
	});
});

describe('what is learnt of them', () => {
	const job = (pads: number, minutes: number) =>
		shareOf(
			{
				model: 'm',
				openedAt: 0,
				closedAt: 1,
				outcome: 'fixed',
				quotedMinor: null,
				accepted: null,
				paidMinor: 1,
				comebackOf: null,
				counts: { pads },
				attempts: [{ operation: 'rebuild', resolved: true, minutes }],
				parts: []
			},
			catalog
		);
	it('minutes are kept as they would be with the usual number', () => {
		const past = emptyPast();
		for (let i = 0; i < 200; i++) addShare(past, job(20, 2 * (75 + 18 * 6.5)));
		expect(Math.exp(durationLaw(catalog, past.durations, 'rebuild', 'm').mu)).toBeCloseTo(150, -1);
		expect(past.durations.counts).toEqual(new Map([['pads 20', 200]]));
	});
	it('and are taken out again to the last digit', () => {
		fc.assert(
			fc.property(
				fc.array(fc.tuple(fc.nat(20), fc.integer({ min: 1, max: 300 })), { maxLength: 8 }),
				(jobs) => {
					const past = emptyPast();
					const shares = jobs.map(([pads, minutes]) => job(pads, minutes));
					for (const share of shares) addShare(past, share);
					for (const share of [...shares].reverse()) addShare(past, share, -1);
					expect(past.durations).toEqual(emptyDurations());
				}
			)
		);
	});
	const input = (more: Partial<JobInput> = {}): JobInput => ({
		catalog,
		past: emptyPast(),
		remedies: remediesOf(engineOf(catalog, emptyLearned()), 'any'),
		model: 'm',
		possible: [{ faults: ['torn'], probability: 1 }],
		testsDone: [],
		hourlyMinor: 3000,
		faultsKnown: true,
		...more
	});
	it('twenty pads are quoted as long as they take: 190 min lie within what is expected, 45 to 141 do not hold them', () => {
		const twenty = jobCost(input({ counts: { pads: 20 } })).minutes;
		const usual = jobCost(input({ counts: { pads: 2 } })).minutes;
		expect(twenty.p50 / usual.p50).toBeCloseTo(192 / 75, 1);
		expect(twenty.p10).toBeLessThan(190);
		expect(twenty.p90).toBeGreaterThan(190);
		expect(usual.p90).toBeLessThan(190);
	});
	it('not counted, the interval is as wide as the numbers that the shop met', () => {
		const past = emptyPast();
		for (let i = 0; i < 60; i++) addShare(past, i % 2 ? job(2, 75) : job(20, 192));
		const open = jobCost(input({ past })).minutes;
		const counted = jobCost(input({ past, counts: { pads: 2 } })).minutes;
		expect(open.p90 / open.p10).toBeGreaterThan(1.5 * (counted.p90 / counted.p10));
		expect(open.mean).toBeGreaterThan(1.3 * counted.mean);
	});
});

describe('a technician in one operation', () => {
	it('what lies beside the pace is shrunk more than the pace', () => {
		const learned = emptyDurations();
		const take = (operation: string, technician: string, minutes: number) => {
			for (let i = 0; i < 40; i++) addDuration(learned, { operation, technician, model: 'm', minutes });
		};
		take('rebuild', 'a', 60);
		take('rebuild', 'b', 90);
		take('plain', 'a', 30);
		take('plain', 'b', 30);
		const [a, b] = pacesOf(learned);
		const full = Math.log(60 / Math.sqrt(60 * 90));
		const inRebuild = (a?.effect ?? 0) + (a?.operations.get('rebuild') ?? 0);
		const inPlain = (a?.effect ?? 0) + (a?.operations.get('plain') ?? 0);
		expect(inRebuild).toBeLessThan(a?.effect ?? 0);
		expect(inRebuild).toBeGreaterThan(full);
		expect(Math.abs(inPlain)).toBeLessThan(Math.abs(a?.effect ?? 0));
		expect(b?.effect).toBeCloseTo(-(a?.effect ?? 0), 9);
	});
});
