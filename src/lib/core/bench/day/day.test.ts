import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../../catalog/catalog';
import type { ProcedureStep } from '../../catalog/kinds-of-bench';
import { HOUR_MS, MINUTE_MS } from '../../units/instant';
import { seededRandom } from '../../units/random';
import { planBench } from '../schedule/search';
import { freeSpans, subtractSpans, type Span } from './free-time';
import { dayPlan, dayRequest, type Bench } from './plan-day';
import { inOneGo } from '$lib/core/units/in-steps';
import {
	chanceBy,
	honestMoment,
	readyDrawsInSteps,
	spreadOfDraws,
	type PromiseInput
} from './promise-chance';
import { leftOfBegun, stretchesOf, type WorkLeft, type WorkTask } from './work-left';

// a Thursday, ten o'clock in Lisbon (UTC in winter)
const NOW = Date.UTC(2026, 10, 26, 10);
const at = (minutes: number) => NOW + minutes * MINUTE_MS;
const day: Span[] = [[at(0), at(480)]];
const bench: Bench = {
	technicians: [
		{ code: 'a', name: 'Ada', free: day },
		{ code: 'b', name: 'Bo', free: day }
	],
	stations: [{ code: 'lens', label: 'Microscope', count: 1 }]
};
const task = (code: string, by: Record<string, number>, more: Partial<WorkTask> = {}): WorkTask => ({
	code,
	label: code,
	by,
	skill: null,
	station: null,
	wait: 0,
	...more
});
const work = (number: string, tasks: WorkTask[], more: Partial<WorkLeft> = {}): WorkLeft => ({
	number,
	from: NOW,
	due: null,
	weight: 1,
	holder: null,
	tasks,
	begun: null,
	pinned: null,
	...more
});
function planned(all: WorkLeft[], on = bench) {
	const asked = dayRequest(all, on, NOW);
	let tries = 0;
	const search = planBench(asked.request, { used: () => (tries++ > 3000 ? 1 : 0) });
	return dayPlan(all, asked, inOneGo(search), on, NOW);
}

describe('what is left of a procedure', () => {
	const step = (
		kind: ProcedureStep['kind'],
		minutes?: number,
		more: Partial<ProcedureStep> = {}
	): ProcedureStep => ({
		kind,
		says: `${kind} ${minutes ?? ''}`,
		...(minutes === undefined ? {} : { minutes }),
		...more
	});
	it('is stretches of hands with the waits between them', () => {
		const steps = [
			step('hands', 6),
			step('caution'),
			step('heat', 4, { skill: 'soldering', station: 'hot-air' }),
			step('wait', 12, { wait: 'cooling' }),
			step('hands', 5, { station: 'lens' }),
			step('wait', 10, { wait: 'cure' }),
			step('wait', 5, { wait: 'soak' })
		];
		expect(stretchesOf(steps, null)).toEqual([
			{ label: 'hands 6', minutes: 11, skill: 'soldering', station: 'hot-air', wait: 12 },
			{ label: 'hands 5', minutes: 5, skill: null, station: 'lens', wait: 10 }
		]);
		expect(stretchesOf(steps, 32).map(({ minutes }) => minutes)).toEqual([22, 10]);
		expect(stretchesOf([step('wait', 5, { wait: 'soak' }), step('hands', 3)], null)).toMatchObject([
			{ minutes: 3, wait: 0 }
		]);
		const hands = [
			step('hands', 6, { skill: 'open' }),
			step('look', 1),
			step('heat', 4, { skill: 'soldering' }),
			step('hands', 2, { skill: 'soldering' })
		];
		expect(stretchesOf(hands, null).map(({ minutes, skill, wait }) => [minutes, skill, wait])).toEqual([
			[7, 'open', 0],
			[6, 'soldering', 0]
		]);
		expect(stretchesOf([], 30)).toEqual([]);
	});
	it('what has taken longer than expected is not over', () => {
		expect(leftOfBegun(30, at(-10), NOW)).toBe(20);
		expect(leftOfBegun(30, at(-40), NOW)).toBe(5);
	});
});

describe('free time', () => {
	it.each<[Span[], Span[], Span[]]>([
		[[[0, 10]], [], [[0, 10]]],
		[
			[[0, 10]],
			[[3, 5]],
			[
				[0, 3],
				[5, 10]
			]
		],
		[[[0, 10]], [[0, 10]], []],
		[
			[[0, 10]],
			[
				[-5, 2],
				[8, 20]
			],
			[[2, 8]]
		],
		[[[0, 10]], [[10, 20]], [[0, 10]]],
		[
			[
				[0, 4],
				[6, 10]
			],
			[[3, 7]],
			[
				[0, 3],
				[7, 10]
			]
		]
	])('%j without %j is %j', (spans, taken, left) => expect(subtractSpans(spans, taken)).toEqual(left));
	it('opening hours by the wall, own hours, holidays and absences', () => {
		const catalog = buildCatalog([
			{
				record: 'shop',
				name: 'S',
				currency: 'EUR',
				time_zone: 'Europe/Lisbon',
				locale: 'en-GB',
				hours: [...Array.from({ length: 5 }, () => ['09:00-13:00', '14:00-18:00']), [], []],
				closed_days: ['2026-11-27']
			},
			{
				record: 'technician',
				code: 'own',
				name: 'Own',
				hours: Array.from({ length: 7 }, () => ['12:00-16:00'])
			},
			{ record: 'absence', technician: 'ill', from: '2026-11-26T12:00:00Z', to: '2026-11-30T00:00:00Z' },
			{
				record: 'absence',
				technician: 'well',
				from: '2026-11-26T12:00:00Z',
				to: '2026-11-27T00:00:00Z',
				cancelled: true
			}
		]);
		const of = (code: string, days: number) =>
			freeSpans(catalog, catalog.technicians.get(code) ?? { code }, NOW, days).map((span) =>
				span.map((moment) => new Date(moment).toISOString().slice(8, 16))
			);
		expect(of('plain', 5)).toEqual([
			['26T10:00', '26T13:00'],
			['26T14:00', '26T18:00'],
			['30T09:00', '30T13:00'],
			['30T14:00', '30T18:00']
		]);
		expect(of('ill', 5)[0]).toEqual(['26T10:00', '26T12:00']);
		expect(of('ill', 5)[1]).toEqual(['30T09:00', '30T13:00']);
		expect(of('well', 1)).toEqual(of('plain', 1));
		// the holiday is the shop's; a day on which others are closed is their own
		expect(of('own', 3)).toEqual([
			['26T12:00', '26T16:00'],
			['28T12:00', '28T16:00']
		]);
	});
});

describe('the plan of a day', () => {
	it('what has begun stays with its hands, and the rest of its job follows its wait', () => {
		const begun = work('K-1', [task('x', { a: 30 }, { wait: 10 }), task('y', { a: 10, b: 10 })], {
			begun: { technician: 'a', since: at(-10) }
		});
		const plan = planned([begun, work('K-2', [task('z', { a: 15 })])]);
		expect(plan.tasks.find(({ code }) => code === 'x')).toMatchObject({
			technician: 'a',
			start: at(-10),
			end: at(20),
			waitEnd: at(30),
			fixed: 'begun'
		});
		expect(plan.tasks.find(({ code }) => code === 'y')?.start).toBeGreaterThanOrEqual(at(30));
		expect(plan.tasks.find(({ code }) => code === 'z')?.start).toBe(at(20));
	});
	it('what somebody put in its place stays there; others are planned round it, at its station too', () => {
		const pinned = work('K-1', [task('x', { a: 30, b: 30 }, { station: 'lens' })], {
			pinned: { technician: 'b', startAt: at(20) }
		});
		const other = work('K-2', [task('z', { a: 25 }, { station: 'lens' })]);
		const plan = planned([pinned, other]);
		expect(plan.tasks.find(({ number }) => number === 'K-1')).toMatchObject({
			technician: 'b',
			start: at(20),
			end: at(50),
			fixed: 'pinned'
		});
		// twenty minutes before it are too short for it
		expect(plan.tasks.find(({ number }) => number === 'K-2')?.start).toBe(at(50));
	});
	it('what was put where nobody is there is the plan’s again', () => {
		const pinned = (startAt: number, technician = 'b') =>
			planned([work('K-1', [task('x', { a: 30, b: 30 })], { pinned: { technician, startAt } })]).tasks[0];
		expect(pinned(at(450))).toMatchObject({ fixed: 'pinned', start: at(450) });
		expect(pinned(at(451))).toMatchObject({ fixed: null, start: at(0) });
		expect(pinned(at(10), 'gone')).toMatchObject({ fixed: null });
	});
	it('the one who has it goes on with it where that is as good', () => {
		const plan = planned([
			work('K-1', [task('x', { a: 10, b: 10 }), task('y', { a: 10, b: 10 })], { holder: 'b' })
		]);
		expect(plan.tasks.map(({ technician }) => technician)).toEqual(['b', 'b']);
	});
	it('says how late, and why', () => {
		const first = work('K-1', [task('x', { a: 60 })], { begun: { technician: 'a', since: NOW } });
		const late = work('K-2', [task('y', { a: 30 }, { skill: 'soldering' })], { due: at(40) });
		const plan = planned([first, late]);
		expect(plan.jobs[1]).toEqual({
			number: 'K-2',
			due: at(40),
			ends: at(90),
			late: 50,
			why: `soldering is busy until {${at(60)}}`
		});
		expect(planned([work('K-3', [task('x', { a: 60 })], { due: at(30) })]).jobs[0]?.why).toBe(
			'it still needs 60 min of bench time'
		);
		expect(planned([work('K-4', [task('x', { a: 9 })], { due: at(30), from: at(45) })]).jobs[0]?.why).toBe(
			`it waits until {${at(45)}}`
		);
		expect(planned([work('K-5', [task('x', { a: 9 })], { due: at(9) })]).jobs[0]).toMatchObject({
			late: 0,
			why: null
		});
		expect(planned([work('K-6', [task('x', { c: 9 })])]).jobs[0]).toMatchObject({
			ends: null,
			why: 'nobody can do it'
		});
	});
});

describe('a promise with a chance', () => {
	const hours = {
		timeZone: 'UTC',
		week: Array.from({ length: 7 }, () => [[600, 1080] as const]),
		holidays: new Set<string>()
	};
	const alone: PromiseInput = {
		work: [],
		job: work('K-9', [task('x', { a: 60 })]),
		bench: { ...bench, technicians: bench.technicians.slice(0, 1) },
		sigma: 0,
		arrivals: { perDay: 0, minutes: [], ahead: 0 },
		open: day,
		now: NOW
	};
	const draws = (more: Partial<PromiseInput> = {}) =>
		inOneGo(readyDrawsInSteps({ ...alone, ...more }, seededRandom(5), 400));
	it('is the plan itself where nothing is uncertain', () => {
		expect(new Set(draws().ends)).toEqual(new Set([at(60)]));
		const queue = work('K-1', [task('x', { a: 45 })]);
		expect(new Set(draws({ work: [queue] }).ends)).toEqual(new Set([at(105)]));
		// its own entry among the work is not counted twice
		expect(new Set(draws({ work: [queue, alone.job] }).ends)).toEqual(new Set([at(105)]));
	});
	it('spreads as its minutes do: the middle of a lognormal with the mean that was asked for', () => {
		const sigma = 0.4;
		const many = 6000;
		const { ends } = inOneGo(readyDrawsInSteps({ ...alone, sigma }, seededRandom(5), many));
		const minutes = ends.map((end) => (end - NOW) / MINUTE_MS);
		const mean = minutes.reduce((sum, each) => sum + each, 0) / minutes.length;
		// four standard errors; a mean that is off by half the variance of the logarithms is off by five minutes
		const error = (60 * Math.sqrt(Math.exp(sigma ** 2) - 1)) / Math.sqrt(many);
		expect(ends).toHaveLength(many);
		expect(Math.abs(mean - 60)).toBeLessThan(4 * error);
		const usual = ((spreadOfDraws(draws({ sigma }))?.usual ?? 0) - NOW) / MINUTE_MS;
		expect(Math.abs(usual - 60 * Math.exp(-(sigma ** 2) / 2))).toBeLessThan(5);
	});
	it('more that comes in and goes first never makes it earlier', () => {
		// what comes in goes first only where it comes before the turn of the job
		const queue = [work('K-1', [task('x', { a: 150 })])];
		const busy = draws({ work: queue, arrivals: { perDay: 6, minutes: [40, 60], ahead: 1 } });
		const calm = draws({ work: queue, arrivals: { perDay: 1, minutes: [40, 60], ahead: 1 } });
		const middle = (of: ReturnType<typeof draws>) => spreadOfDraws(of)?.usual ?? Infinity;
		expect(middle(busy)).toBeGreaterThan(middle(calm));
		expect(middle(calm)).toBeGreaterThanOrEqual(at(210));
	});
	it('the honest moment is the half hour after the share that was asked for, the shop being open', () => {
		const ten = { ends: [1, 2, 3, 4, 5, 6, 7, 8, 9, 10].map((n) => at(n * 30)), draws: 10 };
		expect(honestMoment(ten, 0.9, hours)).toBe(at(270));
		expect(honestMoment(ten, 0.5, hours)).toBe(at(150));
		expect(honestMoment({ ends: [at(1)], draws: 1 }, 0.9, hours)).toBe(at(30));
		// at closing time a customer can still come; after it, the next morning
		expect(honestMoment({ ends: [at(480)], draws: 1 }, 0.9, hours)).toBe(at(480));
		expect(honestMoment({ ends: [at(481)], draws: 1 }, 0.9, hours)).toBe(NOW + 24 * HOUR_MS);
		// too many draws did not end at all
		expect(honestMoment({ ends: ten.ends, draws: 12 }, 0.9, hours)).toBeNull();
		expect(honestMoment({ ends: [], draws: 0 }, 0.9, hours)).toBeNull();
		expect(chanceBy(ten, at(150))).toBe(0.5);
		expect(chanceBy(ten, at(149))).toBe(0.4);
		expect(chanceBy({ ends: [], draws: 0 }, NOW)).toBe(0);
	});
});
