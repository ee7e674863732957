import { describe, expect, it } from 'vitest';
import { learn } from '$lib/core/diagnosis/learn/learn';
import type { World } from './engine-world';
import { inventedShop } from './invented-shop';
import { knowingPlanner, learnedPlanner, playJob, type Choose } from './played-jobs';

const LOSS = 12_000;

describe('jobs carried to their end by the planner', () => {
	const { world, catalog, lessons, held } = inventedShop('plain', 3000, 31, 70);
	const devices = held.filter(({ faults }) => faults.length > 0).slice(0, 60);
	const play = (choose: Choose) => devices.map((device, i) => playJob(world, device, choose, LOSS, i + 1));
	const total = (jobs: ReturnType<typeof play>) => jobs.reduce((sum, { costMinor }) => sum + costMinor, 0);
	const lost = (jobs: ReturnType<typeof play>) => jobs.filter(({ gaveUp }) => gaveUp).length;
	const best = play(knowingPlanner(world, LOSS));
	it('cost little more than with the exact odds, and hardly more of them are given up', () => {
		const own = play(learnedPlanner(world, catalog, learn(lessons), LOSS));
		expect(total(own) / total(best)).toBeLessThan(1.1);
		expect(lost(own)).toBeLessThanOrEqual(lost(best) + 2);
		// a repair that failed is tried again where that is likelier than all else
		expect(own.some(({ steps }) => new Set(steps).size < steps.length)).toBe(true);
		// nobody is sent through all the tests of the catalog
		expect(
			Math.max(...own.map(({ steps }) => steps.filter((step) => step.startsWith('t')).length))
		).toBeLessThan(world.tests.length);
	});
	it('cost less than by trying repairs in the order of how common their faults are', () => {
		const order = world.operations
			.map(({ fixes, minutes }, i) => ({ i, rate: sharesOf(world, fixes) / minutes }))
			.sort((a, b) => b.rate - a.rate)
			.map(({ i }) => i);
		const blind: Choose = (_, tried) => {
			const next = [...order, ...order][tried.length];
			return next === undefined ? null : { operation: next };
		};
		expect(total(best)).toBeLessThan(0.85 * total(play(blind)));
	});
});

const sharesOf = (world: World, fixes: readonly number[]) =>
	world.shares.reduce((sum, shares) => sum + fixes.reduce((all, fault) => all + (shares[fault] ?? 0), 0), 0);
