import { buildCatalog } from '$lib/core/catalog/catalog';
import type { Learned } from '$lib/core/diagnosis/learn/learn';
import { seededRandom } from '$lib/core/units/random';
import { deviceLesson, drawDevice, makeWorld, worldCatalog, type WorldKind } from './engine-world';

/** An invented shop with a history of so many tickets over three years, and devices that came after it. */
export function inventedShop(kind: WorldKind, size: number, seed: number, heldOut = 250) {
	const random = seededRandom(seed);
	const world = makeWorld(random, kind);
	const lessons = Array.from({ length: size }, (_, i) => {
		const when = (i + 0.5) / size;
		return deviceLesson(world, drawDevice(random, world, 0, when), when);
	});
	const held = Array.from({ length: heldOut }, () => drawDevice(random, world));
	return { world, catalog: buildCatalog(worldCatalog(world)), lessons, held };
}

/** Takes out of the counts which model answered what. */
export function forgetModelsAnswers({ models }: Learned): void {
	for (const heard of models.values()) {
		heard.signs.clear();
		heard.answers.clear();
	}
}
