import { describe, expect, it } from 'vitest';
import { catalog, none, lesson, times } from '$worlds/fuse-and-port';
import { engineOf, type Engine } from './engine';
import { harmChance, sizeChances, successBelief } from './infer/beliefs';
import { inferOdds } from './infer/odds';
import { opinionLikelihood, reliability } from './infer/opinion-likelihood';
import { setsOfUpToTwo } from './fault-sets';
import { emptyLearned, learn, type Lesson } from './learn/learn';
import { opinionsOf, opinionWords } from './learn/opinions';

/** Rules of the engine one by one, each at its bound and against a sum made by hand. */

const engine = (lessons: Lesson[] = []): Engine => engineOf(catalog, learn(lessons));

describe('beliefs by hand', () => {
	it('how many faults: (count + 10 belief) / (tickets + 10)', () => {
		expect(sizeChances(emptyLearned())).toEqual([0.04, 0.86, 0.095, 0.005]);
		const ten = learn(times(10, lesson()));
		expect(sizeChances(ten)[1]).toBeCloseTo((10 + 8.6) / 20, 12);
		expect(sizeChances(ten)[2]).toBeCloseTo(0.95 / 20, 12);
	});
	it('success: the catalog’s is worth eight tries, never certain either way', () => {
		expect(successBelief(engine(), 'fit-fuse')).toEqual({ chance: 0.9, weight: 8 });
		expect(successBelief(engine(), 'unknown').chance).toBe(0.9);
		const failed = engine([lesson({ tried: times(12, ['fit-fuse', false] as const) })]);
		expect(successBelief(failed, 'fit-fuse')).toEqual({ chance: (0.9 * 8) / 20, weight: 20 });
		const always = engine([lesson({ tried: times(9000, ['fit-fuse', true] as const) })]);
		expect(successBelief(always, 'fit-fuse').chance).toBe(0.995);
		const never = engine([lesson({ tried: times(9000, ['fit-fuse', false] as const) })]);
		expect(successBelief(never, 'fit-fuse').chance).toBe(0.02);
	});
	it('harm: nothing while none is known, then shrunk to the shop’s', () => {
		const features = { ...none, attempts: [{ operation: 'fit-fuse', resolved: true }] };
		expect(harmChance(learn([lesson({ features })]), 'fit-fuse')).toBe(0);
		const harmed = learn([lesson({ features, broke: ['fuse'] }), lesson({ features })]);
		const shop = 1 / 102;
		expect(harmChance(harmed, 'fit-fuse')).toBeCloseTo((1 + 30 * shop) / 32, 12);
		expect(harmChance(harmed, 'other')).toBeCloseTo(shop, 12);
	});
	it('a source is right every other time until it has shown otherwise', () => {
		const opinions = (source: string, fault: string) =>
			lesson({ features: { ...none, opinions: [{ source, fault }] } });
		expect(reliability(emptyLearned(), 'customer:')).toEqual({ chance: 0.5, from: 0 });
		const learned = learn([...times(6, opinions('technician:ada', 'fuse')), opinions('customer:', 'port')]);
		const kind = (6 + 0.5 * 4) / 10;
		expect(reliability(learned, 'technician:new').chance).toBeCloseTo(kind, 12);
		expect(reliability(learned, 'technician:ada').chance).toBeCloseTo((6 + 6 * kind) / 12, 12);
		const right = learn(times(5000, opinions('technician:ada', 'fuse')));
		expect(reliability(right, 'technician:ada').chance).toBe(0.98);
		const wrong = learn(times(5000, opinions('technician:ada', 'port')));
		expect(reliability(wrong, 'technician:ada').chance).toBe(0.02);
	});
	it('an opinion under every set, by hand; a guess counts half', () => {
		const sets = setsOfUpToTwo(2);
		const say = (source: string) => opinionLikelihood(engine(), sets, { source, fault: 'fuse' });
		const [nothing, fuse, port, both] = say('customer:').logLikelihood;
		expect(nothing).toBeCloseTo(Math.log(0.5), 12);
		expect(fuse).toBeCloseTo(Math.log(0.5), 12);
		expect(port).toBeCloseTo(Math.log((0.5 * 0.5) / 0.5), 12);
		expect(both).toBeCloseTo(Math.log(0.25), 12);
		say('technician:ada').logLikelihood.forEach((log, s) =>
			expect(log).toBeCloseTo(0.5 * (say('customer:').logLikelihood[s] as number), 12)
		);
		expect(say('customer:').evidence).toBe('customer:=fuse');
	});
	it('opinions: the first of each source, of known faults; private customers are one source', () => {
		const opinions = [
			{ from: 'customer' as const, fault: 'gone' },
			{ from: 'customer' as const, fault: 'port' },
			{ from: 'customer' as const, fault: 'fuse' },
			{ from: 'technician' as const, fault: 'fuse', by: 'ada' },
			{ from: 'technician' as const, fault: 'port', by: 'noor' },
			{ from: 'technician' as const, fault: 'fuse' }
		];
		expect(opinionsOf({ opinions, customer: { name: 'Quay', kind: 'private' } }, catalog)).toEqual([
			{ source: 'customer:', fault: 'port' },
			{ source: 'technician:ada', fault: 'fuse' },
			{ source: 'technician:noor', fault: 'port' },
			{ source: 'technician:', fault: 'fuse' }
		]);
		expect(opinionsOf({ opinions, customer: { name: 'Quay', kind: 'trade' } }, catalog)[0]?.source).toBe(
			'customer:Quay'
		);
		expect(opinionsOf({}, catalog)).toEqual([]);
		expect(opinionWords(catalog, 'customer:=fuse')).toBe('the customer claims: Fuse');
		expect(opinionWords(catalog, 'customer:Quay=fuse')).toBe('Quay claims: Fuse');
		expect(opinionWords(catalog, 'technician:ada=fuse')).toBe('first guess by Ada: Fuse');
		expect(opinionWords(catalog, 'technician:=gone')).toBe('first guess by somebody: gone');
		expect(opinionWords(catalog, 'probe=open')).toBeNull();
	});
});

describe('odds', () => {
	it('a young shop’s interval is wider by how few tickets there are, by hand', () => {
		const width = (some: Engine) => {
			const { faults } = inferOdds(some, 'm', none).odds;
			const { low, high } = faults.find(({ code }) => code === 'fuse') as (typeof faults)[number];
			const logit = (p: number) => Math.log(p / (1 - p));
			return { half: (logit(high) - logit(low)) / 2, faults };
		};
		// variance of a share's log is (1 - p) / (p n); its rival's beside it, grown by 1 + 100 / (tickets + 50)
		for (const count of [0, 50]) {
			const some = engine(times(count, lesson()));
			const shares = some.fitted.shares.of('m');
			const variance = shares.reduce(
				(sum, { chance, weight }) => sum + (1 - chance) / (chance * Math.max(1, weight)),
				0
			);
			expect(width(some).half).toBeCloseTo(1.2816 * Math.sqrt((1 + 100 / (count + 50)) * variance), 6);
		}
	});
	it('holds its chance, sums to one, and says how many tickets it leans on', () => {
		const some = engine([
			...times(9, lesson()),
			lesson({ faults: ['port'] }),
			lesson({ model: 'other', faults: [] })
		]);
		const { odds, posterior, sets } = inferOdds(some, 'm', none);
		expect(odds).toMatchObject({ learnedFrom: 11, fromModel: 10, unseen: 0 });
		expect(odds.faults.map(({ code, from }) => [code, from])).toEqual([
			['fuse', 9],
			['port', 1]
		]);
		expect(posterior.reduce((sum, p) => sum + p, 0)).toBeCloseTo(1, 12);
		expect(posterior).toHaveLength(sets.length);
		for (const { probability, low, high } of odds.faults)
			expect(low < probability && probability < high).toBe(true);
		expect(odds.sets.every(({ faults }) => faults.length > 0)).toBe(true);
		expect(odds.none).toBe(posterior[0]);
	});
	it('an operation that failed speaks against its fault, one that worked for it', () => {
		const some = engine(times(20, lesson()));
		const after = (resolved: boolean) =>
			inferOdds(some, 'm', { ...none, attempts: [{ operation: 'fit-fuse', resolved }] }).odds.faults.find(
				({ code }) => code === 'fuse'
			)?.probability ?? 0;
		const before =
			inferOdds(some, 'm', none).odds.faults.find(({ code }) => code === 'fuse')?.probability ?? 0;
		expect(after(false)).toBeLessThan(before);
		expect(after(true)).toBeGreaterThan(before);
		expect(
			inferOdds(some, 'm', { ...none, attempts: [{ operation: 'gone', resolved: false }] }).odds.faults[0]
				?.reasons
		).toEqual([]);
	});
});
