import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../../catalog/catalog';
import type { CatalogRecord } from '../../catalog/kinds';
import { catalog, lesson, none, times } from '$worlds/fuse-and-port';
import { engineOf } from '../engine';
import { inferOdds } from '../infer/odds';
import { MEASURES } from '../../evidence/measurements';
import { emptyLearned, learn, type Lesson } from '../learn/learn';
import { rankNextSteps } from './next-step';
import { planWorld } from './plan-world';

const costs = { operationMinutes: () => 20, lossOfGivingUpMinor: 10_000 };
const answered = (question: string, answer: string, count: number, faults = ['fuse']): Lesson[] =>
	times(count, lesson({ faults, features: { ...none, answers: [{ question, answer }] } }));

describe('steps in words', () => {
	const some = engineOf(
		catalog,
		learn([
			...answered('meter:draw', 'nothing', 30),
			...answered('meter:draw', 'healthy', 30, ['port']),
			...answered('probe', 'open', 20),
			...answered('probe', 'through', 20, ['port'])
		])
	);
	const odds = () => inferOdds(some, 'm', none);
	const of = (code: string) =>
		rankNextSteps(some, odds(), none, costs, { depth: 1, firsts: 6, measures: true }).find(
			(step) => step.code === code
		);
	it('a measurement has its own label, minutes and caution', () => {
		const plug = MEASURES.find(({ code }) => code === 'plug-in');
		expect(of('plug-in')).toMatchObject({ kind: 'measure', label: plug?.label, caution: plug?.caution });
		expect(of('probe')).toMatchObject({ kind: 'test', label: 'Probe the fuse', caution: null });
		expect(of('fit-fuse')).toMatchObject({ kind: 'operation', label: 'Fit a fuse', caution: 'heat' });
	});
	it('outcomes: each answer, its chance, and the likeliest faults before and after', () => {
		const outcomes = of('probe')?.outcomes ?? [];
		const inference = odds();
		expect(outcomes.map(({ answer }) => answer)).toEqual(['open', 'through']);
		expect(outcomes.reduce((sum, { chance }) => sum + chance, 0)).toBeCloseTo(1, 9);
		for (const { answer, leads } of outcomes) {
			const { faults } = inferOdds(some, 'm', { ...none, answers: [{ question: 'probe', answer }] }).odds;
			for (const { code, before, after } of leads) {
				expect(before).toBeCloseTo(
					inference.odds.faults.find((fault) => fault.code === code)?.probability ?? -1,
					9
				);
				expect(after).toBeCloseTo(faults.find((fault) => fault.code === code)?.probability ?? -1, 9);
			}
			const chances = leads.map(({ after }) => after);
			expect([...chances].sort((a, b) => b - a)).toEqual(chances);
			expect(leads.length).toBeGreaterThan(0);
		}
	});
	it('a repair says how many devices it works on by itself', () => {
		const fuse = of('fit-fuse');
		const [helps, not] = fuse?.outcomes ?? [];
		expect([helps?.answer, not?.answer]).toEqual(['helps', 'does not help']);
		expect((helps?.chance ?? 0) + (not?.chance ?? 0)).toBeCloseTo(1, 12);
		expect(helps?.leads).toEqual([]);
		expect(fuse?.why).toBe(`Expected to fix it: ${Math.round(100 * (helps?.chance ?? 0))} %.`);
		expect(helps?.chance).toBeGreaterThan(0.2);
		expect(not?.leads[0]?.code).toBe('port');
	});
	it('equal steps come in the order of their codes', () => {
		const twins = buildCatalog(
			['b', 'a', 'c'].flatMap((code): CatalogRecord[] => [
				{ record: 'fault', code, label: code },
				{ record: 'operation', code: `fix-${code}`, label: code, minutes: 5, fixes: [code], success: 0.9 }
			])
		);
		const young = engineOf(twins, emptyLearned());
		const found = rankNextSteps(young, inferOdds(young, 'm', none), none, costs);
		expect(found.filter(({ kind }) => kind === 'operation').map(({ code }) => code)).toEqual([
			'fix-a',
			'fix-b',
			'fix-c'
		]);
	});
});

describe('the world of a plan', () => {
	it('asks the question of a measurement that is answered most often', () => {
		const questionOf = (lessons: Lesson[]) => {
			const some = engineOf(catalog, learn(lessons));
			return planWorld(some, inferOdds(some, 'm', none), none, costs, { measures: true }).world.tests.find(
				({ code }) => code === 'read-pins'
			)?.question;
		};
		const [few, many] = [answered('pins:vbus', 'agrees', 21), answered('pins:d+', 'agrees', 40)];
		expect(questionOf([...few, ...many])).toBe('pins:d+');
		expect(questionOf([...answered('pins:d+', 'agrees', 21), ...answered('pins:vbus', 'agrees', 40)])).toBe(
			'pins:vbus'
		);
		expect(questionOf([...many, ...answered('pins:vbus', 'agrees', 40)])).toBe('pins:d+');
		expect(questionOf(answered('pins:vbus', 'agrees', 19))).toBeUndefined();
	});
	it('holds all that repairs may leave of its sets, each once', () => {
		const codes = Array.from({ length: 14 }, (_, i) => `f${i}`);
		const wide = buildCatalog([
			...codes.map((code): CatalogRecord => ({ record: 'fault', code, label: code })),
			...codes.map((code, i): CatalogRecord => ({
				record: 'operation',
				code: `fix-${code}`,
				label: code,
				minutes: 5,
				fixes: i % 3 === 0 ? [code, codes[(i + 5) % 14] as string] : [code],
				success: 0.9
			}))
		]);
		const some = engineOf(wide, emptyLearned());
		const besides = [
			[3, 7, 12],
			[11, 12, 13]
		];
		const { world, start } = planWorld(some, inferOdds(some, 'm', none), none, costs, { besides });
		const names = world.sets.map((set) => set.join(' '));
		expect(new Set(names).size).toBe(names.length);
		expect(names).toEqual(expect.arrayContaining(['3 7 12', '7 12', '11 12 13', '12 13', '13']));
		expect(start.reduce((sum, chance) => sum + chance, 0)).toBeCloseTo(1, 9);
		for (const { code, leaves } of world.remedies) {
			const fixes = wide.operations.get(code)?.fixes.map((fault) => codes.indexOf(fault)) ?? [];
			world.sets.forEach((set, i) => {
				const left = set.filter((fault) => !fixes.includes(fault));
				const wanted = set.length > 0 && left.length === 0 ? -1 : names.indexOf(left.join(' '));
				expect(leaves[i], `${code} on ${set.join(' ')}`).toBe(wanted);
				expect(wanted).toBeGreaterThanOrEqual(-1);
			});
		}
	});
});
