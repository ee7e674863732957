import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../../catalog/catalog';
import { deviceFeatures, deviceLesson, drawDevice, makeWorld, worldCatalog } from '$worlds/engine-world';
import { seededRandom } from '../../units/random';
import { inOneGo } from '../../units/in-steps';
import { engineOf } from '../engine';
import { inferOdds } from '../infer/odds';
import { fit, fitInSteps } from './fit';
import { addLesson, learn } from './learn';

const random = seededRandom(11);
const world = makeWorld(random, 'plain');
const catalog = buildCatalog(worldCatalog(world));
const lessons = Array.from({ length: 400 }, () => deviceLesson(world, drawDevice(random, world)));
const device = drawDevice(random, world);
const odds = (learned: ReturnType<typeof learn>) =>
	inferOdds(engineOf(catalog, learned), world.models[device.model]!.code, deviceFeatures(world, device)).odds;

describe('beliefs worked out in steps', () => {
	it('are those that are worked out in one go, and are found by who asks afterwards', () => {
		const [stepped, atOnce] = [learn(lessons), learn(lessons)];
		let steps = 0;
		for (const work = fitInSteps(catalog, stepped); ; steps++) {
			const step = work.next();
			if (!step.done) continue;
			expect(step.value).toBe(true);
			break;
		}
		// others are heard after each of many small steps
		expect(steps).toBeGreaterThan(50);
		const fitted = fit(catalog, stepped);
		expect(fit(catalog, stepped)).toBe(fitted);
		expect(inOneGo(fitInSteps(catalog, stepped))).toBe(true);
		expect(fit(catalog, stepped)).toBe(fitted);
		expect(odds(stepped)).toEqual(odds(atOnce));
	});
	it('come to nothing where a ticket is learnt meanwhile, and the next time to what is known then', () => {
		const learned = learn(lessons);
		const work = fitInSteps(catalog, learned);
		for (let i = 0; i < 10; i++) expect(work.next().done).toBe(false);
		const more = deviceLesson(world, drawDevice(random, world));
		addLesson(learned, more);
		expect(work.next()).toEqual({ done: true, value: false });
		expect(inOneGo(fitInSteps(catalog, learned))).toBe(true);
		expect(odds(learned)).toEqual(odds(learn([...lessons, more])));
	});
});
