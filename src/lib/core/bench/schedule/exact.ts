import { itemAt } from '../../units/vector';
import { leastMinutes, machinesOf, oneMachineBound, tailsOf, type OnMachine } from './bound';
import type { Placed } from './decode';
import { endAlone, type Problem, type Task } from './problem';

/** What an exact search found by the time it ended. */
export interface Proof {
	/** a better plan than was known; null where there is none */
	placed: Placed[] | null;
	/** the least that is known of the objective */
	value: number;
	/** nothing was left out: no plan is better than the best that is known */
	complete: boolean;
}

interface Node {
	/** next task of each job */
	next: number[];
	ready: number[];
	technicians: number[];
	/** when each place of each station is left, the earliest first */
	stations: number[][];
	ends: number[];
	placed: Placed | null;
	parent: Node | null;
}

/** Known states with the same tasks done, to leave out those that are nowhere better. A choice, for memory. */
const MOST_STATES = 200_000;

/**
 * Looks at every plan that may be better than the best known one, depth first: at each point the tasks that could begin before any
 * could end, by everybody who can do them (B. Giffler, G. L. Thompson, Operations Research 8, 1960, with a choice of hands: what
 * begins later than another task could end leaves room for that one, which would end earlier there). Branches that cannot be better by
 * their bound are left out, and states that are nowhere better than one that was seen.
 * @param best value that is to be undercut
 * @yields now and then, so that others may be heard
 */
export function* provenBest(problem: Problem, best: number, timeLeft: () => boolean): Generator<void, Proof> {
	const tails = problem.jobs.map(tailsOf);
	const root: Node = {
		next: problem.jobs.map(() => 0),
		ready: problem.jobs.map(({ release }) => release),
		technicians: problem.technicians.map(() => 0),
		stations: problem.stations.map(({ count }) => new Array<number>(Math.min(count, 50)).fill(0)),
		ends: problem.jobs.map(() => 0),
		placed: null,
		parent: null
	};
	const seen = new Map<string, number[][]>();
	const stack = [{ node: root, bound: boundFrom(problem, root, tails) }];
	let [found, looked, states] = [null as Node | null, 0, 0];
	for (let top = stack.pop(); top; top = stack.pop()) {
		const { node, bound } = top;
		if (++looked % 20 === 0) {
			if (!timeLeft()) return { placed: planOf(found), value: best, complete: false };
			yield;
		}
		if (bound >= best - 1e-9) continue;
		const open = problem.jobs.flatMap(({ tasks }, j) => ((node.next[j] as number) < tasks.length ? [j] : []));
		if (open.length === 0) {
			best = valueAt(problem, node);
			found = node;
			continue;
		}
		const key = node.next.join(' ');
		const state = stateOf(node);
		const visited = seen.get(key) ?? [];
		if (visited.some((other) => other.every((value, i) => value <= (state[i] as number) + 1e-9))) continue;
		if (states < MOST_STATES) {
			seen.set(key, [...visited, state]);
			states += 1;
		}
		const children = branches(problem, node, open).map((child) => ({
			node: child,
			bound: boundFrom(problem, child, tails)
		}));
		children.sort((a, b) => b.bound - a.bound);
		stack.push(...children.filter((child) => child.bound < best - 1e-9));
	}
	return { placed: planOf(found), value: best, complete: true };
}

const stateOf = ({ technicians, stations, ready, ends }: Node) => [
	...technicians,
	...stations.flat(),
	...ready,
	...ends
];

/** Tasks that could begin before any could end, each by everybody who could begin it so early. */
function branches(problem: Problem, node: Node, open: readonly number[]): Node[] {
	const options = open.flatMap((j) => {
		const task = problem.jobs[j]?.tasks[node.next[j] as number] as Task;
		return task.by.flatMap((doer) => {
			const start = startAt(problem, node, task, doer, node.ready[j] as number);
			return start === Infinity ? [] : [{ j, task, doer, start, end: start + doer.minutes }];
		});
	});
	const first = Math.min(...options.map(({ end }) => end));
	return options
		.filter(({ start }) => start < first - 1e-9)
		.map(({ j, task, doer, start, end }) => {
			const stations =
				task.station === null
					? node.stations
					: node.stations.map((places, s) =>
							s === task.station ? replaceFirst(places, start, end) : places
						);
			return {
				next: node.next.with(j, (node.next[j] as number) + 1),
				ready: node.ready.with(j, end + task.wait),
				technicians: node.technicians.with(doer.technician, end),
				stations,
				ends: node.ends.with(j, end),
				placed: { task, technician: doer.technician, start, end },
				parent: node
			};
		});
}

/** The place that is left last before a start is taken until an end. */
function replaceFirst(places: readonly number[], start: number, end: number): number[] {
	const at = places.findLastIndex((free) => free <= start + 1e-9);
	return places.with(Math.max(0, at), end).sort((a, b) => a - b);
}

function startAt(
	problem: Problem,
	node: Node,
	{ station }: Task,
	{ technician, minutes }: Task['by'][number],
	ready: number
): number {
	const place = station === null ? 0 : (node.stations[station]?.[0] as number);
	const from = Math.max(ready, node.technicians[technician] as number, place);
	const { free } = itemAt(problem.technicians, technician);
	return endAlone(free, minutes, from) - minutes;
}

const valueAt = ({ objective, jobs }: Problem, { ends }: Node): number =>
	objective === 'makespan'
		? Math.max(0, ...ends)
		: jobs.reduce(
				(sum, { due, weight, cut, tasks }, j) =>
					sum + (cut || tasks.length === 0 ? 0 : weight * Math.max(0, (ends[j] as number) - due)),
				0
			);

/** No plan that goes on from here is better than this. */
function boundFrom(problem: Problem, node: Node, tails: readonly number[][]): number {
	const makespan = problem.objective === 'makespan';
	let bound = makespan ? Math.max(0, ...node.ends) : 0;
	const machines = new Map<string, OnMachine[]>();
	for (const [j, job] of problem.jobs.entries()) {
		let ready = node.ready[j] as number;
		let end = node.ends[j] as number;
		for (let i = node.next[j] as number; i < job.tasks.length; i++) {
			const task = itemAt(job.tasks, i);
			const starts = task.by.map((doer) => startAt(problem, node, task, doer, ready) + doer.minutes);
			end = Math.min(...starts);
			// too little free time is left: no plan goes on from here
			if (end === Infinity) return Infinity;
			const minutes = leastMinutes(task);
			if (makespan) {
				const head = task.by.length === 1 ? end - minutes : ready;
				for (const machine of machinesOf(problem, task)) {
					const machineJobs = machines.get(machine);
					const job = { head, minutes, tail: tails[j]?.[i] as number };
					if (machineJobs) machineJobs.push(job);
					else machines.set(machine, [job]);
				}
			}
			ready = end + task.wait;
		}
		if (makespan) bound = Math.max(bound, end);
		else if (!job.cut && job.tasks.length > 0) bound += job.weight * Math.max(0, end - job.due);
	}
	for (const tasks of machines.values()) {
		if (tasks.length > 1) bound = Math.max(bound, oneMachineBound(tasks));
	}
	return bound;
}

function planOf(node: Node | null): Placed[] | null {
	if (!node) return null;
	const placed: Placed[] = [];
	for (let at: Node | null = node; at?.placed; at = at.parent) placed.push(at.placed);
	return placed.reverse();
}
