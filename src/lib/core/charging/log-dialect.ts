/**
 * How a meter's log is written: delimiter, decimal sign, header, and what each column holds. Read off its first lines;
 * a person may correct any of it.
 */
export const DELIMITERS = [';', '\t', ',', '|'] as const;
export type Delimiter = (typeof DELIMITERS)[number];
export const COLUMN_ROLES = ['time', 'volts', 'amps', 'other'] as const;
export type ColumnRole = (typeof COLUMN_ROLES)[number];
export const UNITS = {
	time: ['s', 'ms', 'us', 'min', 'clock', 'date'],
	volts: ['V', 'mV'],
	amps: ['A', 'mA', 'uA'],
	other: []
} as const satisfies Record<ColumnRole, readonly string[]>;
export type Unit = 's' | 'ms' | 'us' | 'min' | 'clock' | 'date' | 'V' | 'mV' | 'A' | 'mA' | 'uA';

export interface LogColumn {
	name: string;
	role: ColumnRole;
	/** null for columns that are not read */
	unit: Unit | null;
	/** the log says the unit itself; otherwise it was guessed from the values */
	said: boolean;
}

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
export const MOST_COLUMNS = 200;
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
		split(line, delimiter).map((text) => text.trim().slice(0, LONGEST_CELL));

const NUMBER = { '.': /^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?/i, ',': /^[-+]?(\d+,?\d*|,\d+)(e[-+]?\d+)?/i };
const TAIL = /^\s*(mV|V|mA|µA|uA|A|ms|µs|us|s|sec|min)?$/i;
const CLOCK = /^\d{1,3}:\d{2}(:\d{2})?([.,]\d+)?(\s*[ap]\.?m\.?)?$/i;
const DATE = /^\d{1,4}[-./]\d{1,2}[-./]\d{1,4}([T\s,]+\d{1,2}:\d{2}.*)?$/;

/** A number, alone or with its unit behind it. */
export function isNumeric(cell: string, decimal: '.' | ','): boolean {
	const match = NUMBER[decimal].exec(cell);
	return match !== null && TAIL.test(cell.slice(match[0].length));
}
export const isClock = (cell: string) => CLOCK.test(cell);
export const isDate = (cell: string) => DATE.test(cell);
const isData = (cell: string, decimal: '.' | ',') =>
	isNumeric(cell, decimal) || isClock(cell) || isDate(cell);

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
		const same = split.filter(({ length }) => length === width);
		for (const decimal of ['.', ','] as const) {
			const cells = same.flat();
			const read = cells.filter((cell) => isData(cell, decimal)).length / Math.max(1, cells.length);
			// a decimal sign that is really there decides between two that read alike
			const shown = cells.some((cell) => DECIMAL[decimal].test(cell)) ? 0.001 : 0;
			const score = read * (same.length / split.length) + shown;
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

const UNIT_WORDS: readonly (readonly [RegExp, Unit])[] = [
	[/^(ms|msec|milliseconds?)$/i, 'ms'],
	[/^(us|µs|microseconds?)$/i, 'us'],
	[/^(min|minutes?)$/i, 'min'],
	[/^(s|sec|secs|seconds?)$/i, 's'],
	[/^(mv|millivolts?)$/i, 'mV'],
	[/^(v|volts?)$/i, 'V'],
	[/^(ma|milliamps?|milliamperes?)$/i, 'mA'],
	[/^(ua|µa|microamps?)$/i, 'uA'],
	[/^(a|amps?|amperes?)$/i, 'A']
];

/** The unit that a header names: "I (mA)", "U/V", "t [ms]", "current_mA"; with `alone`, the whole cell is one. */
function unitIn(name: string, alone = false): Unit | null {
	const tokens = alone
		? [name.replace(/[[\]()]/g, '')]
		: [...name.matchAll(/[[(/]\s*([a-zµ]+)\s*[\])]?/gi), ...name.matchAll(/[_\s-]([a-zµ]+)$/gi)].map(
				(match) => match[1] ?? ''
			);
	for (const token of tokens) {
		const found = UNIT_WORDS.find(([pattern]) => pattern.test(token.trim()));
		if (found) return found[1];
	}
	return null;
}

const ROLE_WORDS: readonly (readonly [RegExp, ColumnRole])[] = [
	[
		/watt|power|leistung|energy|energie|capac|\bm?[aw]h\b|temp(?!s\b)|ohm|resist|\bd[+-]|\bcc\d|gain|count|index|\bno\.?\b|^#$|^n$/i,
		'other'
	],
	[/^(t|x)$|time|zeit|date|datum|stamp|elapsed|second|uptime|temps|heure|^(ms|s|sec|min)$/i, 'time'],
	[/volt|spannung|vbus|tension|^[uv]$|^[uv][^a-z]|^mv$/i, 'volts'],
	[/(?<![a-z])(milli)?amp|curr|strom|ibus|courant|intensit|^[ia]$|^i[^a-z]|^ma$|^a[^a-z]/i, 'amps']
];

const roleOf = (name: string): ColumnRole | null =>
	ROLE_WORDS.find(([pattern]) => pattern.test(name.trim()))?.[1] ?? null;

const QUANTITY: Record<Unit, ColumnRole> = {
	s: 'time',
	ms: 'time',
	us: 'time',
	min: 'time',
	clock: 'time',
	date: 'time',
	V: 'volts',
	mV: 'volts',
	A: 'amps',
	mA: 'amps',
	uA: 'amps'
};

function columnsOf(
	names: readonly string[],
	units: readonly string[] | null,
	data: readonly string[][],
	decimal: '.' | ',',
	width: number
): LogColumn[] {
	const cellsOf = (i: number) =>
		data.filter(({ length }) => length === width).map((cells) => cells[i] as string);
	const columns = names.map((name, i): LogColumn => {
		const cells = cellsOf(i);
		const said = units?.[i]
			? unitIn(units[i] as string, true)
			: (unitIn(name) ?? unitIn(name, true) ?? unitBehind(cells));
		const role = roleOf(name) ?? (said ? QUANTITY[said] : 'other');
		return finish({ name: name || `column ${i + 1}`, role, unit: said, said: said !== null }, cells, decimal);
	});
	onlyFirst(columns);
	const roleless = columns.every(({ role }) => role === 'other' || role === 'time') || !hasAll(columns);
	return roleless ? byValues(columns, cellsOf, decimal) : columns;
}

const hasAll = (columns: readonly LogColumn[]) =>
	(['volts', 'amps'] as const).every((wanted) => columns.some(({ role }) => role === wanted));

/** Of two columns for one role the first stands: meters write averages and sums behind it. */
function onlyFirst(columns: LogColumn[]): void {
	for (const role of ['time', 'volts', 'amps'] as const) {
		const named = columns.filter((column) => column.role === role);
		// of a day and a clock in two columns the clock tells the seconds
		const kept = (role === 'time' && named.find(({ unit }) => unit === 'clock')) || named[0];
		for (const column of named) {
			if (column !== kept) Object.assign(column, { role: 'other', unit: null, said: false });
		}
	}
}

/** A unit behind the values themselves: "5.08V". */
function unitBehind(cells: readonly string[]): Unit | null {
	const tail = /([a-zµ]+)$/i.exec(cells[0] ?? '')?.[1];
	return tail ? unitIn(tail, true) : null;
}

/** Settles a column's unit: as said where it fits the role, else guessed from the values. */
function finish(column: LogColumn, cells: readonly string[], decimal: '.' | ','): LogColumn {
	if (column.role === 'other') return { ...column, unit: null, said: false };
	if (column.role === 'time') {
		if (cells.length > 0 && cells.every(isClock)) return { ...column, unit: 'clock', said: true };
		if (cells.length > 0 && cells.every(isDate)) return { ...column, unit: 'date', said: true };
	}
	if (column.unit && QUANTITY[column.unit] === column.role) return column;
	return { ...column, unit: guessUnit(column.role, numbersIn(cells, decimal)), said: false };
}

const numbersIn = (cells: readonly string[], decimal: '.' | ',') =>
	cells.map((cell) => parseFloat(decimal === ',' ? cell.replace(',', '.') : cell)).filter(Number.isFinite);

/** No charger of this trade gives over 60 V or 12 A; a meter writes a row at least every 100 s. Common practice. */
function guessUnit(role: ColumnRole, values: readonly number[]): Unit {
	const most = Math.max(0, ...values.map(Math.abs));
	if (role === 'volts') return most > 60 ? 'mV' : 'V';
	if (role === 'amps') return most > 12 ? 'mA' : 'A';
	const steps = values
		.slice(1)
		.map((value, i) => value - (values[i] as number))
		.sort((a, b) => a - b);
	const step = steps[Math.floor(steps.length / 2)] ?? 0;
	if (most > 1e14) return 'us';
	if (most > 1e11) return 'ms';
	return step >= 100 && most < 1e9 ? 'ms' : 's';
}

/** No header helps: the time rises, the volts look like a supply's, the amperes are what is left. */
function byValues(
	columns: readonly LogColumn[],
	cellsOf: (i: number) => string[],
	decimal: '.' | ','
): LogColumn[] {
	const made = columns.map((column) => ({ ...column }));
	const free = () =>
		made
			.map((column, i) => ({ column, i, values: numbersIn(cellsOf(i), decimal) }))
			.filter(({ column }) => column.role === 'other');
	const give = (role: ColumnRole, at: number | undefined) => {
		if (at === undefined || made.some((column) => column.role === role)) return;
		Object.assign(made[at] as LogColumn, finish({ ...(made[at] as LogColumn), role }, cellsOf(at), decimal));
	};
	const rises = (values: readonly number[]) =>
		values.length > 2 && values.every((value, i) => i === 0 || value > (values[i - 1] as number));
	const dated = made.findIndex((_, i) => cellsOf(i).every((cell) => isClock(cell) || isDate(cell)));
	give('time', dated < 0 ? undefined : dated);
	give('time', free().find(({ values }) => rises(values))?.i);
	const middle = (values: readonly number[]) =>
		[...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;
	const supply = (value: number) => (value >= 4 && value <= 52) || (value >= 4000 && value <= 52_000);
	give('volts', free().find(({ values }) => supply(middle(values)))?.i);
	give('amps', free().find(({ values }) => values.length > 0)?.i);
	return made;
}
