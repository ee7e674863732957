import Papa from 'papaparse';
import { interpretLog, type InterpretedLog } from '$lib/core/charging/interpret-log';
import { detectDialect, missingColumns, type LogDialect } from '$lib/core/charging/log-dialect';
import { logReader, type ReadLog } from '$lib/core/charging/log-rows';
import type { Trace } from '$lib/core/charging/trace-phases';
import { decodeLog, encodingOf } from '$lib/csv/decode-log';
import { HEAD_BYTES, readLogText, rowsAsTheyStand, TOO_MANY, wholeLines } from '$lib/csv/read-log';
import { isQuote, splitLine } from '$lib/csv/split-line';

/** A thin shell: reads a log's file in pieces, says how far it is, sends what core makes of it. */
export interface LogRequest {
	file: File;
	/** as a person corrected it */
	dialect: LogDialect | null;
	healthyAmps: number | null;
}
export type LogMessage =
	| { kind: 'progress'; share: number; rows: number }
	| { kind: 'done'; dialect: LogDialect; result: InterpretedLog; trace: Trace }
	| { kind: 'refused'; message: string; dialect: LogDialect | null };

const CHUNK_BYTES = 256 * 1024;
const say = (message: LogMessage, transfer: Transferable[] = []) => self.postMessage(message, { transfer });

self.onmessage = async ({ data }: MessageEvent<LogRequest>) => {
	const { file, healthyAmps } = data;
	const bytes = new Uint8Array(await file.slice(0, HEAD_BYTES).arrayBuffer());
	const encoding = encodingOf(bytes);
	const head = wholeLines(decodeLog(bytes, encoding), file.size <= HEAD_BYTES);
	const found = data.dialect ? { ok: true as const, dialect: data.dialect } : detectDialect(head, splitLine);
	if (!found.ok) return say({ kind: 'refused', message: found.message, dialect: null });
	const { dialect } = found;
	const missing = missingColumns(dialect);
	if (missing) return say({ kind: 'refused', message: missing, dialect });
	const reader = logReader(dialect);
	let line = 0;
	let full = false;
	let quotes = false;
	Papa.parse<string[]>(file, {
		...rowsAsTheyStand(dialect),
		encoding,
		chunkSize: CHUNK_BYTES,
		chunk: ({ data: rows, meta, errors }, parser) => {
			if (errors.some(isQuote)) {
				quotes = true;
				parser.abort();
				return;
			}
			for (const cells of rows) {
				line++;
				if (line === 1 && cells[0] !== undefined) cells[0] = cells[0].replace(/^\ufeff/, '');
				if (!reader.take(cells, line)) {
					full = true;
					parser.abort();
					return;
				}
			}
			say({
				kind: 'progress',
				share: Math.min(0.9, (0.9 * meta.cursor) / Math.max(1, file.size)),
				rows: reader.rows()
			});
		},
		complete: () => {
			if (quotes) return void lineByLine(file, dialect, healthyAmps);
			if (full) return say({ kind: 'refused', message: TOO_MANY, dialect });
			if (reader.rows() === 0)
				return say({ kind: 'refused', message: 'no row of it could be read', dialect });
			tell(dialect, reader.finish(), healthyAmps);
		},
		error: (error) =>
			say({ kind: 'refused', message: `the file could not be read: ${error.message}`, dialect })
	});
};

function tell(dialect: LogDialect, log: ReadLog, healthyAmps: number | null): void {
	const result = interpretLog(dialect, log, healthyAmps);
	const { seconds, volts, amps } = log.trace;
	say({ kind: 'done', dialect, result, trace: log.trace }, [seconds.buffer, volts.buffer, amps.buffer]);
}

/** A log in which a quote is not closed, read whole: the line that has it is refused, the others are kept. */
async function lineByLine(file: File, dialect: LogDialect, healthyAmps: number | null): Promise<void> {
	const read = readLogText(decodeLog(new Uint8Array(await file.arrayBuffer())), dialect);
	if (read.ok) tell(dialect, read.log, healthyAmps);
	else say({ kind: 'refused', message: read.message, dialect });
}
