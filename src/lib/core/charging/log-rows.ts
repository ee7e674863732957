import { itemAt, valueAt } from '../units/vector';
import { plainNumber, type LogColumn, type Unit } from './log-columns';
import { isComment, LONGEST_CELL, type LogDialect } from './log-dialect';
import { timeReader } from './log-times';
import type { Trace } from './trace-phases';

/** Rows that a log may have, and lines with what is no row. */
export const MOST_ROWS = 500_000;
export const MOST_LINES = 1_000_000;
/** Refused rows that are listed one by one; more are counted. */
const MOST_LISTED = 10_000;

interface RefusedRow {
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
	/** what was made of stamps that go back, in words */
	notes: string[];
}

export interface LogReader {
	/** Takes the cells of one line. @returns false once there are too many rows */
	take(cells: readonly string[], line: number): boolean;
	rows(): number;
	finish(): ReadLog;
}

const FACTOR: Partial<Record<Unit, number>> = {
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
	const clock = timeAt < 0 ? null : timeReader(itemAt(dialect.columns, timeAt), number);
	let size = 1024;
	let columns = [new Float64Array(size), new Float64Array(size), new Float64Array(size)];
	let rows = 0;
	const course = new TimeCourse();
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
			const volts = valueOf(itemAt(cells, voltsAt), itemAt(dialect.columns, voltsAt), number);
			if (volts === null) return refuse(line, `${name(voltsAt)} is ${quoted(cells[voltsAt])}, no number`);
			const amps = valueOf(itemAt(cells, ampsAt), itemAt(dialect.columns, ampsAt), number);
			if (amps === null) return refuse(line, `${name(ampsAt)} is ${quoted(cells[ampsAt])}, no number`);
			const seconds = clock ? clock(itemAt(cells, timeAt)) : rows * dialect.secondsPerRow;
			if (seconds === null) return refuse(line, `${name(timeAt)} is ${quoted(cells[timeAt])}, no time`);
			const place = course.next(seconds, line);
			if (place.drops) {
				rows--;
				refuse(place.drops, `${name(timeAt)} is far ahead of, or far behind, the rows around it`);
			}
			if (place.at === null)
				return refuse(line, `${name(timeAt)} is ${quoted(cells[timeAt])}, before the row above it`);
			if (rows === size) {
				size *= 2;
				columns = columns.map((column) => {
					const wider = new Float64Array(size);
					wider.set(column);
					return wider;
				});
			}
			itemAt(columns, 0)[rows] = place.at;
			itemAt(columns, 1)[rows] = volts;
			itemAt(columns, 2)[rows] = amps;
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
			if (timeAt >= 0 && dialect.columns[timeAt]?.unit === 'hm') spreadOverMinutes(seconds);
			const turned = amps.reduce((sum, value) => sum + value, 0) < 0;
			return {
				trace: { seconds, volts, amps: turned ? amps.map((value) => -value) : amps },
				rejected,
				rejectedCount,
				turned,
				notes: course.notes
			};
		}
	};
}

/** A jump ahead of more than so many usual steps, after which the log goes back, was one odd stamp. A choice. */
const ODD_STEPS = 10;
/** Restarts that are told one by one. */
const MOST_NOTES = 5;

/**
 * Where each row lies, seconds from the first: stamps go up. One that jumps far ahead before the log goes back is odd and
 * dropped, not the rows after it; where the stamps begin anew a session goes on behind the one before.
 */
class TimeCourse {
	readonly notes: string[] = [];
	/** the last row that stands, and the one before it; -1 where there is none */
	#last = -1;
	#line = 0;
	#before = -1;
	#beforeLine = 0;
	#count = 0;
	#start = 0;
	#offset = 0;
	/** the row at which the stamps began anew, while only one row of it is there */
	#anew: { offset: number; last: number } | null = null;

	/** @returns `at`: seconds from the first row, null where it does not fit; `drops`: line of the row above that is taken out */
	next(stamp: number, line: number): { at: number | null; drops: number | null } {
		if (this.#count === 0) this.#start = stamp;
		const plain = stamp - this.#start;
		// stamps that are no times of this world
		if (!Number.isFinite(plain + this.#offset)) return { at: null, drops: null };
		let drops: number | null = null;
		if (this.#anew && plain + this.#anew.offset >= this.#anew.last) {
			// it goes on as before: the one row between was odd
			drops = this.#drop();
			this.#offset = this.#anew.offset;
			this.notes.pop();
		}
		this.#anew = null;
		const at = plain + this.#offset;
		const last = this.#last;
		if (this.#count === 0 || at >= last) return { at: this.#keep(at, line), drops };
		if (drops === null && this.#jumped(at)) {
			drops = this.#drop();
			return { at: this.#keep(at, line), drops };
		}
		const step = this.#count > 1 ? last / (this.#count - 1) : 0;
		if (drops === null && this.#count > 2 && plain <= 1.5 * step && Number.isFinite(last + step)) {
			this.#anew = { offset: this.#offset, last };
			this.#offset = last + step - plain;
			if (this.notes.length < MOST_NOTES)
				this.notes.push(`the time begins anew in line ${line}: taken as going on from there`);
			return { at: this.#keep(last + step, line), drops };
		}
		return { at: null, drops };
	}

	/** The row above lies far ahead of both its neighbours. */
	#jumped(at: number): boolean {
		const previous = this.#before;
		if (previous < 0 || at < previous) return false;
		const step = Math.max(at - previous, this.#count > 2 ? previous / (this.#count - 2) : 0);
		return this.#last - previous > ODD_STEPS * step;
	}

	#keep(at: number, line: number): number {
		[this.#before, this.#beforeLine] = [this.#last, this.#line];
		[this.#last, this.#line] = [at, line];
		this.#count++;
		return at;
	}

	#drop(): number {
		const line = this.#line;
		[this.#last, this.#line] = [this.#before, this.#beforeLine];
		[this.#before, this.#beforeLine] = [-1, 0];
		this.#count--;
		return line;
	}
}

/** Stamps of whole minutes: the rows of one minute follow one another evenly within it. In place. */
function spreadOverMinutes(seconds: Float64Array): void {
	for (let from = 0; from < seconds.length;) {
		let to = from;
		while (to < seconds.length && seconds[to] === seconds[from]) to++;
		const minute = valueAt(seconds, from);
		const until = Math.min(seconds[to] ?? minute + 60, minute + 60);
		for (let i = from; i < to; i++) seconds[i] = minute + ((until - minute) * (i - from)) / (to - from);
		from = to;
	}
}

const quoted = (cell: string | undefined) => JSON.stringify((cell ?? '').slice(0, 40));

const isBlank = (cells: readonly string[]) =>
	cells.every((cell) => cell.trim() === '') || isComment(cells[0] ?? '');

type NumberReader = (cell: string) => number | null;

/** Plain numbers fast, numbers with a unit behind them after that. */
function numberReader(decimal: '.' | ','): NumberReader {
	return (cell) => {
		const text = plainNumber(cell, decimal);
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
