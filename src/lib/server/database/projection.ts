import type { Database } from './connection';
import { readCounters, type Counter } from './counters';
import { keptUp } from './kept-up';

/** How a copy of some rows is brought up to date from those that changed. */
export interface ProjectionRule<Copy, Context extends readonly unknown[]> {
	/** moves in the transaction of every change that the copy would show */
	counter: Counter;
	/** what else the copy hangs on: where it differs from before, all is read anew */
	basis?(...context: Context): string;
	empty(): Copy;
	/**
	 * Puts rows that changed after a point of the counter in the place of what they were; those that are gone are taken out.
	 * @param since 0 where the copy is empty: all rows are read
	 */
	putChanged(db: Database, copy: Copy, since: number, ...context: Context): Promise<void>;
}

export interface Projected<Copy> {
	copy: Copy;
	/** point of the counter that the copy stands at */
	seq: number;
}

interface Kept<Copy> extends Projected<Copy> {
	basis: string;
}

/** A copy that only saves reading: the counter is compared at every use, and rows that changed since are read (see `keptUp`). */
export function projection<Copy, Context extends readonly unknown[] = []>({
	counter,
	basis,
	empty,
	putChanged
}: ProjectionRule<Copy, Context>): (db: Database, ...context: Context) => Promise<Projected<Copy>> {
	return keptUp<Kept<Copy>, Context>(async (db, previous, ...context) => {
		const { [counter]: seq } = await readCounters(db);
		const basisNow = basis?.(...context) ?? '';
		const usable = previous?.basis === basisNow ? previous : null;
		if (usable?.seq === seq) return usable;
		const copy = usable?.copy ?? empty();
		await putChanged(db, copy, usable?.seq ?? 0, ...context);
		return { copy, seq, basis: basisNow };
	});
}
