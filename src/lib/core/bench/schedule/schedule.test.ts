import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { boundOf } from './bound';
import {
	problemOf,
	type RequestedJob,
	type RequestedTask,
	type Schedule,
	type ScheduleRequest
} from './problem';
import { plannedInSteps as planned } from '$worlds/planned-in-steps';

const job = (name: string, tasks: RequestedTask[], more: Partial<RequestedJob> = {}): RequestedJob => ({
	job: name,
	release: 0,
	due: null,
	weight: 1,
	tasks,
	...more
});
const task = (name: string, more: Partial<RequestedTask>): RequestedTask => ({ task: name, ...more });
const request = (more: Partial<ScheduleRequest>): ScheduleRequest => ({
	technicians: [{ code: 'a' }],
	stations: [],
	jobs: [],
	objective: 'makespan',
	...more
});

/** What is wrong with a plan, judged by the contract's own words and not by the program's code. */
function faultsOf({ technicians, stations, jobs }: ScheduleRequest, schedule: Schedule): string[] {
	const faults: string[] = [];
	const near = 1e-6;
	const impossible = new Set(schedule.impossible.map((each) => `${each.job} ${each.task}`));
	for (const { job: name, release, tasks } of jobs) {
		let ready = release;
		for (const { task: what, by, minutes, skill, station, wait = 0 } of tasks) {
			const done = schedule.tasks.filter((each) => each.job === name && each.task === what);
			if (done.length + (impossible.has(`${name} ${what}`) ? 1 : 0) !== 1)
				faults.push(`${name} ${what} is not there once`);
			const [placed] = done;
			if (!placed) break;
			const person = technicians.find(({ code }) => code === placed.technician);
			const takes = by
				? by[placed.technician]
				: skill === undefined || person?.skills?.includes(skill)
					? minutes
					: undefined;
			if (takes === undefined || Math.abs(placed.end - placed.start - takes) > near)
				faults.push(`${name} ${what} takes wrong`);
			if (placed.start < ready - near) faults.push(`${name} ${what} begins too early`);
			if (placed.station !== (station ?? null)) faults.push(`${name} ${what} is at another station`);
			const free = joined(person?.free ?? [[0, Infinity]]);
			if (!free.some(([from, to]) => placed.start >= from - near && placed.end <= to + near))
				faults.push(`${name} ${what} is outside free time`);
			ready = placed.end + wait;
		}
	}
	const overlap = (a: Schedule['tasks'][number], b: Schedule['tasks'][number]) =>
		a.start < b.end - near && b.start < a.end - near;
	schedule.tasks.forEach((a, i) =>
		schedule.tasks.slice(i + 1).forEach((b) => {
			if (a.technician === b.technician && overlap(a, b)) faults.push(`${a.technician} does two things`);
		})
	);
	for (const { code, count } of stations) {
		const there = schedule.tasks.filter(({ station }) => station === code);
		for (const { start } of there) {
			const at = there.filter((each) => each.start <= start + near && each.end > start + near).length;
			if (at > count) faults.push(`${code} holds ${at}`);
		}
	}
	return faults;
}
const joined = (free: readonly (readonly [number, number])[]) =>
	free.reduce<[number, number][]>((all, [from, to]) => {
		const last = all.at(-1);
		if (last && from <= last[1]) last[1] = to;
		else all.push([from, to]);
		return all;
	}, []);

describe('a plan', () => {
	it('the example of the contract: one who opens, one port each, a lens, breaks and waits', () => {
		const asked = request({
			technicians: [
				{
					code: 'a',
					skills: ['open'],
					free: [
						[0, 240],
						[285, 510]
					]
				},
				{ code: 'b' },
				{ code: 'c' }
			],
			stations: [{ code: 'lens', count: 1 }],
			jobs: [
				job(
					'K-1',
					[
						task('open', { minutes: 10, skill: 'open' }),
						task('port', { by: { b: 40, c: 30 }, station: 'lens', wait: 15 }),
						task('close', { by: { a: 10, b: 10 } })
					],
					{ due: 60 }
				)
			],
			objective: 'tardiness'
		});
		const plan = planned(asked);
		expect(plan).toMatchObject({ makespan: 65, tardiness: 5, bound: 5, optimal: true, impossible: [] });
		expect(plan.tasks.map(({ technician, station, start }) => [technician, station, start])).toEqual([
			['a', null, 0],
			['c', 'lens', 10],
			[expect.stringMatching(/a|b/), null, 55]
		]);
	});
	it('a task lies within one stretch; stretches that touch are one', () => {
		const one = (free: [number, number][], minutes: number) =>
			planned(request({ technicians: [{ code: 'a', free }], jobs: [job('K', [task('t', { minutes })])] }));
		expect(
			one(
				[
					[0, 10],
					[20, 50]
				],
				15
			).tasks[0]?.start
		).toBe(20);
		expect(
			one(
				[
					[0, 10],
					[10, 50]
				],
				15
			).tasks[0]?.start
		).toBe(0);
		expect(
			one(
				[
					[0, 10],
					[20, 30]
				],
				15
			).impossible
		).toEqual([{ job: 'K', task: 't', message: 'fits into no free stretch of those who can do it' }]);
		expect(one([], 1).impossible).toHaveLength(1);
	});
	it('what nobody can do is named with what comes after it; the rest is planned and counts as far as it goes', () => {
		const plan = planned(
			request({
				jobs: [
					job(
						'K',
						[task('a', { minutes: 5 }), task('b', { minutes: 5, skill: 'gone' }), task('c', { minutes: 5 })],
						{ due: 0, weight: 9 }
					),
					job('L', [task('a', { minutes: 3 })], { due: 1 })
				],
				objective: 'tardiness'
			})
		);
		expect(plan.impossible).toEqual([
			{ job: 'K', task: 'b', message: 'nobody has the skill gone' },
			{ job: 'K', task: 'c', message: 'comes after a task that cannot be done' }
		]);
		expect(plan.tasks.map(({ job: of, task: what }) => `${of} ${what}`).sort()).toEqual(['K a', 'L a']);
		expect(plan).toMatchObject({ tardiness: 2, makespan: 8, bound: 2, optimal: true });
	});
	it('where there is too little time for all, the lightest is left out', () => {
		const plan = planned(
			request({
				technicians: [{ code: 'a', free: [[0, 10]] }],
				jobs: [
					job('light', [task('t', { minutes: 6 })], { weight: 1 }),
					job('heavy', [task('t', { minutes: 6 })], { weight: 2 }),
					job('small', [task('t', { minutes: 4 })], { weight: 0.5 })
				]
			})
		);
		expect(plan.impossible.map(({ job: of }) => of)).toEqual(['light']);
		expect(plan.optimal).toBe(false);
	});
	it('nothing to do is done at once', () =>
		expect(planned(request({}))).toEqual({
			makespan: 0,
			tardiness: 0,
			bound: 0,
			optimal: true,
			tasks: [],
			impossible: []
		}));
	it('overdue already and released later', () => {
		const plan = planned(
			request({
				jobs: [job('K', [task('t', { minutes: 5 })], { due: -10, release: 20, weight: 2 })],
				objective: 'tardiness'
			})
		);
		expect(plan).toMatchObject({ tardiness: 70, bound: 70, optimal: true, makespan: 25 });
	});
});

const minutesOf = fc.integer({ min: 1, max: 9 });
const someTask = fc.oneof(
	fc.record({
		minutes: minutesOf,
		station: fc.option(fc.constantFrom('lens', 'air'), { nil: undefined }),
		wait: fc.option(fc.nat(5), { nil: undefined })
	}),
	fc.record({ minutes: minutesOf, skill: fc.constantFrom('fine', 'rough') }),
	fc.record({
		by: fc.record({ a: minutesOf, b: minutesOf }),
		station: fc.option(fc.constant('lens'), { nil: undefined })
	}),
	fc.record({ by: fc.record({ b: minutesOf }) })
);
const someRequest = (most: number) =>
	fc.record({
		technicians: fc.constantFrom<ScheduleRequest['technicians']>(
			[
				{ code: 'a', skills: ['fine'] },
				{ code: 'b', skills: ['rough'] }
			],
			[
				{
					code: 'a',
					skills: ['fine', 'rough'],
					free: [
						[0, 9],
						[12, 60],
						[60, 200]
					]
				},
				{ code: 'b', skills: ['rough'], free: [[4, 200]] }
			]
		),
		stations: fc.constant([
			{ code: 'lens', count: 1 },
			{ code: 'air', count: 2 }
		]),
		jobs: fc
			.array(
				fc.record({
					release: fc.nat(8),
					due: fc.option(fc.integer({ min: -5, max: 30 })),
					weight: fc.integer({ min: 0, max: 3 }),
					tasks: fc.array(someTask, { minLength: 1, maxLength: 3 })
				}),
				{ minLength: 1, maxLength: most }
			)
			.map((jobs) =>
				jobs.map((each, j) => ({
					job: `K${j}`,
					...each,
					tasks: each.tasks.map((one, i): RequestedTask => ({ task: `t${i}`, ...one }))
				}))
			),
		objective: fc.constantFrom<ScheduleRequest['objective']>('makespan', 'tardiness')
	});

/** The best value of all orders and hands, each task as early as it goes: by trying all of them. */
function byForce(asked: ScheduleRequest): number {
	const problem = problemOf(asked);
	const jobs = problem.jobs;
	let best = Infinity;
	const busy: { technician: number; station: number | null; from: number; to: number }[] = [];
	const next = jobs.map(() => 0);
	const ready = jobs.map(({ release }) => release);
	const ends = jobs.map(() => 0);
	const fits = (technician: number, station: number | null, from: number, to: number) =>
		(problem.technicians[technician]?.free ?? []).some(([opens, closes]) => from >= opens && to <= closes) &&
		busy.every((each) => each.technician !== technician || each.to <= from || each.from >= to) &&
		(station === null ||
			[from, ...busy.map((each) => each.from)].every(
				(at) =>
					at < from ||
					at >= to ||
					busy.filter((each) => each.station === station && each.from <= at && each.to > at).length <
						(problem.stations[station]?.count ?? 0)
			));
	const walk = () => {
		const open = jobs.flatMap(({ tasks }, j) => ((next[j] as number) < tasks.length ? [j] : []));
		if (open.length === 0) {
			const value =
				asked.objective === 'makespan'
					? Math.max(0, ...ends)
					: jobs.reduce(
							(sum, { due, weight, cut, tasks }, j) =>
								sum + (cut || tasks.length === 0 ? 0 : weight * Math.max(0, (ends[j] as number) - due)),
							0
						);
			best = Math.min(best, value);
			return;
		}
		for (const j of open) {
			const at = next[j] as number;
			const { by, station, wait } = jobs[j]?.tasks[at] as (typeof jobs)[number]['tasks'][number];
			for (const { technician, minutes } of by) {
				let from = ready[j] as number;
				while (from < 300 && !fits(technician, station, from, from + minutes)) from += 1;
				if (from >= 300) continue;
				const kept = [ready[j] as number, ends[j] as number] as const;
				busy.push({ technician, station, from, to: from + minutes });
				next[j] = at + 1;
				ends[j] = from + minutes;
				ready[j] = from + minutes + wait;
				walk();
				busy.pop();
				next[j] = at;
				[ready[j], ends[j]] = kept;
			}
		}
	};
	walk();
	return best;
}

describe('any plan', () => {
	it('keeps every rule, and its bound lies at or below what it reached', () =>
		fc.assert(
			fc.property(someRequest(6), (asked) => {
				const plan = planned(asked, 60);
				expect(faultsOf(asked, plan)).toEqual([]);
				const value = asked.objective === 'makespan' ? plan.makespan : plan.tardiness;
				expect(plan.bound).toBeLessThanOrEqual(value + 1e-9);
				expect(plan.optimal).toBe(Math.abs(plan.bound - value) <= 1e-6);
			}),
			{ numRuns: 150 }
		));
	it('small ones are proven, and as good as the best of all that can be tried', () =>
		fc.assert(
			fc.property(someRequest(3), (asked) => {
				fc.pre(asked.jobs.reduce((sum, { tasks }) => sum + tasks.length, 0) <= 6);
				const plan = planned(asked);
				const best = byForce(asked);
				expect(boundOf(problemOf(asked))).toBeLessThanOrEqual(best + 1e-9);
				expect(asked.objective === 'makespan' ? plan.makespan : plan.tardiness).toBeCloseTo(best, 9);
				expect(plan.optimal).toBe(true);
			}),
			{ numRuns: 120 }
		));
});
