import { itemAt } from '../../units/vector';
import { codeEntry } from '../../units/code';
/**
 * Planning a bench: jobs of tasks that follow one another, technicians with skills and free stretches, stations with so many
 * places. Minutes from 0, fractions allowed. A flexible job shop with a second resource, waits, breaks, releases and due times.
 */
export interface ScheduleRequest {
	technicians: readonly {
		code: string;
		skills?: readonly string[] | undefined;
		/** in order; without: always */
		free?: readonly (readonly [number, number])[] | undefined;
	}[];
	stations: readonly {
		code: string;
		count: number;
		/** one of its places is taken then, by what the plan does not move */
		busy?: readonly (readonly [number, number])[] | undefined;
	}[];
	jobs: readonly RequestedJob[];
	objective: 'makespan' | 'tardiness';
	/** what a change of hands within a job weighs beside the objective; nothing without */
	handOver?: number | undefined;
}

export interface RequestedJob {
	job: string;
	release: number;
	/** null: none */
	due: number | null;
	weight: number;
	/** who has it already: other hands at its first task are a change */
	holder?: string | null | undefined;
	tasks: readonly RequestedTask[];
}

export interface RequestedTask {
	task: string;
	/** who can do it, and in how many minutes */
	by?: Readonly<Record<string, number>> | undefined;
	minutes?: number | undefined;
	skill?: string | undefined;
	station?: string | undefined;
	/** minutes after it in which neither technician nor place is taken */
	wait?: number | undefined;
}

interface PlannedTask {
	job: string;
	task: string;
	technician: string;
	station: string | null;
	start: number;
	end: number;
}

interface Impossible {
	job: string;
	task: string;
	message: string;
}

export interface Schedule {
	makespan: number;
	tardiness: number;
	/** proven: no plan does better in the objective */
	bound: number;
	optimal: boolean;
	tasks: PlannedTask[];
	impossible: Impossible[];
}

/** A stretch in which a technician is free; the last may be without end. */
export type Free = readonly [from: number, to: number];

/** A task as it is searched over: numbers in the place of names. */
export interface Task {
	job: number;
	name: string;
	/** technicians who can do it, with minutes; the quickest first */
	by: readonly { technician: number; minutes: number }[];
	/** null: no station */
	station: number | null;
	wait: number;
}

export interface Job {
	name: string;
	release: number;
	due: number;
	weight: number;
	/** those that somebody can do in time, in order */
	tasks: readonly Task[];
	/** who has it already, by number; -1: nobody */
	holder: number;
	/** some of its tasks nobody can do: it has no end, and is not late */
	cut: boolean;
}

export interface Problem {
	technicians: readonly { code: string; free: readonly Free[] }[];
	stations: ScheduleRequest['stations'];
	jobs: readonly Job[];
	objective: 'makespan' | 'tardiness';
	handOver: number;
	impossible: Impossible[];
}

const ALWAYS: readonly Free[] = [[0, Infinity]];

/** The request in numbers; what nobody can do is taken out, with its job's later tasks. */
export function problemOf({
	technicians,
	stations,
	jobs,
	objective,
	handOver = 0
}: ScheduleRequest): Problem {
	const people = technicians.map(({ code, free }) => ({ code, free: free ? joined(free) : ALWAYS }));
	const impossible: Impossible[] = [];
	const read = jobs.map((requested, j): Job => {
		const tasks: Task[] = [];
		let cut = false;
		// as if nothing else were to be done
		let ready = requested.release;
		for (const task of requested.tasks) {
			if (cut) {
				impossible.push({
					job: requested.job,
					task: task.task,
					message: 'comes after a task that cannot be done'
				});
				continue;
			}
			const doers = doersOf(task, technicians);
			const freeOf = (technician: number) => itemAt(people, technician).free;
			const able = doers.filter(
				({ technician, minutes }) => endAlone(freeOf(technician), minutes, ready) < Infinity
			);
			if (able.length === 0) {
				cut = true;
				const long = doers.some(
					({ technician, minutes }) => endAlone(freeOf(technician), minutes, 0) < Infinity
				);
				impossible.push({ job: requested.job, task: task.task, message: whyNot(task, doers, long) });
				continue;
			}
			ready =
				Math.min(...able.map(({ technician, minutes }) => endAlone(freeOf(technician), minutes, ready))) +
				(task.wait ?? 0);
			const station =
				task.station === undefined ? -1 : stations.findIndex(({ code }) => code === task.station);
			tasks.push({
				job: j,
				name: task.task,
				by: able.sort((a, b) => a.minutes - b.minutes || a.technician - b.technician),
				station: station < 0 ? null : station,
				wait: task.wait ?? 0
			});
		}
		const { job: name, release, due, weight } = requested;
		const holder = technicians.findIndex(({ code }) => code === requested.holder);
		return { name, release, due: due ?? Infinity, weight, holder, tasks, cut };
	});
	return { technicians: people, stations, jobs: read, objective, handOver, impossible };
}

/** The earliest end of some minutes of one technician that begin at a moment or later, with nothing else to do; Infinity: never. */
export function endAlone(free: readonly Free[], minutes: number, from: number): number {
	for (const [opens, closes] of free) {
		const start = Math.max(opens, from);
		if (start + minutes <= closes + 1e-9) return start + minutes;
	}
	return Infinity;
}

/** Stretches that touch are one. */
function joined(free: readonly (readonly [number, number])[]): Free[] {
	const stretches: [number, number][] = [];
	for (const [from, to] of free) {
		const last = stretches.at(-1);
		if (last && from <= last[1]) last[1] = Math.max(last[1], to);
		else stretches.push([from, to]);
	}
	return stretches;
}

function doersOf({ by: doers, minutes, skill }: RequestedTask, technicians: ScheduleRequest['technicians']) {
	return technicians.flatMap(({ code, skills = [] }, technician) => {
		const named = doers
			? codeEntry(doers, code)
			: skill === undefined || skills.includes(skill)
				? minutes
				: undefined;
		return named === undefined ? [] : [{ technician, minutes: named }];
	});
}

const whyNot = ({ skill }: RequestedTask, doers: readonly unknown[], longEnough: boolean): string =>
	doers.length > 0
		? longEnough
			? 'comes too late for the free time of those who can do it'
			: 'fits into no free stretch of those who can do it'
		: skill === undefined
			? 'nobody can do it'
			: `nobody has the skill ${skill}`;
