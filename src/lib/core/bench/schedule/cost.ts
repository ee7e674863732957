import { valueOf, type Plan } from './decode';
import type { Problem } from './problem';

/** One number of a plan: dropped jobs before all, then what is asked for, then how early all ends. */
export function costOf(problem: Problem, plan: Plan): number {
	const ends = plan.placed.reduce((sum, { end }) => sum + end, 0) / Math.max(1, plan.placed.length);
	const changes = problem.handOver > 0 ? problem.handOver * changesOfHands(problem, plan) : 0;
	return plan.droppedWeight * 1e9 + valueOf(problem, plan) + changes + 1e-4 * ends + 1e-5 * plan.makespan;
}

/** How often a job goes to other hands, from who has it now on. */
export function changesOfHands({ jobs }: Pick<Problem, 'jobs'>, { placed }: Pick<Plan, 'placed'>): number {
	const hands = jobs.map(({ holder }) => holder);
	let changes = 0;
	// a job's tasks are placed in their order
	for (const { task, technician } of placed) {
		const before = hands[task.job] as number;
		if (before >= 0 && before !== technician) changes += 1;
		hands[task.job] = technician;
	}
	return changes;
}
