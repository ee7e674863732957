import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../units/random';
import { type Mark, type Prediction } from './foretell';
import { plannedRemedy, type PlannedTest, type PlanWorld } from '../plan/plan-world';
import { playOut } from '../plan/play-out';
import { trackRecord } from './track-record';

describe('playing a plan out', () => {
	const sets = [[0], [1]];
	const test: PlannedTest = {
		kind: 'test',
		needs: [],
		code: 'look',
		question: 'look',
		minutes: 1,
		costMinor: 10,
		answers: ['left', 'right'],
		told: [Float64Array.from([0.95, 0.05]), Float64Array.from([0.05, 0.95])]
	};
	const shop: PlanWorld = {
		later: [],
		opening: null,
		sets,
		lossMinor: 1000,
		tests: [test],
		remedies: [0, 1].map((fault) =>
			plannedRemedy({ code: `fix-${fault}`, fixes: new Set([fault]), success: 0.9 }, sets, {
				minutes: 10,
				costMinor: 100
			})
		)
	};
	const even = Float64Array.from([0.5, 0.5]);
	const play = (truth: number[], answer?: string, world_ = shop) =>
		playOut(world_, even, truth, () => answer, seededRandom(1));
	it('tests, then repairs what the answer says', () => {
		expect(play([1], 'right')).toEqual({
			costMinor: 110,
			minutes: 11,
			fixed: true,
			steps: ['look', 'fix-1']
		});
	});
	it('goes on after a misleading answer, at what that costs', () => {
		// after one failure the left is still likelier: 0.95 · 0.1 against 0.05; after two it is not
		expect(play([1], 'left')).toMatchObject({ costMinor: 310, steps: ['look', 'fix-0', 'fix-0', 'fix-1'] });
	});
	it('gives up where nothing pays, at what giving up loses', () => {
		const poor = { ...shop, lossMinor: 40 };
		expect(play([1], 'right', poor)).toEqual({ costMinor: 40, minutes: 0, fixed: false, steps: [] });
	});
	it('will not play against a set that its world does not hold', () => {
		expect(() => play([0, 1])).toThrow('does not hold the set [0, 1]');
	});
});

describe('the track record', () => {
	const mark = (place: number | null, logLoss: number): Mark => ({ place, logLoss, brier: logLoss / 4 });
	const prediction = (i: number, place: number | null, more: Partial<Prediction> = {}): Prediction => ({
		number: `K-${i}`,
		model: i % 2 ? 'odd' : 'even',
		closedAt: i,
		faults: place === null ? [] : ['a'],
		from: i,
		first: { fault: place === 1 ? 'a' : 'b', chance: 0.6 },
		chances: [0.6, 0.3],
		came: place === 1 ? [1, 0] : [0, 1],
		bench: mark(place, place === 1 ? 0.1 : 0.5),
		counter: mark(place, 0.4),
		usual: mark(2, 0.6),
		guess: null,
		cost: null,
		...more
	});
	const monthOf = (at: number) => (at < 5 ? '2026-01' : '2026-02');
	const record = trackRecord(
		[
			...[0, 1, 2, 3, 4, 5].map((i) => prediction(i, 1, { cost: { planMinor: 30, doneMinor: 50 } })),
			prediction(6, 2, { guess: { fault: 'a', right: true, ...mark(1, 0.2) } }),
			prediction(7, 4),
			prediction(8, null)
		],
		monthOf
	);
	it('counts what was right first and among the first three, of tickets with a fault', () => {
		expect(record?.bench.first).toMatchObject({ hits: 6, outcomes: 8, share: 0.75 });
		expect(record?.bench.three).toMatchObject({ hits: 7, outcomes: 8 });
		expect(record?.usual.first).toMatchObject({ hits: 0, outcomes: 9 });
	});
	it('says how far ahead of the usual faults, and what the plan saves', () => {
		expect(record?.ahead.mean).toBeCloseTo((6 * 0.5 + 3 * 0.1) / 9, 12);
		expect(record?.skill).toBeCloseTo(1 - (6 * 0.1 + 3 * 0.5) / (9 * 0.6), 12);
		expect(record?.cost?.saved.mean).toBe(20);
	});
	it('groups by model, fault and month, and says where there are too few', () => {
		expect(record?.models.map(({ key, count }) => [key, count])).toEqual([
			['even', 5],
			['odd', 4]
		]);
		expect(record?.months.map(({ key, count }) => [key, count])).toEqual([
			['2026-01', 5],
			['2026-02', 4]
		]);
		expect(record?.faults[0]).toMatchObject({
			key: 'a',
			count: 8,
			few: false,
			named: { hits: 6, outcomes: 6 }
		});
		expect(record?.few).toBe(true);
		expect(record?.models.every(({ few }) => few)).toBe(true);
	});
	it('holds the guess against the odds on the same tickets', () => {
		expect(record?.guess).toMatchObject({
			own: { first: { hits: 1, outcomes: 1 } },
			odds: { first: { hits: 0 } }
		});
		expect(record?.guess?.ahead.mean).toBeCloseTo(-0.3, 12);
	});
	it('shows where it was most wrong, not where it was right', () => {
		expect(record?.mostWrong.map(({ number }) => number)).toEqual(['K-6', 'K-7', 'K-8']);
	});
	it('bins every chance with how often it came', () => {
		expect(record?.calibration?.bins.map(({ count }) => count)).toEqual([9, 9]);
		expect(record?.calibration?.bins[1]).toMatchObject({ hits: 6 });
	});
	it('is nothing where nothing was foretold', () => expect(trackRecord([], monthOf)).toBeNull());
});
