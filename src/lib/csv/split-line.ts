import Papa from 'papaparse';
import type { SplitLine } from '$lib/core/charging/log-dialect';

/**
 * One line through the CSV library. A line whose quotes do not close is taken as it stands, quotes and all: its cells are
 * then no numbers, and it alone is refused.
 */
export const splitLine: SplitLine = (line, delimiter) => {
	const { data, errors } = Papa.parse<string[]>(line, { delimiter, header: false });
	return errors.some(isQuote) ? line.split(delimiter) : (data[0] ?? ['']);
};

/** What the library says of quotes that are not closed, or stand where none can. */
export const isQuote = ({ type }: Papa.ParseError): boolean => type === 'Quotes';

/** All lines of a text one by one, for a log in which a quote is not closed: as one text it would swallow what follows. */
export const rowsLineByLine = (text: string, delimiter: string): string[][] =>
	text.split(/\r\n|\n|\r/).map((line) => splitLine(line, delimiter));
