import { describe, expect, it } from 'vitest';
import { meanHourlyCostMinor } from '../catalog/catalog';
import { engineOf } from '../diagnosis/engine';
import { readFeatures } from '../diagnosis/learn/evidence';
import { learn } from '../diagnosis/learn/learn';
import { inferOdds, remediesOf } from '../diagnosis/infer/odds';
import {
	answersOfSeen,
	evidenceOfSeen,
	inventWalkedShop,
	pastOfWalkedShop,
	type Seen
} from '$worlds/walked-jobs';
import { pinballLoss } from '$worlds/pinball-loss';
import { quantileSorted, sortUp } from '../statistics/quantile';
import { drawIndex, seededRandom } from '../units/random';
import { jobCost } from './job-cost';

/** Estimates of invented jobs against what the law of their shop says of such jobs, drawn 250 times each. */

const SHOPS = [11, 22, 33, 44];
const DEVICES = 45;
const DRAWS = 250;
type Known = 'signs' | 'first test' | 'tests' | 'faults';

/** @param second share of devices with a second fault */
function judged(known: Known, tickets: number, second: number) {
	const sum = { held: 0, heldCost: 0, own: 0, truth: 0, mean: 0, trueMean: 0, back: 0, count: 0 };
	for (const seed of SHOPS) {
		const shop = inventWalkedShop(seed, second);
		const { lessons, past } = pastOfWalkedShop(shop, tickets, seed);
		const engine = engineOf(shop.catalog, learn(lessons));
		const random = seededRandom(seed + 500);
		for (let d = 0; d < DEVICES; d++) {
			const model = Math.floor(random() * 4);
			const device = shop.arrive(random);
			const asked = known === 'tests' ? Infinity : known === 'first test' ? 1 : 0;
			const tests = new Map([...shop.walk(random, { ...device, model }).tests].slice(0, asked));
			const seen: Seen = { ...device.seen, tests };
			const evidence = evidenceOfSeen(seen, model);
			const inference = inferOdds(engine, evidence.model, readFeatures(evidence, shop.catalog));
			const odds = inference.now.map(({ set, chance }) => ({
				faults: set.map((fault) => inference.codes[fault]!),
				probability: chance
			}));
			const job = jobCost({
				catalog: shop.catalog,
				past,
				remedies: remediesOf(engine, 'any'),
				model: evidence.model,
				possible:
					known === 'faults' ? [{ faults: device.faults.map((f) => `f-${f}`), probability: 1 }] : odds,
				faultsKnown: known === 'faults',
				testsDone: answersOfSeen(tests),
				hourlyMinor: meanHourlyCostMinor(shop.catalog)!
			});
			const belief = shop.posterior(seen);
			const truly = Array.from({ length: DRAWS }, () =>
				known === 'faults'
					? shop.known(random, device.faults, model)
					: shop.walk(random, { faults: shop.sets[drawIndex(random, belief)]!, seen, model })
			);
			const minutes = sortUp(truly.map((each) => each.minutes));
			const { p10, p50, p90, mean } = job.minutes;
			sum.held += minutes.filter((m) => m >= p10 && m <= p90).length / DRAWS;
			sum.heldCost +=
				truly.filter(({ costMinor: c }) => c >= job.costMinor.p10 && c <= job.costMinor.p90).length / DRAWS;
			for (const [tau, own] of [
				[0.1, p10],
				[0.5, p50],
				[0.9, p90]
			] as const) {
				const best = quantileSorted(minutes, tau);
				for (const m of minutes) {
					sum.own += pinballLoss(own, m, tau);
					sum.truth += pinballLoss(best, m, tau);
				}
			}
			sum.mean += mean;
			sum.trueMean += minutes.reduce((a, b) => a + b, 0) / DRAWS;
			const fixed = truly.filter((each) => each.fixed);
			const back = fixed.reduce(
				(total, { attempts }) => total + shop.comebackRate(attempts.at(-1)!.operation),
				0
			);
			sum.back += Math.abs(back / Math.max(1, fixed.length) - job.comebackChance);
			sum.count += 1;
		}
	}
	return {
		held: sum.held / sum.count,
		heldCost: sum.heldCost / sum.count,
		pinball: sum.own / sum.truth,
		bias: sum.mean / sum.trueMean - 1,
		back: sum.back / sum.count
	};
}

describe('the estimate of a job', () => {
	// signs alone are the hardest: the whole diagnosis is still to come
	it.each<[Known, number, number, { gap: number; pinball: number; bias: number; back: number }]>([
		['signs', 300, 0, { gap: 0.09, pinball: 1.1, bias: 0.06, back: 0.03 }],
		['first test', 300, 0, { gap: 0.09, pinball: 1.1, bias: 0.06, back: 0.03 }],
		['tests', 300, 0, { gap: 0.09, pinball: 1.1, bias: 0.06, back: 0.03 }],
		['faults', 300, 0, { gap: 0.06, pinball: 1.05, bias: 0.06, back: 0.035 }],
		['signs', 6000, 0, { gap: 0.05, pinball: 1.06, bias: 0.05, back: 0.02 }],
		['first test', 6000, 0, { gap: 0.05, pinball: 1.06, bias: 0.05, back: 0.02 }],
		['tests', 6000, 0, { gap: 0.06, pinball: 1.06, bias: 0.05, back: 0.02 }],
		['faults', 6000, 0, { gap: 0.03, pinball: 1.02, bias: 0.03, back: 0.02 }],
		['signs', 6000, 0.15, { gap: 0.05, pinball: 1.06, bias: 0.05, back: 0.02 }],
		['first test', 6000, 0.15, { gap: 0.06, pinball: 1.06, bias: 0.05, back: 0.02 }],
		['first test', 300, 0.15, { gap: 0.09, pinball: 1.1, bias: 0.07, back: 0.03 }]
	])('%s known, %i closed tickets, %f of devices with a second fault', (known, tickets, second, most) => {
		const found = judged(known, tickets, second);
		expect(Math.abs(found.held - 0.8)).toBeLessThan(most.gap);
		expect(Math.abs(found.heldCost - 0.8)).toBeLessThan(most.gap);
		expect(found.pinball).toBeLessThan(most.pinball);
		expect(Math.abs(found.bias)).toBeLessThan(most.bias);
		expect(found.back).toBeLessThan(most.back);
	});
});
