import { engineOf } from '../engine';
import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../../catalog/catalog';
import { deviceLesson, drawDevice, makeWorld, worldCatalog } from '$worlds/engine-world';
import { seededRandom } from '../../units/random';
import { emptyLearned, learn, type Lesson } from '../learn/learn';
import { inferOdds } from '../infer/odds';
import { growPlanTree, type PlanTree } from './plan-tree';
import { planWorld } from './plan-world';

const random = seededRandom(4);
const world = makeWorld(random, 'plain');
const catalog = buildCatalog(worldCatalog(world));
const lessons = Array.from({ length: 300 }, () => deviceLesson(world, drawDevice(random, world)));
const learned = learn(lessons);
const costs = { operationMinutes: () => 20, lossOfGivingUpMinor: 9000 };
const complaint = { signs: [['s0', true]] as const, answers: [], attempts: [] };

function treeOf(depth: number, least = 0.03): PlanTree {
	const inference = inferOdds(engineOf(catalog, learned), 'm0', complaint);
	return growPlanTree(inference, planWorld(engineOf(catalog, learned), inference, complaint, costs), {
		depth,
		least
	});
}
const all = (tree: PlanTree): PlanTree[] => [tree, ...tree.branches.flatMap(({ tree }) => all(tree))];
const depthOf = (tree: PlanTree): number =>
	tree.step ? 1 + Math.max(...tree.branches.map(({ tree }) => depthOf(tree))) : 0;

describe('a tree of first steps', () => {
	it('every job ends in one of its leaves', () => {
		const tree = treeOf(4);
		const leaves = all(tree).filter(({ step }) => step === null);
		expect(leaves.reduce((sum, { reach }) => sum + reach, 0)).toBeCloseTo(1, 9);
		for (const { end, order } of leaves) {
			expect(end).not.toBeNull();
			expect(order.length > 0).toBe(end === 'go-on');
		}
	});
	it('goes no deeper than asked and does not follow what few jobs get to', () => {
		const tree = treeOf(4);
		expect(depthOf(tree)).toBe(4);
		expect(depthOf(treeOf(2))).toBe(2);
		for (const { step, reach } of all(tree)) if (step) expect(reach).toBeGreaterThanOrEqual(0.03);
	});
	it('asks nothing twice on one way down, and tries no repair more than twice', () => {
		const tree = treeOf(4);
		const walk = (node: PlanTree, taken: string[]) => {
			if (!node.step) return;
			const { kind, code } = node.step;
			const times = taken.filter((other) => other === code).length;
			expect(times).toBeLessThanOrEqual(kind === 'operation' ? 1 : 0);
			for (const { tree } of node.branches) walk(tree, [...taken, code]);
		};
		walk(tree, []);
	});
	it('says of each step what it is, what it asks, how long it takes and what may come of it', () => {
		const tree = treeOf(4);
		const steps = all(tree).filter(({ step }) => step !== null);
		expect(new Set(steps.map(({ step }) => step?.kind))).toEqual(new Set(['test', 'operation']));
		for (const { step, branches, reach } of steps) {
			const test = world.tests.find(({ code }) => code === step?.code);
			expect(step?.kind).toBe(test ? 'test' : 'operation');
			expect(step?.question).toBe(test ? test.code : null);
			expect(step?.minutes).toBe(test ? test.minutes : 20);
			expect(branches.map(({ answer }) => answer)).toEqual(test ? test.outcomes : ['helps', 'does not help']);
			expect(branches.reduce((sum, { chance }) => sum + chance, 0)).toBeCloseTo(1, 9);
			branches.forEach(({ chance, tree: next }) => expect(next.reach).toBeCloseTo(reach * chance, 9));
			if (!test)
				expect(branches[0]?.tree).toMatchObject({ end: 'works', step: null, costMinor: 0, minutes: 0 });
		}
	});
	it('is handed back at once where nothing pays', () => {
		const inference = inferOdds(engineOf(catalog, learned), 'm0', complaint);
		const poor = { ...costs, lossOfGivingUpMinor: 10 };
		const plan = planWorld(engineOf(catalog, learned), inference, complaint, poor);
		expect(growPlanTree(inference, plan)).toMatchObject({ step: null, end: 'give-up', costMinor: 10 });
	});
});

describe('measurements as steps', () => {
	const kindsOf = (count: number, done: { question: string; answer: string }[] = []) => {
		const drawn = lessons.slice(0, count).map((lesson): Lesson => ({
			...lesson,
			features: {
				...lesson.features,
				answers: [
					{ question: 'battery:state', answer: lesson.faults[0] === 'f1' ? 'empty' : 'normal' },
					{ question: 'pins:vbus', answer: 'agrees' },
					...(count > 100 ? [{ question: 'pins:cc1', answer: 'agrees' }] : [])
				]
			}
		}));
		const seen = { ...complaint, answers: done };
		const learned = learn(drawn);
		const inference = inferOdds(engineOf(catalog, learned), 'm0', seen);
		return planWorld(engineOf(catalog, learned), inference, seen, costs, { measures: true })
			.world.tests.filter(({ kind }) => kind === 'measure')
			.map(({ code, question }) => `${code} ${question}`);
	};
	it('are those that the shop has taken often enough to know what they tell', () => {
		expect(kindsOf(10)).toEqual([]);
		expect(kindsOf(40)).toEqual(['battery battery:state', 'read-pins pins:vbus']);
		expect(
			planWorld(
				engineOf(catalog, emptyLearned()),
				inferOdds(engineOf(catalog, emptyLearned()), 'm0', complaint),
				complaint,
				costs
			).world.tests
		).toHaveLength(16);
	});
	it('are not asked for again once they are taken', () => {
		expect(kindsOf(40, [{ question: 'battery:state', answer: 'normal' }])).toEqual(['read-pins pins:vbus']);
		expect(kindsOf(40, [{ question: 'pins:gnd', answer: 'agrees' }])).toEqual(['battery battery:state']);
	});
});
