import type { Schedule, ScheduleRequest } from '$lib/core/bench/schedule/problem';
import { planBench } from '$lib/core/bench/schedule/search';
import { inTurns } from '../database/in-turns';

/** So many plans wait for the one that is made; more are sent away. A choice. */
const MOST_WAITING = 4;

let waiting = 0;
let last: Promise<unknown> = Promise.resolve();

/**
 * Plans in their turn, one at a time; others are heard every few milliseconds.
 * @returns null where too many wait already
 */
export async function scheduleInTurn(request: ScheduleRequest, seconds: number): Promise<Schedule | null> {
	if (waiting > MOST_WAITING) return null;
	waiting += 1;
	const turn = last.catch(() => undefined).then(() => planned(request, seconds));
	last = turn;
	try {
		return await turn;
	} finally {
		waiting -= 1;
	}
}

/**
 * The floor's own plan: without seconds by rules of thumb at once, else in a turn of its own, which calls from outside neither fill nor
 * wait for.
 */
export const planAside = (request: ScheduleRequest, seconds: number): Promise<Schedule> =>
	planned(request, seconds);

function planned(request: ScheduleRequest, seconds: number): Promise<Schedule> {
	const since = performance.now();
	return inTurns(
		planBench(request, {
			used: () => (seconds > 0 ? (performance.now() - since) / (1000 * seconds) : 1)
		})
	);
}
