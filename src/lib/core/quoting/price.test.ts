import { describe, expect, it } from 'vitest';
import { catalog, cost, pricing, records } from '$worlds/priced-jobs';
import { buildCatalog } from '../catalog/catalog';
import { engineOf } from '../diagnosis/engine';
import { inferOdds } from '../diagnosis/infer/odds';
import { emptyLearned } from '../diagnosis/learn/learn';
import type { Step } from '../diagnosis/plan/next-step';
import { addAnswer } from './acceptance';
import { type JobCost } from './job-cost';
import { emptyPast } from './past';
import {
	chanceOfLoss,
	chanceOfLossAt,
	expectedProfitMinor,
	floorPriceMinor,
	judgePrice,
	type PriceInput
} from './price';
import { quoteJob } from './quote';

const engine = engineOf(catalog, emptyLearned());

describe('a price', () => {
	const job: JobCost = {
		...cost(),
		from: 4,
		chanceFixed: 0.8,
		comebackChance: 0.1,
		comebackCostMinor: 4000,
		costMinor: { p10: 0, p50: 0, p90: 0, mean: 4000 }
	};
	const input = (more: Partial<PriceInput> = {}) => pricing({ job, ...more });
	it('by hand: profit, floor and chance of a loss', () => {
		expect(expectedProfitMinor(10_000, 0.8, 4000, 0.1)).toBeCloseTo(0.8 * (10_000 - 400) - 4000, 10);
		expect(floorPriceMinor(0.8, 4000, 0.1)).toBe(5400);
		expect(expectedProfitMinor(5400, 0.8, 4000, 0.1)).toBeCloseTo(0, 8);
		expect(floorPriceMinor(0, 4000, 0.1)).toBe(Infinity);
		const draws = [
			{ costMinor: 100, fixed: true },
			{ costMinor: 101, fixed: true },
			{ costMinor: 1, fixed: false },
			{ costMinor: 0, fixed: false }
		];
		expect(chanceOfLoss(draws, 100)).toBe(0.5);
		expect(chanceOfLoss([], 100)).toBe(1);
		expect(chanceOfLossAt(50, 0.9, [20, 50, 60])).toBeCloseTo(0.1 + 0.9 / 3, 10);
		expect(chanceOfLossAt(50, 0.9, [])).toBeCloseTo(0.1, 10);
		// half of the unfixed are covered by a fee
		expect(chanceOfLossAt(50, 0.9, [20, 50, 60], 0.05)).toBeCloseTo(0.05 + 0.9 / 3, 10);
	});
	it('a comeback costs what it is expected to cost, in the floor and in the profit', () => {
		const dear = judgePrice(input({ job: { ...job, comebackCostMinor: 10_000 }, askedMinor: 9000 }));
		// 4000 over .8, and one comeback in ten at 10,000
		expect(dear.floorMinor).toBe(6000);
		expect(dear.expectedProfitMinor).toBe(Math.round(0.8 * (9000 - 1000) - 4000));
	});
	it('covers cost times the usual markup, never under the floor nor over the worth, in whole units', () => {
		expect(judgePrice(input())).toMatchObject({ floorMinor: 5400, priceMinor: 8000, verdict: 'quote' });
		expect(judgePrice(input({ markup: { ratio: 1, from: 9 } })).priceMinor).toBe(5400);
		expect(judgePrice(input({ markup: { ratio: 4, from: 9 } })).priceMinor).toBe(12_000);
		expect(judgePrice(input({ markup: { ratio: 4, from: 9 }, ceilingMinor: null })).priceMinor).toBe(16_000);
		// worth less than the floor: no more than it is worth is asked, and that brings nothing
		expect(judgePrice(input({ ceilingMinor: 3000 })).priceMinor).toBe(3000);
		expect(judgePrice(input({ ceilingMinor: 3050 })).expectedProfitMinor).toBeLessThan(0);
		expect(judgePrice(input({ markup: { ratio: 2.001, from: 9 } })).priceMinor).toBe(8100);
		expect(judgePrice(input({ askedMinor: 7777 }))).toMatchObject({
			priceMinor: 7777,
			expectedProfitMinor: Math.round(0.8 * (7777 - 400) - 4000)
		});
	});
	it.each<[Partial<PriceInput>, string]>([
		[{ ceilingMinor: 5399 }, 'not-worth-it'],
		[{ ceilingMinor: 5400 }, 'quote'],
		[{ ceilingMinor: null, first: 'measure', topChance: 0.59 }, 'diagnose-first'],
		[{ first: 'measure', topChance: 0.6 }, 'quote'],
		[{ first: 'repair', topChance: 0.1 }, 'quote'],
		[{ ceilingMinor: 5399, first: 'measure', topChance: 0.1 }, 'not-worth-it']
	])('with %j the verdict is %s', (more, verdict) => expect(judgePrice(input(more)).verdict).toBe(verdict));
	it('says what it rests on', () => {
		const reasons = (more: Partial<PriceInput>) => judgePrice(input(more)).reasons.join(' ');
		expect(reasons({})).toContain('Minutes from 4 past jobs');
		expect(reasons({ job: { ...job, from: 0 } })).toContain('the minutes are the catalog’s');
		expect(reasons({})).toContain('2.0 times the cost (9 jobs)');
		expect(reasons({ markup: { ratio: 2, from: 0 } })).toContain('twice the cost');
		expect(reasons({ first: 'measure', topChance: 0.41 })).toContain('only at 41 %');
		expect(reasons({})).not.toContain(', and measuring');
		expect(reasons({ ceilingMinor: 1 })).toContain('The repair would cost more');
		expect(reasons({})).not.toContain('The repair would cost more');
		expect(reasons({ ceilingMinor: null })).toContain('no upper limit');
		expect(reasons({})).not.toContain('no upper limit');
	});
	it('a fee for what could not be repaired lowers the floor and the loss, by hand', () => {
		const policy = { stepMinor: 100, feeMinor: 1500 };
		// 4000 less a fifth of 1500, over .8, and the comebacks
		const found = judgePrice(input({ policy, askedMinor: 9000 }));
		expect(found.floorMinor).toBe(Math.round((4000 - 300) / 0.8 + 400));
		expect(found.expectedProfitMinor).toBe(Math.round(0.8 * (9000 - 400) + 0.2 * 1500 - 4000));
		expect(expectedProfitMinor(found.floorMinor ?? NaN, 0.8, 4000, 0.1, { feeMinor: 1500 })).toBeCloseTo(
			0,
			-1
		);
		const draws = [
			{ costMinor: 1500, fixed: false },
			{ costMinor: 1501, fixed: false }
		];
		expect(chanceOfLoss(draws, 0, 1500)).toBe(0.5);
		// what pays for itself has no floor under nothing
		expect(floorPriceMinor(0.5, 1000, 0, { feeMinor: 5000 })).toBe(0);
	});
	it('prices are multiples of the shop’s step', () => {
		const policy = { stepMinor: 500, feeMinor: 0 };
		expect(judgePrice(input({ policy, markup: { ratio: 2.001, from: 9 } })).priceMinor).toBe(8500);
	});
	it('names none where nothing is ever fixed, and says why', () => {
		const never = { ...job, chanceFixed: 0, draws: job.draws.map((draw) => ({ ...draw, fixed: false })) };
		const found = judgePrice(input({ job: never }));
		expect(found).toMatchObject({
			floorMinor: null,
			priceMinor: null,
			usualPriceMinor: null,
			verdict: 'not-worth-it',
			expectedProfitMinor: -4000
		});
		expect(found.reasons[0]).toBe(
			'No repair in the catalog is expected to fix it, so no price can be named.'
		);
		// neither of a list, nor with what would be measured first; one that was asked stays what it was
		const listed = { job: never, listMinor: 5000, first: 'measure' as const, topChance: 0.1 };
		expect(judgePrice(input(listed))).toMatchObject({ priceMinor: null, verdict: 'not-worth-it' });
		expect(judgePrice(input({ job: never, askedMinor: 5000 })).priceMinor).toBe(5000);
	});
});

describe('a quote', () => {
	const nothing = { signs: [], answers: [], attempts: [] };
	const inference = inferOdds(engine, 'm', nothing);
	const step = (kind: Step['kind']): Step => ({
		kind,
		code: 'x',
		label: '',
		expectedCostMinor: 0,
		expectedMinutes: 0,
		why: '',
		caution: null,
		cautions: [],
		outcomes: []
	});
	const quote = (more: Partial<Parameters<typeof quoteJob>[0]> = {}) =>
		quoteJob({
			engine,
			past: emptyPast(),
			model: 'm',
			testsDone: [],
			faults: null,
			inference,
			next: [],
			askedMinor: null,
			hourlyMinor: null,
			...more
		});
	it('of known faults costs what they need; of odds a mixture', () => {
		const known = quote({ faults: ['fuse'] });
		expect(known.job.operations).toEqual(['fit-fuse']);
		expect(known.job.chanceFixed).toBeGreaterThan(0.9);
		expect(quote().job.operations.length).toBeGreaterThan(1);
		expect(quote({ faults: [] }).job.chanceFixed).toBe(0);
	});
	it('is not worth it exactly where no way of doing it brings more than it costs', () => {
		const pays = ({ options, expectedProfitMinor }: ReturnType<typeof quote>) =>
			expectedProfitMinor > 0 ||
			options.some((option) => option.kind === 'repair' && option.price.expectedProfitMinor > 0);
		for (const valueMinor of [500, 2000, 4000, 6000, 9000, 20_000]) {
			for (const faults of [null, ['fuse'], ['port']]) {
				const made = quote({ valueMinor, faults, next: [step('operation'), step('give-up')] });
				expect(made.verdict === 'not-worth-it', `${valueMinor} ${faults}`).toBe(!pays(made));
			}
		}
		expect(quote({ valueMinor: 500 }).reasons[0]).toMatch(/The repair would cost more|No option is expected/);
		expect(quote({ valueMinor: 20_000, faults: ['fuse'] }).verdict).toBe('quote');
	});
	it('an hour costs the named technician’s, else the mean, else the placeholder', () => {
		const of = (more: Partial<Parameters<typeof quoteJob>[0]>) => {
			const { job } = quote({ faults: ['port'], ...more });
			return Math.round((60 * job.costMinor.mean) / job.minutes.mean);
		};
		expect(of({})).toBe(3000);
		expect(of({ hourlyMinor: 6000 })).toBe(6000);
		const nobody = buildCatalog(records.filter(({ record }) => record !== 'technician'));
		expect(of({ engine: engineOf(nobody, emptyLearned()) })).toBe(3000);
		const dear = buildCatalog([
			...records,
			{ record: 'technician', code: 'ada', name: 'Ada', hourly_cost: 90 }
		]);
		expect(of({ engine: engineOf(dear, emptyLearned()) })).toBe(9000);
	});
	it('the worth of the model is the ceiling, where it has any', () => {
		expect(quote().ceilingMinor).toBe(12_000);
		expect(quote({ model: 'worthless' }).ceilingMinor).toBeNull();
		expect(quote({ model: 'unknown' }).ceilingMinor).toBeNull();
	});
	it('options stand best first: by expected profit where it is known what is accepted, else by their floors', () => {
		const two = buildCatalog([
			...records,
			...[15, 45, 90].map((minutes, i) => ({
				record: 'operation' as const,
				code: `way-${i}`,
				label: `Way ${i}`,
				minutes,
				fixes: ['fuse'],
				success: 0.5 + 0.2 * i
			}))
		]);
		const learnt = emptyPast();
		for (let i = 0; i < 400; i++) {
			const [valueMinor, priceMinor] = [12_000, 200 * (i % 60)];
			const accepted = priceMinor < 5500 + 40 * (i % 7);
			addAnswer(learnt.answers, { priceMinor, valueMinor, kind: 'private', accepted });
		}
		for (const past of [emptyPast(), learnt]) {
			for (const hourlyMinor of [1000, 3000, 9000]) {
				const { options, acceptance } = quote({
					engine: engineOf(two, emptyLearned()),
					past,
					faults: ['fuse'],
					customerKind: 'private',
					hourlyMinor
				});
				const repairs = options.flatMap((option) => (option.kind === 'repair' ? [option.price] : []));
				expect(repairs.length).toBeGreaterThan(3);
				expect(acceptance === null).toBe(past !== learnt);
				const worth = repairs.map(({ expectedProfitMinor, floorMinor }) =>
					acceptance ? expectedProfitMinor : (expectedProfitMinor > 0 ? 1e9 : 0) - floorMinor
				);
				expect(worth).toEqual([...worth].sort((a, b) => b - a));
			}
		}
	});
	it('without a repair for it there is nothing to offer but to hand it back, and no price', () => {
		const found = quote({ faults: ['mystery'], model: 'worthless' });
		expect(found).toMatchObject({ priceMinor: null, floorMinor: null, verdict: 'not-worth-it' });
		expect(found.options).toEqual([{ kind: 'decline' }]);
		expect(found.together).toBeNull();
	});
	it('measures first where the plan does and no fault stands out', () => {
		const unclear = { ceilingMinor: null };
		expect(quote({ next: [step('test')], model: 'worthless' })).toMatchObject({
			verdict: 'diagnose-first',
			...unclear
		});
		expect(quote({ next: [step('measure')], model: 'worthless' }).verdict).toBe('diagnose-first');
		expect(quote({ next: [step('operation')], model: 'worthless' }).verdict).toBe('quote');
		expect(quote({ next: [], model: 'worthless' }).verdict).toBe('quote');
		expect(quote({ next: [step('test')], faults: ['fuse'], model: 'worthless' }).verdict).toBe('quote');
	});
	it('counts comebacks and answers of the past', () => {
		const past = { ...emptyPast(), fixed: new Map([['m', 100]]), comebacks: new Map([['m', 50]]) };
		for (let i = 0; i < 12; i++)
			addAnswer(past.answers, { priceMinor: 6000, valueMinor: 12_000, kind: 'trade', accepted: true });
		const told = quote({ past, faults: ['fuse'] });
		expect(told.job.comebackChance).toBeGreaterThan(0.4);
		expect(told.acceptance).toMatchObject({ from: 0, fromAll: 12 });
		expect(quote({ past, faults: ['fuse'], customerKind: 'trade' }).acceptance?.from).toBe(12);
		expect(quote().acceptance).toBeNull();
	});
});
