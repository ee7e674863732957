import { engineOf } from './engine';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import { DEMO_CATALOG } from '../simulation/demo-catalog';
import { simulateShop } from '../simulation/demo-shop';
import { unseen } from '$worlds/fuse-and-port';
import { attemptLikelihoods } from '$worlds/attempts-in-order';
import type { Remedy } from './infer/attempts';
import type { Ticket } from '../tickets/ticket-record';
import { answerBeliefs, faultShares, harmChance, sizeChances } from './infer/beliefs';
import { readFeatures, type Features } from './learn/evidence';
import { evidenceWords } from './learn/evidence-words';
import { fit } from './learn/fit';
import { addLesson, emptyLearned, learn, lessonOf, type Lesson } from './learn/learn';
import { rankNextSteps } from './plan/next-step';
import { inferOdds } from './infer/odds';

const catalog = buildCatalog(DEMO_CATALOG);
const { tickets } = simulateShop({ seed: 3, endsAt: Date.UTC(2026, 10, 24), count: 250 });
const lessons = tickets.flatMap((ticket) => lessonOf(ticket, catalog) ?? []);
const learned = learn(lessons);
const none: Features = { signs: [], answers: [], attempts: [] };
const plain = unseen('tern-6');
const odds = (features: Features, model = 'tern-6') => inferOdds(engineOf(catalog, learned), model, features);
const chanceOf = (features: Features, code: string) =>
	odds(features).odds.faults.find((fault) => fault.code === code)?.probability ?? -1;

describe('features of evidence', () => {
	it('takes the latest outcome of a test, and nothing from after the repair', () => {
		const { answers } = readFeatures(
			{
				...plain,
				observations: [
					{ test: 'vbus-fuse', outcome: 'open', stage: 'diagnosis' },
					{ test: 'vbus-fuse', outcome: 'through', stage: 'diagnosis' },
					{ test: 'thermal', outcome: 'nothing', stage: 'after-repair' }
				],
				meter: [{ stage: 'closing', volts: 5, amps: 0.7 }]
			},
			catalog
		);
		expect(answers).toEqual([{ question: 'vbus-fuse', answer: 'through' }]);
	});
	it('classes measurements: one side only, contract, battery, nets', () => {
		const { answers } = readFeatures(
			{
				...plain,
				meter: [
					{ stage: 'intake', orientation: 'a', volts: 9.1, amps: 0 },
					{ stage: 'intake', orientation: 'b', volts: 5, amps: 0.6 }
				],
				battery: [{ stage: 'intake', volts: 2.9 }],
				readings: [
					{ stage: 'diagnosis', pin: '1', mode: 'diode', value: 0.001 },
					{ stage: 'diagnosis', pin: '2', mode: 'diode', overload: true }
				],
				inspection: [{ place: '2', state: 'bent' }]
			},
			catalog
		);
		expect(Object.fromEntries(answers.map(({ question, answer }) => [question, answer]))).toEqual({
			'meter:draw': 'healthy',
			'meter:sides': 'one-only',
			'meter:contract': 'raised',
			'battery:state': 'precharge',
			'pins:vbus': 'short',
			'pins:d-': 'open',
			'look:contacts': 'bent'
		});
	});
	it('leaves out what the catalog no longer knows', () => {
		const evidence = { ...plain, signs: { gone: true }, observations: [{ test: 'gone', outcome: 'x' }] };
		expect(readFeatures(evidence, catalog)).toEqual(none);
	});
	it('words every key that the odds report', () => {
		const keys = [
			'no-charge=true',
			'no-charge=false',
			'vbus-fuse=open',
			'pins:vbus=short',
			'meter:draw=nothing',
			'tried:replace-port=false'
		];
		for (const key of keys) expect(evidenceWords(catalog, key)).not.toContain('=');
		expect(evidenceWords(catalog, 'no-charge=false')).toBe('not: does not charge');
	});
});

describe('learning', () => {
	it('shrinks a model with no ticket to the whole shop', () => {
		const shares = faultShares(engineOf(catalog, learned), 'never-seen');
		// by hand: the counts of all models, and the catalog's own shares worth a dozen tickets, a quarter of them even
		const codes = [...catalog.faults.keys()];
		const stated = codes.map((code) => catalog.faults.get(code)?.prior ?? 1 / codes.length);
		const total = stated.reduce((sum, share) => sum + share, 0);
		const counted = codes.map((code) => learned.faults.get(code) ?? 0);
		const all = counted.reduce((sum, count) => sum + count, 0);
		shares.forEach(({ chance }, i) => {
			const belief = 12 * ((0.75 * (stated[i] as number)) / total + 0.25 / codes.length);
			expect(chance).toBeCloseTo(((counted[i] as number) + belief) / (all + 12), 12);
		});
	});
	it('starts from the catalog alone and says that it knows nothing', () => {
		const start = inferOdds(engineOf(catalog, emptyLearned()), 'tern-6', none).odds;
		expect(start.learnedFrom).toBe(0);
		expect(start.faults[0]?.code).toBe('port-contacts');
		expect(sizeChances(emptyLearned())).toEqual([0.04, 0.86, 0.095, 0.005]);
	});
	it('keeps every distribution of answers normalised', () => {
		for (const test of [...catalog.tests.keys(), 'meter:draw', 'pins:vbus']) {
			const { perFault, none } = answerBeliefs(engineOf(catalog, learned), 'any', test);
			for (const { chances } of [...perFault, none]) {
				expect(chances.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 12);
			}
		}
	});
});

describe('odds', () => {
	const anyFeatures = fc.record({
		signs: fc.uniqueArray(fc.tuple(fc.constantFrom(...catalog.signs.keys()), fc.boolean()), {
			selector: ([sign]) => sign
		}),
		answers: fc
			.uniqueArray(fc.constantFrom(...catalog.tests.values()), { selector: ({ code }) => code })
			.map((tests) => tests.map(({ code, outcomes }) => ({ question: code, answer: outcomes[0] as string }))),
		attempts: fc.array(
			fc.record({ operation: fc.constantFrom(...catalog.operations.keys()), resolved: fc.constant(false) }),
			{ maxLength: 3 }
		)
	});
	it('are probabilities that sum to one over the sets, whatever the evidence', () => {
		fc.assert(
			fc.property(anyFeatures, (features) => {
				const { posterior, odds: found } = odds(features);
				expect(posterior.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
				for (const { probability, low, high } of found.faults) {
					expect(probability).toBeGreaterThanOrEqual(0);
					expect(probability).toBeLessThanOrEqual(1);
					expect(low).toBeLessThanOrEqual(probability + 1e-9);
					expect(high).toBeGreaterThanOrEqual(probability - 1e-9);
				}
			}),
			{ numRuns: 20 }
		);
	});
	it('do not depend on the order of signs and answers', () => {
		fc.assert(
			fc.property(anyFeatures, (features) => {
				const turned = {
					...features,
					signs: [...features.signs].reverse(),
					answers: [...features.answers].reverse()
				};
				const [a, b] = [odds(features).posterior, odds(turned).posterior];
				a.forEach((p, i) => expect(p).toBeCloseTo(b[i] as number, 10));
			}),
			{ numRuns: 12 }
		);
	});
	it('rise with evidence for and fall with evidence against', () => {
		const bare = chanceOf(none, 'input-fuse');
		expect(
			chanceOf({ ...none, answers: [{ question: 'vbus-fuse', answer: 'open' }] }, 'input-fuse')
		).toBeGreaterThan(bare * 5);
		expect(
			chanceOf({ ...none, answers: [{ question: 'vbus-fuse', answer: 'through' }] }, 'input-fuse')
		).toBeLessThan(bare);
	});
	it('count a repair that failed against what it fixes', () => {
		const failed = { ...none, attempts: [{ operation: 'replace-port', resolved: false }] };
		expect(chanceOf(failed, 'port-contacts')).toBeLessThan(chanceOf(none, 'port-contacts'));
	});
	it('give a reason whose factor explains the change, exactly where it stands alone', () => {
		const features = { ...none, answers: [{ question: 'vbus-fuse', answer: 'open' }] };
		const fault = odds(features).odds.faults[0];
		const before = chanceOf(none, fault?.code as string);
		const ratio = (p: number) => p / (1 - p);
		expect(fault?.reasons[0]?.factor).toBeCloseTo(ratio(fault?.probability as number) / ratio(before), 6);
	});
	it('agree with brute force over every set of up to three, from the same beliefs, to 1e-9', () => {
		const features: Features = {
			...none,
			answers: [{ question: 'thermal', answer: 'port-area' }],
			signs: [['no-charge', true]]
		};
		const { posterior, sets } = odds(features);
		const shares = faultShares(engineOf(catalog, learned), 'tern-6').map(({ chance }) => chance);
		const n = shares.length;
		const size = sizeChances(learned);
		const beliefs = answerBeliefs(engineOf(catalog, learned), 'tern-6', 'thermal');
		const at = beliefs.answers.indexOf('port-area');
		const kl = (p: readonly number[]) =>
			p.reduce((s, x, i) => s + x * Math.log(x / (beliefs.overall[i] as number)), 0);
		const sign = fit(catalog, learned).sign('no-charge', 'tern-6');
		const leak = sign.background;
		// by bits, not by the engine's enumeration
		const all = Array.from({ length: 2 ** n }, (_, bits) =>
			shares.map((_, i) => i).filter((i) => bits & (1 << i))
		).filter((set) => set.length <= 3);
		const weight = (set: readonly number[]) => set.reduce((p, f) => p * (shares[f] as number), 1);
		const totals = [0, 1, 2, 3].map((k) =>
			all.filter((set) => set.length === k).reduce((s, set) => s + weight(set), 0)
		);
		const joint = new Map(
			all.map((set): [string, number] => {
				const told = set
					.map((f) => beliefs.perFault[f]?.chances as readonly number[])
					.sort((a, b) => kl(b) - kl(a))[0];
				const answer = (told ?? beliefs.none.chances)[at] as number;
				const alone = (f: number) => sign.perFault[f]?.chance as number;
				const seen =
					set.length === 0
						? sign.none.chance
						: set.length === 1
							? alone(set[0] as number)
							: 1 -
								set.reduce((left, f) => left * (1 - Math.max(0, (alone(f) - leak) / (1 - leak))), 1 - leak);
				const prior = (size[set.length] as number) * (weight(set) / (totals[set.length] as number));
				return [set.join(' '), prior * answer * Math.min(0.995, Math.max(0.005, seen))];
			})
		);
		const total = [...joint.values()].reduce((a, b) => a + b, 0);
		expect(sets).toHaveLength(joint.size);
		sets.forEach((set, i) =>
			expect(posterior[i]).toBeCloseTo((joint.get(set.join(' ')) as number) / total, 9)
		);
	});
	it('bear a catalog without faults and one with sixty', () => {
		const empty = buildCatalog([]);
		expect(inferOdds(engineOf(empty, emptyLearned()), 'x', none).odds).toMatchObject({ faults: [], none: 1 });
		const sixty = buildCatalog(
			Array.from({ length: 60 }, (_, i) => ({ record: 'fault' as const, code: `f${i}`, label: `F${i}` }))
		);
		const many = inferOdds(engineOf(sixty, emptyLearned()), 'x', none);
		expect(many.posterior).toHaveLength(1 + 60 + 1770 + 2024);
		expect(many.odds.unseen).toBeGreaterThan(0);
		expect(many.odds.unseen).toBeLessThan(0.005);
	});
});

describe('harm', () => {
	const torn = tickets.find(({ faults, attempts }) => faults?.length === 1 && attempts.length === 1);
	const harmed = {
		...torn,
		faults: [...(torn?.faults ?? []), 'torn-pads'],
		ownFaults: ['torn-pads']
	} as Ticket;
	it('what the repair broke is not learnt as what was wrong', () => {
		const lesson = lessonOf(harmed, catalog);
		expect(lesson?.faults).toEqual(torn?.faults);
		expect(lesson?.broke).toHaveLength(1);
	});
	it('makes its operation dearer than before, others less so, and comes out of the counts again', () => {
		const operation = torn?.attempts[0]?.operation as string;
		const copy = learn(lessons);
		expect(harmChance(copy, operation)).toBe(0);
		const lesson = lessonOf(harmed, catalog) as Lesson;
		for (let i = 0; i < 20; i++) addLesson(copy, lesson);
		const other = [...catalog.operations.keys()].find((code) => code !== operation) as string;
		expect(harmChance(copy, operation)).toBeGreaterThan(2 * harmChance(copy, other));
		expect(harmChance(copy, other)).toBeGreaterThan(0);
		for (let i = 0; i < 20; i++) addLesson(copy, lesson, -1);
		expect(harmChance(copy, operation)).toBe(0);
	});
});

describe('attempts', () => {
	const port: Remedy = { code: 'port', fixes: new Set([0]), success: 0.9 };
	const fuse: Remedy = { code: 'fuse', fixes: new Set([1]), success: 0.8 };
	it.each([
		['nothing tried', [0], [], 1],
		['failed on its fault', [0], [{ remedy: port, resolved: false }], 0.1 + 0.9 * 0.02],
		['failed on another', [1], [{ remedy: port, resolved: false }], 0.98],
		['worked on its fault', [0], [{ remedy: port, resolved: true }], 0.9 * 0.98],
		['worked on another', [1], [{ remedy: port, resolved: true }], 0.02],
		[
			'one of two, then the other',
			[0, 1],
			[
				{ remedy: port, resolved: false },
				{ remedy: fuse, resolved: true }
			],
			0.9 * 0.8 * 0.98 + 0.1 * 0.02
		]
	] as const)('%s', (_, set, attempts, likelihood) =>
		expect(attemptLikelihoods(set, attempts).at(-1) ?? 1).toBeCloseTo(likelihood, 12)
	);
});

describe('next steps', () => {
	const costs = {
		operationMinutes: (code: string) => catalog.operations.get(code)?.minutes ?? 30,
		lossOfGivingUpMinor: 8000
	};
	const next = (features: Features) =>
		rankNextSteps(engineOf(catalog, learned), odds(features), features, costs);
	it('come cheapest first and say why', () => {
		const steps = next(none);
		expect(steps.length).toBeGreaterThan(5);
		for (let i = 1; i < steps.length; i++) {
			expect(1.01 * (steps[i]?.expectedCostMinor as number)).toBeGreaterThanOrEqual(
				steps[i - 1]?.expectedCostMinor as number
			);
		}
		for (const { why } of steps) expect(why).not.toBe('');
	});
	it('leave out what was tested, and what was tried twice in vain while another repair was not tried', () => {
		const codes = (times: number) =>
			next({
				signs: [],
				answers: [{ question: 'port-clean', answer: 'was-clean' }],
				attempts: Array.from({ length: times }, () => ({ operation: 'replace-port', resolved: false }))
			}).map(({ code }) => code);
		expect(codes(0)).not.toContain('port-clean');
		expect(codes(0)).toContain('replace-port');
		expect(codes(2)).not.toContain('replace-port');
	});
	it('put the repair of the plain fault before every other repair', () => {
		const steps = next({
			...none,
			answers: [
				{ question: 'vbus-fuse', answer: 'open' },
				{ question: 'caps-ground', answer: 'none-shorted' }
			]
		});
		expect(steps.find(({ kind }) => kind === 'operation')?.code).toBe('replace-fuse');
	});
});
