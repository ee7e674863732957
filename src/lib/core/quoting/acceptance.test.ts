import { describe, expect, it } from 'vitest';
import { answersOfMarket, inventMarket, MARKETS } from '$worlds/quoted-market';
import { seededRandom } from '../units/random';
import {
	acceptanceOf,
	acceptedWithin,
	addAnswer,
	chanceAccepted,
	copyOfAnswers,
	emptyAnswers,
	type AskedKind,
	type LearnedAnswers
} from './acceptance';

/** Chance of a price, for one kind of customer. */
const chances = (learned: LearnedAnswers, valueMinor: number | null, kind: AskedKind) => {
	const acceptance = acceptanceOf(learned, valueMinor, kind)!;
	return (priceMinor: number) => chanceAccepted(acceptance, priceMinor);
};
import { cost, pricing } from '$worlds/priced-jobs';
import { judgePrice, profitAt, type PriceInput } from './price';
import type { NamedPrice } from './quote';

const answered = (
	count: number,
	accepted: boolean,
	{ priceMinor = 6000, valueMinor = 12_000 as number | null, kind = 'private' as AskedKind } = {}
) => {
	const learned = emptyAnswers();
	for (let i = 0; i < count; i++) addAnswer(learned, { priceMinor, valueMinor, kind, accepted });
	return learned;
};

describe('what answers say', () => {
	it('nine say nothing, ten do; how many are of such customers is told', () => {
		expect(acceptanceOf(answered(9, true), 12_000, 'private')).toBeNull();
		expect(acceptanceOf(answered(10, true), 12_000, 'private')).toMatchObject({ from: 10, fromAll: 10 });
		expect(acceptanceOf(answered(10, true), 12_000, 'trade')).toMatchObject({ from: 0, fromAll: 10 });
	});
	it('devices of known and of unknown worth are told apart', () => {
		expect(acceptanceOf(answered(20, true), null, 'private')).toBeNull();
		const unvalued = answered(20, true, { valueMinor: null });
		expect(acceptanceOf(unvalued, 12_000, 'private')).toBeNull();
		expect(acceptanceOf(unvalued, null, 'private')?.fromAll).toBe(20);
	});
	it('worth twice as much at twice the price is as dear', () => {
		const learned = answersOfMarket(seededRandom(3), inventMarket(seededRandom(4), 'normal'), 200);
		const [one, two] = [chances(learned, 10_000, 'trade'), chances(learned, 20_000, 'trade')];
		expect(two(8000)).toBeCloseTo(one(4000), 12);
		expect(one(4000)).not.toBeCloseTo(one(8000), 2);
	});
	it('ten that all accept are not certain, and the interval holds the chance', () => {
		const acceptance = acceptanceOf(answered(10, true), 12_000, 'private')!;
		const told = acceptedWithin(acceptance, 6000);
		expect(told.chance).toBe(chanceAccepted(acceptance, 6000));
		// it goes between threads as it is
		expect(acceptedWithin(structuredClone(acceptance), 6000)).toEqual(told);
		expect(told.chance).toBeGreaterThan(0.8);
		expect(told.chance).toBeLessThan(0.99);
		expect(told.low).toBeLessThan(told.chance);
		expect(told.high).toBeGreaterThan(told.chance);
	});
	it('never rises with the price, whatever was answered', () => {
		for (let seed = 1; seed <= 12; seed++) {
			const random = seededRandom(seed);
			const learned = emptyAnswers();
			// nonsense: the dearer, the rather accepted
			for (let i = 0; i < 60; i++) {
				const priceMinor = Math.round(1000 + 11_000 * random());
				const kind = random() < 0.5 ? 'private' : 'trade';
				const accepted = random() < priceMinor / 12_000;
				addAnswer(learned, { priceMinor, valueMinor: 12_000, kind, accepted });
			}
			for (const kind of ['private', 'trade', 'unknown'] as const) {
				const chance = chances(learned, 12_000, kind);
				let before = 1;
				for (let price = 100; price < 20_000; price += 400) {
					expect(chance(price)).toBeLessThanOrEqual(before + 1e-12);
					before = chance(price);
				}
			}
		}
	});
	it('kinds of customers lean on each other, and part where the answers say so', () => {
		const learned = answered(150, true, { kind: 'trade' });
		for (let i = 0; i < 150; i++)
			addAnswer(learned, { priceMinor: 6000, valueMinor: 12_000, kind: 'private', accepted: i % 4 === 0 });
		const at = (kind: AskedKind) => chances(learned, 12_000, kind)(6000);
		expect(at('trade')).toBeGreaterThan(0.93);
		expect(Math.abs(at('private') - 38 / 152)).toBeLessThan(0.06);
		expect(at('unknown')).toBeGreaterThan(at('private'));
		expect(at('unknown')).toBeLessThan(at('trade'));
	});
	it('are taken out as they came, a copy stays, and their order has no effect', () => {
		const learned = answered(3, true);
		const copy = copyOfAnswers(learned);
		for (let i = 0; i < 3; i++)
			addAnswer(learned, { priceMinor: 6000, valueMinor: 12_000, kind: 'private', accepted: true }, -1);
		expect(learned).toEqual(emptyAnswers());
		expect([...copy.valued.get('private')!.values()]).toEqual([[3, 3]]);
		const prices = [3000, 4000, 5000, 3000];
		const both = [prices, [...prices].reverse()].map((order) => {
			const counts = emptyAnswers();
			for (const priceMinor of order)
				addAnswer(counts, { priceMinor, valueMinor: 12_000, kind: 'trade', accepted: priceMinor < 4500 });
			return JSON.stringify([...copyOfAnswers(counts).valued.get('trade')!]);
		});
		expect(both[0]).toBe(both[1]);
	});
});

describe('in invented markets', () => {
	/** Mean error of the chance over prices from a fifth to four fifths of the worth, and what the best price of its own loses. */
	function judged(form: (typeof MARKETS)[number], quotes: number) {
		let [off, lost, count] = [0, 0, 0];
		for (let seed = 1; seed <= 4; seed++) {
			const random = seededRandom(seed * 77);
			const market = inventMarket(random, form);
			const learned = answersOfMarket(random, market, quotes);
			for (const kind of ['private', 'trade'] as const) {
				const chance = chances(learned, 10_000, kind);
				const shares = Array.from({ length: 31 }, (_, i) => 0.2 + 0.02 * i);
				off +=
					shares.reduce(
						(sum, share) => sum + Math.abs(chance(share * 10_000) - market.truth(share, kind)),
						0
					) / shares.length;
				const prices = Array.from({ length: 170 }, (_, i) => 1500 + 50 * i);
				const truly = (price: number) => market.truth(price / 10_000, kind) * (price - 1500);
				const best = Math.max(...prices.map(truly));
				const own = prices.reduce((a, b) => (chance(b) * (b - 1500) > chance(a) * (a - 1500) ? b : a));
				lost += 1 - truly(own) / best;
				count += 1;
			}
		}
		return { off: off / count, lost: lost / count };
	}
	it.each(MARKETS)(
		'limits spread in the %s way: near the truth after 300 answers, nearer after 1,500',
		(form) => {
			const [few, many] = [judged(form, 300), judged(form, 1500)];
			expect(few.off).toBeLessThan(0.05);
			expect(few.lost).toBeLessThan(0.05);
			expect(many.off).toBeLessThan(0.025);
			expect(many.lost).toBeLessThan(0.015);
		}
	);
});

describe('the price with the greatest expected profit', () => {
	const learned = answersOfMarket(seededRandom(8), inventMarket(seededRandom(9), 'logistic'), 400);
	const job = {
		...cost(),
		chanceFixed: 0.9,
		comebackChance: 0.1,
		comebackCostMinor: 3000,
		costMinor: { p10: 0, p50: 0, p90: 0, mean: 3000 }
	};
	const acceptance = acceptanceOf(learned, 20_000, 'private');
	const input = (more: Partial<PriceInput> = {}) =>
		pricing({ job, acceptance, ceilingMinor: 20_000, ...more });
	it('no whole price between floor and ceiling is better in its own figures (every one of them)', () => {
		for (const more of [{}, { ceilingMinor: 6000 }, { ceilingMinor: null }, { ceilingMinor: 90_000 }]) {
			// the job's cost is drawn once, not for every price
			const asked = input(more);
			const { priceMinor, floorMinor, usualPriceMinor } = judgePrice(asked) as NamedPrice;
			const best = profitAt(asked, priceMinor);
			const { lowMinor, highMinor } = acceptance!.asked!;
			const ceiling = Math.min(highMinor, more.ceilingMinor ?? 6 * usualPriceMinor);
			const floor = Math.max(floorMinor, Math.min(lowMinor, ceiling));
			expect(priceMinor).toBeGreaterThanOrEqual(floorMinor);
			expect(priceMinor).toBeLessThanOrEqual(ceiling);
			expect(priceMinor % 100).toBe(0);
			for (let price = Math.ceil(floor / 100) * 100; price <= ceiling; price += 100)
				expect(profitAt(asked, price)).toBeLessThanOrEqual(best + 1e-9);
		}
	});
	it('a screen proposes the usual price, and the best step of at most 15 % from it where that pays (every step looked at)', () => {
		let stepped = 0;
		// the last one asks what is best already
		const best = (judgePrice(input()).priceMinor as number) / job.costMinor.mean;
		for (const ratio of [1.2, 1.6, 2, 2.6, 3.4, 5, best]) {
			for (const more of [{}, { ceilingMinor: 8000 }, { ceilingMinor: null }]) {
				const asked = input({ ...more, markup: { ratio, from: 200 } });
				const { proposal, usualPriceMinor, floorMinor } = judgePrice(asked) as NamedPrice;
				expect(proposal?.priceMinor).toBe(usualPriceMinor);
				const usual = profitAt(asked, usualPriceMinor);
				expect(proposal?.expectedProfitMinor).toBe(Math.round(usual));
				const { lowMinor, highMinor } = acceptance!.asked!;
				const low = Math.max(0.85 * usualPriceMinor, lowMinor, floorMinor);
				const high = Math.min(1.15 * usualPriceMinor, highMinor, more.ceilingMinor ?? Infinity);
				let [most, bestMinor] = [-Infinity, 0];
				for (let price = Math.ceil(low / 100) * 100; price <= high; price += 100)
					if (profitAt(asked, price) > most) [most, bestMinor] = [profitAt(asked, price), price];
				const pays = bestMinor !== usualPriceMinor && most - usual > 0.02 * Math.max(0, usual);
				expect(proposal?.step ?? null).toEqual(
					pays ? { priceMinor: bestMinor, gainMinor: Math.round(most - usual) } : null
				);
				stepped += pays ? 1 : 0;
			}
		}
		expect(stepped).toBeGreaterThan(3);
		expect(stepped).toBeLessThan(21);
	});
	it('no step is proposed from the price of a list, nor while nobody knows what is accepted', () => {
		const markup = { ratio: 1.2, from: 200 };
		expect(judgePrice(input({ markup })).proposal?.step).not.toBeNull();
		const listed = judgePrice(input({ markup, listMinor: 4400 })).proposal;
		expect([listed?.priceMinor, listed?.step]).toEqual([4400, null]);
		expect(judgePrice(input({ markup, acceptance: null })).proposal?.step).toBeNull();
	});
	it('with a step of five no multiple of it is better', () => {
		const policy = { stepMinor: 500, feeMinor: 0 };
		const asked = input({ policy });
		const { priceMinor, floorMinor } = judgePrice(asked) as NamedPrice;
		expect(priceMinor % 500).toBe(0);
		const best = profitAt(asked, priceMinor);
		const { lowMinor, highMinor } = acceptance!.asked!;
		const [floor, ceiling] = [Math.max(floorMinor, lowMinor), Math.min(20_000, highMinor)];
		for (let price = Math.ceil(floor / 500) * 500; price <= ceiling; price += 500)
			expect(profitAt(asked, price)).toBeLessThanOrEqual(best + 1e-9);
	});
	it('the expected profit counts the chance that it is accepted; the usual price stands beside', () => {
		const found = judgePrice(input({ askedMinor: 9000 }));
		const chance = chanceAccepted(input().acceptance!, 9000);
		expect(found.expectedProfitMinor).toBe(Math.round(chance * (0.9 * (9000 - 300) - 3000)));
		expect(found.usualPriceMinor).toBe(6000);
		expect(chance).toBeLessThan(1);
	});
	it('is the usual one where too few were answered, or nothing lies between floor and ceiling', () => {
		expect(judgePrice(input({ acceptance: null })).priceMinor).toBe(6000);
		expect(judgePrice(input({ ceilingMinor: 1000 })).priceMinor).toBe(
			judgePrice(input({ ceilingMinor: 1000 })).usualPriceMinor
		);
		expect(judgePrice(input({ acceptance: null })).reasons.join(' ')).toContain('Too few answered quotes');
		expect(judgePrice(input()).reasons.join(' ')).toContain('Chance of a yes from 400 answered quotes');
	});
});

describe('what was asked for', () => {
	/** so many quotes at each price over a value of 100 */
	const askedAt = (...quotes: [price: number, times: number][]) => {
		const learned = emptyAnswers();
		for (const [price, times] of quotes)
			for (let i = 0; i < times; i++)
				addAnswer(learned, {
					priceMinor: price * 100,
					valueMinor: 10_000,
					kind: i % 2 ? 'private' : 'trade',
					accepted: price < 60
				});
		return learned;
	};
	it('is the 5th to the 95th percentile over value of all who answered, widened by a tenth', () => {
		const learned = askedAt([10, 4], [40, 48], [60, 44], [200, 4]);
		const asked = acceptanceOf(learned, 10_000, 'private')?.asked;
		// in steps of a fiftieth
		expect(asked?.lowMinor).toBeCloseTo(
			0.9 * 100 * 100 * Math.exp(0.02 * Math.round(Math.log(0.4) / 0.02)),
			6
		);
		expect(asked?.highMinor).toBeCloseTo(
			1.1 * 100 * 100 * Math.exp(0.02 * Math.round(Math.log(0.6) / 0.02)),
			6
		);
		expect(asked?.from).toBe(100);
		// twice the worth, twice the range
		expect(acceptanceOf(learned, 20_000, 'private')?.asked?.lowMinor).toBeCloseTo(
			2 * (asked?.lowMinor as number),
			6
		);
	});
	it('is told from twenty answers on', () => {
		expect(acceptanceOf(askedAt([40, 19]), 10_000, 'private')?.asked).toBeNull();
		expect(acceptanceOf(askedAt([40, 20]), 10_000, 'private')?.asked).not.toBeNull();
	});
	it('holds the suggested price, whatever acceptance would be beyond it', () => {
		const acceptance = acceptanceOf(askedAt([30, 200], [33, 200]), 10_000, 'private');
		const cheap = {
			...cost(),
			chanceFixed: 1,
			comebackChance: 0,
			comebackCostMinor: 0,
			costMinor: { p10: 0, p50: 0, p90: 0, mean: 1000 }
		};
		const { priceMinor, range } = judgePrice(
			pricing({ job: cheap, acceptance, ceilingMinor: 10_000 })
		) as NamedPrice;
		expect(priceMinor).toBeLessThanOrEqual(range?.highMinor as number);
		expect(priceMinor).toBeGreaterThan(3300);
		// all that was asked for lies under the floor: the floor
		const dear = { ...cheap, costMinor: { p10: 0, p50: 0, p90: 0, mean: 5000 } };
		expect(judgePrice(pricing({ job: dear, acceptance, ceilingMinor: 10_000 })).priceMinor).toBe(5000);
		// all of it lies over the ceiling: the ceiling
		expect(judgePrice(pricing({ job: cheap, acceptance, ceilingMinor: 2000 })).priceMinor).toBe(2000);
	});
	it('with fewer answers the usual price is suggested', () => {
		const acceptance = acceptanceOf(askedAt([30, 12]), 10_000, 'private');
		const { priceMinor, usualPriceMinor, range } = judgePrice(pricing({ acceptance, ceilingMinor: 10_000 }));
		expect([priceMinor, range]).toEqual([usualPriceMinor, null]);
	});
});
