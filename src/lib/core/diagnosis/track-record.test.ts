import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import {
	deviceLesson,
	drawDevice,
	exactMarginals,
	makeWorld,
	worldCatalog
} from '../simulation/engine-world';
import { logCost } from '../statistics/proper-scores';
import { seededRandom } from '../units/random';
import { foretellInOrder, type Mark, type PastCase, type Prediction } from './foretell';
import { plannedRemedy, type PlannedTest, type PlanWorld } from './plan-world';
import { playOut } from './play-out';
import { trackRecord } from './track-record';

const world = makeWorld(seededRandom(21), 'plain');
const catalog = buildCatalog(worldCatalog(world));
const costs = () => ({ operationMinutes: () => 30, lossOfGivingUpMinor: 9000 });
function history(count: number, seed = 5) {
	const random = seededRandom(seed);
	return Array.from({ length: count }, (_, i) => {
		const device = drawDevice(random, world);
		const lesson = deviceLesson(world, device);
		const fixes = world.operations.find(({ fixes }) => fixes.includes(device.faults[0] ?? -1));
		const past: PastCase = {
			number: `K-${i}`,
			closedAt: 1000 * i,
			lesson,
			fixedBy: fixes ? [fixes.code] : null
		};
		return { device, past };
	});
}
const foretold = (cases: readonly PastCase[]) => [...foretellInOrder(catalog, [], cases, costs)];

describe('foretelling in order of time', () => {
	const cases = history(90).map(({ past }) => past);
	const all = foretold(cases);
	it('never looks ahead: what comes later changes nothing of what was foretold', () => {
		expect(foretold(cases.slice(0, 40))).toEqual(all.slice(0, 40));
	});
	it('never looks at the ticket’s own end: other faults or repairs leave its chances as they are', () => {
		const last = cases[60] as PastCase;
		const lied: PastCase = {
			...last,
			lesson: { ...last.lesson, faults: ['f3'], features: { ...last.lesson.features, attempts: [] } }
		};
		const again = foretold([...cases.slice(0, 60), lied]);
		expect(again.at(-1)?.chances).toEqual(all[60]?.chances);
	});
	it('goes on from where it stopped as if it had not', () => {
		const lessons = cases.slice(0, 60).map(({ lesson }) => lesson);
		const rest = [...foretellInOrder(catalog, lessons, cases.slice(60, 61), costs)];
		// the long run may rest on a few tickets fewer, never on more
		expect(rest[0]?.from).toBe(60);
		expect(all[60]?.from).toBeLessThanOrEqual(60);
		expect(all[60]?.from).toBeGreaterThan(56);
	});
	it('tickets closed at one moment know nothing of each other', () => {
		const [a, b] = cases.slice(50, 52).map((past): PastCase => ({ ...past, closedAt: 99_000 }));
		const before = cases.slice(0, 50);
		const one = foretold([...before, a as PastCase, b as PastCase]);
		const other = foretold([...before, b as PastCase, a as PastCase]);
		expect(one.at(-1)?.chances).toEqual(other.at(-2)?.chances);
		expect(one.at(-2)?.chances).toEqual(other.at(-1)?.chances);
	});
	it('of an empty shop rests on nothing, and says so', () => {
		expect(all[0]).toMatchObject({ from: 0 });
		expect(foretold([])).toEqual([]);
	});
	it('lies between the exact odds and the model’s usual faults', () => {
		const past = history(320, 9);
		const predictions = foretold(past.map(({ past }) => past)).slice(160);
		const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
		const best = mean(
			past.slice(160).map(({ device }) => {
				const { marginals } = exactMarginals(world, device);
				return mean(marginals.map((chance, f) => logCost([chance, device.faults.includes(f)])));
			})
		);
		const bench = mean(predictions.map(({ bench }) => bench.logLoss));
		const usual = mean(predictions.map(({ usual }) => usual.logLoss));
		expect(bench).toBeGreaterThan(best);
		expect(bench).toBeLessThan(best + 0.35 * (usual - best));
	});
});

describe('playing a plan out', () => {
	const sets = [[0], [1]];
	const test: PlannedTest = {
		kind: 'test',
		code: 'look',
		question: 'look',
		minutes: 1,
		costMinor: 10,
		answers: ['left', 'right'],
		told: [Float64Array.from([0.95, 0.05]), Float64Array.from([0.05, 0.95])]
	};
	const shop: PlanWorld = {
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
		expect(play([1], 'left')).toMatchObject({ costMinor: 210, steps: ['look', 'fix-0', 'fix-1'] });
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
		expect(record?.bench.first).toMatchObject({ hits: 6, of: 8, share: 0.75 });
		expect(record?.bench.three).toMatchObject({ hits: 7, of: 8 });
		expect(record?.usual.first).toMatchObject({ hits: 0, of: 9 });
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
		expect(record?.faults[0]).toMatchObject({ key: 'a', count: 8, few: false, named: { hits: 6, of: 6 } });
		expect(record?.few).toBe(true);
		expect(record?.models.every(({ few }) => few)).toBe(true);
	});
	it('holds the guess against the odds on the same tickets', () => {
		expect(record?.guess).toMatchObject({ own: { first: { hits: 1, of: 1 } }, odds: { first: { hits: 0 } } });
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
