import { describe, expect, it } from 'vitest';
import { seededRandom } from '$lib/core/units/random';
import { inventedShop } from './invented-shop';
import { exactNow, measuredRegret, measuredShop } from './measured-world';
import { scoreWorld } from './world-scores';
import { learn } from '$lib/core/diagnosis/learn/learn';

/** Path, look and tests after a failed repair reach the odds nearly as well as tests do: against the exact posterior. */
describe('shops that measure', () => {
	it.each([
		['plain', 1500],
		['chatty', 1500],
		['plain', 300]
	] as const)('%s, %d tickets', (kind, size) => {
		const { world, catalog: plain, lessons, held } = inventedShop(kind, size, 5, 300);
		const without = scoreWorld(world, plain, learn(lessons), held).regret;
		const { measured, catalog, learned, fresh, failed } = measuredShop(seededRandom(5), kind, size, 300);
		const [seen, after] = [fresh, failed].map((some) => measuredRegret(measured, catalog, learned, some));
		expect(seen).toBeLessThan(1.25 * without);
		expect(after).toBeLessThan(1.25 * without);
	});
	it('the exact chances are of what is there: they are right as often as they say', () => {
		const { measured, failed } = measuredShop(seededRandom(9), 'plain', 0, 1500);
		const pairs = failed.flatMap((each) =>
			exactNow(measured, each).map((chance, f) => [chance, each.after?.left.includes(f) ? 1 : 0] as const)
		);
		for (const [low, high] of [
			[0.02, 0.1],
			[0.1, 0.3],
			[0.3, 0.7],
			[0.7, 1]
		] as const) {
			const some = pairs.filter(([chance]) => chance >= low && chance < high);
			const said = some.reduce((sum, [chance]) => sum + chance, 0) / some.length;
			const was = some.reduce((sum, [, here]) => sum + here, 0) / some.length;
			// four standard errors
			expect(Math.abs(said - was)).toBeLessThan(4 * Math.sqrt((said * (1 - said)) / some.length));
		}
	});
});
