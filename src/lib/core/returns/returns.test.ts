import { describe, expect, it } from 'vitest';
import { day, returnTicket as ticket } from '$worlds/one-return';
import { DAY_MS } from '../units/instant';
import { seededRandom, type Random } from '../units/random';
import { alarmLimit, comebacksUntilFalseAlarm, CHART } from './alarm-limit';
import { comebackAlarms, comebackEffects } from '$worlds/comebacks-in-one-go';
import { comebackCauses } from './comeback-causes';
import { comebackCurve } from './comeback-curve';
import { comebackRate } from '../comebacks/comeback-rate';
import { fairRatio } from './fair-ratio';
import { warrantyAdvice } from './warranty-advice';
import { followedJobs, knownAt, type FollowedJob, type ReturnTicket } from './followed-jobs';

const causes = new Map([
	['misuse', { counts: false }],
	['joint', {}]
]);

describe('jobs that are followed', () => {
	const back = (number: string, of: string, opened: number, more: Partial<ReturnTicket> = {}) =>
		ticket(number, { comebackOf: of, openedAt: day(opened), outcome: null, closedAt: null, ...more });
	it.each<[string, ReturnTicket[], [time: number, event: boolean, back: string | null][]]>([
		['nothing came back', [ticket('1')], [[9, false, null]]],
		['not fixed', [ticket('1', { outcome: 'declined' })], []],
		['closed at the very moment', [ticket('1', { closedAt: day(10) })], []],
		['still open', [ticket('1', { closedAt: null, outcome: null })], []],
		['it came back', [ticket('1'), back('2', '1', 4)], [[3, true, '2']]],
		['on the day of its closing', [ticket('1'), back('2', '1', 1)], [[0, true, '2']]],
		['opened before it was closed', [ticket('1'), back('2', '1', 0.5)], [[9, false, null]]],
		['opened at the very moment', [ticket('1'), back('2', '1', 10)], [[9, false, null]]],
		['the earliest counts', [back('3', '1', 6), ticket('1'), back('2', '1', 4)], [[3, true, '2']]],
		['its cause does not', [ticket('1'), back('2', '1', 4, { cause: 'misuse' })], [[9, false, null]]],
		[
			'a later one whose cause does',
			[ticket('1'), back('2', '1', 4, { cause: 'misuse' }), back('3', '1', 6)],
			[[5, true, '3']]
		]
	])('%s', (_, tickets, followed) =>
		expect(
			followedJobs(tickets, day(10), causes).map(({ time, event, back }) => [
				time,
				event,
				back?.number ?? null
			])
		).toEqual(followed)
	);
	it('the order of tickets does not matter', () => {
		const tickets = [ticket('1'), ticket('2', { closedAt: day(3) }), back('3', '1', 4), back('4', '2', 8)];
		expect(followedJobs([...tickets].reverse(), day(10), causes)).toEqual(
			followedJobs(tickets, day(10), causes)
		);
	});
	it('what was known earlier is what following until then gives', () => {
		const tickets = [ticket('1'), ticket('2', { closedAt: day(3) }), back('3', '1', 4), back('4', '2', 8)];
		for (const moment of [2, 3, 4, 5, 8, 9]) {
			expect(knownAt(followedJobs(tickets, day(10), causes), day(moment))).toEqual(
				followedJobs(tickets, day(moment), causes)
			);
		}
	});
});

describe('the rate of coming back', () => {
	const at = (time: number, event: boolean) => ({ time, event });
	it('is the product limit with its log(-log) interval', () => {
		// maintained arm of aml at 23: survival .61364, 95 % .265752 to .835299; R survival, Miller 1981
		const maintained = [9, 13, -13, 18, 23, -28, 31, 34, -45, 48, -161].map((t) => at(Math.abs(t), t > 0));
		const { rate, low, high, comebacks, jobs } = comebackRate(maintained, 23);
		expect([jobs, comebacks]).toEqual([11, 4]);
		expect(rate).toBeCloseTo(1 - 0.61364, 5);
		expect(low).toBeCloseTo(1 - 0.835299, 5);
		expect(high).toBeCloseTo(1 - 0.265752, 5);
		expect(comebackRate(maintained, 22.999).rate).toBeCloseTo(1 - 0.71591, 5);
	});
	it('says what it can where nothing, or everything, came back', () => {
		// 0 of 20: Clopper and Pearson to .1684; Newcombe 1998
		const none = Array.from({ length: 20 }, () => at(90, false));
		expect(comebackRate(none, 90)).toMatchObject({ rate: 0, low: 0, comebacks: 0 });
		expect(comebackRate(none, 90).high).toBeCloseTo(0.1684, 4);
		expect(comebackRate([...none, at(5, false)], 90).high).toBeCloseTo(0.1684, 4);
		expect(comebackRate(none, 91)).toMatchObject({ rate: 0, low: 0, high: null });
		expect(comebackRate([at(3, true)], 90)).toEqual({
			jobs: 1,
			comebacks: 1,
			rate: 1,
			low: null,
			high: null
		});
		expect(comebackRate([], 90)).toMatchObject({ jobs: 0, rate: 0, high: null });
	});
	it('a job more that is still out never raises it', () => {
		const random = seededRandom(3);
		for (let round = 0; round < 200; round++) {
			const jobs = Array.from({ length: 12 }, () => at(Math.ceil(random() * 20), random() < 0.4));
			const more = [...jobs, at(Math.ceil(random() * 25), false)];
			expect(comebackRate(more, 10).rate).toBeLessThanOrEqual(comebackRate(jobs, 10).rate + 1e-12);
		}
	});
});

/** Two lots at a time, each with about sixty uses. */
const LOT = 120;

/** A shop whose hazards are known: a good technician who gets the hard model, a bad lot from some day on. */
function shop(random: Random, count: number, { badFrom = Infinity, times = 4, rate = 0.06 } = {}) {
	const pick = <Item>(items: readonly Item[]) => items[Math.floor(random() * items.length)] as Item;
	const jobs: ReturnTicket[] = [];
	const hard = { hard: 3, easy: 0.6, plain: 0.6 } as const;
	for (let i = 0; i < count; i++) {
		const closedAt = day((i * 700) / count);
		const model = pick(['hard', 'easy', 'plain'] as const);
		const technician = model === 'hard' && random() < 0.8 ? 'good' : pick(['second', 'third', 'good']);
		const operation = pick(['port', 'battery', 'fuse']);
		const lot = `lot-${Math.floor(i / LOT)}-${pick(['a', 'b'])}`;
		const bad = i >= badFrom && lot === `lot-${Math.floor(badFrom / LOT)}-a`;
		const hazard = rate * hard[model] * (technician === 'good' ? 0.7 : 1.15) * (bad ? times : 1);
		const number = `K-${i}`;
		jobs.push(
			ticket(number, {
				model,
				closedAt,
				openedAt: closedAt - 1,
				operations: [operation],
				technicians: [technician],
				lots: [lot]
			})
		);
		if (random() < 1 - Math.exp(-hazard)) {
			const opened = closedAt - 25 * DAY_MS * Math.log(1 - random());
			jobs.push(ticket(`B-${i}`, { openedAt: opened, comebackOf: number, outcome: null, closedAt: null }));
		}
	}
	return { tickets: jobs, bad: `lot-${Math.floor(badFrom / LOT)}-a` };
}

describe('what is fair', () => {
	it('where nothing came back yet, or no job was done, nobody is told apart', () => {
		const done = ticket('1', { operations: ['port'], technicians: ['ada'], lots: ['l'] });
		const jobs = followedJobs([done, ticket('2', { operations: ['fuse'] })], day(10), causes);
		const fair = fairRatio(comebackEffects(jobs), 'operation', 'port');
		expect(fair?.ratio).toBeCloseTo(1, 6);
		expect(fair?.low).toBeLessThan(0.9);
		expect(fair?.chance_worse).toBeCloseTo(0.5, 6);
		expect(fairRatio(comebackEffects([]), 'operation', 'port')).toBeNull();
		for (const some of [jobs, []]) expect(comebackAlarms(some, day(10)).operation.size).toBe(0);
	});
	it('a good technician with the hard devices is not blamed, raw rates blame him', () => {
		const { tickets } = shop(seededRandom(11), 3000);
		const jobs = followedJobs(tickets, day(760), causes);
		const effects = comebackEffects(jobs);
		const raw = (name: string) =>
			comebackRate(
				jobs.filter(({ levels }) => levels.technician.includes(name)),
				90
			).rate;
		expect(raw('good')).toBeGreaterThan(raw('second'));
		const good = fairRatio(effects, 'technician', 'good');
		const second = fairRatio(effects, 'technician', 'second');
		expect(good?.ratio).toBeLessThan(second?.ratio ?? 0);
		expect(good?.chance_worse).toBeLessThan(0.2);
		expect(fairRatio(effects, 'model', 'hard')?.chance_worse).toBeGreaterThan(0.99);
		expect(fairRatio(effects, 'model', 'nothing')).toBeNull();
	});
	it('its 80 % intervals hold what they say, and its error is small beside raw ratios', () => {
		let [held, seen, fairError, rawError] = [0, 0, 0, 0];
		for (let seed = 1; seed <= 25; seed++) {
			const { tickets } = shop(seededRandom(100 + seed), 1200);
			const jobs = followedJobs(tickets, day(760), causes);
			const effects = comebackEffects(jobs);
			const truth = { good: 0.7, second: 1.15, third: 1.15 } as const;
			const names = Object.keys(truth) as (keyof typeof truth)[];
			const weight = (name: string) => jobs.filter(({ levels }) => levels.technician.includes(name)).length;
			const all = names.reduce((sum, name) => sum + weight(name), 0);
			const mean = names.reduce((sum, name) => sum + (weight(name) / all) * truth[name], 0);
			const rate = (of: readonly FollowedJob[]) => of.filter(({ event }) => event).length / of.length;
			for (const name of names) {
				const fair = fairRatio(effects, 'technician', name);
				const right = truth[name] / mean;
				const raw = rate(jobs.filter(({ levels }) => levels.technician.includes(name))) / rate(jobs);
				fairError += Math.log((fair?.ratio ?? 1) / right) ** 2;
				rawError += Math.log(raw / right) ** 2;
				held += right >= (fair?.low ?? 0) && right <= (fair?.high ?? 0) ? 1 : 0;
				seen += 1;
			}
		}
		expect(fairError).toBeLessThan(0.5 * rawError);
		expect(held / seen).toBeGreaterThan(0.66);
		expect(held / seen).toBeLessThan(0.93);
	});
});

describe('early warning', () => {
	it('the limit rings for nothing as seldom as it says: by simulation', () => {
		const random = seededRandom(9);
		const limit = 4;
		let comebacks = 0;
		const runs = 1500;
		for (let run = 0; run < runs; run++) {
			for (let sum = 0; sum < limit; comebacks++) {
				sum = Math.max(0, sum + CHART.drift * Math.log(1 - random())) + CHART.jump;
			}
		}
		expect(comebacksUntilFalseAlarm(limit) / (comebacks / runs)).toBeGreaterThan(0.93);
		expect(comebacksUntilFalseAlarm(limit) / (comebacks / runs)).toBeLessThan(1.07);
		expect(comebacksUntilFalseAlarm(alarmLimit(300))).toBeCloseTo(300, -1);
		expect(alarmLimit(600)).toBeGreaterThan(alarmLimit(300));
		expect(comebacksUntilFalseAlarm(1)).toBe(1);
	});
});

describe('curves, causes, warranties', () => {
	/** a hundred jobs: of twenty each one comes back on the days 2, 9, 40 and 100, the last is followed for 200 days */
	const jobs = followedJobs(
		Array.from({ length: 100 }, (_, i) => i).flatMap((i) => {
			const own = ticket(`a${i}`, { closedAt: day(0) });
			const back = [2, 9, 40, 100][i % 20];
			if (back === undefined) return [own];
			const cause = ['part-failed', 'part-failed', null, 'joint'][i % 20] as string | null;
			const again = { openedAt: day(back), closedAt: null, outcome: null, comebackOf: `a${i}`, cause };
			return [own, ticket(`b${i}`, again)];
		}),
		day(200),
		causes
	);
	it('the curve passes through the rates of its days, and rises', () => {
		const curve = comebackCurve(jobs, 150);
		expect(curve.map(({ day }) => day)).toEqual([2, 9, 40, 100]);
		for (const { day, rate, low, high } of curve) {
			const at = comebackRate(jobs, day);
			expect([rate, low, high]).toEqual([at.rate, at.low, at.high]);
		}
		expect(comebackCurve(jobs, 50)).toHaveLength(3);
		expect(comebackCurve([], 50)).toEqual([]);
	});
	it('causes within the days, what was not said among them; with what did not come back they are the whole', () => {
		expect(comebackCauses(jobs, 50)).toEqual([
			{ cause: 'part-failed', comebacks: 10, share: expect.closeTo(0.1, 9) as number },
			{ cause: null, comebacks: 5, share: expect.closeTo(0.05, 9) as number }
		]);
		const all = comebackCauses(jobs, 150);
		const sum = all.reduce((shares, { share }) => shares + share, 0);
		expect(sum).toBeCloseTo(comebackRate(jobs, 150).rate, 9);
		expect(comebackCauses(jobs, 1)).toEqual([]);
	});
	it('what one more month of warranty costs: its comebacks by what one costs; nothing where too few were followed', () => {
		const advice = warrantyAdvice(jobs, 5000);
		expect(advice.map(({ days }) => days)).toEqual([30, 60, 90, 120, 180]);
		expect(advice.map(({ costMinor }) => costMinor)).toEqual([500, 750, 750, 1000, 1000]);
		expect(advice.map(({ monthMinor }) => monthMinor)).toEqual([500, 250, 0, 250, 0]);
		expect(warrantyAdvice(jobs.slice(0, 10), 5000)).toEqual([]);
	});
	it('a job more that nothing was heard of never raises a rate', () => {
		const random = seededRandom(3);
		for (let n = 0; n < 200; n++) {
			const followed = Array.from({ length: 30 }, () => ({
				time: Math.ceil(50 * random()),
				event: random() < 0.3
			}));
			const more = [...followed, { time: 60 * random(), event: false }];
			const days = 60 * random();
			expect(comebackRate(more, days).rate).toBeLessThanOrEqual(comebackRate(followed, days).rate + 1e-12);
			const turned = [...followed].reverse();
			expect(comebackRate(turned, days).rate).toBeCloseTo(comebackRate(followed, days).rate, 12);
		}
	});
});
