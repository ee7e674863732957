import { readCounted, readNumber } from '../units/typed-number';

/** How a value of a record is typed and read: `write` is the inverse of `read` for every value that the schema takes. */
export interface FieldSort {
	look: 'line' | 'lines' | 'choice';
	/** a figure, set in the type of figures and to the right in columns */
	figure?: boolean;
	rows?: number;
	/** the contacts of a port: drawn while they are typed */
	draws?: 'port';
	choices?: readonly string[];
	/**
	 * @param locale of the shop, for money and pieces
	 * @returns what the schema of the kind then checks; a text that is no number stays the text, so that it is named
	 */
	read(text: string, locale: string | null): unknown;
	write(value: unknown): string;
}

/** One field of the form in which a person writes a record of a kind. */
export interface CatalogField {
	name: string;
	label: string;
	sort: FieldSort;
	optional: boolean;
	hint?: string;
}

export const field = (name: string, label: string, sort: FieldSort, hint?: string): CatalogField => ({
	name,
	label,
	sort,
	optional: false,
	...(hint === undefined ? {} : { hint })
});
export const maybe = (name: string, label: string, sort: FieldSort, hint?: string): CatalogField => ({
	...field(name, label, sort, hint),
	optional: true
});

const numberOf = (text: string): number | string => readNumber(text) ?? text;
const words = (text: string) => text.split(/[\s,;]+/).filter(Boolean);
/** numbers set apart by spaces, where a comma is a decimal mark */
const spaced = (text: string) => text.split(/[\s;]+/).filter(Boolean);
const linesOf = <Item>(text: string, read: (line: string) => Item): Item[] =>
	text
		.split('\n')
		.filter((line) => line.trim() !== '')
		.map(read);
const listText = (separator: string) => (value: unknown) =>
	((value ?? []) as unknown[])
		.map((item) => (item !== null && typeof item === 'object' ? Object.values(item).join(' ') : String(item)))
		.join(separator);

export const TEXT: FieldSort = { look: 'line', read: (text) => text, write: (value) => String(value ?? '') };
/** More than one line of words. */
export const PROSE: FieldSort = { ...TEXT, look: 'lines', rows: 3 };
export const NUMBER: FieldSort = { ...TEXT, figure: true, read: numberOf };
/** An amount of money. */
export const MONEY: FieldSort = { ...NUMBER, read: (text, locale) => readCounted(text, locale) ?? text };
export const CODES: FieldSort = { look: 'line', figure: true, read: words, write: listText(' ') };

export const choice = (choices: readonly string[]): FieldSort => ({ ...TEXT, look: 'choice', choices });
export const YES_NO: FieldSort = {
	look: 'choice',
	choices: ['yes', 'no'],
	read: (text) => (text === 'yes' ? true : text === 'no' ? false : text),
	write: (value) => (value === undefined ? '' : value ? 'yes' : 'no')
};

const lines = (rows: number, read: (line: string) => unknown): FieldSort => ({
	look: 'lines',
	figure: true,
	rows,
	read: (text) => linesOf(text, read),
	write: listText('\n')
});

/** Stock codes with how many of each, one a line. */
export const PARTS = lines(3, (line) => {
	const [sku, quantity = '1'] = spaced(line);
	return { sku, quantity: numberOf(quantity) };
});
/** The same with the share of the cost that each takes. */
export const YIELDS = lines(3, (line) => {
	const [sku, quantity = '1', share] = spaced(line);
	return { sku, quantity: numberOf(quantity), ...(share ? { share: numberOf(share) } : {}) };
});
/** Contacts with their nets and sides, one a line. */
export const PINS: FieldSort = {
	...lines(10, (line) => {
		const [pin, net, side] = words(line);
		return { pin, net, ...(side ? { side } : {}) };
	}),
	draws: 'port'
};
/** Two words a line. */
export const PAIRS: FieldSort = {
	...lines(3, (line) => {
		const [first = '', second = ''] = words(line);
		return [first, second];
	}),
	write: (value) => ((value ?? []) as string[][]).map((pair) => pair.join(' ')).join('\n')
};

const voltsAmps = (text: string) => {
	const [volts = '', amps = ''] = spaced(text);
	return { volts: numberOf(volts), amps: numberOf(amps) };
};
const oneObject = (read: (text: string) => unknown): FieldSort => ({
	look: 'line',
	figure: true,
	read,
	write: (value) => Object.values((value ?? {}) as object).join(' ')
});
/** Volts and amperes. */
export const VOLTS_AMPS = oneObject(voltsAmps);
/** The same, one pair a line. */
export const CHARGES = lines(3, voltsAmps);
/** Chemistry, cells in series, capacity in mAh. */
export const BATTERY = oneObject((text) => {
	const [chemistry, cells = '', capacity = ''] = spaced(text);
	return { chemistry, cells: numberOf(cells), capacity_mah: numberOf(capacity) };
});
/** A count with what is usual of it, and minutes for each one more. */
export const PER = oneObject((text) => {
	const [count, usual = '', unitCost = ''] = spaced(text);
	return { count, usual: numberOf(usual), each: numberOf(unitCost) };
});
/** A count with the least and the most of it; a dash leaves one open. */
export const COUNT_RANGE: FieldSort = {
	...oneObject((text) => {
		const [count, least = '-', most = '-'] = spaced(text);
		return {
			count,
			...(least === '-' ? {} : { least: numberOf(least) }),
			...(most === '-' ? {} : { most: numberOf(most) })
		};
	}),
	write: (value) => {
		if (value === undefined) return '';
		const { count, least = '-', most = '-' } = value as { count: string; least?: number; most?: number };
		return [count, least, most].join(' ');
	}
};
/** Names with a value each, in one line. */
const namedValues = (read: (text: string) => unknown): FieldSort => ({
	...oneObject((text) => {
		const words = spaced(text);
		return Object.fromEntries(
			words.flatMap((word, i) => (i % 2 === 0 ? [[word, read(words[i + 1] ?? '')]] : []))
		);
	}),
	write: (value) =>
		Object.entries((value ?? {}) as object)
			.map(([name, item]) => `${name} ${String(item)}`)
			.join(' ')
});
/** How many times a share counts, by place: "board 0.1 flex 2". */
export const FACTORS = namedValues(numberOf);
/** What was found: a test or a question of a measurement (it has a colon), and its outcome; one a line. */
export const FOUND: FieldSort = {
	...lines(3, (line) => {
		const [question = '', outcome = ''] = spaced(line);
		return question.includes(':') ? { measured: question, outcome } : { test: question, outcome };
	}),
	write: (value) =>
		((value ?? []) as { test?: string; measured?: string; outcome: string }[])
			.map(({ test, measured, outcome }) => `${test ?? measured} ${outcome}`)
			.join('\n')
};
/** Per cent an hour. */
export const DRAIN = oneObject((text) => ({ percent_per_hour: numberOf(text) }));

interface PathLine {
	node: string;
	label: string;
	volts: { low: number | string; high: number | string };
	through?: string;
	faults?: string[];
	minutes?: number | string;
}

/** One node of a charging path a line, its fields set apart by bars; empty ones at the end are left out. */
export const PATH: FieldSort = {
	look: 'lines',
	figure: true,
	rows: 8,
	read: (text) => linesOf(text, readNode),
	write: (value) => ((value ?? []) as PathLine[]).map(writeNode).join('\n')
};

function readNode(line: string): PathLine {
	const [node = '', label = '', volts = '', through = '', faults = '', minutes = ''] = line
		.split('|')
		.map((part) => part.trim());
	const [low = '', high = ''] = spaced(volts);
	return {
		node,
		label,
		volts: { low: numberOf(low), high: numberOf(high) },
		...(through ? { through } : {}),
		...(faults ? { faults: words(faults) } : {}),
		...(minutes ? { minutes: numberOf(minutes) } : {})
	};
}

const writeNode = ({ node, label, volts, through = '', faults = [], minutes = '' }: PathLine) =>
	[node, label, `${volts.low} ${volts.high}`, through, faults.join(' '), minutes]
		.join(' | ')
		.replace(/( \| )+$/, '');

/** Words or short phrases, set apart by commas. */
export const WORDS: FieldSort = {
	look: 'line',
	read: (text) =>
		text
			.split(',')
			.map((part) => part.trim())
			.filter(Boolean),
	write: listText(', ')
};

const barred = (line: string) => line.split('|').map((part) => part.trim());
/** One screw, plug or shield a line. */
export const SCREWS: FieldSort = {
	...lines(6, (line) => {
		const [place = '', label = '', length = '', x = '', y = ''] = barred(line);
		return {
			place,
			label,
			...(length ? { length_mm: numberOf(length) } : {}),
			...(x ? { x: numberOf(x) } : {}),
			...(y ? { y: numberOf(y) } : {})
		};
	}),
	write: (value) =>
		((value ?? []) as Record<string, unknown>[])
			.map(({ place, label, length_mm = '', x = '', y = '' }) =>
				[place, label, length_mm, x, y].join(' | ').replace(/( \| )+$/, '')
			)
			.join('\n')
};

/** The hashes of the pictures of a board, by their side: "front HASH back HASH". */
export const PICTURES = namedValues((hash) => hash);

interface PointLine {
	code: string;
	label: string;
	ground: string;
	with?: string;
	chip?: string;
	net?: string;
	expect?: { mode: string; low: number | string; high: number | string };
	faults?: string[];
	side?: string;
	x?: number | string;
	y?: number | string;
	when?: string;
	minutes?: number | string;
}

/** One point of a board a line, its fields set apart by bars. */
export const POINTS: FieldSort = {
	look: 'lines',
	figure: true,
	rows: 8,
	read: (text) => linesOf(text, readPoint),
	write: (value) => ((value ?? []) as PointLine[]).map(writePoint).join('\n')
};

function readPoint(line: string): PointLine {
	const [code = '', label = '', ground = '', chip, net, expected, faults, at, when, minutes] = barred(line);
	const [way = '', other] = spaced(ground);
	const [mode = '', low = '', high = ''] = spaced(expected ?? '');
	const [side, x, y] = spaced(at ?? '');
	return {
		code,
		label,
		...(chip ? { chip } : {}),
		...(net ? { net } : {}),
		...(side ? { side } : {}),
		ground: way,
		...(other ? { with: other } : {}),
		...(mode ? { expect: { mode, low: numberOf(low), high: numberOf(high) } } : {}),
		...(faults ? { faults: words(faults) } : {}),
		...(when ? { when } : {}),
		...(minutes ? { minutes: numberOf(minutes) } : {}),
		...(x ? { x: numberOf(x) } : {}),
		...(y ? { y: numberOf(y) } : {})
	};
}

function writePoint({ code, label, ground, chip = '', net = '', expect, faults = [], ...more }: PointLine) {
	const { with: other, side, x, y, when = '', minutes = '' } = more;
	const given = (...parts: (string | number | undefined)[]) =>
		parts.filter((part) => part !== undefined).join(' ');
	const expected = expect ? given(expect.mode, expect.low, expect.high) : '';
	// a place needs its side before it to be read again
	const place = given(x === undefined ? side : (side ?? 'front'), x, y);
	return [code, label, given(ground, other), chip, net, expected, faults.join(' '), place, when, minutes]
		.join(' | ')
		.replace(/( \| )+$/, '');
}

export const HOURS_HINT =
	'one day per line, Monday first: 09:00-12:30 13:30-18:00; closed where it is not open';
/** Seven days, Monday first, each with its stretches. */
export const HOURS: FieldSort = {
	...lines(7, (line) => (line.trim() === 'closed' ? [] : spaced(line))),
	write: (value) =>
		((value ?? []) as string[][]).map((day) => (day.length === 0 ? 'closed' : day.join(' '))).join('\n')
};

/** What was typed in the form of a kind as a record for its schema; empty optional fields are left out. */
export function recordFromForm(
	kind: string,
	fields: readonly CatalogField[],
	typed: Readonly<Record<string, string>>,
	locale: string | null
): Record<string, unknown> {
	const record: Record<string, unknown> = { record: kind };
	for (const { name, sort, optional } of fields) {
		const text = (typed[name] ?? '').trim();
		if (text !== '' || !optional) record[name] = sort.read(text, locale);
	}
	return record;
}

/** A record as it stands in the form of its kind: the inverse of `recordFromForm`. */
export const formFromRecord = (
	fields: readonly CatalogField[],
	record: Readonly<Record<string, unknown>>
): Record<string, string> =>
	Object.fromEntries(fields.map(({ name, sort }) => [name, sort.write(record[name])]));
