import { describe, expect, it } from 'vitest';
import { records, catalog, none, lesson, times } from '$worlds/fuse-and-port';
import { buildCatalog } from '../../catalog/catalog';
import type { CatalogRecord } from '../../catalog/kinds';
import { engineOf, type Engine } from '../engine';
import { harmChance } from '../infer/beliefs';
import { inferOdds } from '../infer/odds';
import { MEASURES } from '../../evidence/measurements';
import type { Features } from '../learn/evidence';
import { learn, type Lesson } from '../learn/learn';
import { rankNextSteps } from './next-step';
import { STEP_CAUTIONS } from './advice-rules';
import { planView, type Plan } from './plan-view';
import type { Step } from './next-step';
import { complaintGone, proofSteps } from './prove';
import { withWaking } from './wake';
import {
	addressed,
	afterStep,
	answersTo,
	planWorld,
	tryRemedy,
	type PlannedRemedy,
	type PlannedTest
} from './plan-world';
import { findingsOf } from '../record/findings';

/** Rules of the engine one by one, each at its bound and against a sum made by hand. */

const engine = (lessons: Lesson[] = []): Engine => engineOf(catalog, learn(lessons));

describe('a plan', () => {
	const costs = {
		operationMinutes: (code: string) => catalog.operations.get(code)?.minutes ?? 0,
		lossOfGivingUpMinor: 10_000
	};
	const world = (some: Engine, features: Features = none, options = {}) =>
		planWorld(some, inferOdds(some, 'm', features), features, costs, options);
	it('a step costs its minutes, parts, harm and risk, by hand', () => {
		const harmed = { ...none, attempts: [{ operation: 'fit-fuse', resolved: true }] };
		const some = engine([...times(4, lesson({ features: harmed, broke: ['fuse'] })), ...times(20, lesson())]);
		const { world: found } = world(some);
		const of = (code: string) => [...found.remedies, ...found.tests].find((step) => step.code === code);
		// an hour costs 60: a minute 100
		expect(of('probe')?.costMinor).toBeCloseTo(600 + 100 + 0.1 * 10_000, 8);
		expect(of('safe')?.costMinor).toBeCloseTo(600 + 100, 8);
		expect(of('fit-fuse')?.costMinor).toBeCloseTo(
			3000 + 300 + harmChance(some.learned, 'fit-fuse') * 10_000,
			8
		);
		expect(of('fit-port')?.costMinor).toBeCloseTo(6000 + harmChance(some.learned, 'fit-port') * 10_000, 8);
		expect(of('wipe')).toBeUndefined();
	});
	it('leaves out what was tested', () => {
		const some = engine(times(20, lesson()));
		const codes = (features: Features) => {
			const { world: found } = world(some, features);
			return [...found.remedies, ...found.tests].map(({ code }) => code);
		};
		expect(codes(none)).toEqual(['fit-fuse', 'fit-port', 'swap', 'probe', 'safe']);
		expect(codes({ ...none, answers: [{ question: 'probe', answer: 'open' }] })).not.toContain('probe');
	});
	it('tries a repair twice, and again only when no untried one addresses as much', () => {
		const triesAfter = (tried: readonly string[], lessons = times(20, lesson())) => {
			const attempts = tried.map((operation) => ({ operation, resolved: false }));
			const { world: found } = world(engine(lessons), { ...none, attempts });
			return Object.fromEntries(found.remedies.map(({ code, tries }) => [code, tries]));
		};
		expect(triesAfter([])).toEqual({ 'fit-fuse': 2, 'fit-port': 2, swap: 2 });
		expect(triesAfter(['fit-fuse'])).toEqual({ 'fit-fuse': 1, 'fit-port': 2, swap: 2 });
		// swapping the board was not tried, and cures what fitting a fuse does
		expect(triesAfter(['fit-fuse', 'fit-fuse'])).toEqual({ 'fit-port': 2, swap: 2 });
		const all = ['fit-fuse', 'fit-fuse', 'fit-port', 'fit-port', 'swap', 'swap'];
		expect(triesAfter(all)).toEqual({ 'fit-fuse': 1, 'fit-port': 1, swap: 1 });
		// what was not tried explains less than a tenth, and less than what failed
		const fuses = [...times(3000, lesson())];
		expect(triesAfter(['fit-fuse', 'fit-fuse', 'swap', 'swap'], fuses)).toEqual({
			'fit-fuse': 1,
			'fit-port': 2,
			swap: 1
		});
		const worked = world(engine([lesson()]), {
			...none,
			attempts: [{ operation: 'fit-fuse', resolved: true }]
		});
		expect(worked.world.remedies.find(({ code }) => code === 'fit-fuse')?.tries).toBe(2);
	});
	it('a step taken is a try less of a repair, and the end of a test', () => {
		const { world: found } = world(engine([lesson()]));
		const [fuse, probe] = [found.remedies[0], found.tests[0]] as [PlannedRemedy, PlannedTest];
		const once = afterStep(found, fuse);
		expect(once.remedies.map(({ code, tries }) => [code, tries])).toEqual([
			['fit-fuse', 1],
			['fit-port', 2],
			['swap', 2]
		]);
		expect(afterStep(once, once.remedies[0] as PlannedRemedy).remedies.map(({ code }) => code)).toEqual([
			'fit-port',
			'swap'
		]);
		expect(afterStep(found, probe).tests.map(({ code }) => code)).toEqual(['safe']);
		expect(afterStep(found, probe).remedies).toBe(found.remedies);
	});
	it('what a failed repair may have mended of two faults is believed to that degree, by hand', () => {
		const both = times(40, lesson({ faults: ['fuse', 'port'] }));
		const features = { ...none, attempts: [{ operation: 'fit-fuse', resolved: false }] };
		const some = engine(both);
		const inference = inferOdds(some, 'm', features);
		const { world: found, start } = planWorld(some, inference, features, costs);
		const now = (set: number[]) => start[found.sets.findIndex((each) => each.join() === set.join())] ?? 0;
		const before = (set: number[]) =>
			inference.posterior[inference.sets.findIndex((each) => each.join() === set.join())] as number;
		const success = 0.9;
		const failed = { mended: success, not: 1 - success };
		expect(now([0, 1])).toBeCloseTo(before([0, 1]) * failed.not, 9);
		expect(now([1])).toBeCloseTo(before([1]) + before([0, 1]) * failed.mended, 9);
		expect(start.reduce((sum, chance) => sum + chance, 0)).toBeCloseTo(1, 12);
	});
	it('a measurement is a step once twenty tickets have answered its question', () => {
		const looked = (count: number) =>
			engine(
				times(
					count,
					lesson({ features: { ...none, answers: [{ question: 'look:contacts', answer: 'straight' }] } })
				)
			);
		const steps = (some: Engine, features: Features = none) =>
			world(some, features, { measures: true })
				.world.tests.filter(({ kind }) => kind === 'measure')
				.map(({ code }) => code);
		expect(steps(looked(19))).toEqual([]);
		expect(steps(looked(20))).toEqual(['look']);
		expect(
			steps(looked(20), { ...none, answers: [{ question: 'look:contacts', answer: 'straight' }] })
		).toEqual([]);
		expect(world(looked(20)).world.tests.some(({ kind }) => kind === 'measure')).toBe(false);
		expect(MEASURES.map(({ code }) => code)).toEqual([
			'look',
			'plug-in',
			'battery',
			'read-pins',
			'points',
			'path'
		]);
	});
	it('trying a remedy and asking a test are Bayes, by hand', () => {
		const some = engine(times(30, lesson()));
		const { world: found, start } = world(some);
		const fit = found.remedies.find(({ code }) => code === 'fit-fuse')!;
		const alone = found.sets.findIndex((set) => set.length === 1 && set[0] === 0);
		const { resolved, after } = tryRemedy(start, fit);
		expect(resolved).toBeCloseTo((start[alone] as number) * fit.success, 12);
		expect(after.reduce((sum, p) => sum + p, 0)).toBeCloseTo(1, 12);
		expect(after[alone]).toBeCloseTo(((start[alone] as number) * (1 - fit.success)) / (1 - resolved), 12);
		expect(addressed(start, fit)).toBeCloseTo(
			found.sets.reduce((sum, set, i) => (set.includes(0) ? sum + (start[i] as number) : sum), 0),
			12
		);
		const probe = found.tests.find(({ code }) => code === 'probe')!;
		const branches = answersTo(start, probe);
		expect(branches.reduce((sum, { chance }) => sum + chance, 0)).toBeCloseTo(1, 12);
		const mean = start.map((_, i) =>
			branches.reduce((sum, { chance, after }) => sum + chance * (after[i] as number), 0)
		);
		mean.forEach((p, i) => expect(p).toBeCloseTo(start[i] as number, 12));
	});
	it('a test that tells nothing says so, one that costs more than it saves too, and one that pays does not', () => {
		const even = engine([...times(50, lesson()), ...times(50, lesson({ faults: ['port'] }))]);
		const dear = buildCatalog([
			...records,
			{ ...(records[3] as CatalogRecord & { record: 'test' }), minutes: 500 }
		]);
		const why = (some: Engine, code: string) =>
			rankNextSteps(some, inferOdds(some, 'm', none), none, { ...costs, lossOfGivingUpMinor: 50_000 }).find(
				(step) => step.code === code
			)?.why ?? '';
		expect(why(engineOf(dear, even.learned), 'probe')).toMatch(/Costs more than it saves/);
		const cheap = buildCatalog([
			...records.filter((record) => !('code' in record && record.code === 'swap')),
			{ record: 'test', code: 'probe', label: 'Probe the fuse', minutes: 1, outcomes: ['open', 'through'] }
		]);
		expect(why(engineOf(cheap, even.learned), 'probe')).toMatch(
			/^If (open|through), (Fuse|Port) goes from \d+ % to \d+ %\.$/
		);
	});
	it('giving up is a step before all that are not expected to cost less', () => {
		const some = engine([...times(50, lesson()), ...times(50, lesson({ faults: ['port'] }))]);
		const steps = (lossOfGivingUpMinor: number) =>
			rankNextSteps(some, inferOdds(some, 'm', none), none, { ...costs, lossOfGivingUpMinor });
		const dear = steps(100_000);
		expect(dear.at(-1)).toMatchObject({
			kind: 'give-up',
			expectedCostMinor: 100_000,
			expectedMinutes: 0,
			why: 'Expected loss if nothing more is tried.'
		});
		const cheap = steps(500);
		expect(cheap[0]).toMatchObject({
			kind: 'give-up',
			expectedCostMinor: 500,
			why: 'No step is expected to cost less than that.'
		});
		for (const found of [dear, cheap, steps(3000), steps(6000)]) {
			expect(found.filter(({ kind }) => kind === 'give-up')).toHaveLength(1);
			const place = found.findIndex(({ kind }) => kind === 'give-up');
			const loss = found[place]?.expectedCostMinor as number;
			found.forEach(({ expectedCostMinor }, i) =>
				expect(i < place ? expectedCostMinor < loss : expectedCostMinor >= loss).toBe(true)
			);
		}
	});
	it('a complaint is gone after an attempt that made it go, until something later speaks against it', () => {
		const attempt = (resolved: boolean, at?: number) => ({ operation: 'fit-fuse', resolved, at });
		const look = (stage: string, amps: number, at?: number) => ({ stage, volts: 5, amps, at });
		const gone = (
			attempts: ReturnType<typeof attempt>[],
			meter: ReturnType<typeof look>[] = [],
			failed = false
		) => complaintGone({ attempts, meter }, failed);
		expect(gone([])).toBe(false);
		expect(gone([attempt(false)])).toBe(false);
		expect(gone([attempt(true)])).toBe(true);
		expect(gone([attempt(true), attempt(false)])).toBe(false);
		expect(gone([attempt(false), attempt(true)])).toBe(true);
		expect(gone([attempt(true)], [], true)).toBe(false);
		expect(gone([attempt(true, 5)], [look('after-repair', 0.0099, 5)])).toBe(false);
		expect(gone([attempt(true, 5)], [look('after-repair', 0.01, 5)])).toBe(true);
		expect(gone([attempt(true, 5)], [look('closing', 0, 9)])).toBe(false);
		expect(gone([attempt(true)], [look('after-repair', 0)])).toBe(false);
		// a step of the work after it says nothing
		const step = { operation: 'swap', resolved: false, part: true, at: 7 };
		expect(gone([attempt(true, 5), step])).toBe(true);
		expect(gone([step])).toBe(false);
		// from before the attempt, or of another stage
		expect(gone([attempt(true, 5)], [look('after-repair', 0, 4)])).toBe(true);
		expect(gone([attempt(true, 5)], [look('diagnosis', 0, 9)])).toBe(true);
		// the latest says what is so now
		expect(gone([attempt(true, 5)], [look('closing', 0, 6), look('closing', 1.2, 7)])).toBe(true);
	});
	it('a pack that reads nothing is woken before anything else, until it was measured again', () => {
		const reads = (...states: string[]): Features => ({
			...none,
			answers: states.slice(0, 1).map((answer) => ({ question: 'battery:state', answer })),
			since: states
				.slice(1)
				.map((answer, i) => ({ attempts: i + 1, answers: [{ question: 'battery:state', answer }] }))
		});
		const waking = { catalog: buildCatalog([]), hourlyMinor: 6000, measures: true };
		const step = { kind: 'operation', code: 'swap', expectedCostMinor: 4000, expectedMinutes: 40 } as Step;
		const codes = (features: Features, steps: Step[] = [step]) =>
			withWaking(steps, features, waking).map(({ code, expectedCostMinor, expectedMinutes }) => [
				code,
				expectedCostMinor,
				expectedMinutes
			]);
		const plain = [['swap', 4000, 40]];
		expect(codes(reads('cut-off'))).toEqual([['wake', 4500, 45], ...plain]);
		expect(codes(reads('in-range'))).toEqual(plain);
		expect(codes(none)).toEqual(plain);
		expect(codes(reads('cut-off', 'precharge'))).toEqual(plain);
		expect(codes(reads('precharge', 'cut-off'))).toEqual([['wake', 4500, 45], ...plain]);
		expect(codes(reads('cut-off'), [])).toEqual([]);
		expect(withWaking([step], reads('cut-off'), waking)[0]?.caution).toContain('watched');
	});
	it('then every check that is not passed is left, each with the minutes of all', () => {
		const proof = (code: string, minutes: number, passed: boolean | null) => ({
			code,
			label: code.toUpperCase(),
			minutes,
			passed
		});
		const steps = proofSteps([proof('a', 3, true), proof('b', 4, null), proof('c', 6, false)], 6000);
		expect(
			steps.map(({ kind, code, label, expectedMinutes, expectedCostMinor }) => [
				kind,
				code,
				label,
				expectedMinutes,
				expectedCostMinor
			])
		).toEqual([
			['prove', 'b', 'B', 10, 1000],
			['prove', 'c', 'C', 10, 1000]
		]);
		expect(steps[0]?.why).toBe('The fault is fixed: 2 checks are left before the customer picks it up.');
		expect(proofSteps([proof('b', 4, null)], 6000)[0]?.why).toBe(
			'The fault is fixed: one check is left before the customer picks it up.'
		);
		expect(proofSteps([proof('a', 3, true)], 6000)).toEqual([]);
	});
	it('is shown with near ties, both schools, and costs for who sees them', () => {
		const step = (kind: 'test' | 'operation', code: string, expectedCostMinor: number) => ({
			kind,
			code,
			label: code,
			expectedCostMinor,
			expectedMinutes: 5,
			why: '',
			caution: null,
			cautions: [],
			outcomes: [
				{
					answer: 'a',
					chance: 1,
					leads: [
						{ code: 'fuse', before: 0.2, after: 0.3 },
						{ code: 'gone', before: 0, after: 0 }
					]
				}
			]
		});
		const plan = (...next: ReturnType<typeof step>[]): Plan => ({
			next,
			gone: false,
			ahead: 2
		});
		const view = planView(
			plan(step('test', 't', 100), step('operation', 'o', 105), step('operation', 'p', 106)),
			catalog,
			true
		);
		expect(view.steps.map(({ tie }) => tie)).toEqual([false, true, false]);
		expect(view.schools).toMatchObject({ measure: { code: 't' }, swap: { code: 'o' } });
		expect(view).toMatchObject({ ahead: 2, gone: false });
		expect(view.steps[0]?.outcomes[0]?.leads.map(({ label }) => label)).toEqual(['Fuse', 'gone']);
		// what must stand behind another is as good as none, whatever it costs
		for (const caution of ['may-short', 'look-first'] as const) {
			const held = { ...step('test', 't', 101), cautions: [caution] };
			const warned = planView(
				{ ...plan(step('operation', 'o', 100)), next: [step('operation', 'o', 100), held] },
				catalog,
				true
			);
			expect(warned.steps.map(({ tie }) => tie)).toEqual([false, false]);
			expect(warned.schools).toBeNull();
			expect(warned.steps[1]?.caution).toBe(STEP_CAUTIONS[caution]);
		}
		const own = { ...step('test', 't', 101), caution: 'Mind the lens.', cautions: ['battery-out' as const] };
		expect(planView({ ...plan(), next: [own] }, catalog, true).steps[0]?.caution).toBe(
			`${STEP_CAUTIONS['battery-out']} Mind the lens.`
		);
		const blind = planView(plan(step('test', 't', 100)), catalog, false);
		expect(blind.schools).toBeNull();
		expect(JSON.stringify(blind)).not.toMatch(/Minor/);
		expect(planView(plan(), catalog, true)).toMatchObject({ steps: [], schools: null });
		expect(planView(plan(...times(6, step('test', 't', 100))), catalog, true).steps).toHaveLength(4);
	});
});

describe('what the record shows', () => {
	it('nothing of an empty shop', () =>
		expect(findingsOf(engine())).toEqual({ fading: [], together: [], sources: [], ownAnswers: [] }));
	it('sources by how often they were heard', () => {
		const said = (source: string, fault: string) =>
			lesson({ features: { ...none, opinions: [{ source, fault }] } });
		const { sources } = findingsOf(
			engine([said('customer:', 'port'), ...times(3, said('technician:ada', 'fuse'))])
		);
		expect(sources.map(({ source, from }) => [source, from])).toEqual([
			['technician:ada', 3],
			['customer:', 1]
		]);
	});
});
