import { inOneGo } from '../../units/in-steps';
import { describe, expect, it } from 'vitest';
import { mean, sum, urn } from '$worlds/plain-bayes';
import {
	answersByFault,
	likeliestHyperparameters,
	likeliestTrust,
	mixOf,
	type Hyperparameters,
	type OwnCounts
} from './answer-model';
import {
	deviationChances,
	likeliestDeviation,
	usualAndOwn,
	withDeviations,
	withoutOwn,
	type ModelQuestion
} from './model-deviations';

/**
 * What is learnt, worked out a second time the plain way: chances of counts one answer after the other (Polya's urn), sums
 * written out. Nothing of the rooms under test is used for what they are held against.
 */

describe('answers by fault, worked out again', () => {
	const hyperparameters: Hyperparameters = { share: 0.25, near: 40, informative: 0.9, contrast: 0.4 };
	const perFault = [
		[2, 18, 4],
		[9, 1, 0],
		[0, 0, 0]
	];
	const none = [1, 5, 0];
	const usual = [0.5, 2, 0.5];
	const stated = { chances: [0.7, 0.2, 0.1], weight: 6 };
	const question = { perFault, none, usual, beliefs: [null, stated, null] };
	/** rows with half a ticket of what is stated, and what is usual found in four rounds */
	function background(): number[] {
		const rows = perFault.map((counts, f) =>
			counts.map((count, k) => count + (f === 1 ? 0.5 * (stated.chances[k] as number) : 0))
		);
		const fraction = (counts: readonly number[], weights: readonly number[]) => {
			// counts with halves: by the gamma function's own recurrence, from a product that converges (Gauss)
			const rising = (x: number, n: number) => {
				let log = 0;
				for (let i = 0; i < 400_000; i++) log += Math.log((x + i) / (x + n + i));
				return log + n * Math.log(400_000);
			};
			return (
				sum(counts.map((count, k) => rising(weights[k] as number, count))) - rising(sum(weights), sum(counts))
			);
		};
		const start = none.map(
			(count, k) => (usual[k] as number) + count + sum(rows.map((row) => row[k] as number))
		);
		let found = start.map((count) => count / sum(start));
		for (let round = 0; round < 4; round++) {
			const speaks = rows.map((row) => {
				const told = Math.exp(fraction(row, informative(found)));
				const near = Math.exp(
					fraction(
						row,
						found.map((chance) => hyperparameters.near * chance)
					)
				);
				return (
					(hyperparameters.share * told) / (hyperparameters.share * told + (1 - hyperparameters.share) * near)
				);
			});
			const quiet = none.map(
				(count, k) =>
					(usual[k] as number) +
					count +
					sum(rows.map((row, f) => (1 - (speaks[f] as number)) * (row[k] as number)))
			);
			found = quiet.map((count) => count / sum(quiet));
		}
		return found;
	}
	/** 0.9 tickets an answer, two fifths of it by how unusual the answer is: three answers share three */
	const informative = (found: readonly number[]) =>
		found.map((chance) => 0.9 * (0.6 + (0.4 * 3 * (1 - chance)) / 2));
	const trust = 0.6;
	const fit = () => answersByFault(question, hyperparameters, trust);
	const usualAnswers = background();

	it('what is usual: four rounds of leaving out who speaks', () => {
		usualAnswers.forEach((chance, k) => expect(fit().background[k]).toBeCloseTo(chance, 5));
	});
	it('without a fault: eight tickets of what is usual', () => {
		expect(fit().none.weight).toBe(14);
		mean(
			none,
			usualAnswers.map((chance) => 8 * chance)
		).forEach((chance, k) => expect(fit().none.chances[k]).toBeCloseTo(chance, 5));
	});
	it('each fault: near what is usual and informative, as the counts say', () => {
		[0, 2].forEach((f) => {
			const counts = perFault[f] as number[];
			const [near, told] = [usualAnswers.map((chance) => 40 * chance), informative(usualAnswers)];
			const [a, b] = [0.25 * Math.exp(urn(counts, told)), 0.75 * Math.exp(urn(counts, near))];
			const speaks = a / (a + b);
			const [mine, others] = [mean(counts, told), mean(counts, near)];
			const found = fit().perFault[f];
			found?.chances.forEach((chance, k) =>
				expect(chance).toBeCloseTo(speaks * (mine[k] as number) + (1 - speaks) * (others[k] as number), 5)
			);
			expect(found?.weight).toBeCloseTo(sum(counts) + (1 - speaks) * 40 + speaks * 0.9 * 3, 4);
			found?.doubts.forEach((doubt, k) => {
				const apart = Math.log(mine[k] as number) - Math.log(others[k] as number);
				expect(doubt).toBeCloseTo(speaks * (1 - speaks) * apart ** 2, 5);
			});
		});
	});
	it('a stated belief beside them, as far as it foretold the counts; one worth more is doubted less', () => {
		const counts = perFault[1] as number[];
		const [near, told] = [usualAnswers.map((chance) => 40 * chance), informative(usualAnswers)];
		const [a, b] = [0.25 * Math.exp(urn(counts, told)), 0.75 * Math.exp(urn(counts, near))];
		const doubt = 0.4 * (4 / 6);
		const said = stated.chances.map((chance) => 6 * chance + 0.01);
		const right = (1 - doubt) * Math.exp(urn(counts, said));
		const believed = right / (right + doubt * (a + b));
		const speaks = a / (a + b);
		const parts = [
			[(1 - believed) * (1 - speaks), mean(counts, near)],
			[(1 - believed) * speaks, mean(counts, told)],
			[believed, mean(counts, said)]
		] as const;
		fit().perFault[1]?.chances.forEach((chance, k) =>
			expect(chance).toBeCloseTo(sum(parts.map(([share, chances]) => share * (chances[k] as number))), 5)
		);
		expect(fit().perFault[1]?.weight).toBeCloseTo(
			10 + (1 - believed) * ((1 - speaks) * 40 + speaks * 0.9 * 3) + believed * 6,
			4
		);
	});
	it('trust in stated beliefs: five rounds from seven of ten, as if eight had been looked at', () => {
		const counts = perFault[1] as number[];
		const [near, told] = [usualAnswers.map((chance) => 40 * chance), informative(usualAnswers)];
		const other = 0.25 * Math.exp(urn(counts, told)) + 0.75 * Math.exp(urn(counts, near));
		const said = Math.exp(
			urn(
				counts,
				stated.chances.map((chance) => 6 * chance + 0.01)
			)
		);
		let expected = 0.7;
		for (let round = 0; round < 5; round++) {
			const doubt = (1 - expected) * (4 / 6);
			const right = ((1 - doubt) * said) / ((1 - doubt) * said + doubt * other);
			expected = (0.7 * 8 + right) / 9;
		}
		expect(likeliestTrust([question], hyperparameters)).toBeCloseTo(expected, 5);
		// a belief of a fault that was never met, and none at all, say nothing of trust
		expect(likeliestTrust([{ ...question, beliefs: [null, null, stated] }], hyperparameters)).toBeCloseTo(
			0.7,
			12
		);
		expect(likeliestTrust([], hyperparameters)).toBeCloseTo(0.7, 12);
	});
	it('hyperparameters: those of the grid under which all counts are likeliest', () => {
		const asked = [
			{
				perFault: [
					[1, 30],
					[2, 40],
					[30, 1],
					[0, 25]
				],
				none: [1, 12],
				usual: [1, 1],
				beliefs: [null, null, null, null]
			},
			{
				perFault: [
					[3, 30],
					[28, 2],
					[2, 31],
					[2, 20]
				],
				none: [0, 9],
				usual: [1, 1],
				beliefs: [null, null, null, null]
			}
		];
		const found = likeliestHyperparameters(asked);
		const backgrounds = asked.map(
			(each) =>
				answersByFault(each, { share: 0.3, near: 50, informative: 0.8, contrast: 0.4 }, 0.7).background
		);
		const logOf = ({ share, near, informative, contrast }: Hyperparameters) =>
			sum(
				asked.flatMap(({ perFault }, q) => {
					const usual = backgrounds[q] as number[];
					const told = usual.map((chance) => informative * (1 - contrast + contrast * 2 * (1 - chance)));
					return perFault.map((counts) =>
						Math.log(
							share * Math.exp(urn(counts, told)) +
								(1 - share) *
									Math.exp(
										urn(
											counts,
											usual.map((chance) => near * chance)
										)
									)
						)
					);
				})
			);
		const grid = [0.08, 0.16, 0.3, 0.5].flatMap((share) =>
			[15, 50, 160, 500].flatMap((near) =>
				[0.4, 0.8, 1.6].flatMap((informative) =>
					[0, 0.4, 0.8].map((contrast): Hyperparameters => ({ share, near, informative, contrast }))
				)
			)
		);
		const best = grid.reduce((most, each) => (logOf(each) > logOf(most) ? each : most));
		expect(found).toEqual(best);
		expect(likeliestHyperparameters([])).toEqual({ share: 0.3, near: 50, informative: 0.8, contrast: 0.4 });
	});
	it('parts mixed: mean chances, and the variance of their logs', () => {
		const { chances, doubts } = mixOf([
			{ share: 0.25, chances: [0.2, 0.8] },
			{ share: 0.75, chances: [0.6, 0.4] }
		]);
		expect(chances.map((chance) => chance.toFixed(12))).toEqual(['0.500000000000', '0.500000000000']);
		expect(doubts[0]).toBeCloseTo(0.25 * 0.75 * Math.log(3) ** 2, 12);
		expect(doubts[1]).toBeCloseTo(0.25 * 0.75 * Math.log(2) ** 2, 12);
		expect(mixOf([])).toEqual({ chances: [], doubts: [] });
	});
});

describe('deviating models, worked out again', () => {
	const odd = (own: number[], others = [90, 10]): ModelQuestion => ({
		model: 'm',
		question: 'q',
		rows: [{ fault: 0, counts: own, predicted: others }]
	});
	const times = ({ counts: own, predicted: others }: ModelQuestion['rows'][number], weight: number) =>
		Math.exp(
			urn(
				own,
				others.map((other) => other * Math.min(1, weight / sum(others)))
			) - urn(own, others)
		);
	it('a row deviates as its counts say, by Bayes twice: the question, then the row', () => {
		const question: ModelQuestion = {
			model: 'm',
			question: 'q',
			rows: [
				{ fault: 0, counts: [1, 6], predicted: [90, 10] },
				{ fault: 1, counts: [5, 0], predicted: [40, 10] },
				{ fault: 2, counts: [1, 1], predicted: [3, 3] }
			]
		};
		const [share, faults, weight] = [0.15, 0.4, 3];
		const gains = question.rows.slice(0, 2).map((row) => times(row, weight));
		const whole = gains.reduce((product, gain) => product * (1 - faults + faults * gain), 1);
		const own = (share * whole) / (1 - share + share * whole);
		const expected = gains.map((gain) => (own * faults * gain) / (1 - faults + faults * gain));
		const found = deviationChances(question, { share, faults, weight });
		expected.forEach((chance, r) => expect(found[r]).toBeCloseTo(chance, 9));
		// two tickets of a fault tell nothing
		expect(found[2]).toBe(0);
		expect(deviationChances(odd([3, 0]), { share, faults, weight })[0]).toBeGreaterThan(0);
	});
	it('how models deviate: the likeliest of the grid, if it gains three nats', () => {
		const some = [odd([1, 9]), odd([0, 7]), odd([9, 1]), odd([18, 2]), odd([8, 1])];
		const logOf = (share: number, faults: number, weight: number) =>
			sum(
				some.map(({ rows }) =>
					Math.log(
						1 -
							share +
							share * (1 - faults + faults * times(rows[0] as ModelQuestion['rows'][number], weight))
					)
				)
			);
		const grid = [0.02, 0.06, 0.15, 0.3, 0.5].flatMap((share) =>
			[0.15, 0.4, 0.8].flatMap((faults) => [1, 3, 10].map((weight) => ({ share, faults, weight })))
		);
		const gain = (each: (typeof grid)[number]) => logOf(each.share, each.faults, each.weight);
		const best = grid.reduce((most, each) => (gain(each) > gain(most) ? each : most));
		expect(gain(best)).toBeGreaterThan(3);
		expect(likeliestDeviation(some)).toEqual(best);
		const little = [odd([2, 2]), odd([9, 1])];
		expect(likeliestDeviation(little)).toBeNull();
		expect(likeliestDeviation([])).toBeNull();
	});
	it('own answers are mixed in as far as they are believed', () => {
		const usual = {
			background: [0.8, 0.2],
			none: { chances: [0.8, 0.2], weight: 5 },
			perFault: [
				{ chances: [0.9, 0.1], weight: 100, doubts: [0.2, 0.1] },
				{ chances: [0.5, 0.5], weight: 7, doubts: [0, 0] }
			]
		};
		const { perFault, none, background } = withDeviations(usual, odd([1, 6]), [0.6], {
			share: 0.1,
			faults: 0.4,
			weight: 3
		});
		const mine = mean([1, 6], [2.7, 0.3]);
		expect(perFault[0]?.chances[0]).toBeCloseTo(0.4 * 0.9 + 0.6 * (mine[0] as number), 12);
		expect(perFault[0]?.weight).toBeCloseTo(0.4 * 100 + 0.6 * 10, 12);
		const apart = Math.log(mine[0] as number) - Math.log(0.9);
		expect(perFault[0]?.doubts[0]).toBeCloseTo(0.24 * apart ** 2 + 0.4 * 0.2, 12);
		expect([perFault[1], none, background]).toEqual([usual.perFault[1], usual.none, usual.background]);
		// under a twentieth it is left as it is
		const at = (chance: number) =>
			withDeviations(usual, odd([1, 6]), [chance], { share: 0.1, faults: 0.4, weight: 3 }).perFault[0];
		expect(at(0.049)).toBe(usual.perFault[0]);
		expect(at(0.05)).not.toEqual(usual.perFault[0]);
	});
	it('what others foretell is what is known less a model’s own part of it, never nothing', () => {
		expect(withoutOwn({ chances: [0.9, 0.1], weight: 10, doubts: [] }, [2, 0.5], 1)).toEqual([7, 0.5]);
		expect(withoutOwn({ chances: [0.9, 0.1], weight: 10, doubts: [] }, [2, 1], 0.5)).toEqual([8, 0.5]);
		expect(withoutOwn({ chances: [0.9, 0.1], weight: 10, doubts: [] }, [9, 1], 1)).toEqual([0.02, 0.02]);
	});
	it('models that turn the usual round are found, and what is usual is found without them', () => {
		const counts = (own: number[]) => [own, [15, 15], [15, 15]].map((own, fault) => ({ fault, counts: own }));
		const plain = Array.from({ length: 12 }, (_, i) => ({
			model: `m${i}`,
			question: i < 9 ? 'a:x' : 'a:y',
			rows: counts([27, 3])
		}));
		const strange = { model: 'odd', question: 'a:x', rows: counts([2, 26]) };
		const all = [...plain, strange];
		const { deviating: own, usual } = inOneGo(
			usualAndOwn(
				all,
				(question, less) => {
					const perFault = [0, 1, 2].map((fault) => {
						const of = (some: readonly OwnCounts[], k: number) =>
							sum(some.map((row) => (row.fault === fault ? (row.counts[k] as number) : 0)));
						const rows = all.filter((each) => each.question === question).flatMap(({ rows }) => rows);
						const left = [0, 1].map((k) => of(rows, k) - of(less, k));
						return { chances: mean(left, [1, 1]), weight: sum(left) + 2, doubts: [0, 0] };
					});
					return { background: [0.5, 0.5], none: { chances: [0.5, 0.5], weight: 2 }, perFault };
				},
				(question) => question.slice(0, 2)
			)
		);
		const sure = ({ deviates }: (typeof own)[number]) => deviates.get(0) ?? 0;
		expect(own.filter((each) => sure(each) > 0.5).map(({ model, question }) => [model, question])).toEqual([
			['odd', 'a:x']
		]);
		const found = own.find(({ model }) => model === 'odd');
		expect(sure(found as (typeof own)[number])).toBeGreaterThan(0.9);
		expect(found?.answers().perFault[0]?.chances[1]).toBeGreaterThan(0.7);
		// nearly all of the odd one's 28 tickets are out of what is usual now
		expect(usual('a:x').perFault[0]?.chances[1]).toBeLessThan(0.11);
		expect(found?.deviates.get(1)).toBeLessThan(0.5);
		expect(usual('b:z').perFault[0]?.weight).toBe(2);
		expect(
			inOneGo(
				usualAndOwn(
					plain,
					() => usual('a:y'),
					() => 'all'
				)
			).deviating
		).toEqual([]);
	});
});
