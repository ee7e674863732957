import { z } from 'zod';
import { catalogRecords, type CatalogRecord } from '../catalog/records';
import { referenceRecord, type ReferenceRecord } from '../readings/reference';
import { ticketRecord, type TicketRecord } from '../tickets/ticket-record';

/** Every record kind of the exchange format, version 1, in the order in which an export writes them. */
export const recordSchemas = {
	...catalogRecords,
	reference: referenceRecord,
	ticket: ticketRecord
} as const;

export type RecordKind = keyof typeof recordSchemas;
export type ExchangeRecord = CatalogRecord | ReferenceRecord | TicketRecord;
export interface LineRecord {
	line: number;
	record: ExchangeRecord;
}
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
 */
export function readLines(input: string): ReadLines {
	const result: ReadLines = { records: [], errors: [] };
	const lines = input.replace(/^\ufeff/, '').split('\n');
	lines.forEach((raw, index) => {
		const text = raw.trim();
		if (text !== '') readLine(text, index + 1, result);
	});
	return result;
}

function readLine(text: string, line: number, result: ReadLines): void {
	let value: unknown;
	try {
		value = JSON.parse(text);
	} catch (error) {
		const reason = error instanceof Error ? error.message : String(error);
		result.errors.push({ line, path: '', message: `is not JSON: ${reason}` });
		return;
	}
	const schema = schemaFor(value);
	if (typeof schema === 'string') {
		result.errors.push({ line, path: 'record', message: schema });
		return;
	}
	const parsed = schema.safeParse(value);
	if (parsed.success) result.records.push({ line, record: parsed.data as ExchangeRecord });
	else for (const issue of parsed.error.issues) result.errors.push({ line, ...describeIssue(issue) });
}

function schemaFor(value: unknown): z.ZodType | string {
	if (value === null || typeof value !== 'object' || Array.isArray(value)) {
		return 'a line holds one JSON object with a "record" field';
	}
	const kind = (value as { record?: unknown }).record;
	const known = Object.keys(recordSchemas).join(', ');
	if (kind === undefined) return `is missing; "record" names the kind: ${known}`;
	if (typeof kind === 'string' && Object.hasOwn(recordSchemas, kind)) {
		return recordSchemas[kind as RecordKind];
	}
	return `is ${JSON.stringify(kind)}, an unknown kind; known are ${known}`;
}

/** Words an issue of a schema as path and message, naming an unknown field itself. */
export function describeIssue(issue: z.core.$ZodIssue): { path: string; message: string } {
	const base = issue.path.map(String).join('.');
	if (issue.code === 'unrecognized_keys') {
		const field = [...issue.path.map(String), issue.keys[0]].join('.');
		const names = issue.keys.map((key) => JSON.stringify(key)).join(', ');
		return { path: field, message: `unknown field ${names}; remove it or check its spelling` };
	}
	return { path: base, message: issue.message };
}
