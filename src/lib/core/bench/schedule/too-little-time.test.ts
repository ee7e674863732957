import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plannedInSteps as planned } from '$worlds/planned-in-steps';
import { oneMachineBound } from './bound';
import { setsByWeight } from './fewest-dropped';
import type { RequestedJob, RequestedTask, Schedule, ScheduleRequest } from './problem';

type Stretch = [number, number];
type Free = readonly (readonly [number, number])[];

const job = (name: string, weight: number, tasks: RequestedTask[]): RequestedJob => ({
	job: name,
	release: 0,
	due: null,
	weight,
	tasks
});

describe('where free time runs out', () => {
	it('a wait that ends too late for the free time after it: both jobs’ possible part is planned, the rest is named', () => {
		const plan = planned({
			technicians: [{ code: 'a', free: [[0, 100]] }],
			stations: [],
			jobs: [
				job('K-1', 1, [
					{ task: 'x', minutes: 30, wait: 60 },
					{ task: 'y', minutes: 30 }
				]),
				job('K-2', 1, [{ task: 'x', minutes: 70 }])
			],
			objective: 'makespan'
		});
		expect(plan.tasks.map((each) => `${each.job} ${each.task}`).sort()).toEqual(['K-1 x', 'K-2 x']);
		expect(plan.impossible).toEqual([
			{ job: 'K-1', task: 'y', message: 'comes too late for the free time of those who can do it' }
		]);
		expect(plan).toMatchObject({ makespan: 100, bound: 100, optimal: true });
	});
	it('where all fits in one way alone, that way is found and proven', () => {
		const one = (name: string, ...minutes: number[]) =>
			job(
				name,
				0,
				minutes.map((each, i) => ({ task: `t${i}`, minutes: each }))
			);
		const plan = planned(
			{
				technicians: [
					{
						code: 'a',
						free: [
							[0, 9],
							[10, 16]
						]
					},
					{ code: 'b', free: [[0, 3]] }
				],
				stations: [],
				jobs: [one('K0', 5, 3), one('K1', 3), one('K2', 3, 4)],
				objective: 'makespan'
			},
			400
		);
		expect(plan).toMatchObject({ impossible: [], optimal: true, makespan: 16 });
	});
	it('a job that is released after the last free minute', () => {
		const plan = planned({
			technicians: [{ code: 'a', free: [[0, 100]] }],
			stations: [],
			jobs: [{ ...job('K-1', 1, [{ task: 'x', minutes: 1 }]), release: 100 }],
			objective: 'tardiness'
		});
		expect(plan).toMatchObject({ tasks: [], tardiness: 0, optimal: true });
		expect(plan.impossible).toHaveLength(1);
	});
	it('what can never begin has no least end', () =>
		expect(oneMachineBound([{ head: Infinity, minutes: 3, tail: 0 }])).toBe(Infinity));
	it('sets of jobs come in the order of their weight, each once', () => {
		const sets = [...setsByWeight([3, 1, 2])];
		expect(sets.map(({ weight }) => weight)).toEqual([0, 1, 2, 3, 3, 4, 5, 6]);
		expect(new Set(sets.map(({ jobs }) => jobs.sort().join())).size).toBe(8);
	});
	it('thousands of tiny requests with short, empty and broken free time: as good as the best of all that can be tried', () =>
		fc.assert(
			fc.property(tiny, (asked) => {
				const plan = planned(asked, 400);
				const best = byForce(asked);
				const left = leftOut(asked, plan);
				expect(left.weight).toBeCloseTo(best.weight, 9);
				// what is still possible of a job that is left out counts for the makespan, and which part that is is a choice
				if (best.weight === 0 || asked.objective === 'tardiness')
					expect(left.value).toBeCloseTo(best.value, 9);
				if (best.weight === 0) expect(plan.optimal).toBe(true);
				else expect(plan).toMatchObject({ optimal: false });
			}),
			{ numRuns: 3000 }
		));
});

const stretches = fc
	.array(fc.tuple(fc.nat(5), fc.integer({ min: 1, max: 9 })), { maxLength: 3 })
	.map((gaps) => {
		let at = 0;
		return gaps.map(([gap, length]): Stretch => {
			const from = at + gap;
			at = from + length;
			return [from, at];
		});
	});
const tiny: fc.Arbitrary<ScheduleRequest> = fc.record({
	technicians: fc
		.tuple(stretches, fc.option(stretches))
		.map(([a, b]) => [{ code: 'a', free: a }, ...(b === null ? [] : [{ code: 'b', free: b }])]),
	stations: fc.constant([{ code: 'lens', count: 1 }]),
	objective: fc.constantFrom<ScheduleRequest['objective']>('makespan', 'tardiness'),
	jobs: fc
		.array(
			fc.record({
				release: fc.constantFrom(0, 0, 3, 20),
				due: fc.option(fc.integer({ min: -2, max: 12 })),
				weight: fc.integer({ min: 0, max: 3 }),
				tasks: fc.array(
					fc.record({
						minutes: fc.integer({ min: 1, max: 6 }),
						wait: fc.constantFrom(0, 0, 4, 15),
						station: fc.constantFrom(undefined, undefined, 'lens')
					}),
					{ minLength: 1, maxLength: 2 }
				)
			}),
			{ minLength: 1, maxLength: 3 }
		)
		.map((jobs) =>
			jobs.map((each, j) => ({
				job: `K${j}`,
				...each,
				tasks: each.tasks.map((task, i) => ({ task: `t${i}`, ...task }))
			}))
		)
});

/** Stretches as the contract reads them: those that touch are one; without end where none are named. */
const joined = (free: Free | undefined): Free =>
	(free ?? [[0, Infinity]]).reduce<Stretch[]>((all, [from, to]) => {
		const last = all.at(-1);
		if (last && from <= last[1]) last[1] = to;
		else all.push([from, to]);
		return all;
	}, []);

const earliestEnd = (free: Free, minutes: number, from: number) =>
	Math.min(
		...free.map(([opens, closes]) =>
			Math.max(opens, from) + minutes <= closes ? Math.max(opens, from) + minutes : Infinity
		)
	);

/** How many tasks of each job can be done at all, as if it were alone. */
function possible({ technicians, jobs }: ScheduleRequest): number[] {
	return jobs.map(({ release, tasks }) => {
		let ready = release;
		for (const [i, { minutes = 0, wait = 0 }] of tasks.entries()) {
			const end = Math.min(...technicians.map(({ free }) => earliestEnd(joined(free), minutes, ready)));
			if (end === Infinity) return i;
			ready = end + wait;
		}
		return tasks.length;
	});
}

/** Weight of the jobs of which less is planned than can be done alone, and the objective of the others. */
function leftOut(asked: ScheduleRequest, { tasks }: Pick<Schedule, 'tasks'>) {
	const can = possible(asked);
	const ends = asked.jobs.map(({ job: name }) =>
		tasks.filter((task) => task.job === name).map(({ end }) => end)
	);
	return judge(
		asked,
		can,
		ends.map((own, j) => (own.length < (can[j] as number) ? null : Math.max(0, ...own)))
	);
}

/** @param ends by job; null: left out */
function judge(
	{ jobs, objective }: ScheduleRequest,
	can: readonly number[],
	ends: readonly (number | null)[]
) {
	let [weight, value] = [0, 0];
	jobs.forEach((each, j) => {
		const end = ends[j] as number | null;
		if (end === null) weight += each.weight + 1e-6;
		else if (objective === 'makespan') value = Math.max(value, end);
		else if (can[j] === each.tasks.length) value += each.weight * Math.max(0, end - (each.due ?? Infinity));
	});
	return { weight, value };
}

/** The lightest to leave out, then the best objective of the others: all orders, all hands, all sets of jobs left out. */
function byForce(asked: ScheduleRequest): { weight: number; value: number } {
	const { technicians, jobs } = asked;
	const can = possible(asked);
	const free = technicians.map((each) => joined(each.free));
	const busy: { technician: number; station: string | undefined; from: number; to: number }[] = [];
	const next = jobs.map(() => 0);
	const ready = jobs.map(({ release }) => release);
	const ends: (number | null)[] = jobs.map(() => 0);
	let best = { weight: Infinity, value: Infinity };
	const fits = (technician: number, station: string | undefined, from: number, to: number) =>
		(free[technician] as Free).some(([opens, closes]) => from >= opens && to <= closes) &&
		busy.every(
			(each) =>
				each.to <= from ||
				each.from >= to ||
				(each.technician !== technician && (station === undefined || each.station !== station))
		);
	const walk = () => {
		let done = true;
		jobs.forEach(({ tasks }, j) => {
			const at = next[j] as number;
			if (ends[j] === null || at >= (can[j] as number)) return;
			done = false;
			const { minutes = 0, wait = 0, station } = tasks[at] as RequestedTask;
			technicians.forEach((_, technician) => {
				let from = ready[j] as number;
				while (from < 60 && !fits(technician, station, from, from + minutes)) from += 1;
				if (from >= 60) return;
				const kept = [ready[j], ends[j]] as [number, number];
				busy.push({ technician, station, from, to: from + minutes });
				next[j] = at + 1;
				[ready[j], ends[j]] = [from + minutes + wait, from + minutes];
				walk();
				busy.pop();
				next[j] = at;
				[ready[j], ends[j]] = kept;
			});
		});
		if (done) {
			const found = judge(asked, can, ends);
			if (
				found.weight < best.weight - 1e-9 ||
				(found.weight < best.weight + 1e-9 && found.value < best.value)
			)
				best = found;
		}
	};
	// a job that is left out is left out whole: what it would take helps nobody
	for (let set = 0; set < 2 ** jobs.length; set++) {
		jobs.forEach((_, j) => (ends[j] = set & (1 << j) ? null : 0));
		if (jobs.some((_, j) => ends[j] === null && can[j] === 0)) continue;
		walk();
	}
	return best;
}
