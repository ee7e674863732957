import { engineOf } from '$lib/core/diagnosis/engine';
import type { Catalog } from '$lib/core/catalog/catalog';
import type { Learned } from '$lib/core/diagnosis/learn/learn';
import { inferOdds } from '$lib/core/diagnosis/infer/odds';
import { binsOfEqualMass, calibrationError } from '$lib/core/statistics/calibration';
import { logCost, type Foretold } from '$lib/core/statistics/proper-scores';
import { baseMarginals, deviceFeatures, exactMarginals, type Device, type World } from './engine-world';

/** How the engine's odds on some devices of a world compare with the best that could be said of them. */
export interface WorldScores {
	/** (score − optimum) / (model's plain rates − optimum), scores the mean log cost of all marginals */
	regret: number;
	/** how much less often the first fault named is present than the optimum's first */
	top: number;
	/** expected calibration error of all marginals, ten bins of equal mass */
	ece: number;
	/** the same of those of 5 % or more */
	eceLoud: number;
	/** share of chances of 5 % or more whose 80 % interval holds the exact one */
	covered: number;
}

export function scoreWorld(
	world: World,
	catalog: Catalog,
	learned: Learned,
	held: readonly Device[]
): WorldScores {
	const base = world.models.map((_, m) => baseMarginals(world, m));
	let [score, optimum, rate, top, best] = [0, 0, 0, 0, 0];
	const pairs: Foretold[] = [];
	let [inside, asked] = [0, 0];
	for (const device of held) {
		const exact = exactMarginals(world, device);
		const model = world.models[device.model]?.code as string;
		const { odds } = inferOdds(engineOf(catalog, learned), model, deviceFeatures(world, device));
		const chance = new Map(odds.faults.map(({ code, probability }) => [code, probability]));
		for (const { code, probability, low, high } of odds.faults) {
			if (probability < 0.05) continue;
			const best = exact.marginals[world.faults.indexOf(code)] as number;
			asked += 1;
			if (low <= best && best <= high) inside += 1;
		}
		world.faults.forEach((code, f) => {
			const here = device.faults.includes(f);
			const own: Foretold = [chance.get(code) as number, here];
			score += logCost(own);
			optimum += logCost([exact.marginals[f] as number, here]);
			rate += logCost([base[device.model]?.[f] as number, here]);
			pairs.push(own);
		});
		top += device.faults.includes(world.faults.indexOf(odds.faults[0]?.code ?? '')) ? 1 : 0;
		best += device.faults.includes(exact.top) ? 1 : 0;
	}
	const errorOf = (some: readonly Foretold[]) => calibrationError(binsOfEqualMass(some, 10));
	return {
		regret: (score - optimum) / (rate - optimum),
		top: (best - top) / held.length,
		ece: errorOf(pairs),
		covered: inside / asked,
		eceLoud: errorOf(pairs.filter(([chance]) => chance >= 0.05))
	};
}
