import { engineOf } from '../engine';
import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../../catalog/catalog';
import {
	deviceFeatures,
	deviceLesson,
	drawDevice,
	exactMarginals,
	makeWorld,
	worldCatalog,
	WORLD_KINDS
} from '$worlds/engine-world';
import { worldBeliefs } from '$worlds/world-beliefs';
import { scoreWorld } from '$worlds/world-scores';
import { seededRandom } from '../../units/random';
import { fit } from './fit';
import { learn } from './learn';
import { rankNextSteps } from '../plan/next-step';
import { inferOdds } from '../infer/odds';

describe('the engine on invented shops', () => {
	const setUp = (kind: (typeof WORLD_KINDS)[number], size: number, beliefs = false) => {
		const random = seededRandom(7);
		const world = makeWorld(random, kind);
		const catalog = buildCatalog([
			...worldCatalog(world),
			...(beliefs ? worldBeliefs(seededRandom(9), world, 0.2) : [])
		]);
		const lessons = Array.from({ length: size }, () => deviceLesson(world, drawDevice(random, world)));
		const held = Array.from({ length: 150 }, () => drawDevice(random, world));
		return { world, catalog, learned: learn(lessons), held };
	};
	const regret = ({ world, catalog, learned, held }: ReturnType<typeof setUp>) =>
		scoreWorld(world, catalog, learned, held).regret;
	it.each(WORLD_KINDS)('comes near the exact odds of a %s shop, nearer with more tickets', (kind) => {
		const few = regret(setUp(kind, 150));
		const many = regret(setUp(kind, 2400));
		expect(many).toBeLessThan(0.12);
		expect(many).toBeLessThan(few);
	});
	it('starting beliefs help a young shop, though a fifth of them is wrong', () => {
		const with_ = regret(setUp('plain', 30, true));
		expect(with_).toBeLessThan(regret(setUp('plain', 30)));
	});
	it('exact odds are calibrated by construction: as many faults as they say', () => {
		const { world } = setUp('plain', 0);
		const random = seededRandom(3);
		let [said, there] = [0, 0];
		for (let i = 0; i < 600; i++) {
			const device = drawDevice(random, world);
			said += exactMarginals(world, device).marginals.reduce((a, b) => a + b, 0);
			there += device.faults.length;
		}
		expect(Math.abs(said - there) / there).toBeLessThan(0.03);
	});
	it('learns several faults on a ticket: a shop that only ever sees pairs still tells them apart', () => {
		const catalog = buildCatalog([
			...['a', 'b', 'c'].map((code) => ({ record: 'fault' as const, code, label: code })),
			...['x', 'y', 'z'].map((code) => ({
				record: 'sign' as const,
				code,
				label: code,
				kind: 'symptom' as const
			}))
		]);
		const pair = (faults: string[], signs: [string, boolean][]) => ({
			model: 'm',
			faults,
			features: { signs, answers: [], attempts: [] },
			tried: []
		});
		const learned = learn(
			Array.from({ length: 20 }, () => [
				pair(
					['a', 'b'],
					[
						['x', true],
						['y', true],
						['z', false]
					]
				),
				pair(
					['a', 'c'],
					[
						['x', true],
						['y', false],
						['z', true]
					]
				),
				pair(
					['b', 'c'],
					[
						['x', false],
						['y', true],
						['z', true]
					]
				)
			]).flat()
		);
		const { perFault } = fit(catalog, learned).sign('x', 'any');
		const [a, b, c] = perFault.map(({ chance }) => chance) as [number, number, number];
		expect(a).toBeGreaterThan(0.8);
		expect(Math.max(b, c)).toBeLessThan(0.3);
	});
	it('looking a step further never makes a plan dearer, and outcomes are whole', () => {
		const { world, catalog, learned, held } = setUp('plain', 600);
		for (const device of held.slice(0, 12)) {
			const features = { ...deviceFeatures(world, device), answers: [] };
			const inference = inferOdds(
				engineOf(catalog, learned),
				world.models[device.model]?.code ?? '',
				features
			);
			const costs = { operationMinutes: () => 30, lossOfGivingUpMinor: 9000 };
			const plan = (depth: number, timeLeft = () => true) =>
				rankNextSteps(engineOf(catalog, learned), inference, features, costs, { depth, firsts: 6, timeLeft });
			const plans = [plan(2, () => false), plan(1), plan(2)];
			plans.slice(1).forEach((further, i) => {
				const cost = new Map(plans[i]?.map(({ code, expectedCostMinor }) => [code, expectedCostMinor]));
				for (const { kind, code, expectedCostMinor, outcomes } of further) {
					expect(expectedCostMinor).toBeLessThanOrEqual((cost.get(code) as number) + 1e-6);
					// giving up is sure to end as it does
					if (kind === 'give-up') continue;
					expect(outcomes.reduce((sum, { chance }) => sum + chance, 0)).toBeCloseTo(1, 6);
				}
			});
		}
	});
});
