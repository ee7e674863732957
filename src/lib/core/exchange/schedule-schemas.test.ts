import { describe, expect, it } from 'vitest';
import { scheduleBody } from './schedule-schemas';

const good = {
	technicians: [
		{
			code: 'a',
			skills: ['open'],
			free: [
				[0, 240],
				[240, 300],
				[310, 400]
			]
		},
		{ code: 'b' },
		{ code: 'c', free: [] }
	],
	stations: [{ code: 'lens', count: 1 }],
	jobs: [
		{
			job: 'K-00001',
			due: -5,
			tasks: [
				{ task: 'open', minutes: 0.5, skill: 'nobody-has-it' },
				{ task: 'port', by: { a: 40, b: 30 }, station: 'lens', wait: 15 }
			]
		},
		{ job: '2', due: null, tasks: [] }
	],
	objective: 'makespan'
};
type Body = typeof good;
const changed = (change: (body: Record<string, never>) => void) => {
	const body = structuredClone(good) as unknown as Record<string, never>;
	change(body);
	return body;
};
const path = (body: unknown) => {
	const { error } = scheduleBody.safeParse(body);
	return error ? error.issues[0]?.path.join('.') : 'taken';
};
const first = (body: Record<string, never>) =>
	(body as unknown as Body).jobs[0] as Body['jobs'][number] & Record<string, unknown>;
const task = (body: Record<string, never>, at = 0) => first(body).tasks[at] as Record<string, unknown>;

describe('what a plan is asked with', () => {
	it('what may be left out is as the contract says', () => {
		const { technicians, jobs, objective } = good;
		const { seconds, stations } = scheduleBody.parse({
			technicians,
			objective,
			jobs: jobs.map(({ tasks, ...job }) => ({ ...job, tasks: tasks.map(({ station: _, ...rest }) => rest) }))
		});
		expect([seconds, stations]).toEqual([5, []]);
		expect(scheduleBody.parse(good).jobs.map(({ release, weight, due }) => [release, weight, due])).toEqual([
			[0, 1, -5],
			[0, 1, null]
		]);
	});
	it.each<[string, (body: Record<string, never>) => void, string]>([
		['nothing wrong', () => {}, 'taken'],
		['no objective', (body) => delete (body as Partial<Body>).objective, 'objective'],
		['another objective', (body) => Object.assign(body, { objective: 'joy' }), 'objective'],
		['a job twice', (body) => Object.assign(first(body), { job: '2' }), 'jobs.1.job'],
		[
			'a technician twice',
			(body) => Object.assign((body as unknown as Body).technicians[1] as object, { code: 'a' }),
			'technicians.1.code'
		],
		['a task twice', (body) => Object.assign(task(body, 1), { task: 'open' }), 'jobs.0.tasks.1.task'],
		[
			'a stretch that ends before it begins',
			(body) => Object.assign((body as unknown as Body).technicians[1] as object, { free: [[5, 5]] }),
			'technicians.1.free.0'
		],
		[
			'stretches that overlap',
			(body) =>
				Object.assign((body as unknown as Body).technicians[1] as object, {
					free: [
						[0, 9],
						[8, 12]
					]
				}),
			'technicians.1.free.1'
		],
		['nobody in by', (body) => Object.assign(task(body, 1), { by: {} }), 'jobs.0.tasks.1.by'],
		['a stranger in by', (body) => Object.assign(task(body, 1), { by: { z: 4 } }), 'jobs.0.tasks.1.by'],
		['by beside minutes', (body) => Object.assign(task(body, 1), { minutes: 4 }), 'jobs.0.tasks.1.minutes'],
		['by beside a skill', (body) => Object.assign(task(body, 1), { skill: 'open' }), 'jobs.0.tasks.1.skill'],
		['neither minutes nor by', (body) => delete task(body).minutes, 'jobs.0.tasks.0.minutes'],
		['no minutes at all', (body) => Object.assign(task(body), { minutes: 0 }), 'jobs.0.tasks.0.minutes'],
		[
			'a station that there is not',
			(body) => Object.assign(task(body, 1), { station: 'air' }),
			'jobs.0.tasks.1.station'
		],
		[
			'half a place',
			(body) => Object.assign((body as unknown as Body).stations[0] as object, { count: 1.5 }),
			'stations.0.count'
		],
		[
			'no place',
			(body) => Object.assign((body as unknown as Body).stations[0] as object, { count: 0 }),
			'stations.0.count'
		],
		[
			'released before the beginning',
			(body) => Object.assign(first(body), { release: -1 }),
			'jobs.0.release'
		],
		['a weight below nothing', (body) => Object.assign(first(body), { weight: -1 }), 'jobs.0.weight'],
		['a wait below nothing', (body) => Object.assign(task(body, 1), { wait: -1 }), 'jobs.0.tasks.1.wait'],
		['too long a search', (body) => Object.assign(body, { seconds: 31 }), 'seconds'],
		['a field that it does not know', (body) => Object.assign(first(body), { colour: 'red' }), 'jobs.0']
	])('%s', (_, change, where) => expect(path(changed(change))).toBe(where));
	it('more jobs or tasks than are planned at once are named as jobs', () => {
		const jobs = (count: number, tasks: number) =>
			Array.from({ length: count }, (_, j) => ({
				job: `J${j}`,
				tasks: Array.from({ length: tasks }, (_, i) => ({ task: `t${i}`, minutes: 1 }))
			}));
		expect(path({ ...good, jobs: jobs(500, 4) })).toBe('taken');
		expect(path({ ...good, jobs: jobs(501, 1) })).toBe('jobs');
		expect(path({ ...good, jobs: jobs(401, 5) })).toBe('jobs');
	});
});
