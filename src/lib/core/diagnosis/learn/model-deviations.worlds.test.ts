import { engineOf } from '../engine';
import { describe, expect, it } from 'vitest';
import type { WorldKind } from '$worlds/engine-world';
import { forgetModelsAnswers, inventedShop } from '$worlds/invented-shop';
import { scoreWorld } from '$worlds/world-scores';
import { answerBeliefs, answerLikelihood } from '../infer/beliefs';
import { setsOfUpToTwo } from '../fault-sets';
import { fit } from './fit';
import { addLesson, learn, type Lesson } from './learn';
import { inferOdds } from '../infer/odds';

function setUp(kind: WorldKind, size: number) {
	const shop = inventedShop(kind, size, 22);
	return { ...shop, learned: learn(shop.lessons) };
}

describe('models with answers of their own', () => {
	const odd = setUp('deviating', 3000);
	it('are found where the data shows it, and only there', () => {
		const { world, catalog, learned } = odd;
		const { signs, answers } = fit(catalog, learned).byModel;
		const truths = world.models.map(({ code }, m) => {
			const own = world.own?.[m];
			const rows = [
				...world.signs.map((sign, s) => [sign, own?.links[s], world.links[s]] as const),
				...world.tests.map((test, t) => [test.code, own?.outcomes[t], world.outcomes[t]] as const)
			];
			return [
				code,
				new Map(rows.map(([question, mine, usual]) => [question, [mine, usual] as const]))
			] as const;
		});
		const truthOf = new Map(truths);
		let [named, rightly, strange, all] = [0, 0, 0, 0];
		for (const { model, question, deviates } of [...signs.deviating, ...answers.deviating]) {
			const [mine, usual] = truthOf.get(model)?.get(question) ?? [];
			for (const [fault, chance] of deviates) {
				const really = mine?.[fault] !== usual?.[fault];
				all += 1;
				strange += really ? 1 : 0;
				if (chance < 0.8) continue;
				named += 1;
				rightly += really ? 1 : 0;
			}
		}
		expect(strange / all).toBeLessThan(0.15);
		expect(named).toBeGreaterThan(60);
		expect(rightly / named).toBeGreaterThan(0.75);
		for (const kind of ['plain', 'sparse', 'clustered'] as const) {
			const plain = setUp(kind, 1500);
			const { signs, answers } = fit(plain.catalog, plain.learned).byModel;
			expect([...signs.deviating, ...answers.deviating]).toEqual([]);
		}
	});
	it('bring the odds nearer to the best that can be said', () => {
		const { world, catalog, lessons, held, learned } = odd;
		const blind = learn(lessons);
		forgetModelsAnswers(blind);
		const own = scoreWorld(world, catalog, learned, held).regret;
		expect(own).toBeLessThan(0.7 * scoreWorld(world, catalog, blind, held).regret);
	});
	it('leave chances that sum to one, and all other models as they were', () => {
		const { catalog, learned } = odd;
		const { signs, answers } = fit(catalog, learned).byModel;
		for (const { answers: own } of [...signs.deviating, ...answers.deviating]) {
			for (const { chances, doubts } of own().perFault) {
				expect(chances.reduce((sum, chance) => sum + chance, 0)).toBeCloseTo(1, 9);
				expect(doubts.every((doubt) => doubt >= 0)).toBe(true);
			}
		}
		for (const { question, model } of answers.deviating) {
			const [usual, own] = ['no such model', model].map((of) =>
				answerBeliefs(engineOf(catalog, learned), of, question)
			);
			expect(own?.perFault).not.toEqual(usual?.perFault);
		}
		const test = answers.deviating[0];
		const strange = new Set(
			answers.deviating.filter(({ question }) => question === test?.question).map(({ model }) => model)
		);
		const alike = [...catalog.models.keys()].filter((model) => !strange.has(model));
		const found = [...alike, 'no such model'].map((model) =>
			answerLikelihood(engineOf(catalog, learned), setsOfUpToTwo(12), model, test?.question as string, 'o0')
		);
		for (const likelihood of found) expect(likelihood).toBe(found[0]);
	});
	it('come out of the counts again with the tickets that showed them', () => {
		const { catalog, lessons } = inventedShop('deviating', 400, 22);
		const [half, rest] = [lessons.slice(0, 200), lessons.slice(200)];
		const learned = learn(lessons);
		for (const lesson of rest) addLesson(learned, lesson, -1);
		const fresh = learn(half);
		const evidence = half[0] as Lesson;
		const [left, never] = [learned, fresh].map(
			(counts) => inferOdds(engineOf(catalog, counts), evidence.model, evidence.features).odds.faults
		);
		left?.forEach(({ code, probability }) =>
			expect(probability).toBeCloseTo(never?.find((fault) => fault.code === code)?.probability as number, 9)
		);
	});
});
