import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../../catalog/catalog';
import { deviceLesson, drawDevice, exactMarginals, makeWorld, worldCatalog } from '$worlds/engine-world';
import { logCost } from '../../statistics/proper-scores';
import { seededRandom } from '../../units/random';
import { foretellInOrder, type PastCase } from './foretell';

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
	const cases = history(62).map(({ past }) => past);
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
		const [a, b] = cases.slice(20, 22).map((past): PastCase => ({ ...past, closedAt: 99_000 }));
		const before = cases.slice(0, 20);
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
		const past = history(240, 9);
		const predictions = foretold(past.map(({ past }) => past)).slice(120);
		const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
		const best = mean(
			past.slice(120).map(({ device }) => {
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
