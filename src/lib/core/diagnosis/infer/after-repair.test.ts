import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../../catalog/catalog';
import type { CatalogRecord } from '../../catalog/kinds';
import { breaksOf, walkPath } from '../../charging/power-path';
import { DEMO_CATALOG } from '../../simulation/demo-catalog';
import { unseen } from '$worlds/fuse-and-port';
import { engineOf, type Engine } from '../engine';
import type { FaultSet } from '../fault-sets';
import { readFeatures, type Evidence, type Features } from '../learn/evidence';
import { MENDED } from '../learn/evidence-words';
import { emptyLearned, learn, type Learned } from '../learn/learn';
import { answerBeliefs, answerChances, harmChance, ownFaultChances, successBelief } from './beliefs';
import { inferOdds } from './odds';

/** What is left after repairs that failed: two moments of a device, its faults at first and those that stay. */

const codes = ['a', 'b', 'c', 'd'];
const records: CatalogRecord[] = [
	...codes.map((code): CatalogRecord => ({ record: 'fault', code, label: code.toUpperCase() })),
	{ record: 'sign', code: 's', label: 's', kind: 'symptom' },
	{ record: 'test', code: 't', label: 't', minutes: 5, outcomes: ['x', 'y', 'z'] },
	{ record: 'test', code: 'u', label: 'u', minutes: 5, outcomes: ['x', 'y'] },
	{ record: 'operation', code: 'fix-a', label: 'Fix a', minutes: 10, fixes: ['a'], success: 0.8 },
	{ record: 'operation', code: 'fix-bc', label: 'Fix b, c', minutes: 10, fixes: ['b', 'c'], success: 0.6 },
	{ record: 'operation', code: 'polish', label: 'Polish', minutes: 10, fixes: [] },
	...codes.map((given, i): CatalogRecord => ({
		record: 'expectation',
		given,
		test: 't',
		outcomes: { x: [0.8, 0.1, 0.2, 0.3][i]!, y: [0.1, 0.8, 0.2, 0.3][i]!, z: [0.1, 0.1, 0.6, 0.4][i]! },
		weight: 30
	})),
	{ record: 'expectation', given: 'd', test: 'u', outcomes: { x: 0.05, y: 0.95 }, weight: 30 }
];
const catalog = buildCatalog(records);
/** a shop whose repairs broke things before */
const learned: Learned = {
	...emptyLearned(),
	harm: new Map([['fix-a', [6, 20]]]),
	broke: new Map([
		['d', 3],
		['b', 1]
	])
};
const engine = engineOf(catalog, learned);
const SLIP = 0.02;

/** Every course of failed attempts, one by one, with what was seen after each of them: what is left, with its weight. */
function everyCourse(of: Engine, set: FaultSet, { attempts, since = [] }: Features): [FaultSet, number][] {
	const seen = (left: FaultSet, after: number) =>
		since
			.filter((group) => group.attempts === after)
			.flatMap(({ answers }) => answers)
			.reduce((chance, { question, answer }) => {
				const beliefs = answerBeliefs(of, 'm', question);
				return chance * (answerChances(beliefs, left)[beliefs.answers.indexOf(answer)] as number);
			}, 1);
	let ways: { left: FaultSet; own: number | null; ended: boolean; weight: number }[] = [
		{ left: set, own: null, ended: false, weight: 1 }
	];
	attempts.forEach(({ operation }, i) => {
		const fixes = of.catalog.operations.get(operation)!.fixes.map((code) => codes.indexOf(code));
		const { chance: success } = successBelief(of, operation);
		const harm = harmChance(of.learned, operation);
		ways = ways.flatMap((way) => {
			if (way.ended) return [way];
			const present = way.own === null ? way.left : [...way.left, way.own];
			const addressed = present.some((fault) => fixes.includes(fault));
			const mends = addressed ? [false, true] : [false];
			return mends.flatMap((mend) => {
				const left = mend ? way.left.filter((fault) => !fixes.includes(fault)) : way.left;
				const own = mend && way.own !== null && fixes.includes(way.own) ? null : way.own;
				const weight = way.weight * (addressed ? (mend ? success : 1 - success) : 1 - SLIP);
				const breaks =
					way.own === null
						? ownFaultChances(of.learned)
								.map(({ code, chance }) => ({ fault: codes.indexOf(code), chance: harm * chance }))
								.filter(({ fault }) => !set.includes(fault))
						: [];
				const none = 1 - breaks.reduce((sum, { chance }) => sum + chance, 0);
				const nothing = mend && left.length === 0 && own === null;
				return [
					...breaks.map(({ fault, chance }) => ({ left, own: fault, ended: false, weight: weight * chance })),
					{ left, own, ended: nothing, weight: weight * none * (nothing ? SLIP : 1) }
				];
			});
		});
		ways = ways.map((way) => {
			const now = way.own === null ? way.left : [...way.left, way.own].sort();
			return { ...way, weight: way.weight * seen(now, i + 1) };
		});
	});
	return ways.map(({ left, own, weight }) => [own === null ? left : [...left, own].sort(), weight]);
}

const operation = fc.constantFrom('fix-a', 'fix-bc', 'polish');
const answer = fc.oneof(
	fc.constantFrom('x', 'y', 'z').map((told) => ({ question: 't', answer: told })),
	fc.constantFrom('x', 'y').map((told) => ({ question: 'u', answer: told }))
);
const course = fc
	.array(fc.record({ operation, answers: fc.array(answer, { maxLength: 2 }) }), {
		minLength: 1,
		maxLength: 4
	})
	.map((moments): Features => ({
		signs: [['s', true]],
		answers: [{ question: 'u', answer: 'y' }],
		attempts: moments.map((moment) => ({ operation: moment.operation, resolved: false })),
		since: moments.map(({ answers }, i) => ({ attempts: i + 1, answers }))
	}));

describe('after repairs that failed', () => {
	it('the odds are of what is left, as every course of them has it', () =>
		fc.assert(
			fc.property(course, (features) => {
				const { sets, odds, now } = inferOdds(engine, 'm', features);
				const before = inferOdds(engine, 'm', { ...features, attempts: [], since: [] });
				const weights = new Map<string, number>();
				let total = 0;
				sets.forEach((set, s) => {
					for (const [left, weight] of everyCourse(engine, set, features)) {
						const here = weight * (before.posterior[s] as number);
						weights.set(left.join(' '), (weights.get(left.join(' ')) ?? 0) + here);
						total += here;
					}
				});
				for (const { set, chance } of now) {
					expect(chance).toBeCloseTo((weights.get(set.join(' ')) ?? 0) / total, 9);
				}
				codes.forEach((code, fault) => {
					const exact = [...weights].reduce(
						(sum, [key, weight]) => (key.split(' ').includes(String(fault)) ? sum + weight / total : sum),
						0
					);
					const found = odds.faults.find((each) => each.code === code)!;
					expect(found.probability).toBeCloseTo(exact, 9);
					const product = found.reasons.reduce(
						(all, { factor }) => all * factor,
						found.usual / (1 - found.usual)
					);
					expect(product).toBeCloseTo(found.probability / (1 - found.probability), 6);
				});
				expect(odds.none).toBeCloseTo((weights.get('') ?? 0) / total, 9);
			}),
			{ numRuns: 150 }
		));
	it('once one worked they are of what was wrong, and nothing is said of mending', () => {
		const features: Features = {
			signs: [],
			answers: [],
			attempts: [
				{ operation: 'fix-a', resolved: false },
				{ operation: 'fix-bc', resolved: true }
			]
		};
		const { odds } = inferOdds(engine, 'm', features);
		expect(odds.faults[0]?.code).toMatch(/b|c/);
		expect(odds.faults.flatMap(({ reasons }) => reasons.map(({ evidence }) => evidence))).not.toContain(
			MENDED
		);
		expect(odds.faults.reduce((sum, { probability }) => sum + probability, 0)).toBeGreaterThan(1);
	});
	it('what is seen after a repair moves what is left, not what is mended', () => {
		const chanceOf = (since: Features['since']) =>
			inferOdds(engine, 'm', {
				signs: [],
				answers: [{ question: 't', answer: 'x' }],
				attempts: [{ operation: 'fix-a', resolved: false }],
				...(since ? { since } : {})
			}).odds.faults.find(({ code }) => code === 'a')!.probability;
		const again = chanceOf([{ attempts: 1, answers: [{ question: 't', answer: 'x' }] }]);
		const other = chanceOf([{ attempts: 1, answers: [{ question: 't', answer: 'z' }] }]);
		expect(again).toBeGreaterThan(chanceOf(undefined) + 0.1);
		expect(other).toBeLessThan(chanceOf(undefined) - 0.1);
	});
});

describe('entries after a repair', () => {
	const at = (minute: number) => Date.UTC(2026, 0, 5, 9, minute);
	const seenIn = (evidence: Partial<Evidence>) =>
		readFeatures({ ...unseen('m'), ...evidence }, catalog).since?.map(({ attempts, answers }) => [
			attempts,
			...answers.map(({ question, answer }) => `${question}=${answer}`)
		]);
	const failed = (minute: number) => ({ operation: 'fix-a', resolved: false, at: at(minute) });
	const test = (outcome: string, stage: string, minute?: number) => ({
		test: 't',
		outcome,
		stage,
		...(minute === undefined ? {} : { at: at(minute) })
	});
	it('belong to the attempts before them, by their moment; without one to all', () => {
		const attempts = [failed(10), failed(20)];
		expect(seenIn({ attempts, observations: [test('x', 'after-repair', 15)] })).toEqual([[1, 't=x']]);
		expect(seenIn({ attempts, observations: [test('x', 'after-repair', 20)] })).toEqual([[2, 't=x']]);
		expect(seenIn({ attempts, observations: [test('x', 'closing')] })).toEqual([[2, 't=x']]);
		// typed before the attempt that they follow was logged
		expect(seenIn({ attempts, observations: [test('x', 'after-repair', 5)] })).toEqual([[1, 't=x']]);
		expect(seenIn({ attempts, observations: [test('x', 'diagnosis', 15)] })).toBeUndefined();
		expect(
			seenIn({ attempts, observations: [test('x', 'after-repair', 15), test('y', 'after-repair', 25)] })
		).toEqual([
			[1, 't=x'],
			[2, 't=y']
		]);
	});
	it('say nothing after one that worked, nor where no repair was entered', () => {
		const attempts = [failed(10), { operation: 'fix-bc', resolved: true, at: at(20) }];
		expect(seenIn({ attempts, observations: [test('x', 'after-repair', 25)] })).toBeUndefined();
		expect(seenIn({ attempts, observations: [test('x', 'after-repair', 15)] })).toEqual([[1, 't=x']]);
		expect(seenIn({ observations: [test('x', 'after-repair', 15)] })).toBeUndefined();
		expect(
			readFeatures({ ...unseen('m'), observations: [test('x', 'after-repair')] }, catalog).answers
		).toEqual([]);
	});
	it('a step of a longer repair is neither a failure nor a moment to look after', () => {
		const step = { operation: 'fix-bc', resolved: false, part: true, at: at(10) };
		const evidence: Evidence = { ...unseen('m'), attempts: [step, failed(20)] };
		expect(readFeatures(evidence, catalog).attempts).toEqual([failed(20)]);
		const alone = { ...unseen('m'), attempts: [step], observations: [test('x', 'after-repair', 15)] };
		expect(readFeatures(alone, catalog)).toEqual(readFeatures(unseen('m'), catalog));
		expect(seenIn({ attempts: [step, failed(20)], observations: [test('x', 'after-repair', 25)] })).toEqual([
			[1, 't=x']
		]);
	});
	it('a look has no stage: its moment tells', () => {
		const inspection = (minute?: number) => [
			{ place: 'tongue', state: 'burnt', ...(minute === undefined ? {} : { at: at(minute) }) }
		];
		expect(seenIn({ attempts: [failed(10)], inspection: inspection(15) })).toEqual([
			[1, 'look:tongue=burnt']
		]);
		expect(seenIn({ attempts: [failed(10)], inspection: inspection(5) })).toBeUndefined();
		expect(seenIn({ attempts: [failed(10)], inspection: inspection() })).toBeUndefined();
	});
});

describe('the charging path', () => {
	const demo = engineOf(buildCatalog(DEMO_CATALOG), learn([]));
	const probed = (...volts: [node: string, volts: number][]) => {
		const path = volts.map(([node, v]) => ({ stage: 'diagnosis', node, volts: v }));
		const { odds, now, codes } = inferOdds(
			demo,
			'tern-9',
			readFeatures({ ...unseen('tern-9'), path }, demo.catalog)
		);
		return {
			chance: (code: string) => odds.faults.find((fault) => fault.code === code)!.probability,
			odds,
			now,
			codes
		};
	};
	it.each<[string, [string, number][], string]>([
		[
			'lost behind the fuse',
			[
				['port-vbus', 5.05],
				['fuse-out', 0.02]
			],
			'input-fuse'
		],
		[
			'lost behind the port controller, there behind the filter',
			[
				['port-vbus', 5.05],
				['filter-out', 5.02],
				['controller-out', 0.01]
			],
			'port-controller'
		],
		[
			'lost at the switching side',
			[
				['controller-out', 5.01],
				['charger-out', 0]
			],
			'charge-controller'
		],
		[
			'lost behind the coil',
			[
				['charger-out', 3.9],
				['coil-out', 0]
			],
			'coil-open'
		],
		[
			'lost at the plug',
			[
				['coil-out', 3.9],
				['battery-plug', 0]
			],
			'battery-plug'
		]
	])('%s: %s', (_, volts, first) => {
		const { odds } = probed(...volts);
		// the short beside a controller loses the supply in the same stretch
		expect([first, first === 'port-controller' ? 'shorted-capacitor' : first]).toContain(
			odds.faults[0]?.code
		);
	});
	it('supply everywhere speaks for what is not on the path', () => {
		const nodes = demo.catalog.models.get('tern-9')!.path!;
		const { odds } = probed(
			...nodes.map(({ node, volts }): [string, number] => [node, (volts.low + volts.high) / 2])
		);
		expect(odds.faults[0]?.code).toBe('battery-worn');
		expect(odds.faults.find(({ code }) => code === 'input-fuse')!.probability).toBeLessThan(0.01);
	});
	it('of two faults on it the first one shows', () => {
		const beliefs = answerBeliefs(demo, 'tern-9', 'path:filter-out');
		const fault = (code: string) => [...demo.catalog.faults.keys()].indexOf(code);
		const [fuse, coil] = [fault('input-fuse'), fault('coil-open')];
		const alone = (of: number) => answerChances(beliefs, [of]);
		const [there = 0, high = 0, low = 0, lost = 0] = answerChances(beliefs, [fuse, coil]);
		const upTo = (of: number, k: number) =>
			alone(of)
				.slice(0, k + 1)
				.reduce((sum, p) => sum + p, 0);
		expect(there).toBeCloseTo(upTo(fuse, 0) * upTo(coil, 0), 12);
		expect(there + high + low).toBeCloseTo(upTo(fuse, 2) * upTo(coil, 2), 12);
		expect(there + high + low + lost).toBeCloseTo(1, 12);
		expect(lost).toBeGreaterThan(alone(fuse)[3]!);
		expect(alone(coil)[0]).toBeGreaterThan(0.8);
	});
	it('the panel says what the odds say', () => {
		const { now, codes, chance } = probed(['port-vbus', 5.05], ['fuse-out', 0.02]);
		const nodes = demo.catalog.models.get('tern-9')!.path!;
		const sets = now.map(({ set, chance }) => ({ faults: set.map((fault) => codes[fault]!), chance }));
		const { breaks } = walkPath(nodes, new Map(), breaksOf(nodes, sets));
		expect(breaks[0]?.to).toBe('fuse-out');
		expect(breaks[0]?.chance).toBeGreaterThan(0.4);
		expect(Math.abs(breaks[0]!.chance - chance('input-fuse'))).toBeLessThan(0.05);
	});
});
