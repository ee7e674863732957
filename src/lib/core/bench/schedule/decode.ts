import { indexAt, itemAt, valueAt } from '../../units/vector';
import { endsAlone } from './bound';
import type { Job, Problem, Task } from './problem';
import { Timetable } from './timetable';

/** Where and when a task is done. */
export interface Placed {
	task: Task;
	technician: number;
	start: number;
	end: number;
}

export interface Plan {
	placed: Placed[];
	/** jobs whose rest fits into no free time any more, with how many of their tasks stand */
	dropped: Map<number, number>;
	makespan: number;
	tardiness: number;
	/** weight of the jobs that were dropped */
	droppedWeight: number;
	/** one number to compare plans by: dropped jobs before all, then what is asked for, then how early all ends */
	cost: number;
}

/** A solution as the search changes it: jobs in the order in which their next task is placed, and who does which task. */
export interface Coding {
	/** a job's number as often as it has tasks */
	order: readonly number[];
	/** by job and task: the technician's place among those who can do it; -1: whoever ends first */
	doers: readonly (readonly number[])[];
}

/** The same technician goes on, where a change counts, even if they end so many minutes later than others. A choice. */
const KEEP_TECHNICIAN = 10;
/** What leaving a job out weighs; one without weight is not left out for nothing either. */
export const droppingCost = ({ weight }: Pick<Job, 'weight'>): number => weight + 1e-6;
/** So many times on the way a plan's state is noted, so that one that begins alike is built from there. A choice. */
const NOTES = 12;

/** A plan on its way: after so many turns of its order. */
class Progress {
	turn = 0;
	readonly table: Timetable;
	readonly next: Int32Array;
	readonly ready: Float64Array;
	readonly technician: Int32Array;
	readonly dropped: Uint8Array;
	makespan = 0;
	/** of the jobs that are through, and at least that of the others */
	tardiness: number;
	droppedWeight = 0;
	changes = 0;
	sumOfEnds = 0;
	placed = 0;

	constructor(problem: Problem, leastTardiness: number) {
		const { jobs } = problem;
		this.table = new Timetable(problem);
		this.next = new Int32Array(jobs.length);
		this.ready = Float64Array.from(jobs, ({ release }) => release);
		this.technician = Int32Array.from(jobs, ({ holder }) => holder);
		this.dropped = new Uint8Array(jobs.length);
		this.tardiness = leastTardiness;
	}

	become(source: Progress): void {
		this.turn = source.turn;
		this.table.become(source.table);
		this.next.set(source.next);
		this.ready.set(source.ready);
		this.technician.set(source.technician);
		this.dropped.set(source.dropped);
		this.makespan = source.makespan;
		this.tardiness = source.tardiness;
		this.droppedWeight = source.droppedWeight;
		this.changes = source.changes;
		this.sumOfEnds = source.sumOfEnds;
		this.placed = source.placed;
	}
}

/**
 * Builds the plan of a coding: task by task in its order, each at the earliest start that is left, gaps included (a serial schedule
 * generation scheme). Some order gives the best plan of all, since each plan whose tasks cannot be moved forward is built by the order
 * of its starts. One decoder serves a whole search: a coding that begins like the last one that was decoded is built from there.
 */
export class Decoder {
	readonly #problem: Problem;
	/** tardiness of each job as if it were alone, weighted: no plan has less */
	readonly #least: readonly number[];
	readonly #now: Progress;
	/** states of the last plan that was decoded, the first of them empty */
	readonly #notes: Progress[];
	#noted = 1;
	#base: Coding | null = null;
	#baseCost = 0;
	/** tardiness of that plan after so many turns */
	readonly #tardyAfter: number[] = [];

	constructor(problem: Problem) {
		this.#problem = problem;
		this.#least = problem.jobs.map((job) =>
			job.cut || job.tasks.length === 0 || job.due === Infinity
				? 0
				: job.weight * Math.max(0, (endsAlone(problem, job).at(-1) as number) - job.due)
		);
		const minimum = this.#least.reduce((sum, minutes) => sum + minutes, 0);
		this.#now = new Progress(problem, minimum);
		this.#notes = Array.from({ length: NOTES + 1 }, () => new Progress(problem, minimum));
	}

	/** The plan of a coding, from which the next ones are counted. */
	decode(coding: Coding): Plan {
		const state = this.#now;
		state.become(itemAt(this.#notes, 0));
		this.#noted = 1;
		this.#base = coding;
		const { order } = coding;
		const between = Math.max(1, Math.ceil(order.length / NOTES));
		const placed: Placed[] = [];
		while (state.turn < order.length) {
			if (state.turn > 0 && state.turn % between === 0) this.#notes[this.#noted++]?.become(state);
			this.#takeTurn(coding, placed);
			this.#tardyAfter[state.turn] = state.tardiness;
		}
		this.#baseCost = this.#cost();
		state.tardiness = tardinessOf(this.#problem, placed);
		const { makespan, tardiness, droppedWeight, dropped, next } = state;
		return {
			placed,
			dropped: new Map(
				[...dropped.keys()].flatMap((j) => (dropped[j] ? [[j, indexAt(next, j)] as const] : []))
			),
			makespan,
			tardiness,
			droppedWeight,
			cost: this.#cost()
		};
	}

	/**
	 * The cost of a coding's plan; where it is over a limit perhaps only something over that.
	 * @param hope where the order becomes the last decoded plan's again, so much more tardiness than that had there, beyond what the
	 * limit allows, may still be made good by what follows; with more it counts as over the limit (not proven: mostly it is)
	 */
	cost(coding: Coding, limit: number, hope = Infinity): number {
		const state = this.#now;
		const { order } = coding;
		state.become(this.#noteBefore(coding));
		const changedTo = this.#changedTo(order);
		const allowed = limit - this.#baseCost + hope;
		while (state.turn < order.length) {
			this.#takeTurn(coding, null);
			if (state.droppedWeight * 1e9 + this.#value() > limit) break;
			if (state.turn === changedTo && state.tardiness - (this.#tardyAfter[changedTo] ?? 0) > allowed)
				return Infinity;
		}
		return this.#cost();
	}

	/** From this turn on an order is that of the last decoded plan. */
	#changedTo(order: readonly number[]): number {
		let end = order.length;
		while (end > 0 && this.#base?.order[end - 1] === order[end - 1]) end--;
		return end;
	}

	/** The latest state that the last decoded plan has in common with that of a coding. */
	#noteBefore({ order, doers }: Coding): Progress {
		const base = this.#base;
		if (!base || base.order.length !== order.length) return itemAt(this.#notes, 0);
		const met = new Map<number, number>();
		let equalCost = 0;
		for (; equalCost < order.length; equalCost++) {
			const j = order[equalCost] as number;
			if (base.order[equalCost] !== j) break;
			if (doers[j] === base.doers[j]) continue;
			const at = met.get(j) ?? 0;
			if (doers[j]?.[at] !== base.doers[j]?.[at]) break;
			met.set(j, at + 1);
		}
		let note = this.#noted - 1;
		while (itemAt(this.#notes, note).turn > equalCost) note--;
		return itemAt(this.#notes, note);
	}

	#value(): number {
		return this.#problem.objective === 'makespan' ? this.#now.makespan : this.#now.tardiness;
	}

	#cost(): number {
		const { droppedWeight, changes, sumOfEnds, placed, makespan } = this.#now;
		return (
			droppedWeight * 1e9 +
			this.#value() +
			this.#problem.handOver * changes +
			(1e-4 * sumOfEnds) / Math.max(1, placed) +
			1e-5 * makespan
		);
	}

	/** Places the next task of the job whose turn it is; drops the job where that fits into no free time any more. */
	#takeTurn({ order, doers }: Coding, placed: Placed[] | null): void {
		const state = this.#now;
		const j = order[state.turn++] as number;
		if (state.dropped[j]) return;
		const at = indexAt(state.next, j);
		const job = itemAt(this.#problem.jobs, j);
		const task = itemAt(job.tasks, at);
		const ready = valueAt(state.ready, j);
		const preferred = doers[j]?.[at] ?? -1;
		let doer = preferred < 0 ? undefined : task.by[preferred];
		let start = doer
			? state.table.earliestStart(task.station, doer.technician, doer.minutes, ready)
			: Infinity;
		if (start === Infinity) {
			// nobody was wanted, or who was has no time left: whoever ends first
			doer = undefined;
			const previous = this.#problem.handOver > 0 ? indexAt(state.technician, j) : -1;
			let minimum = Infinity;
			for (const entry of task.by) {
				const { technician, minutes } = entry;
				const counted = minutes + (previous >= 0 && technician !== previous ? KEEP_TECHNICIAN : 0);
				if (ready + counted >= minimum) continue;
				const begins = state.table.earliestStart(task.station, technician, minutes, ready);
				if (begins + counted >= minimum) continue;
				minimum = begins + counted;
				doer = entry;
				start = begins;
			}
		}
		if (!doer) {
			state.dropped[j] = 1;
			state.droppedWeight += droppingCost(job);
			state.tardiness -= this.#least[j] as number;
			return;
		}
		const { technician, minutes } = doer;
		const end = start + minutes;
		state.table.take(task.station, technician, minutes, start);
		placed?.push({ task, technician, start, end });
		const previous = indexAt(state.technician, j);
		if (previous >= 0 && previous !== technician) state.changes += 1;
		state.technician[j] = technician;
		state.ready[j] = end + task.wait;
		state.next[j] = at + 1;
		state.placed += 1;
		state.sumOfEnds += end;
		if (end > state.makespan) state.makespan = end;
		if (at + 1 === job.tasks.length && !job.cut)
			state.tardiness += job.weight * Math.max(0, end - job.due) - (this.#least[j] as number);
	}
}

/** The plan of one coding alone; a search keeps a decoder. */
export const decode = (problem: Problem, coding: Coding): Plan => new Decoder(problem).decode(coding);

/** Weighted minutes late of the jobs that are through, summed afresh: on the way fractions would add up. */
function tardinessOf({ jobs }: Problem, placed: readonly Placed[]): number {
	return placed.reduce((sum, { task, end }) => {
		const { due, weight, cut, tasks } = itemAt(jobs, task.job);
		return cut || task !== tasks.at(-1) ? sum : sum + weight * Math.max(0, end - due);
	}, 0);
}

/** What is asked for, as one number of a plan. */
export const valueOf = (
	{ objective }: Pick<Problem, 'objective'>,
	{ makespan, tardiness }: Pick<Plan, 'makespan' | 'tardiness'>
): number => (objective === 'makespan' ? makespan : tardiness);
