import { describe, expect, it } from 'vitest';
import { oneMachineBound } from '$lib/core/bench/schedule/bound';
import type { RequestedTask, ScheduleRequest } from '$lib/core/bench/schedule/problem';
import { plannedInSteps as planned } from '$worlds/planned-in-steps';

const machines = (count: number) => Array.from({ length: count }, (_, i) => ({ code: `m${i}` }));
const shop = (rows: number[][]): ScheduleRequest['jobs'] =>
	rows.map((row, j) => ({
		job: `J${j + 1}`,
		release: 0,
		due: null,
		weight: 1,
		tasks: Array.from({ length: row.length / 2 }, (_, i): RequestedTask => ({
			task: `t${i}`,
			by: { [`m${row[2 * i]}`]: row[2 * i + 1] as number }
		}))
	}));

describe('scheduling, published', () => {
	it('FT06: makespan 55, proven (H. Fisher, G. L. Thompson, Industrial Scheduling, 1963)', () => {
		const jobs = shop([
			[2, 1, 0, 3, 1, 6, 3, 7, 5, 3, 4, 6],
			[1, 8, 2, 5, 4, 10, 5, 10, 0, 10, 3, 4],
			[2, 5, 3, 4, 5, 8, 0, 9, 1, 1, 4, 7],
			[1, 5, 0, 5, 2, 5, 3, 3, 4, 8, 5, 9],
			[2, 9, 1, 3, 4, 5, 5, 4, 0, 3, 3, 1],
			[1, 3, 3, 3, 5, 9, 0, 10, 4, 4, 2, 1]
		]);
		const plan = planned({ technicians: machines(6), stations: [], jobs, objective: 'makespan' }, 4000);
		expect(plan).toMatchObject({ makespan: 55, bound: 55, optimal: true });
	});
	it('FT10: the optimum 930 within 2 % (same source; J. Carlier, E. Pinson, Management Science 35, 1989, proved it)', () => {
		const jobs = shop([
			[0, 29, 1, 78, 2, 9, 3, 36, 4, 49, 5, 11, 6, 62, 7, 56, 8, 44, 9, 21],
			[0, 43, 2, 90, 4, 75, 9, 11, 3, 69, 1, 28, 6, 46, 5, 46, 7, 72, 8, 30],
			[1, 91, 0, 85, 3, 39, 2, 74, 8, 90, 5, 10, 7, 12, 6, 89, 9, 45, 4, 33],
			[1, 81, 2, 95, 0, 71, 4, 99, 6, 9, 8, 52, 7, 85, 3, 98, 9, 22, 5, 43],
			[2, 14, 0, 6, 1, 22, 5, 61, 3, 26, 4, 69, 8, 21, 7, 49, 9, 72, 6, 53],
			[2, 84, 1, 2, 5, 52, 3, 95, 8, 48, 9, 72, 0, 47, 6, 65, 4, 6, 7, 25],
			[1, 46, 0, 37, 3, 61, 2, 13, 6, 32, 5, 21, 9, 32, 8, 89, 7, 30, 4, 55],
			[2, 31, 0, 86, 1, 46, 5, 74, 4, 32, 6, 88, 8, 19, 9, 48, 7, 36, 3, 79],
			[0, 76, 1, 69, 3, 76, 5, 51, 2, 85, 9, 11, 6, 40, 7, 89, 4, 26, 8, 74],
			[1, 85, 0, 13, 2, 61, 6, 7, 8, 64, 9, 76, 5, 47, 3, 52, 4, 90, 7, 45]
		]);
		const plan = planned({ technicians: machines(10), stations: [], jobs, objective: 'makespan' }, 100_000);
		expect(plan.makespan).toBeLessThanOrEqual(930 * 1.02);
		// a plan below the proven optimum would break a rule
		expect(plan.makespan).toBeGreaterThanOrEqual(930);
		expect(plan.bound).toBeLessThanOrEqual(930);
	});
	it.each([
		['all due at once, alike: the shortest first, 57', [0, 0, 0, 0, 0, 0], [1, 1, 1, 1, 1, 1], 57],
		[
			'all due at once: weight by minutes (W. E. Smith, 1956), 142',
			[0, 0, 0, 0, 0, 0],
			[2, 1, 3, 4, 2, 5],
			142
		],
		['alike: 8 late in all', [6, 9, 12, 8, 20, 3], [1, 1, 1, 1, 1, 1], 8],
		[
			'none is over 5 late (J. R. Jackson, 1955): due 5 later, none is late',
			[11, 14, 17, 13, 25, 8],
			[1, 1, 1, 1, 1, 1],
			0
		],
		['due 4 later, one is: 1 late', [10, 13, 16, 12, 24, 7], [1, 1, 1, 1, 1, 1], 1]
	])('one machine, %s (all 720 orders tried)', (_, due, weight, expected) => {
		const jobs = [4, 2, 7, 3, 5, 1].map((minutes, i) => ({
			job: `J${i}`,
			release: 0,
			due: due[i] as number,
			weight: weight[i] as number,
			tasks: [{ task: 't', minutes }]
		}));
		const request = { technicians: [{ code: 'a' }], stations: [], jobs, objective: 'tardiness' as const };
		expect(planned(request, 2000)).toMatchObject({ tardiness: expected, optimal: true });
	});
	it('two machines: 20.5 (S. M. Johnson, Naval Research Logistics Quarterly 1, 1954; example of its article on Wikipedia)', () => {
		const first = [3.2, 4.7, 2.2, 5.8, 3.1];
		const second = [4.2, 1.5, 5, 4, 2.8];
		const jobs = shop(first.map((minutes, i) => [0, minutes, 1, second[i] as number]));
		const plan = planned({ technicians: machines(2), stations: [], jobs, objective: 'makespan' }, 2000);
		expect(plan.makespan).toBeCloseTo(20.5, 9);
		expect(plan.optimal).toBe(true);
	});
	it('one machine, weighted tardiness 20 (all 720 orders tried)', () => {
		const due = [6, 9, 12, 8, 20, 3];
		const weight = [2, 1, 3, 4, 2, 5];
		const jobs = [4, 2, 7, 3, 5, 1].map((minutes, i) => ({
			job: `J${i}`,
			release: 0,
			due: due[i] as number,
			weight: weight[i] as number,
			tasks: [{ task: 't', minutes }]
		}));
		const request = { technicians: [{ code: 'a' }], stations: [], jobs, objective: 'tardiness' as const };
		expect(planned(request, 2000)).toMatchObject({ tardiness: 20, optimal: true });
	});
	it('flexible, skills, one microscope: makespan 95, weighted tardiness 45 (exact search and mixed integer program agree)', () => {
		const one = (
			name: string,
			release: number,
			due: number,
			weight: number,
			tasks: [Record<string, number>, boolean?][]
		) => ({
			job: name,
			release,
			due,
			weight,
			tasks: tasks.map(([by, lens], i): RequestedTask => ({
				task: `t${i}`,
				by,
				...(lens ? { station: 'M' } : {})
			}))
		});
		const jobs = [
			one('J1', 0, 60, 2, [[{ T1: 15, T2: 20 }], [{ T1: 40, T3: 30 }, true], [{ T1: 10, T2: 10, T3: 10 }]]),
			one('J2', 0, 50, 3, [[{ T1: 10, T2: 15 }], [{ T2: 25, T3: 20 }]]),
			one('J3', 10, 70, 1, [[{ T1: 20, T2: 25 }], [{ T1: 35, T3: 25 }, true]]),
			one('J4', 0, 45, 4, [[{ T2: 15, T3: 20 }], [{ T2: 20, T3: 15 }]]),
			one('J5', 20, 90, 2, [[{ T1: 15, T2: 20 }], [{ T1: 30, T3: 25 }, true], [{ T1: 10, T2: 10 }]])
		];
		const of = (objective: ScheduleRequest['objective']) =>
			planned(
				{
					technicians: ['T1', 'T2', 'T3'].map((code) => ({ code })),
					stations: [{ code: 'M', count: 1 }],
					jobs,
					objective
				},
				4000
			);
		expect(of('makespan')).toMatchObject({ makespan: 95, bound: 95, optimal: true });
		expect(of('tardiness')).toMatchObject({ tardiness: 45, bound: 45, optimal: true });
	});
	it('one machine with heads and tails, by hand: the longest tail first, interrupted when one with a longer comes', () => {
		expect(
			oneMachineBound([
				{ head: 0, minutes: 4, tail: 2 },
				{ head: 1, minutes: 2, tail: 9 }
			])
		).toBe(12);
		expect(
			oneMachineBound([
				{ head: 0, minutes: 4, tail: 2 },
				{ head: 1, minutes: 2, tail: 5 }
			])
		).toBe(8);
		expect(
			oneMachineBound([
				{ head: 3, minutes: 1, tail: 0 },
				{ head: 10, minutes: 1, tail: 0 }
			])
		).toBe(11);
		expect(oneMachineBound([])).toBe(0);
	});
});
