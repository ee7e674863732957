import { engineOf } from '$lib/core/diagnosis/engine';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildCatalog } from '$lib/core/catalog/catalog';
import { learn } from '$lib/core/diagnosis/learn/learn';
import { inferOdds } from '$lib/core/diagnosis/infer/odds';
import {
	deviceFeatures,
	deviceLesson,
	drawDevice,
	makeWorld,
	worldCatalog,
	type Device
} from '$worlds/engine-world';
import { scoreWorld } from '$worlds/world-scores';
import { formatInstant } from '$lib/core/units/instant';
import { seededRandom } from '$lib/core/units/random';
import type { Database } from '$lib/server/database/connection';
import { advise } from '$lib/server/diagnosis/advice';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { importLines } from '$lib/server/exchange/import';
import { freshDatabase } from './fresh-database';

// An invented shop's history as a file, through the import, the database and back into odds: on the way nothing may be lost.
const NOW = Date.UTC(2026, 10, 24, 12);
const HOUR = 3_600_000;
const random = seededRandom(11);
const world = makeWorld(random, 'plain');
const catalog = buildCatalog(worldCatalog(world));
const history = Array.from({ length: 300 }, () => drawDevice(random, world));
const held = Array.from({ length: 150 }, () => drawDevice(random, world));
/** days of closing as the file has them */
const closedAt = (i: number) => NOW - (300 - i) * 26 * HOUR;
let db: Database;

const evidenceOf = ({ model, signs, answers }: Device) => ({
	model: world.models[model]?.code as string,
	signs: Object.fromEntries(signs.map(([sign, present]) => [world.signs[sign] as string, present])),
	observations: answers.map(([test, outcome]) => ({
		test: world.tests[test]?.code as string,
		outcome: world.tests[test]?.outcomes[outcome] as string
	}))
});

beforeAll(async () => {
	db = await freshDatabase();
	const tickets = history.map((device, i) => {
		const { observations, ...evidence } = evidenceOf(device);
		const at = formatInstant(closedAt(i) - HOUR);
		return {
			record: 'ticket',
			number: `W-${i + 1}`,
			opened_at: formatInstant(closedAt(i) - 2 * HOUR),
			closed_at: formatInstant(closedAt(i)),
			...evidence,
			observations: observations.map((seen) => ({ ...seen, stage: 'diagnosis', at, by: 'tech' })),
			outcome: device.confirmed.length > 0 ? 'fixed' : 'no-fault-found',
			faults: device.confirmed.map((fault) => world.faults[fault] as string)
		};
	});
	const lines = [...worldCatalog(world), ...tickets].map((record) => JSON.stringify(record)).join('\n');
	expect((await importLines(db, 'test', NOW, lines)).rejected).toEqual([]);
});
afterAll(() => db.destroy());

describe('an invented shop through the import', () => {
	it('teaches what its tickets taught without a database, to 1e-9', async () => {
		const memory = await shopMemory(db);
		const lessons = history.map((device, i) => ({ ...deviceLesson(world, device), closedAt: closedAt(i) }));
		const direct = learn(lessons);
		expect(memory.engine.learned.tickets).toBe(300);
		for (const device of held.slice(0, 60)) {
			const { model, ...evidence } = evidenceOf(device);
			const { inference } = advise(memory, {
				model,
				inspection: [],
				meter: [],
				battery: [],
				readings: [],
				attempts: [],
				...evidence
			});
			const { odds } = inferOdds(engineOf(catalog, direct), model, deviceFeatures(world, device));
			const expected = new Map(odds.faults.map(({ code, probability }) => [code, probability]));
			for (const { code, probability } of inference.odds.faults) {
				expect(probability).toBeCloseTo(expected.get(code) as number, 9);
			}
			expect(inference.odds.none).toBeCloseTo(odds.none, 9);
		}
	});
	it('is foretold far better than by its models’ plain rates', async () => {
		const { engine, catalog: stored } = await shopMemory(db);
		const { learned } = engine;
		const { regret, ece } = scoreWorld(world, stored, learned, held);
		expect(regret).toBeLessThan(0.4);
		expect(ece).toBeLessThan(0.02);
	});
});
