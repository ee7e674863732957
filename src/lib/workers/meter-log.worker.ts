import Papa from 'papaparse';
import { interpretLog, type InterpretedLog } from '$lib/core/charging/interpret-log';
import { detectDialect, missingColumns, type LogDialect } from '$lib/core/charging/log-dialect';
import { logReader } from '$lib/core/charging/log-rows';
import type { Trace } from '$lib/core/charging/trace-phases';
import { HEAD_BYTES, rowsAsTheyStand, TOO_MANY, wholeLines } from '$lib/csv/read-log';

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
	const head = wholeLines(await file.slice(0, HEAD_BYTES).text(), file.size <= HEAD_BYTES);
	const found = data.dialect ? { ok: true as const, dialect: data.dialect } : detectDialect(head);
	if (!found.ok) return say({ kind: 'refused', message: found.message, dialect: null });
	const { dialect } = found;
	const missing = missingColumns(dialect);
	if (missing) return say({ kind: 'refused', message: missing, dialect });
	const reader = logReader(dialect);
	let line = 0;
	let full = false;
	Papa.parse<string[]>(file, {
		...rowsAsTheyStand(dialect),
		chunkSize: CHUNK_BYTES,
		chunk: ({ data: rows, meta }, parser) => {
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
			if (full) return say({ kind: 'refused', message: TOO_MANY, dialect });
			if (reader.rows() === 0)
				return say({ kind: 'refused', message: 'no row of it could be read', dialect });
			const log = reader.finish();
			const result = interpretLog(dialect, log, healthyAmps);
			const { seconds, volts, amps } = log.trace;
			say({ kind: 'done', dialect, result, trace: log.trace }, [seconds.buffer, volts.buffer, amps.buffer]);
		},
		error: (error) =>
			say({ kind: 'refused', message: `the file could not be read: ${error.message}`, dialect })
	});
};
