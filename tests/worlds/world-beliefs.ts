import type { CatalogRecord } from '$lib/core/catalog/kinds';
import { drawNormal, type Random } from '$lib/core/units/random';
import { baseMarginals, drawDirichlet, signChance, testChances, type World } from './engine-world';

/** Starting beliefs of somebody who knows the trade, some of them wrong: shares, signs and tests of some of the pairs. */
export function worldBeliefs(
	random: Random,
	world: World,
	wrongShare: number,
	statedShare = 0.5
): CatalogRecord[] {
	const shop = world.faults.map(
		(_, f) => world.models.reduce((sum, _, m) => sum + baseMarginals(world, m)[f]!, 0) / world.models.length
	);
	const wrong = () => random() < wrongShare;
	const round = (value: number) => Math.round(value * 100) / 100;
	const faults = world.faults.map((code, f): CatalogRecord => {
		const near = (shop[f] as number) * Math.exp(0.3 * drawNormal(random));
		return { record: 'fault', code, label: code, prior: Math.min(1, round(wrong() ? random() * 0.3 : near)) };
	});
	const signs = world.signs.flatMap((sign, s) =>
		world.faults.flatMap((given, f): CatalogRecord[] =>
			random() < statedShare
				? [
						{
							record: 'expectation',
							given,
							sign,
							chance: round(wrong() ? random() : signChance(world, s, [f]))
						}
					]
				: []
		)
	);
	const tests = world.tests.flatMap(({ code, outcomes }, t) =>
		world.faults.flatMap((given, f): CatalogRecord[] => {
			if (random() >= statedShare) return [];
			const chances = wrong()
				? drawDirichlet(
						random,
						outcomes.map(() => 1)
					)
				: testChances(world, t, [f]);
			return [
				{
					record: 'expectation',
					given,
					test: code,
					outcomes: Object.fromEntries(outcomes.map((outcome, k) => [outcome, chances[k] as number]))
				}
			];
		})
	);
	return [...faults, ...signs, ...tests];
}
