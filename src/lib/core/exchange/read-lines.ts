import type { z } from 'zod';
import { isPlainJson, shownValue, unsoundIn } from '../units/sound-value';
import { RECORD_KINDS, RECORD_NAMES, recordKind, type LineRecord, type RecordKind } from './record-kinds';

export interface LineError {
	line: number;
	path: string;
	message: string;
}
export interface ReadLines {
	records: LineRecord[];
	errors: LineError[];
}

/**
 * Reads JSON Lines: UTF-8, one record a line; a byte-order mark, CRLF and empty lines are accepted.
 * Nothing is dropped in silence: every line is a record or an error that names it.
 * @param input the whole text, or its lines one after another
 * @param seen hears how many lines were read, now and then; may throw to stop
 */
export function readLines(
	input: string | Iterable<string>,
	seen: (lines: number) => void = () => {}
): ReadLines {
	const result: ReadLines = { records: [], errors: [] };
	let line = 0;
	for (const raw of typeof input === 'string' ? input.split('\n') : input) {
		line += 1;
		const text = (line === 1 ? raw.replace(/^\ufeff/, '') : raw).trim();
		if (text !== '') readLine(text, line, result);
		if (line % 500 === 0) seen(line);
	}
	seen(line);
	return result;
}

/** Errors beyond this are counted, not told one by one: a file of another kind would answer with a book. */
export const MOST_ERRORS = 10_000;

function readLine(text: string, line: number, result: ReadLines): void {
	const refuse = (path: string, message: string) => result.errors.push({ line, path, message });
	let value: unknown;
	try {
		value = JSON.parse(text) as unknown;
	} catch (error) {
		refuse('', `is not JSON: ${error instanceof Error ? error.message.slice(0, 200) : 'it cannot be read'}`);
		return;
	}
	const unsound = isPlainJson(text) ? null : unsoundIn(value);
	if (unsound) {
		refuse(unsound.path, unsound.message);
		return;
	}
	const kind = kindOf(value);
	if ('problem' in kind) {
		refuse('record', kind.problem);
		return;
	}
	const parsed = recordKind(kind.name).schema.safeParse(value);
	if (parsed.success) result.records.push({ line, kind: kind.name, record: parsed.data } as LineRecord);
	else
		for (const issue of parsed.error.issues.slice(0, 100))
			result.errors.push({ line, ...describeIssue(issue) });
}

function kindOf(value: unknown): { name: RecordKind } | { problem: string } {
	if (value === null || typeof value !== 'object' || Array.isArray(value)) {
		return { problem: 'a line holds one JSON object with a "record" field' };
	}
	const kind = (value as { record?: unknown }).record;
	const names = RECORD_NAMES.join(', ');
	if (kind === undefined) return { problem: `is missing; "record" names the kind: ${names}` };
	if (typeof kind === 'string' && Object.hasOwn(RECORD_KINDS, kind)) return { name: kind as RecordKind };
	return { problem: `is ${shownValue(kind)}, an unknown kind; known are ${names}` };
}

/** Words an issue of a schema as path and message, naming an unknown field itself. */
export function describeIssue(issue: z.core.$ZodIssue): { path: string; message: string } {
	const base = issue.path.map(String).join('.').slice(0, 200);
	if (issue.code === 'unrecognized_keys') {
		const field = [...issue.path.map(String), issue.keys[0]].join('.');
		const names = issue.keys
			.slice(0, 5)
			.map((key) => shownValue(key))
			.join(', ');
		return { path: field, message: `unknown field ${names}; remove it or check its spelling` };
	}
	return { path: base, message: issue.message };
}
