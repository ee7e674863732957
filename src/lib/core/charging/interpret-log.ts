import type { Unit } from './log-columns';
import type { LogDialect } from './log-dialect';
import type { ReadLog } from './log-rows';
import {
	pathResistance,
	tracePhases,
	traceSums,
	type PathResistance,
	type Phase,
	type TraceSums
} from './trace-phases';

export interface InterpretedLog extends TraceSums {
	/** names of the columns that were read; time is null where the rows are only counted */
	columns: { time: string | null; volts: string; amps: string };
	/** what was taken for granted, in words */
	assumed: string[];
	rows: { read: number; rejected: ReadLog['rejected']; rejectedCount: number };
	phases: Phase[];
	path: PathResistance | null;
}

/** Everything that a read log shows. */
export function interpretLog(dialect: LogDialect, log: ReadLog, healthyAmps: number | null): InterpretedLog {
	const phases = tracePhases(log.trace, healthyAmps);
	const name = (role: string) => dialect.columns.find((column) => column.role === role)?.name ?? null;
	return {
		columns: { time: name('time'), volts: name('volts') ?? '', amps: name('amps') ?? '' },
		assumed: assumptions(dialect, log),
		rows: { read: log.trace.seconds.length, rejected: log.rejected, rejectedCount: log.rejectedCount },
		phases,
		...traceSums(log.trace),
		path: pathResistance(phases)
	};
}

const UNIT_WORDS: Partial<Record<Unit, string>> = {
	hm: 'hours and minutes',
	clock: 'minutes and seconds',
	h: 'hours'
};

function assumptions({ columns, secondsPerRow }: LogDialect, { turned, notes }: ReadLog): string[] {
	const guessed = columns
		.filter(({ unit, said: isLabelled }) => unit !== null && !isLabelled)
		.map(({ name, unit }) => `${name} is in ${UNIT_WORDS[unit as Unit] ?? unit}: the log does not say so`);
	if (!columns.some(({ role }) => role === 'time'))
		guessed.push(`no column is a time: one row every ${secondsPerRow} s`);
	if (turned) guessed.push('the current was negative: its sign is turned');
	return [...guessed, ...notes];
}
