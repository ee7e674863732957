import { describe, expect, it } from 'vitest';
import { oneMachineBound } from '$lib/core/bench/schedule/bound';
import type { RequestedTask, ScheduleRequest } from '$lib/core/bench/schedule/problem';
import { plannedInSteps as planned } from '$lib/core/simulation/planned-in-steps';

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
