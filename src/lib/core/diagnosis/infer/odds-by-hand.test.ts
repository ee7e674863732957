import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../../catalog/catalog';
import type { CatalogRecord } from '../../catalog/kinds';
import { sum } from '$worlds/plain-bayes';
import type { Engine } from '../engine';
import { setsOfUpToThree } from '../fault-sets';
import type { Features } from '../learn/evidence';
import type { Fitted } from '../learn/fit';
import { emptyLearned, type Learned } from '../learn/learn';
import { answerBeliefs, answerChances, answerLikelihood, signLikelihood } from './beliefs';
import { inferOdds, remediesOf } from './odds';

/** Odds from beliefs put in by hand, worked out a second time by going through every set of three faults. */

const codes = ['a', 'b', 'c'];
const catalog = buildCatalog([
	...codes.map((code): CatalogRecord => ({ record: 'fault', code, label: code.toUpperCase() })),
	{ record: 'operation', code: 'fix-a', label: 'Fix a', minutes: 10, fixes: ['a', 'gone'], success: 0.8 },
	{ record: 'operation', code: 'fix-bc', label: 'Fix b and c', minutes: 10, fixes: ['b', 'c'], success: 0.7 }
]);
const shares = [
	{ chance: 0.5, weight: 40 },
	{ chance: 0.3, weight: 25, doubt: 0.2 },
	{ chance: 0.2, weight: 0.5 }
];
const told = (chance: number, weight: number, doubt: number) => ({ chance, weight, doubt });
const sign = {
	perFault: [told(0.9, 30, 0.1), told(0.05, 12, 0), told(0.4, 6, 0.3)],
	absent: [told(0.1, 30, 0.4), told(0.95, 12, 0), told(0.6, 6, 0.2)],
	none: { chance: 0.02, weight: 9 },
	background: 0.1
};
const answers = {
	answers: ['low', 'mid', 'high'],
	background: [0.2, 0.6, 0.2],
	none: { chances: [0.1, 0.899, 0.001], weight: 8 },
	perFault: [
		{ chances: [0.8, 0.1, 0.1], weight: 20, doubts: [0.1, 0, 0] },
		{ chances: [0.2, 0.5, 0.3], weight: 10, doubts: [0, 0, 0.5] },
		{ chances: [0.001, 0.099, 0.9], weight: 5, doubts: [0, 0, 0] }
	]
};
const engineWith = (learned: Learned, lifts: Float64Array | null = null): Engine => ({
	catalog,
	learned,
	fitted: {
		counted: learned,
		shares: { of: () => shares, fading: new Map(), lifts },
		sign: () => sign,
		answers: () => answers,
		byModel: {
			signs: { usual: () => answers, deviating: [] },
			answers: { usual: () => answers, deviating: [] }
		}
	} as Fitted
});
const learned = {
	...emptyLearned(),
	tickets: 30,
	sizes: [2, 24, 4, 0] as Learned['sizes'],
	faults: new Map([['a', 17.4]])
};
const engine = engineWith(learned);
const sets = [[], [0], [1], [2], [0, 1], [0, 2], [1, 2], [0, 1, 2]];
/** chance that nothing is met, one, two, three: counts and ten tickets of what is usual */
const sizes = [0.04, 0.86, 0.095, 0.005].map(
	(belief, k) => ((learned.sizes[k] as number) + 10 * belief) / 40
);
const p = shares.map(({ chance }) => chance) as [number, number, number];
const weightOf = (set: readonly number[]) =>
	set.reduce((product, fault) => product * (p[fault] as number), 1);
const totals = [0, 1, 2, 3].map((size) => sum(sets.filter(({ length }) => length === size).map(weightOf)));
const prior = (set: readonly number[]) =>
	((sizes[set.length] as number) / sum(sizes)) * (weightOf(set) / (totals[set.length] as number));
/** noisy or over the leak; what stands alone as it was seen alone */
const signChance = (set: readonly number[]) => {
	if (set.length === 0) return 0.02;
	if (set.length === 1) return sign.perFault[set[0] as number]?.chance as number;
	const silent = set.map((fault) => Math.min(1, (1 - (sign.perFault[fault]?.chance as number)) / 0.9));
	return 1 - 0.9 * silent.reduce((product, each) => product * each, 1);
};
/** no answer is less than one in two hundred */
const raised = (chances: readonly number[]) => {
	const least = chances.map((chance) => Math.max(0.005, chance));
	return least.map((chance) => chance / sum(least));
};
const departure = (chances: readonly number[]) =>
	sum(chances.map((chance, k) => chance * Math.log(chance / (answers.background[k] as number))));
const answerChance = (set: readonly number[], k: number) => {
	if (set.length === 0) return raised(answers.none.chances)[k] as number;
	const of = set.map((fault) => raised(answers.perFault[fault]?.chances as number[]));
	return of.reduce((loud, each) => (departure(each) > departure(loud) ? each : loud))[k] as number;
};
const none: Features = { signs: [], answers: [], attempts: [] };
const normal = (weights: readonly number[]) => weights.map((weight) => weight / sum(weights));
const at = (found: readonly (readonly number[])[], set: readonly number[]) =>
	found.findIndex((each) => each.join() === set.join());

describe('odds by going through every set', () => {
	const posterior = (features: Partial<Features>, likelihood: (set: readonly number[]) => number) => {
		const wanted = normal(sets.map((set) => prior(set) * likelihood(set)));
		const inference = inferOdds(engine, 'm', { ...none, ...features });
		sets.forEach((set, i) =>
			expect(inference.posterior[at(inference.sets, set)], set.join()).toBeCloseTo(wanted[i] as number, 9)
		);
		codes.forEach((code, fault) => {
			const marginal = sum(sets.map((set, i) => (set.includes(fault) ? (wanted[i] as number) : 0)));
			expect(inference.odds.faults.find((each) => each.code === code)?.probability).toBeCloseTo(marginal, 9);
		});
		return { wanted, inference };
	};
	it('without evidence: how many, times shares among those of that size', () => {
		const { inference, wanted } = posterior({}, () => 1);
		expect(inference.odds.none).toBeCloseTo(wanted[0] as number, 12);
		expect(inference.odds).toMatchObject({ learnedFrom: 30, fromModel: 0, unseen: 0 });
		expect(inference.odds.faults.map(({ code, label, from }) => [code, label, from])).toEqual([
			['a', 'A', 17],
			['b', 'B', 0],
			['c', 'C', 0]
		]);
		expect(inference.odds.sets.map(({ faults }) => faults.join('+'))).toEqual(
			sets
				.map((set, i) => [set.map((fault) => codes[fault]).join('+'), wanted[i] as number] as const)
				.filter(([name]) => name !== '')
				.sort((one, two) => two[1] - one[1])
				.map(([name]) => name)
				.slice(0, inference.odds.sets.length)
		);
		expect(inference.odds.sets[0]?.probability).toBeCloseTo(wanted[1] as number, 12);
	});
	it('a sign that is there, and one that is not', () => {
		posterior({ signs: [['s', true]] }, signChance);
		posterior({ signs: [['s', false]] }, (set) => 1 - signChance(set));
	});
	it.each([0, 1, 2])(
		'answer %i: of several faults the one speaks that departs most from what is usual',
		(k) => {
			posterior({ answers: [{ question: 'q', answer: answers.answers[k] as string }] }, (set) =>
				answerChance(set, k)
			);
		}
	);
	it('all together, and repairs that failed and worked', () => {
		const slip = 0.02;
		posterior(
			{
				signs: [['s', true]],
				answers: [{ question: 'q', answer: 'high' }],
				attempts: [
					{ operation: 'fix-a', resolved: false },
					{ operation: 'gone', resolved: false },
					{ operation: 'fix-bc', resolved: true }
				]
			},
			(set) => {
				const [a, rest] = [set.includes(0), set.filter((fault) => fault !== 0)];
				/** what is left of it after the first, with its weight */
				const left: [readonly number[], number][] = !a
					? [[set, 1 - slip]]
					: rest.length > 0
						? [
								[set, 0.2],
								[rest, 0.8]
							]
						: [
								[set, 0.2],
								[[], 0.8 * slip]
							];
				const gone = sum(
					left.map(([now, weight]) => {
						if (now.length === 0) return a ? weight : weight * slip;
						return weight * (now.every((fault) => fault !== 0) ? 0.7 * (1 - slip) : slip);
					})
				);
				return signChance(set) * answerChance(set, 2) * gone;
			}
		);
	});
	it('pairs that come together are lifted', () => {
		const lifts = new Float64Array(9).fill(1);
		lifts[1] = 6;
		const found = inferOdds(engineWith(learned, lifts), 'm', none);
		const lifted = (set: readonly number[]) => weightOf(set) * (set.join() === '0,1' ? 6 : 1);
		const pairs = sum(sets.filter(({ length }) => length === 2).map(lifted));
		const wanted = ((sizes[2] as number) / sum(sizes)) * (lifted([0, 1]) / pairs);
		expect(found.posterior[at(found.sets, [0, 1])]).toBeCloseTo(wanted, 9);
	});
	it('an interval’s half width in logits: shares, evidence and doubt of the fault and of its likeliest rival', () => {
		const features = {
			signs: [['s', false] as [string, boolean]],
			answers: [{ question: 'q', answer: 'high' }]
		};
		const { inference, wanted } = posterior(features, (set) => (1 - signChance(set)) * answerChance(set, 2));
		const spread = (chance: number, weight: number, doubt: number) =>
			(1 - chance) / (chance * Math.max(1, weight)) + doubt;
		const variance = (fault: number) => {
			const { chance, weight, doubt = 0 } = shares[fault] as (typeof shares)[number] & { doubt?: number };
			const of = sign.absent[fault] as (typeof sign.absent)[number];
			const by = answers.perFault[fault] as (typeof answers.perFault)[number];
			return (
				spread(chance, weight, doubt) +
				spread(of.chance, of.weight, of.doubt) +
				spread(raised(by.chances)[2] as number, by.weight, by.doubts[2] as number)
			);
		};
		const logit = (chance: number) => Math.log(chance / (1 - chance));
		codes.forEach((code, fault) => {
			const rivals = [0, 1, 2].filter((other) => other !== fault);
			const rival = rivals.reduce((best, other) =>
				(wanted[1 + other] as number) > (wanted[1 + best] as number) ? other : best
			);
			const { low, high, probability } = inference.odds.faults.find(
				(each) => each.code === code
			) as (typeof inference.odds.faults)[number];
			const half = 1.2816 * Math.sqrt((1 + 100 / (30 + 50)) * (variance(fault) + variance(rival)));
			expect(logit(high) - logit(probability), code).toBeCloseTo(half, 3);
			expect(logit(probability) - logit(low), code).toBeCloseTo(half, 3);
		});
	});
});

describe('beliefs behind them', () => {
	const three = setsOfUpToThree(3);
	it('what was seen is named, with the tickets behind it', () => {
		expect(signLikelihood(engine, three, 'm', 's', true)).toMatchObject({
			evidence: 's=true',
			beliefs: sign.perFault
		});
		expect(signLikelihood(engine, three, 'm', 's', false)).toMatchObject({
			evidence: 's=false',
			beliefs: sign.absent
		});
		const { evidence, beliefs } = answerLikelihood(engine, three, 'm', 'q', 'low');
		expect(evidence).toBe('q=low');
		expect(beliefs.map(({ weight, doubt }) => [weight, doubt])).toEqual([
			[20, 0.1],
			[10, 0],
			[5, 0]
		]);
		expect(beliefs[2]?.chance).toBeCloseTo(0.005 / 1.004, 12);
	});
	it('is worked out once for what is believed and the sets it is asked over', () => {
		const once = signLikelihood(engine, three, 'm', 's', true);
		expect(signLikelihood(engine, three, 'm', 's', true)).toBe(once);
		expect(signLikelihood(engine, three, 'm', 's', false)).not.toBe(once);
		expect(signLikelihood(engine, [...three], 'm', 's', true)).not.toBe(once);
		expect(answerLikelihood(engine, three, 'm', 'q', 'low')).toBe(
			answerLikelihood(engine, three, 'm', 'q', 'low')
		);
		expect(answerBeliefs(engine, 'm', 'q')).toBe(answerBeliefs(engine, 'm', 'q'));
	});
	it('a sign is never certain either way', () => {
		const sure = {
			...sign,
			perFault: [told(1, 9, 0), told(0, 9, 0), told(0.5, 9, 0)],
			none: { chance: 0, weight: 9 }
		};
		const of = { ...engine, fitted: { ...engine.fitted, sign: () => sure } as Fitted };
		const { logLikelihood } = signLikelihood(of, three, 'm', 's', true);
		expect(logLikelihood[at(three, [0])]).toBeCloseTo(Math.log(0.995), 12);
		expect(logLikelihood[at(three, [1])]).toBeCloseTo(Math.log(0.005), 12);
		expect(logLikelihood[at(three, [])]).toBeCloseTo(Math.log(0.005), 12);
		const without = signLikelihood(
			{ ...of, fitted: { ...of.fitted, sign: () => ({ ...sure }) } as Fitted },
			three,
			'm',
			's',
			false
		);
		expect(without.logLikelihood[at(three, [0])]).toBeCloseTo(Math.log(0.005), 12);
	});
	it('answers under a set: without a fault, of one, and of the loudest of several', () => {
		const beliefs = answerBeliefs(engine, 'm', 'q');
		expect(answerChances(beliefs, [])).toEqual(raised(answers.none.chances));
		expect(answerChances(beliefs, [1])).toEqual(raised([0.2, 0.5, 0.3]));
		expect(answerChances(beliefs, [0, 1])).toEqual(raised([0.8, 0.1, 0.1]));
		expect(answerChances(beliefs, [1, 0])).toEqual(raised([0.8, 0.1, 0.1]));
		expect(answerChances(beliefs, [9])).toEqual(answers.background);
		beliefs.departures.forEach((nats, fault) =>
			expect(nats).toBeCloseTo(departure(raised(answers.perFault[fault]?.chances as number[])), 12)
		);
	});
	it.each(['q', 'path:fuse-out'])(
		'an answer to %s is as likely as its chance under every set says',
		(question) => {
			const fitted = { ...answers };
			const asked = { ...engine, fitted: { ...engine.fitted, answers: () => fitted } as unknown as Fitted };
			const beliefs = answerBeliefs(asked, 'm', question);
			expect(beliefs.worstShows).toBe(question !== 'q');
			answers.answers.forEach((answer, k) => {
				const { logLikelihood } = answerLikelihood(asked, sets, 'm', question, answer);
				sets.forEach((set, s) =>
					expect(Math.exp(logLikelihood[s] as number), set.join()).toBeCloseTo(
						answerChances(beliefs, set)[k] as number,
						12
					)
				);
			});
		}
	);
	it('operations as the fault model sees them, of faults that the catalog knows', () => {
		expect(remediesOf(engine, 'any')).toEqual([
			{ code: 'fix-a', fixes: new Set([0]), success: 0.8, harm: 0 },
			{ code: 'fix-bc', fixes: new Set([1, 2]), success: 0.7, harm: 0 }
		]);
	});
});

describe('after a repair that worked', () => {
	it('nothing that was tried later says anything more of what it was', () => {
		const nothing = { signs: [], answers: [] };
		const worked = { operation: 'fix-a', resolved: true };
		const later = [
			{ operation: 'fix-bc', resolved: false },
			{ operation: 'fix-a', resolved: false }
		];
		const alone = inferOdds(engine, 'm', { ...nothing, attempts: [worked] }).odds;
		const more = inferOdds(engine, 'm', { ...nothing, attempts: [worked, ...later] }).odds;
		expect(more.faults.map(({ code, probability }) => [code, probability])).toEqual(
			alone.faults.map(({ code, probability }) => [code, probability])
		);
		// what failed before it does
		const before = inferOdds(engine, 'm', { ...nothing, attempts: [...later, worked] }).odds;
		expect(before.faults[0]?.probability).not.toBeCloseTo(alone.faults[0]?.probability ?? 0, 3);
	});
});
