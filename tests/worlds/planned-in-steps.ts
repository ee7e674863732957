import type { Schedule, ScheduleRequest } from '$lib/core/bench/schedule/problem';
import { planBench } from '$lib/core/bench/schedule/search';

/** A plan without a clock, for tests: so many steps of the search, the same on every machine. */
export function plannedInSteps(request: ScheduleRequest, steps = 3000): Schedule {
	let done = 0;
	const search = planBench(request, { used: () => done / steps });
	for (;;) {
		const step = search.next();
		if (step.done) return step.value;
		done += 1;
	}
}
