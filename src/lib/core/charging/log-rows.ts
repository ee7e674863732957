import { isComment, LONGEST_CELL, type LogColumn, type LogDialect, type Unit } from './log-dialect';
import type { Trace } from './trace-phases';

/** Rows that a log may have, and lines with what is no row. */
export const MOST_ROWS = 500_000;
export const MOST_LINES = 1_000_000;
/** Refused rows that are listed one by one; more are counted. */
const MOST_LISTED = 10_000;

export interface RefusedRow {
	/** counted from 1, in the file */
	line: number;
	message: string;
}

export interface ReadLog {
	trace: Trace;
	rejected: RefusedRow[];
	/** how many rows were refused in all */
	rejectedCount: number;
	/** the current's sign was turned: the meter counts a charge as negative */
	turned: boolean;
}

export interface LogReader {
	/** Takes the cells of one line. @returns false once there are too many rows */
	take(cells: readonly string[], line: number): boolean;
	rows(): number;
	finish(): ReadLog;
}

const FACTOR: Partial<Record<Unit, number>> = {
	s: 1,
	ms: 1e-3,
	us: 1e-6,
	min: 60,
	V: 1,
	mV: 1e-3,
	A: 1,
	mA: 1e-3,
	uA: 1e-6
};
const TAIL_FACTOR: Record<string, number> = { mv: 1e-3, v: 1, ma: 1e-3, ua: 1e-6, µa: 1e-6, a: 1 };

/**
 * Reads the rows of a log by its dialect: seconds from its first row, volts, amperes. What cannot be read is listed
 * with its line and why. Blank and comment lines are no rows.
 */
export function logReader(dialect: LogDialect): LogReader {
	const at = (role: LogColumn['role']) => dialect.columns.findIndex((column) => column.role === role);
	const [timeAt, voltsAt, ampsAt] = [at('time'), at('volts'), at('amps')];
	const number = numberReader(dialect.decimal);
	const clock = timeAt < 0 ? null : timeReader(dialect.columns[timeAt] as LogColumn, number);
	let size = 1024;
	let columns = [new Float64Array(size), new Float64Array(size), new Float64Array(size)];
	let rows = 0;
	let start = 0;
	let last = -Infinity;
	const rejected: RefusedRow[] = [];
	let rejectedCount = 0;
	const refuse = (line: number, message: string) => {
		rejectedCount++;
		if (rejected.length < MOST_LISTED) rejected.push({ line, message });
		return true;
	};
	const name = (i: number) => dialect.columns[i]?.name ?? `column ${i + 1}`;
	return {
		take(cells, line) {
			if (line < dialect.firstLine || isBlank(cells)) return true;
			if (rows >= MOST_ROWS) return false;
			const open = cells.find((cell) => cell.includes('"'));
			if (open !== undefined) {
				return refuse(line, `has a quote that is not closed, at ${quoted(open)}; take it out`);
			}
			if (cells.length < dialect.columns.length) {
				return refuse(line, `has ${cells.length} of ${dialect.columns.length} columns`);
			}
			const long = [voltsAt, ampsAt, timeAt].find((i) => (cells[i]?.length ?? 0) > LONGEST_CELL);
			if (long !== undefined)
				return refuse(line, `${name(long)} is ${quoted(cells[long])}…, too long for a value`);
			const volts = valueOf(cells[voltsAt] as string, dialect.columns[voltsAt] as LogColumn, number);
			if (volts === null) return refuse(line, `${name(voltsAt)} is ${quoted(cells[voltsAt])}, no number`);
			const amps = valueOf(cells[ampsAt] as string, dialect.columns[ampsAt] as LogColumn, number);
			if (amps === null) return refuse(line, `${name(ampsAt)} is ${quoted(cells[ampsAt])}, no number`);
			const seconds = clock ? clock(cells[timeAt] as string) : rows * dialect.secondsPerRow;
			if (seconds === null) return refuse(line, `${name(timeAt)} is ${quoted(cells[timeAt])}, no time`);
			if (rows === 0) start = seconds;
			if (seconds - start < last) {
				return refuse(line, `${name(timeAt)} is ${quoted(cells[timeAt])}, before the row above it`);
			}
			last = seconds - start;
			if (rows === size) {
				size *= 2;
				columns = columns.map((column) => {
					const wider = new Float64Array(size);
					wider.set(column);
					return wider;
				});
			}
			(columns[0] as Float64Array)[rows] = last;
			(columns[1] as Float64Array)[rows] = volts;
			(columns[2] as Float64Array)[rows] = amps;
			rows++;
			return true;
		},
		rows: () => rows,
		finish() {
			const [seconds, volts, amps] = columns.map((column) => column.slice(0, rows)) as [
				Float64Array,
				Float64Array,
				Float64Array
			];
			const turned = amps.reduce((sum, value) => sum + value, 0) < 0;
			return {
				trace: { seconds, volts, amps: turned ? amps.map((value) => -value) : amps },
				rejected,
				rejectedCount,
				turned
			};
		}
	};
}

const quoted = (cell: string | undefined) => JSON.stringify((cell ?? '').slice(0, 40));

const isBlank = (cells: readonly string[]) =>
	cells.every((cell) => cell.trim() === '') || isComment(cells[0] ?? '');

type NumberReader = (cell: string) => number | null;

/** Plain numbers fast, numbers with a unit behind them after that. */
function numberReader(decimal: '.' | ','): NumberReader {
	return (cell) => {
		const text = decimal === ',' ? cell.replace(',', '.') : cell;
		const value = text.trim() === '' ? NaN : Number(text);
		return Number.isFinite(value) ? value : null;
	};
}

function valueOf(cell: string, { unit }: LogColumn, number: NumberReader): number | null {
	const plain = number(cell);
	if (plain !== null) return plain * (FACTOR[unit as Unit] ?? 1);
	const match = /^(.*\d[.,]?)\s*([mµu]?[av])$/i.exec(cell.trim());
	const value = match ? number(match[1] as string) : null;
	return value === null ? null : value * (TAIL_FACTOR[(match?.[2] ?? '').toLowerCase()] ?? 1);
}

/** Seconds of a time cell: a number in its unit, a clock that passes midnight, a date with a clock. */
function timeReader({ unit }: LogColumn, number: NumberReader): NumberReader {
	if (unit === 'clock') return clockReader();
	if (unit === 'date') return (cell) => dateSeconds(cell.trim());
	return (cell) => {
		const value = number(cell.trim().replace(/\s*(ms|µs|us|s|sec|min)$/i, ''));
		return value === null ? null : value * (FACTOR[unit as Unit] ?? 1);
	};
}

const DAY = 86_400;

/** "23:59:58.5", "11:59:58 pm", or minutes and seconds alone, "59:58.5"; far back is the next day. */
function clockReader(): NumberReader {
	let days = 0;
	let last = -1;
	return (cell) => {
		const match = /^(\d{1,3}):(\d{2})(?::(\d{2}))?([.,]\d+)?(?:\s*([ap])\.?m\.?)?$/i.exec(cell.trim());
		if (!match) return null;
		const [first, second, third] = [Number(match[1]), Number(match[2]), match[3]];
		const [h, m, s] = third === undefined ? [0, first, second] : [first, second, Number(third)];
		if (s > 59 || (third !== undefined && m > 59)) return null;
		const half = match[5]?.toLowerCase();
		const hours = half === undefined ? h : (h % 12) + (half === 'p' ? 12 : 0);
		const seconds = hours * 3600 + m * 60 + s + Number((match[4] ?? '.0').replace(',', '.'));
		// far back is the next day, a little back is a mistake
		if (last >= 0 && seconds < last - DAY / 2) days++;
		last = seconds;
		return days * DAY + seconds;
	};
}

/** ISO, "2026-03-02 10:00:01", "02.03.2026 10:00:01" or "03/02/2026 10:00:01" (month first unless over 12). */
function dateSeconds(text: string): number | null {
	const match =
		/^(\d{1,4})([-./])(\d{1,2})\2(\d{1,4})(?:[T\s,]+(\d{1,2}):(\d{2})(?::(\d{2})([.,]\d+)?)?\s*(Z|[-+]\d{2}:?\d{2})?)?$/.exec(
			text
		);
	if (!match) return null;
	const [a, b, c] = [Number(match[1]), Number(match[3]), Number(match[4])];
	const [year, month, day] = a > 31 ? [a, b, c] : match[2] === '/' && a <= 12 ? [c, a, b] : [c, b, a];
	const clock = Number(match[5] ?? 0) * 3600 + Number(match[6] ?? 0) * 60 + Number(match[7] ?? 0);
	if (month < 1 || month > 12 || day < 1 || day > 31 || clock >= DAY) return null;
	const zone = /^([-+])(\d{2}):?(\d{2})$/.exec(match[9] ?? '');
	const offset = zone ? (zone[1] === '-' ? -1 : 1) * (Number(zone[2]) * 3600 + Number(zone[3]) * 60) : 0;
	const fraction = Number((match[8] ?? '.0').replace(',', '.'));
	return Date.UTC(year, month - 1, day) / 1000 + clock + fraction - offset;
}

/** The trace as CSV again: seconds, volts, amperes, with a header that says the units. */
export function traceToCsv({ seconds, volts, amps }: Trace): string {
	const lines = ['time [s],voltage [V],current [A]'];
	for (let i = 0; i < seconds.length; i++) {
		lines.push(`${round(seconds[i])},${round(volts[i])},${round(amps[i])}`);
	}
	return `${lines.join('\r\n')}\r\n`;
}

/** To the microunit, without a tail of binary digits. */
const round = (value: number | undefined) => String(Math.round((value ?? 0) * 1e6) / 1e6);
