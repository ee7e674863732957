import type { ProcedureStep } from '../../catalog/kinds-of-bench';
import { MINUTE_MS, type Instant } from '../../units/instant';

/** One piece of work without a break in between, as the day is planned: minutes of hands, what it needs, what must pass after it. */
export interface WorkTask {
	code: string;
	label: string;
	/** hands by technician; nobody else can do it */
	by: Readonly<Record<string, number>>;
	/** what only some can do, for saying why it is late */
	skill: string | null;
	station: string | null;
	/** minutes after it in which nobody is needed */
	wait: number;
}

/** What is left to do on one ticket. */
export interface WorkLeft {
	number: string;
	/** not before: a wait with an end */
	from: Instant;
	due: Instant | null;
	weight: number;
	/** who has it now; other hands are a hand-over */
	holder: string | null;
	tasks: WorkTask[];
	/** the first task is under way: by whom, since when. It is not moved any more */
	begun: { technician: string; since: Instant } | null;
	/** the first task was put in its place by somebody */
	pinned: { technician: string; startAt: Instant } | null;
}

export interface Stretch {
	label: string;
	minutes: number;
	skill: string | null;
	station: string | null;
	wait: number;
}

/**
 * The steps that are left of a procedure as stretches of hands with the waits between them: neighbouring steps are one stretch until
 * something has to cool, cure or charge, or another skill is needed. A stretch needs the skill and the place of the bench of its longest step that names one.
 * @param hands minutes of hands that all of it is expected to take; the steps' own minutes are spread to it
 */
export function stretchesOf(steps: readonly ProcedureStep[], hands: number | null): Stretch[] {
	const stretches: (Stretch & { longest: number })[] = [];
	let open: (Stretch & { longest: number }) | null = null;
	for (const step of steps) {
		const minutes = step.minutes ?? QUICK_STEP;
		if (step.kind === 'wait') {
			// a wait at the very beginning holds nobody up that is not begun
			if (open) open.wait += minutes;
			open = null;
			continue;
		}
		// other hands: who opens is not who solders
		if (open?.skill && step.skill && step.skill !== open.skill) open = null;
		if (!open) {
			open = { label: step.says, minutes: 0, skill: null, station: null, wait: 0, longest: 0 };
			stretches.push(open);
		}
		open.minutes += minutes;
		if (minutes > open.longest) {
			open.longest = minutes;
			open.label = step.says;
		}
		open.skill ??= step.skill ?? null;
		if (step.station && (open.station === null || minutes >= open.longest)) open.station = step.station;
	}
	const written = stretches.reduce((sum, { minutes }) => sum + minutes, 0);
	const factor = hands === null || written === 0 ? 1 : hands / written;
	return stretches.map(({ longest: _, ...stretch }) => ({ ...stretch, minutes: stretch.minutes * factor }));
}
/** A step that says no minutes takes so many. A choice. */
const QUICK_STEP = 1;

/** The least that is planned for work which has taken longer than it was expected to: it is not over. Minutes; a choice. */
export const LEAST_LEFT = 5;

/** Minutes that are left of a task which has run since a moment. */
export const leftOfBegun = (minutes: number, since: Instant, now: Instant): number =>
	Math.max(LEAST_LEFT, minutes - (now - since) / MINUTE_MS);
