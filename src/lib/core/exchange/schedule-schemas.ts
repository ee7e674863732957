import { codeRecord } from '../units/code';
import { z } from 'zod';

/** The body and the answer of `POST /api/v1/schedule`, as the contract has them. */

const MOST_JOBS = 500;
const MOST_TASKS = 2000;
const name = z.string().min(1).max(64);
const minutes = z.number().positive().max(1e7);
const moment = z.number().min(0).max(1e9);

const stretch = z.tuple([moment, moment]).refine(([from, to]) => to > from, {
	error: ({ input }) => `is ${JSON.stringify(input)}; a stretch ends after it begins`
});
const free = z
	.array(stretch)
	.max(2000)
	.superRefine((stretches, context) => {
		stretches.forEach(([from], i) => {
			const previous = stretches[i - 1];
			if (previous && from < previous[1])
				context.addIssue({
					code: 'custom',
					path: [i],
					message: `begins at ${from}, before the one before it ends at ${previous[1]}; write them in order, not overlapping`
				});
		});
	});

const task = z
	.strictObject({
		task: name,
		minutes: minutes.optional(),
		skill: name.optional(),
		by: codeRecord(minutes, name)
			.refine(
				(minutes) => Object.keys(minutes).length > 0,
				'names nobody; say who can do it, or leave it out'
			)
			.optional(),
		station: name.optional(),
		wait: z.number().min(0).max(1e7).optional()
	})
	.superRefine(({ minutes: usual, skill, by: doers }, context) => {
		const wrong = (path: string, message: string) =>
			context.addIssue({ code: 'custom', path: [path], message });
		if (doers && usual !== undefined)
			wrong('minutes', 'stands beside by, which says how long it takes; leave one out');
		if (doers && skill !== undefined)
			wrong('skill', 'stands beside by, which says who can do it; leave one out');
		if (!doers && usual === undefined)
			wrong('minutes', 'is missing; say how long it takes, or by whom in how long');
	});

/** The first name that comes twice. */
function twice(names: readonly string[]): number {
	const seen = new Set<string>();
	return names.findIndex((name) => seen.size === seen.add(name).size);
}

const job = z
	.strictObject({
		job: name,
		release: moment.default(0),
		/** may lie before 0: overdue already */
		due: z.number().min(-1e9).max(1e9).nullish(),
		weight: z.number().min(0).max(1e6).default(1),
		tasks: z.array(task).max(MOST_TASKS)
	})
	.superRefine(({ tasks }, context) => {
		const at = twice(tasks.map((each) => each.task));
		if (at >= 0)
			context.addIssue({
				code: 'custom',
				path: ['tasks', at, 'task'],
				message: `is ${tasks[at]?.task}, which the job has already; names within a job are unique`
			});
	});

export const scheduleBody = z
	.strictObject({
		technicians: z
			.array(z.strictObject({ code: name, skills: z.array(name).max(200).optional(), free: free.optional() }))
			.max(200),
		stations: z
			.array(z.strictObject({ code: name, count: z.int().min(1).max(1000) }))
			.max(200)
			.default([]),
		jobs: z.array(job).max(MOST_JOBS, `names more than ${MOST_JOBS}; plan fewer at once`),
		objective: z.enum(['makespan', 'tardiness']),
		seconds: z.number().min(0).max(30).default(5)
	})
	.superRefine(({ technicians, stations, jobs }, context) => {
		const wrong = (path: (string | number)[], message: string) =>
			context.addIssue({ code: 'custom', path, message });
		const unique = (list: string, key: string, names: readonly string[]) => {
			const at = twice(names);
			if (at >= 0) wrong([list, at, key], `is ${names[at]}, which stands there already; names are unique`);
		};
		const people = technicians.map(({ code }) => code);
		const places = stations.map(({ code }) => code);
		unique('technicians', 'code', people);
		unique('stations', 'code', places);
		unique(
			'jobs',
			'job',
			jobs.map((each) => each.job)
		);
		const count = jobs.reduce((sum, { tasks }) => sum + tasks.length, 0);
		if (count > MOST_TASKS)
			wrong(['jobs'], `have ${count} tasks together; ${MOST_TASKS} are planned at most`);
		jobs.forEach(({ tasks }, j) =>
			tasks.forEach(({ by: doers = {}, station }, i) => {
				const stranger = Object.keys(doers).find((code) => !people.includes(code));
				if (stranger !== undefined)
					wrong(['jobs', j, 'tasks', i, 'by'], `names ${stranger}, who is not among the technicians`);
				if (station !== undefined && !places.includes(station))
					wrong(['jobs', j, 'tasks', i, 'station'], `is ${station}, which is not among the stations`);
			})
		);
	});

export const scheduleAnswer = z.object({
	makespan: z.number(),
	tardiness: z.number().meta({ description: 'weight times minutes late, over all jobs' }),
	bound: z.number().meta({ description: 'proven: no plan does better in the objective' }),
	optimal: z.boolean().meta({ description: 'the bound is reached' }),
	tasks: z.array(
		z.object({
			job: z.string(),
			task: z.string(),
			technician: z.string(),
			station: z.string().nullable(),
			start: z.number(),
			end: z.number()
		})
	),
	impossible: z
		.array(z.object({ job: z.string(), task: z.string(), message: z.string() }))
		.meta({ description: 'tasks that nobody can do, with those after them; what there is no time for' })
});
