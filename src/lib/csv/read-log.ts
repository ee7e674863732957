import Papa from 'papaparse';
import { detectDialect, missingColumns, type LogDialect } from '$lib/core/charging/log-dialect';
import { isQuote, rowsLineByLine, splitLine } from './split-line';
import { logReader, MOST_LINES, MOST_ROWS, type ReadLog } from '$lib/core/charging/log-rows';

/** So much of a log is looked at to understand how it is written. */
export const HEAD_BYTES = 64 * 1024;

export type LogAnswer = { ok: true; dialect: LogDialect; log: ReadLog } | { ok: false; message: string };

/** One setting of the CSV library for every reader of logs: rows as they stand, lines counted by us. */
export const rowsAsTheyStand = ({ delimiter }: LogDialect) => ({
	delimiter,
	header: false,
	skipEmptyLines: false,
	dynamicTyping: false
});

export const TOO_MANY = `has more than ${MOST_ROWS.toLocaleString('en')} rows; cut it, or let the meter write less often`;

const TOO_MANY_LINES = `has more than ${MOST_LINES.toLocaleString('en')} lines, empty ones included; take out what is no row`;

function moreLinesThan(text: string, maxLines: number): boolean {
	const [feed, back] = [10, 13];
	let lines = 1;
	for (let i = 0; i < text.length && lines <= maxLines; i++) {
		const sign = text.charCodeAt(i);
		if (sign === feed || (sign === back && text.charCodeAt(i + 1) !== feed)) lines++;
	}
	return lines > maxLines;
}

/** Whole lines of the beginning of a log. */
export const wholeLines = (head: string, complete: boolean) =>
	complete ? head : head.slice(0, Math.max(head.lastIndexOf('\n'), 0) || head.length);

/** Reads a log that is in memory. @param dialect as a person corrected it; found out where it is not given */
export function readLogText(text: string, dialect?: LogDialect): LogAnswer {
	if (moreLinesThan(text, MOST_LINES + 1)) return { ok: false, message: TOO_MANY_LINES };
	const head = wholeLines(text.slice(0, HEAD_BYTES), text.length <= HEAD_BYTES);
	const found = dialect ? { ok: true as const, dialect } : detectDialect(head, splitLine);
	if (!found.ok) return found;
	const missing = missingColumns(found.dialect);
	if (missing) return { ok: false, message: missing };
	const reader = logReader(found.dialect);
	const plain = text.replace(/^\ufeff/, '');
	const parsed = Papa.parse<string[]>(plain, rowsAsTheyStand(found.dialect));
	const data = parsed.errors.some(isQuote) ? rowsLineByLine(plain, found.dialect.delimiter) : parsed.data;
	for (let i = 0; i < data.length; i++) {
		if (!reader.take(data[i] as string[], i + 1)) return { ok: false, message: TOO_MANY };
	}
	if (reader.rows() === 0) return { ok: false, message: 'no row of it could be read' };
	return { ok: true, dialect: found.dialect, log: reader.finish() };
}
