import { columnsOf, isData, unitIn, type LogColumn } from './log-columns';

/**
 * How a meter's log is written: delimiter, decimal sign, header, and what each column holds. Read off its first lines;
 * a person may correct any of it.
 */
export const DELIMITERS = [';', '\t', ',', '|'] as const;
export type Delimiter = (typeof DELIMITERS)[number];

export interface LogDialect {
	delimiter: Delimiter;
	decimal: '.' | ',';
	/** line of the header, counted from 1; null where the log has none */
	headerLine: number | null;
	/** first line of data, counted from 1 */
	firstLine: number;
	columns: LogColumn[];
	/** seconds between rows where no column is a time */
	secondsPerRow: number;
}

export type DialectAnswer = { ok: true; dialect: LogDialect } | { ok: false; message: string };

/** Lines that are looked at to understand a log. */
const LOOK_AT = 300;
/** No meter writes more columns, and no value, name or unit is longer than this. A choice. */
const MOST_COLUMNS = 200;
export const LONGEST_CELL = 80;

export const isComment = (line: string) => /^\s*("?#|\/\/|%)/.test(line);

/**
 * Takes one line apart at a delimiter, quotes and doubled quotes as RFC 4180 has them: the CSV library's work, handed in so
 * that head and rows of a log are read alike.
 */
export type SplitLine = (line: string, delimiter: string) => string[];

/** What is longer is no value; patterns are not tried on it. */
const trimmed =
	(split: SplitLine): SplitLine =>
	(line, delimiter) =>
		withoutEnd(split(line, delimiter).map((text) => text.trim().slice(0, LONGEST_CELL)));

/** Cells without the empty ones at the end: a row may end in its delimiter. */
function withoutEnd(cells: string[]): string[] {
	let length = cells.length;
	while (length > 1 && cells[length - 1] === '') length--;
	return cells.slice(0, length);
}

interface Line {
	at: number;
	text: string;
}

/**
 * @param head the first part of the log, whole lines
 * @param split how a line is taken apart
 */
export function detectDialect(head: string, split: SplitLine): DialectAnswer {
	const splitLine = trimmed(split);
	const lines = head
		.replace(/^\ufeff/, '')
		.split(/\r\n|\n|\r/)
		.slice(0, LOOK_AT)
		.map((text, i): Line => ({ at: i + 1, text }));
	const rows = lines.filter(({ text }) => text.trim() !== '' && !isComment(text));
	if (rows.length === 0)
		return { ok: false, message: 'the log has no rows; choose a file that a meter wrote' };
	const best = bestSplit(rows, splitLine);
	if (!best) {
		return {
			ok: false,
			message:
				'no delimiter makes columns of numbers of it; a log has volts and amperes in columns, set apart by comma, semicolon or tab'
		};
	}
	const { delimiter, decimal, width } = best;
	const cellsOf = ({ text }: Line) => splitLine(text, delimiter);
	const firstData = rows.findIndex((line) => isDataRow(cellsOf(line), decimal, width));
	const data = rows.slice(firstData).map(cellsOf);
	const ambiguous = commaIsBoth(best, rows, firstData, cellsOf, data);
	if (ambiguous) return { ok: false, message: ambiguous };
	const { names, units, headerLine } = headerOf(lines, rows, firstData, cellsOf, decimal, width);
	const columns = columnsOf(names, units, data, decimal, width);
	const dialect: LogDialect = {
		delimiter,
		decimal,
		headerLine,
		firstLine: rows[firstData]?.at ?? 1,
		columns,
		secondsPerRow: 1
	};
	const missing = missingColumns(dialect);
	return missing ? { ok: false, message: missing } : { ok: true, dialect };
}

/**
 * A comma between the columns and before the decimals cannot be told apart: there are more cells than names, or cells that
 * begin with a nought as only decimals do.
 */
function commaIsBoth(
	{ delimiter, width }: { delimiter: Delimiter; width: number },
	rows: readonly Line[],
	firstData: number,
	cellsOf: (line: Line) => string[],
	data: readonly string[][]
): string | null {
	if (delimiter !== ',') return null;
	const cells = data.slice(0, 50).flat();
	if (!cells.every((cell) => /^[-+]?\d*$/.test(cell))) return null;
	const above = rows[firstData - 1];
	const names = above ? cellsOf(above).filter((cell) => !/\d/.test(cell)).length : 0;
	const decimals = cells.filter((cell) => /^0\d/.test(cell)).length;
	const split = names >= 2 ? width > names && width <= 2 * names : decimals > 0;
	if (!split) return null;
	return `the comma sets the columns apart and the decimals too (line ${rows[firstData]?.at ?? 1} has ${width} values${
		names >= 2 ? ` under ${names} names` : ''
	}): let the meter write a semicolon between columns, or a point before decimals`;
}

/** What a dialect lacks to be read, in words; null where it can be. */
export function missingColumns({ columns }: LogDialect): string | null {
	for (const role of ['volts', 'amps'] as const) {
		const count = columns.filter((column) => column.role === role).length;
		if (count === 1) continue;
		const names = columns.map(({ name }) => name).join(', ');
		return `${count === 0 ? 'no column' : 'more than one column'} of ${names} is ${role}; name one, with V or mV, A or mA in its header, or choose it by hand`;
	}
	return columns.filter(({ role }) => role === 'time').length > 1
		? 'more than one column is the time; choose one'
		: null;
}

const DECIMAL = { '.': /\d\.\d/, ',': /\d,\d/ };

function bestSplit(rows: readonly Line[], splitLine: SplitLine) {
	let best: { delimiter: Delimiter; decimal: '.' | ','; width: number; score: number } | null = null;
	for (const delimiter of DELIMITERS) {
		const split = rows.map(({ text }) => splitLine(text, delimiter));
		const width = commonest(split.map(({ length }) => length));
		if (width < 2 || width > MOST_COLUMNS) continue;
		const sameWidth = split.filter(({ length }) => length === width);
		for (const decimal of ['.', ','] as const) {
			const cells = sameWidth.flat();
			const read = cells.filter((cell) => isData(cell, decimal)).length / Math.max(1, cells.length);
			// a decimal sign that is really there decides between two that read alike
			const shown = cells.some((cell) => DECIMAL[decimal].test(cell)) ? 0.001 : 0;
			const score = read * (sameWidth.length / split.length) + shown;
			if (read > 0.3 && (!best || score > best.score + 1e-9)) best = { delimiter, decimal, width, score };
		}
	}
	return best;
}

function commonest(values: readonly number[]): number {
	const counts = new Map<number, number>();
	for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
	return [...counts].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]?.[0] ?? 0;
}

const isDataRow = (cells: readonly string[], decimal: '.' | ',', width: number) =>
	cells.length === width && cells.filter((cell) => isData(cell, decimal)).length >= 2;

/** The header: the last line of words before the data, of the same width; a commented one counts; then maybe units. */
function headerOf(
	lines: readonly Line[],
	rows: readonly Line[],
	firstData: number,
	cellsOf: (line: Line) => string[],
	decimal: '.' | ',',
	width: number
) {
	const nobody = Array.from({ length: width }, (_, i) => `column ${i + 1}`);
	const named = (line: Line | undefined) => {
		const cells = line ? cellsOf({ ...line, text: line.text.replace(/^\s*("?#|\/\/|%)\s*/, '') }) : [];
		return cells.length === width && !cells.some((cell) => isData(cell, decimal)) ? cells : null;
	};
	const above = rows[firstData - 1];
	const words = named(above);
	if (words && words.every((cell) => cell === '' || unitIn(cell, true) !== null)) {
		const names = named(rows[firstData - 2]);
		if (names) return { names, units: words, headerLine: rows[firstData - 2]?.at ?? null };
	}
	if (words) return { names: words, units: null, headerLine: above?.at ?? null };
	const first = rows[firstData]?.at ?? 1;
	const comment = lines.filter(({ at, text }) => at < first && isComment(text)).at(-1);
	const commented = named(comment);
	if (commented) return { names: commented, units: null, headerLine: comment?.at ?? null };
	return { names: nobody, units: null, headerLine: null };
}
