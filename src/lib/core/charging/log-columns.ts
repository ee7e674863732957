import { itemAt } from '../units/vector';
/**
 * What each column of a meter's log holds: by its name and unit in several languages, and by its values where these say
 * otherwise.
 */
export const COLUMN_ROLES = ['time', 'volts', 'amps', 'other'] as const;
export type ColumnRole = (typeof COLUMN_ROLES)[number];
export const UNITS = {
	time: ['s', 'ms', 'us', 'min', 'h', 'clock', 'hm', 'date'],
	volts: ['V', 'mV'],
	amps: ['A', 'mA', 'uA'],
	other: []
} as const satisfies Record<ColumnRole, readonly string[]>;
export type Unit = 's' | 'ms' | 'us' | 'min' | 'h' | 'clock' | 'hm' | 'date' | 'V' | 'mV' | 'A' | 'mA' | 'uA';

export interface LogColumn {
	name: string;
	role: ColumnRole;
	/** null for columns that are not read */
	unit: Unit | null;
	/** the log says the unit itself; otherwise it was guessed from the values */
	said: boolean;
}

/** Thousands may be set apart by the other sign. */
const NUMBER = {
	'.': /^[-+]?(\d{1,3}(,\d{3})+(\.\d+)?|\d+\.?\d*|\.\d+)(e[-+]?\d+)?/i,
	',': /^[-+]?(\d{1,3}(\.\d{3})+(,\d+)?|\d+,?\d*|,\d+)(e[-+]?\d+)?/i
};
const THOUSANDS = { '.': /^\s*[-+]?\d{1,3}(,\d{3})+(?!\d)/, ',': /^\s*[-+]?\d{1,3}(\.\d{3})+(?!\d)/ };

/** A number as the program reads it: a point before its decimals, nothing between its thousands. */
export function plainNumber(cell: string, decimal: '.' | ','): string {
	const separator = decimal === ',' ? '.' : ',';
	const joined =
		cell.includes(separator) && THOUSANDS[decimal].test(cell) ? cell.replaceAll(separator, '') : cell;
	return decimal === ',' ? joined.replace(',', '.') : joined;
}
const TAIL = /^\s*(mV|V|mA|µA|uA|A|ms|µs|us|s|sec|min|h)?$/i;
const CLOCK = /^\d{1,3}:\d{2}(:\d{2})?([.,]\d+)?(\s*[ap]\.?m\.?)?$/i;
const DATE = /^\d{1,4}[-./]\d{1,2}[-./]\d{1,4}([T\s,]+\d{1,2}:\d{2}.*)?$/;

/** A number, alone or with its unit behind it. */
function isNumeric(cell: string, decimal: '.' | ','): boolean {
	const match = NUMBER[decimal].exec(cell);
	return match !== null && TAIL.test(cell.slice(match[0].length));
}
const isClock = (cell: string) => CLOCK.test(cell);
const isDate = (cell: string) => DATE.test(cell);
export const isData = (cell: string, decimal: '.' | ',') =>
	isNumeric(cell, decimal) || isClock(cell) || isDate(cell);

const UNIT_WORDS: readonly (readonly [RegExp, Unit])[] = [
	[/^(ms|msec|milliseconds?)$/i, 'ms'],
	[/^(us|µs|microseconds?)$/i, 'us'],
	[/^(min|mins|minutes?|minuti|minutos|minuten)$/i, 'min'],
	[/^(h|hr|hrs|hours?|std|stunden?|heures?|horas?|ore)$/i, 'h'],
	[/^(s|sec|secs|seconds?)$/i, 's'],
	[/^(mv|millivolts?)$/i, 'mV'],
	[/^(v|volts?)$/i, 'V'],
	[/^(ma|milliamps?|milliamperes?)$/i, 'mA'],
	[/^(ua|µa|microamps?)$/i, 'uA'],
	[/^(a|amps?|amperes?)$/i, 'A']
];

/** The unit that a header names: "I (mA)", "U/V", "t [ms]", "current_mA"; with `alone`, the whole cell is one. */
export function unitIn(name: string, wholeName = false): Unit | null {
	const tokens = wholeName
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

/** What meters of several languages call their columns. A name is a hint: units and values come before it. */
const ROLE_WORDS: readonly (readonly [RegExp, ColumnRole])[] = [
	[
		/watt|power|leistung|energ|potenza|potencia|potência|puissance|vermogen|\bmoc\b|effekt|teho|capac|kapaz|capaz|\bm?[aw]h\b|temp(?!s\b|o\b)|ohm|resist|\bd[+-]|\bcc\d|gain|count|index|\bno\.?\b|^#$|^n$/i,
		'other'
	],
	[
		/^(t|x)$|time|tijd|zeit|date|datum|stamp|elapsed|second|uptime|temps|tempo|tiempo|heure|czas|\btid\b|aika|zaman|^(ms|s|sec|min|h)$/i,
		'time'
	],
	[/volt|spann|vbus|tensi|tensão|napi|jännite|gerilim|^[uv]$|^[uv][^a-z]|^mv$/i, 'volts'],
	[
		/(?<![a-z])(milli)?amp|curr|strom|stroom|ström|ibus|courant|corr|prąd|prad|virta|akım|intensit|intensidad|^[ia]$|^i[^a-z]|^ma$|^a[^a-z]/i,
		'amps'
	]
];

const roleOf = (name: string): ColumnRole | null =>
	ROLE_WORDS.find(([pattern]) => pattern.test(name.trim()))?.[1] ?? null;

const QUANTITY: Record<Unit, ColumnRole> = {
	s: 'time',
	ms: 'time',
	us: 'time',
	min: 'time',
	h: 'time',
	clock: 'time',
	hm: 'time',
	date: 'time',
	V: 'volts',
	mV: 'volts',
	A: 'amps',
	mA: 'amps',
	uA: 'amps'
};

export function columnsOf(
	names: readonly string[],
	units: readonly string[] | null,
	data: readonly string[][],
	decimal: '.' | ',',
	width: number
): LogColumn[] {
	const cellsOf = (i: number) =>
		data.filter(({ length }) => length === width).map((cells) => itemAt(cells, i));
	const columns = names.map((name, i): LogColumn => {
		const cells = cellsOf(i);
		const labelled = units?.[i]
			? unitIn(itemAt(units, i), true)
			: (unitIn(name) ?? unitIn(name, true) ?? unitBehind(cells));
		const byUnit = labelled ? QUANTITY[labelled] : null;
		// "Temp [s]" is no temperature
		const role = byUnit === 'time' ? byUnit : (roleOf(name) ?? byUnit ?? 'other');
		return finish(
			{ name: name || `column ${i + 1}`, role, unit: labelled, said: labelled !== null },
			cells,
			decimal
		);
	});
	onlyFirst(columns);
	onlyRising(columns, cellsOf, decimal);
	return hasAll(columns) ? columns : byValues(columns, cellsOf, decimal);
}

/** What is called the time but falls again and again, or stands still, is none. */
function onlyRising(columns: LogColumn[], cellsOf: (i: number) => string[], decimal: '.' | ','): void {
	columns.forEach((column, i) => {
		if (column.role !== 'time' || ['clock', 'hm', 'date'].includes(column.unit ?? '')) return;
		const steps = stepsOf(numbersIn(cellsOf(i), decimal));
		const back = steps.filter((step) => step < 0).length;
		const isConstant = steps.length > 2 && steps.every((step) => step === 0);
		if (isConstant || back > 0.1 * steps.length + 1)
			Object.assign(column, { role: 'other', unit: null, said: false });
	});
}

const stepsOf = (values: readonly number[]) =>
	values.slice(1).map((value, i) => value - (values[i] as number));

const hasAll = (columns: readonly LogColumn[]) =>
	(['time', 'volts', 'amps'] as const).every((wanted) => columns.some(({ role }) => role === wanted));

/** Of two columns for one role the first stands: meters write averages and sums behind it. */
function onlyFirst(columns: LogColumn[]): void {
	for (const role of ['time', 'volts', 'amps'] as const) {
		const named = columns.filter((column) => column.role === role);
		// of a day and a clock in two columns the clock tells the seconds
		const kept = (role === 'time' && named.find(({ unit }) => unit === 'clock' || unit === 'hm')) || named[0];
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
		if (cells.length > 0 && cells.every(isClock)) return { ...column, ...clockUnit(column.name, cells) };
		if (cells.length > 0 && cells.every(isDate)) return { ...column, unit: 'date', said: true };
	}
	if (column.unit && QUANTITY[column.unit] === column.role) return column;
	return { ...column, unit: guessUnit(column.role, numbersIn(cells, decimal)), said: false };
}

const numbersIn = (cells: readonly string[], decimal: '.' | ',') =>
	cells.map((cell) => parseFloat(plainNumber(cell, decimal))).filter(Number.isFinite);

/**
 * Two numbers with a colon are hours and minutes where a day has such hours and the log does not begin at nought, as one
 * does that counts minutes and seconds. Its name may say it.
 */
function clockUnit(name: string, cells: readonly string[]): Pick<LogColumn, 'unit' | 'said'> {
	const pairs = cells.map((cell) => /^(\d{1,3}):(\d{2})$/.exec(cell));
	if (pairs.some((pair) => pair === null)) return { unit: 'clock', said: true };
	if (/h+:m/i.test(name)) return { unit: 'hm', said: true };
	if (/m+:s/i.test(name)) return { unit: 'clock', said: true };
	const hours = pairs.every((pair) => Number(pair?.[1]) < 24);
	const [first] = pairs;
	const counts = Number(first?.[1]) === 0 && Number(first?.[2]) < 2;
	return { unit: hours && !counts ? 'hm' : 'clock', said: false };
}

/** No charger of this trade gives over 60 V or 12 A; a meter writes a row at least every 100 s. Common practice. */
function guessUnit(role: ColumnRole, values: readonly number[]): Unit {
	const maximum = Math.max(0, ...values.map(Math.abs));
	if (role === 'volts') return maximum > 60 ? 'mV' : 'V';
	if (role === 'amps') return maximum > 12 ? 'mA' : 'A';
	const steps = stepsOf(values).sort((a, b) => a - b);
	const step = steps[Math.floor(steps.length / 2)] ?? 0;
	if (maximum > 1e14) return 'us';
	if (maximum > 1e11) return 'ms';
	return step >= 100 && maximum < 1e9 ? 'ms' : 's';
}

/** Names of what rises as time does and is none. */
const SUMS = /energ|capac|kapaz|\bm?[aw]h\b|count|index|\bno\.?\b|^#$|^n$/i;

/**
 * Names do not say all: the time rises, the volts look like a supply's, the amperes are what the volts must be multiplied by
 * to give a power that stands there too, else what is left.
 */
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
		Object.assign(itemAt(made, at), finish({ ...itemAt(made, at), role }, cellsOf(at), decimal));
	};
	const rises = (values: readonly number[]) => values.length > 2 && stepsOf(values).every((step) => step > 0);
	const dated = made.findIndex((_, i) => {
		const cells = cellsOf(i);
		return cells.length > 0 && cells.every((cell) => isClock(cell) || isDate(cell));
	});
	give('time', dated < 0 ? undefined : dated);
	give('time', free().find(({ column, values }) => rises(values) && !SUMS.test(column.name))?.i);
	const middle = (values: readonly number[]) =>
		[...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;
	const supply = (value: number) => (value >= 4 && value <= 52) || (value >= 4000 && value <= 52_000);
	give('volts', free().find(({ values }) => supply(middle(values)))?.i);
	if (made.some(({ role }) => role === 'amps')) return made;
	const voltsAt = made.findIndex(({ role }) => role === 'volts');
	const volts = voltsAt < 0 ? [] : numbersIn(cellsOf(voltsAt), decimal);
	const isPowerOf = (amps: readonly number[], power: readonly number[]) => {
		const loaded = power.filter((watts, i) => Math.abs(watts) > 0.05 && volts[i] !== undefined);
		const fits = power.filter(
			(watts, i) =>
				Math.abs(watts) > 0.05 && Math.abs((volts[i] ?? 0) * (amps[i] ?? 0) - watts) <= 0.03 * Math.abs(watts)
		);
		return loaded.length > 1 && fits.length >= 0.9 * loaded.length;
	};
	const unassigned = free().filter(({ values }) => values.length > 0);
	const multiplied = unassigned.find(({ values }) =>
		unassigned.some((column) => isPowerOf(values, column.values))
	);
	give('amps', (multiplied ?? unassigned[0])?.i);
	return made;
}
