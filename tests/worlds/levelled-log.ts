import { tracePhases, type Trace } from '$lib/core/charging/trace-phases';

/** Logs made of levels, and the phases that they show: what the tests of phases begin with. */

export type Level = readonly [amps: number, rows: number, volts?: number];
/** A log of levels, each so many rows long, one row a second unless said. */
export function log(levels: readonly Level[], step = 1): Trace {
	const rows = levels.flatMap(([amps, rows, volts = 5]) => Array.from({ length: rows }, () => [amps, volts]));
	return {
		seconds: Float64Array.from(rows, (_, i) => i * step),
		volts: Float64Array.from(rows, ([, volts]) => volts as number),
		amps: Float64Array.from(rows, ([amps]) => amps as number)
	};
}
export const kinds = (levels: readonly Level[], healthy: number | null = 1, step = 1) =>
	tracePhases(log(levels, step), healthy).map(({ kind }) => kind);
