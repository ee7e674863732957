import { describe, expect, it } from 'vitest';
import { inventReturningWorld, trueRatios, type ReturningLaw } from '$worlds/returning-world';
import { cholesky, choleskySolve } from '../statistics/cholesky';
import { seededRandom } from '../units/random';
import { comebackEffects } from '$worlds/comebacks-in-one-go';
import { fairRatio } from './fair-ratio';
import { followedJobs, RETURN_KINDS, type FollowedJob, type ReturnKind } from './followed-jobs';

/**
 * Fair ratios of invented shops, good technicians given the hard models, against an estimator that is told the law: how many come back,
 * how soon, which kinds do anything and how far their levels spread.
 */
const LAW: ReturningLaw = {
	jobs: 2500,
	days: 700,
	technicians: 6,
	models: 14,
	operations: 8,
	spread: { technician: 0.35, model: 0.4, operation: 0.4, lot: 0.3 },
	rate: 0.07,
	meanDays: 30,
	lotUses: 50,
	sorted: 6,
	second: 0.1
};

/** The likeliest effects under the true law: Newton's steps on all levels together. */
function toldTheLaw(jobs: readonly FollowedJob[], { spread, rate, meanDays }: ReturningLaw) {
	const kinds = RETURN_KINDS.filter((kind) => spread[kind] !== undefined);
	const places = new Map<string, number>();
	const spreads: number[] = [];
	const rows = jobs.map(({ levels }) =>
		kinds.flatMap((kind) =>
			levels[kind].map((level) => {
				const key = `${kind} ${level}`;
				if (!places.has(key)) spreads.push(spread[kind]!);
				const place = places.get(key) ?? places.size;
				places.set(key, place);
				return place;
			})
		)
	);
	const n = places.size;
	const effect = new Float64Array(n);
	for (let round = 0; round < 15; round++) {
		const slope = new Float64Array(n);
		const curve = new Float64Array(n * n);
		rows.forEach((row, i) => {
			const { time, event } = jobs[i]!;
			const risk = Math.exp(row.reduce((sum, at) => sum + effect[at]!, 0));
			const expected = rate * (1 - Math.exp(-time / meanDays)) * risk;
			for (const a of row) {
				slope[a]! += (event ? 1 : 0) - expected;
				for (const b of row) curve[a * n + b]! += expected;
			}
		});
		spreads.forEach((each, at) => {
			slope[at]! -= effect[at]! / each ** 2;
			curve[at * n + at]! += 1 / each ** 2;
		});
		const step = choleskySolve(cholesky(curve, n), n, slope);
		step.forEach((by, at) => (effect[at]! += Math.max(-1, Math.min(1, by))));
	}
	const effects = Object.fromEntries(RETURN_KINDS.map((kind) => [kind, new Map<string, number>()])) as Record<
		ReturnKind,
		Map<string, number>
	>;
	for (const [key, place] of places) {
		const [kind, level] = key.split(' ') as [ReturnKind, string];
		effects[kind].set(level, effect[place]!);
	}
	return (kind: ReturnKind) => trueRatios({ effects }, jobs, kind);
}

interface Judged {
	/** squared errors of logarithms: ours, of who is told the law, of raw ratios */
	own: number;
	told: number;
	raw: number;
	held: number;
	rows: number;
}

function judged(law: ReturningLaw, shops: number): Map<ReturnKind, Judged> {
	const kinds = RETURN_KINDS.filter((kind) => law.spread[kind] !== undefined);
	const sums = new Map(kinds.map((kind) => [kind, { own: 0, told: 0, raw: 0, held: 0, rows: 0 }]));
	for (let seed = 1; seed <= shops; seed++) {
		const world = inventReturningWorld(seededRandom(77 * seed), law);
		const jobs = followedJobs(world.tickets, world.asOf, new Map());
		const effects = comebackEffects(jobs);
		const told = toldTheLaw(jobs, law);
		const share = (of: readonly FollowedJob[]) => of.filter(({ event }) => event).length / of.length;
		for (const [kind, sum] of sums) {
			const best = told(kind);
			for (const [level, truth] of trueRatios(world, jobs, kind)) {
				const fair = fairRatio(effects, kind, level)!;
				const own = jobs.filter(({ levels }) => levels[kind].includes(level));
				sum.own += Math.log(fair.ratio / truth) ** 2;
				sum.told += Math.log(best.get(level)! / truth) ** 2;
				sum.raw += Math.log(Math.max(0.1, share(own) / share(jobs)) / truth) ** 2;
				sum.held += truth >= fair.low && truth <= fair.high ? 1 : 0;
				sum.rows += 1;
			}
		}
	}
	return sums;
}

const all = (sums: ReadonlyMap<ReturnKind, Judged>, of: (each: Judged) => number) =>
	[...sums.values()].reduce((sum, each) => sum + of(each), 0);
function intervalsHold(sums: ReadonlyMap<ReturnKind, Judged>) {
	const held = all(sums, (each) => each.held) / all(sums, ({ rows }) => rows);
	expect(held).toBeGreaterThan(0.66);
	expect(held).toBeLessThan(0.88);
}

describe.each<[string, Partial<ReturningLaw>]>([
	['hard models given to good technicians', {}],
	['dealt out by chance', { sorted: 0 }],
	['parts and where they come from do something too', { spread: { ...LAW.spread, part: 0.2, source: 0.25 } }],
	[
		'no lot is worse than another, two operations in some jobs',
		{ second: 0.3, spread: { technician: 0.35, model: 0.4, operation: 0.4 } }
	]
])('%s', (_, law) => {
	const sums = judged({ ...LAW, ...law }, 16);
	it.each([...sums.keys()])('%s: hardly more wrong than who is told the law', (kind) => {
		const { own, told } = sums.get(kind)!;
		expect(Math.sqrt(own / told)).toBeLessThan(1.15);
	});
	it('80 % intervals hold about what they say', () => intervalsHold(sums));
	it('raw ratios are far more wrong about technicians', () => {
		const { own, raw } = sums.get('technician')!;
		expect(Math.sqrt(raw / own)).toBeGreaterThan(1.15);
	});
});

describe('more than a thousand lots, two of them in many jobs', () => {
	const sums = judged({ ...LAW, jobs: 7000, lotUses: 10, second: 0.4, operations: 10 }, 2);
	it('all in all hardly more wrong than who is told the law', () =>
		expect(Math.sqrt(all(sums, ({ own }) => own) / all(sums, ({ told }) => told))).toBeLessThan(1.05));
	it('80 % intervals hold about what they say', () => intervalsHold(sums));
});
