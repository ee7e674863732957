import type { Instant } from '../units/instant';

/** How far a procedure was followed. Plain data in: entries of a ticket, steps of a version. */

export interface FollowedStep {
	procedure: string;
	version: number;
	/** its place in the procedure, from 0 */
	step: number;
	did: 'begun' | 'done' | 'skipped' | 'ended';
	technician?: string | undefined;
	minutes?: number | undefined;
	why?: string | undefined;
	at?: number | undefined;
	by?: string | undefined;
}

export interface Run<Entry extends FollowedStep = FollowedStep> {
	procedure: string;
	version: number;
	startedAt: Instant | null;
	endedAt: Instant | null;
	ended: boolean;
	/** in the order of time, the beginning with them */
	entries: Entry[];
	/** the place of the step that is next: behind the last that was done or left out */
	next: number;
}

/**
 * Runs in the order of their beginnings. A `begun` at the first step with nothing open begins a run; at a later one it goes on
 * with the run that is open.
 */
export function runsOf<Entry extends FollowedStep>(entries: readonly Entry[]): Run<Entry>[] {
	const runs: Run<Entry>[] = [];
	for (const entry of entries) {
		const open = runs.findLast((run) => !run.ended && run.procedure === entry.procedure);
		const run = open ?? beginRun(entry);
		if (!open) runs.push(run);
		run.entries.push(entry);
		if (entry.did === 'done' || entry.did === 'skipped') run.next = entry.step + 1;
		if (entry.did === 'ended') Object.assign(run, { ended: true, endedAt: entry.at ?? null });
	}
	return runs;
}

const beginRun = <Entry extends FollowedStep>({ procedure, version, at }: Entry): Run<Entry> => ({
	procedure,
	version,
	startedAt: at ?? null,
	endedAt: null,
	ended: false,
	entries: [],
	next: 0
});

/** The run that is open; null where none is. One at a time on a ticket. */
export const openRun = <Entry extends FollowedStep>(entries: readonly Entry[]): Run<Entry> | null =>
	runsOf(entries).findLast(({ ended }) => !ended) ?? null;
